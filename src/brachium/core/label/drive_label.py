"""What the label of a drive says, typed as it comes to hand: size, interface, form, rotation, sectors, height.

Sizes are decimal as on labels; link words are those of SATA-IO (1.5, 3, 6 Gb/s) and PCI-SIG (generation and lanes).
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field, fields

from brachium.core.base.units import GB
from brachium.core.label.words import LabelWords, Understood
from brachium.core.machine.drive_part import BayForm, DriveInterface, M2Key
from brachium.core.machine.links import PCIE_LANE_MB_S, SATA_GEN_MB_S

INTERFACE, BAY = DriveInterface, BayForm
LARGEST_GB = 100_000
_SATA_RATES = {"1.5": 1, "3": 2, "3.0": 2, "6": 3, "6.0": 3}  # Gb/s
_SATA_NAMES = {"i": 1, "1": 1, "1.0": 1, "1.5": 1, "ii": 2, "2": 2, "2.0": 2, "iii": 3, "3": 3, "3.0": 3, "6": 3,
               "6.0": 3}  # fmt: skip


@dataclass(frozen=True)
class DriveLabel:
    """Fields of a label; None = left open. Size [byte], height [mm], rotation [1/min], link payload [MB/s]."""

    size_bytes: int | None = None
    interface: DriveInterface | None = None
    form: BayForm | None = None
    rotational: bool | None = None
    rpm: int | None = None
    height_mm: float | None = None
    length_mm: int | None = None
    key: M2Key | None = None
    link_mb_s: float | None = None
    sector_bytes: int | None = None
    count: int = 1
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the label does not say and that a drive of its kind has."""
        m2, turning = self.form is BayForm.M2, self.rotational is not False
        not_its = {"rpm": not turning, "height_mm": m2 or self.form is BayForm.MINI_CARD, "length_mm": not m2,
                   "key": not m2}  # fmt: skip
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None and not not_its.get(f.name, False))


def read_drive_label(text: str) -> DriveLabel:
    """Every field that a drive's label states. Never raises."""
    return _Reader(text).label()


