"""What a person says of a machine as a whole: its kind, year, panel, places, limits, start mode."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from brachium.core.label.words import LabelWords, Understood
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.platform import BootMode

K = MachineKind
KIND_WORDS: tuple[tuple[str, MachineKind], ...] = (
    (r"2[- ]in[- ]1|two[- ]in[- ]one|convertible|detachable|tablet", K.TABLET),
    (r"lap-?top|note-?book|ultra-?book|net-?book", K.LAPTOP),
    (r"mini[- ]?pc|mini computer|stick pc", K.MINI_PC),
    (r"all[- ]in[- ]one|aio", K.ALL_IN_ONE),
    (r"hand-?held", K.HANDHELD),
    (r"work-?station", K.WORKSTATION),
    (r"nas|storage (?:box|server)|file server|server|rack(?:[- ]?mount)?", K.STORAGE_BOX),
    (r"retro|vintage(?: pc)?", K.RETRO),
    (r"small (?:form factor|desktop)|sff|usff|slim desktop|desktop", K.SMALL_DESKTOP),
    (r"(?:mini |midi |big )?tower", K.TOWER),
)
RESOLUTIONS: tuple[tuple[str, tuple[int, int]], ...] = (
    (r"720p|hd ready", (1280, 720)), (r"1080p|fhd|full ?hd", (1920, 1080)), (r"1200p|wuxga", (1920, 1200)),
    (r"1440p|qhd|wqhd", (2560, 1440)), (r"2160p|4k|uhd", (3840, 2160)), (r"wxga", (1280, 800)),
)  # fmt: skip
PLACE_WORDS: tuple[tuple[str, str], ...] = (
    (r"m\.?2\s*sata", "bay-m2-sata"), (r"m\.?2(?:\s*nvme)?", "bay-m2"), (r"m-?sata", "bay-msata"),
    (r"2[.,]5(?:\s*(?:in(?:ch)?|\"))?", "bay-2.5"), (r"3[.,]5(?:\s*(?:in(?:ch)?|\"))?", "bay-3.5"),
    (r"optical|dvd|cd", "bay-optical"), (r"(?:pcie?\s*)?x16", "card-x16"), (r"(?:pcie?\s*)?x4", "card-x4"),
    (r"(?:pcie?\s*)?x1", "card-x1"),
)  # fmt: skip
NUMBERS = {"a": 1, "one": 1, "single": 1, "two": 2, "both": 2, "three": 3, "four": 4, "six": 6, "eight": 8}
COUNT = rf"(\d{{1,2}}|{'|'.join(NUMBERS)})"
PLACE = r"(?:slots?|places?|bays?|sockets?)"
FIRST_YEAR, LAST_YEAR = 1980, 2099


@dataclass(frozen=True)
class MachineWords:
    """Fields of a line; None = left open. Memory limit [MiB], panel [px] and diagonal [in].

    `memory_places` is how many there are in all, `memory_free` how many of them are empty; `places` are kinds of place
    that are there and empty.
    """

    kind: MachineKind | None = None
    maker: str | None = None
    model: str | None = None
    year: int | None = None
    panel_px: tuple[int, int] | None = None
    panel_in: float | None = None
    memory_places: int | None = None
    memory_free: int | None = None
    memory_max_mib: int | None = None
    places: tuple[str, ...] = ()
    bits: int | None = None
    boot_mode: BootMode | None = None
    firmware: str | None = None
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Nothing: a line says of a machine what it likes."""
        return ()


def read_machine_words(text: str) -> MachineWords:
    """`laptop 2013`, `1080p 15.6 in`, `2 memory slots, one free, max 16gb`, `free m.2 slot`, `64-bit uefi`.

    Never raises.
    """
    return _Reader(text).label()