class _Reader(LabelWords):
    """A drive's label, one statement after the other."""

    def label(self) -> DriveLabel:
        for read in (self._size, self._rotation, self._sectors, self._link, self._form, self._kind):
            read()
        return DriveLabel(**self.said, not_understood=self.not_understood, understood=self.understood)  # type: ignore[arg-type]

    def _size(self) -> None:
        self.take(
            r"(?<![\w.,])\d{1,4}\s*MB\s*(?:cache|buffer)\b", lambda _: None
        )  # said of every drive, asked by no rule

        def found(m: re.Match[str]) -> bool:
            giga = float(m[1].replace(",", ".")) * (1000 if m[2].upper() == "T" else 1 if m[2].upper() == "G" else 1e-3)
            if not 0.01 <= giga <= LARGEST_GB:
                return False
            self.say(size_bytes=round(giga * GB))
            return True

        self.take(r"(?<![\w.])([1-9]|1\d|2[0-4])\s*x\s*(?=\d{1,6}(?:[.,]\d{1,3})?\s*[TG]i?B?\b)",
                  lambda m: self.say(count=int(m[1])))  # fmt: skip
        self.take(r"(?<![\w.,])(\d{1,6}(?:[.,]\d{1,3})?)\s*([TGM])(?:i?B|igs?)?(?![\w/])", found)

    def _rotation(self) -> None:
        self.take(r"(?<![\w.])(\d{1,2})[ .,]?(\d{3})\s*(?:rpm|u/?min|1/min|min-1)\b",
                  lambda m: self.say(rpm=int(m[1] + m[2]), rotational=True))  # fmt: skip
        self.take(r"(?<![\w.])(4200|5400|5900|7200|10000|15000)(?![\w.])",
                  lambda m: self.say(rpm=int(m[1]), rotational=True))  # fmt: skip

    def _sectors(self) -> None:
        """512n, 512e: 512 byte seen; 4Kn: 4096."""
        self.take(r"\b(512n|512e|4kn)\b", lambda m: self.say(sector_bytes=4096 if m[1].lower() == "4kn" else 512))

    def _link(self) -> None:
        """`SATA III`, `SATA 6Gb/s`, `6Gb/s`, `PCIe 3.0 x4`, `gen 3 x4`, `NVMe`; U.2 is a 2.5 in drive (SFF-8639)."""

        def sata(m: re.Match[str]) -> None:
            gen = (_SATA_RATES if m[2] else _SATA_NAMES).get((m[1] or "").lower())
            self.say(interface=INTERFACE.SATA, link_mb_s=SATA_GEN_MB_S[gen] if gen else None)

        def pcie(m: re.Match[str]) -> None:
            rate = PCIE_LANE_MB_S.get(int(m[1])) if m[1] else None
            lanes = int(m[2]) if m[2] else None
            self.say(interface=INTERFACE.NVME, link_mb_s=rate * lanes if rate and lanes else None)

        self.take(r"\bnvme\b", lambda _: self.say(interface=INTERFACE.NVME, rotational=False))
        self.take(
            r"\bs-?ata[- ]?(?:(1\.[05]|2\.0|3\.0|6\.0|iii|ii|i|[1236])(?!\.\d))?(\s*gb(?:it)?(?:/s|ps))?(?!\w)", sata
        )
        self.take(r"(?<![\w.])(1\.5|3\.0|6\.0|3|6)\s*Gb(?:it)?(?:/s|ps)",
                  lambda m: self.say(link_mb_s=SATA_GEN_MB_S[_SATA_RATES[m[1]]]))  # fmt: skip
        self.take(r"\b(?:pci-?e(?:xpress)?|gen)\s*(?:gen)?\s*\.?([1-6])?(?:\.0)?\s*(?:x\s?([1248]|16))?(?!\w)", pcie)
        self.take(r"\b(?:p-?ata|e?ide)\b", lambda _: self.say(interface=INTERFACE.PATA))
        self.take(r"\bu\.?2\b", lambda _: self.say(interface=INTERFACE.NVME, form=BAY.IN_2_5, rotational=False))
        self.take(r"\bm-?sata\b",
                  lambda _: self.say(interface=INTERFACE.MSATA, form=BAY.MINI_CARD, rotational=False))  # fmt: skip

    def _form(self) -> None:
        self.take(r"\bm\.?2\b(?:\s*(?:ngff))?", lambda _: self.say(form=BAY.M2, rotational=False))
        self.take(r"(?<![\w.])22(30|42|60|80|110)(?!\w)",
                  lambda m: self.say(form=BAY.M2, length_mm=int(m[1]), rotational=False))  # fmt: skip
        self.take(r"\bkey\s*(b\s*\+\s*m|b|m)\b|\b(b\s*\+\s*m|b&m)\b(?:\s*key)?",
                  lambda m: self.say(key=M2Key((m[1] or "B+M").upper().replace(" ", ""))))  # fmt: skip
        inch = r"""\s*(?:in(?:ch)?\b|zoll\b|"|''|”)?(?!\s*[GT]B|\.?\d|\s*mm|\w)"""
        self.take(rf"(?<![\w.,])2[.,]5{inch}", lambda _: self.say(form=BAY.IN_2_5))
        self.take(rf"(?<![\w.,])3[.,]5{inch}", lambda _: self.say(form=BAY.IN_3_5))
        self.take(r"(?<![\w.,])(5|7|9[.,]5|12[.,]5|12[.,]7|14[.,]8|15|19|26[.,]1)\s*mm\b",
                  lambda m: self.say(height_mm=float(m[1].replace(",", "."))))  # fmt: skip

    def _kind(self) -> None:
        self.take_words((
            (r"ssd|solid[- ]state(?:\s+drive)?", {"rotational": False}),
            (r"hdd|hard[- ]?(?:disk|drive)|disk|spinning", {"rotational": True}),
            (r"e-?mmc", {"interface": INTERFACE.EMMC, "form": BAY.SOLDERED, "rotational": False}),
            (r"sas", {"interface": INTERFACE.SAS}), (r"usb(?: drive)?", {"interface": INTERFACE.USB}),
            (r"drive", {}),
        ))  # fmt: skip