class _Reader(LabelWords):
    """Words on a machine, one statement after the other."""

    def label(self) -> MachineWords:
        for read in (self._kind, self._panel, self._memory, self._places, self._system, self._year, self._noise):
            read()
        return MachineWords(**self.said, not_understood=self.not_understood, understood=self.understood)  # type: ignore[arg-type]

    def _kind(self) -> None:
        self.take(r"\bmodel\s*[:=]?\s*[\"“]([^\"“”]{1,40})[\"”]", lambda m: self.say(model=m[1].strip()))
        self.take(r"\bmaker\s*[:=]?\s*[\"“]([^\"“”]{1,40})[\"”]", lambda m: self.say(maker=m[1].strip()))
        self.take_words(tuple((pattern, {"kind": kind}) for pattern, kind in KIND_WORDS))

    def _panel(self) -> None:
        self.take_words(tuple((pattern, {"panel_px": px}) for pattern, px in RESOLUTIONS))
        self.take(r"(?<![\w.])(\d{3,4})\s*[x*]\s*(\d{3,4})(?:\s*(?:px|pixels?))?(?!\w)",
                  lambda m: self.say(panel_px=(int(m[1]), int(m[2]))))  # fmt: skip
        self.take(r"(?<![\w.,])(\d{1,2}(?:[.,]\d)?)\s*(?:in(?:ch(?:es)?)?\b|\"|”|'')(?:\s*(?:panel|screen|display))?",
                  self._diagonal)  # fmt: skip

    def _diagonal(self, m: re.Match[str]) -> bool:
        inches = float(m[1].replace(",", "."))
        if not 5 <= inches <= 60:
            return False
        self.say(panel_in=inches)
        return True

    def _memory(self) -> None:
        """How many memory slots, how many of them empty, the limit."""
        memory = r"(?:memory|ram|dimm|so-?dimm)"
        self.take(r"\b(all|both) (?:slots|places) (?:are )?(?:full|filled|taken)\b",
                  lambda m: self.say(memory_free=0, memory_places=2 if m[1].lower() == "both" else None))  # fmt: skip
        limit = r"(\d{1,6})\s*([GM])i?B?(?!\w)"
        self.take(rf"\b(?:max(?:imum)?|up to|limit)\s*(?:of\s*)?(?:{memory}\s*)?{limit}(?:\s*{memory}\b)?", self._limit)
        self.take(rf"(?<![\w.]){limit}\s*(?:{memory}\s*)?max(?:imum)?\b", self._limit)
        self.take(
            rf"(?<![\w.]){COUNT}\s+(?:of\s+{COUNT}\s+)?(?:{memory}\s+)?(?:slots?|places?)\s+(?:free|empty)\b",
            self._free,
        )
        self.take(rf"(?<![\w.]){COUNT}\s+(?:free|empty)\s+(?:{memory}\s+)?(?:slots?|places?)\b", self._free)
        self.take(rf"(?<![\w.]){COUNT}\s+{memory}?[- ]*(?:slots?|places?)\b",
                  lambda m: self.say(memory_places=_number(m[1])))  # fmt: skip
        numbered = rf"\b(?:{memory}\s+)?(?:slot|place|bank)\s*(\d{{1,2}})\s+(?:is\s+)?(?:free|empty)\b"
        self.take(numbered, self._free_by_number)
        self.take(rf"(?<![\w.]){COUNT}\s+(?:is\s+)?(?:free|empty)\b", self._free)

    def _limit(self, m: re.Match[str]) -> None:
        self.say(memory_max_mib=int(m[1]) * (1024 if m[2].upper() == "G" else 1))

    def _free_by_number(self, m: re.Match[str]) -> None:
        """`slot 2 free` names one place; it does not count two."""
        self.say(memory_free=1)

    def _free(self, m: re.Match[str]) -> None:
        self.say(memory_free=_number(m[1]))
        if m.re.groups > 1 and m[2]:
            self.say(memory_places=_number(m[2]))

    def _places(self) -> None:
        """`free m.2 slot`, `2 x 3.5 bays`, `optical bay empty`."""
        found: list[str] = []
        for pattern, kind in PLACE_WORDS:
            count = rf"(?<![\w.])(?:{COUNT}\s*(?:x\s+)?)?"

            def place(m: re.Match[str], kind: str = kind) -> None:
                found.extend([kind] * (_number(m[1]) if m[1] else 1))

            name, free = f"(?:{pattern})", "(?:free|empty|unused)"
            self.take(rf"{count}{free}\s+{name}\s*{PLACE}?(?!\w)", place)
            self.take(rf"{count}{name}\s*{PLACE}\s*(?:(?:is\s+)?{free})?(?!\w)", place)
            self.take(rf"{count}{name}\s+(?:is\s+)?{free}(?!\w)", place)
        if found:
            self.taken[-1] = (self.taken[-1][0], ("places",))
            self.say(places=tuple(found))

    def _system(self) -> None:
        self.take(r"\b(32|64)[- ]?bits?\b", lambda m: self.say(bits=int(m[1])))
        self.take_words(((r"u?efi(?:\s+start)?", {"boot_mode": BootMode.UEFI}),
                         (r"legacy(?:\s+(?:start|boot|bios))?|csm", {"boot_mode": BootMode.LEGACY})))  # fmt: skip
        self.take(r"\b(?:firmware|bios)\s*(?:version|v\.?|rev\.?)?\s*([A-Z]?\d[\w.]{0,15})(?![\w.])",
                  lambda m: self.say(firmware=m[1]))  # fmt: skip

    def _year(self) -> None:
        def found(m: re.Match[str]) -> bool:
            if not FIRST_YEAR <= int(m[1]) <= LAST_YEAR:
                return False
            self.say(year=int(m[1]))
            return True

        self.take(r"\b(?:from|year|built|of)?\s*(?<![\w.,-])((?:19|20)\d\d)(?![\w.-]|,\d)", found)

    def _noise(self) -> None:
        self.take_words(((r"screen|panel|display|old|pc|computer|machine", {}),))


def _number(word: str) -> int:
    return NUMBERS.get(word.lower()) or int(word)
