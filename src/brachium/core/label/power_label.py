"""What the labels of adapters, batteries and power supplies say: volts, amps, watts, capacity, plug, profiles.

Power = volts x amps and capacity [Wh] = volts x [Ah] where the label gives both and not the product.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field, fields

from brachium.core.label.words import LabelWords, Understood


@dataclass(frozen=True)
class AdapterLabel:
    """Output [V], [A], [W]; plug as written; USB-C profiles as (volts, amps)."""

    volts: float | None = None
    amps: float | None = None
    rated_w: float | None = None
    usb_c: bool | None = None
    profiles: tuple[tuple[float, float], ...] | None = None
    plug: str | None = None
    polarity: str | None = None
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the label does not say; only USB-C has profiles, only a round plug a polarity."""
        not_its = ("plug", "polarity") if self.usb_c else ("profiles",)
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None and f.name not in not_its)


@dataclass(frozen=True)
class BatteryLabel:
    """Nominal [V], capacity by design and when full [Wh], by design [mAh], number of cells, inside the case or not."""

    volts: float | None = None
    full_wh: float | None = None
    inside: bool | None = None
    design_wh: float | None = None
    design_mah: float | None = None
    cells: int | None = None
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the label does not say; no label says what is left of it, or where it sits."""
        not_its = ("full_wh", "inside")
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None and f.name not in not_its)


@dataclass(frozen=True)
class SupplyLabel:
    """Rating in all and of the 12 V rails together [W], form, connectors as (kind, count)."""

    rated_w: float | None = None
    rated_12v_w: float | None = None
    form: str | None = None
    connectors: tuple[tuple[str, int], ...] | None = None
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the label does not say."""
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None)


FIGURE = r"(?<![\w.,])(\d{1,5}(?:[.,]\d{1,3})?)\s*"


def _figure(match: re.Match[str], group: int = 1) -> float:
    return float(match[group].replace(",", "."))


class _Reader(LabelWords):
    """Figures that all power labels share."""

    def _one(self, field: str, unit: str, low: float, high: float) -> None:
        """A figure with its unit, where it lies in a range that can be; else it stays unread."""

        def found(m: re.Match[str]) -> bool:
            value = _figure(m)
            if not low <= value <= high:
                return False
            self.say(**{field: value})
            return True

        self.take(rf"{FIGURE}{unit}", found)


def read_adapter_label(text: str) -> AdapterLabel:
    """`19.5V 3.34A 65W 4.5 x 3.0 mm, centre positive`, `USB-C 5V/3A 9V/3A 20V/3.25A`. Never raises."""
    r = _Reader(text)
    r.take(r"\b(?:usb[- ]?(?:type[- ]?)?c|type[- ]?c)\b(?:\s*pd)?", lambda _: r.say(usb_c=True))
    pairs: list[tuple[float, float]] = []
    for _ in range(8):
        r.take(rf"{FIGURE}V?\s*(?:DC)?\s*[/x,@=-]?\s*(\d{{1,2}}(?:[.,]\d{{1,3}})?)\s*A\b",
               lambda m: pairs.append((_figure(m), _figure(m, 2))))  # fmt: skip
    if pairs:
        volts, amps = max(pairs, key=lambda p: p[0] * p[1])
        r.say(volts=volts, amps=amps, profiles=tuple(pairs) if r.said.get("usb_c") else None)
    r._one("rated_w", r"W\b", 1, 1000)
    r._one("volts", r"V\b", 3, 60)
    r._one("amps", r"A\b", 0.1, 40)
    r.take(r"(?<![\w.])(\d(?:[.,]\d{1,2})?)\s*[x*]\s*(\d(?:[.,]\d{1,2})?)\s*(?:mm)?(?!\w)",
           lambda m: r.say(plug=f"{_figure(m):g} x {_figure(m, 2):g} mm", usb_c=False))  # fmt: skip
    r.take(r"\bcent(?:er|re)[- ]?(positive|negative|pin|plus|minus|\+|-)?",
           lambda m: r.say(polarity="centre " + {"plus": "positive", "+": "positive", "minus": "negative",
                                                 "-": "negative"}.get((m[1] or "pin").lower(), (m[1] or "pin").lower()),
                           usb_c=False))  # fmt: skip
    r.take_words(((r"adapter|charger|power supply|output|dc|pd", {}),))
    supply = r.said.get("volts"), r.said.get("amps")
    if isinstance(supply[0], float) and isinstance(supply[1], float):
        r.say(rated_w=round(supply[0] * supply[1], 1))
    return AdapterLabel(**r.said, not_understood=r.not_understood, understood=r.understood)  # type: ignore[arg-type]


def read_battery_label(text: str) -> BatteryLabel:
    """`11.1V 4400mAh 48Wh 6 cells`, `35.6/48 Wh inside`. Never raises."""
    r = _Reader(text)
    r.take(rf"{FIGURE}(?:Whr?)?\s*(?:/|of)\s*(\d{{1,3}}(?:[.,]\d{{1,2}})?)\s*Whr?\b",
           lambda m: r.say(full_wh=_figure(m), design_wh=_figure(m, 2)))  # fmt: skip
    r._one("design_wh", r"Whr?\b", 1, 1000)
    r._one("design_mah", r"mAh\b", 100, 99_999)
    r.take(rf"{FIGURE}Ah\b", lambda m: r.say(design_mah=1000 * _figure(m)))
    r._one("volts", r"V\b", 1, 60)
    r.take(r"(?<!\w)(\d{1,2})[- ]?cells?\b", lambda m: r.say(cells=int(m[1])))
    r.take_words(((r"inside|internal|built[- ]in", {"inside": True}),
                  (r"outside|external|removable", {"inside": False})))  # fmt: skip
    r.take_words(((r"battery|batt|akku|pack", {}), (r"li-?ion|li-?po(?:ly(?:mer)?)?|lithium(?:-ion)?", {})))
    volts, mah = r.said.get("volts"), r.said.get("design_mah")
    if isinstance(volts, float) and isinstance(mah, float):
        r.say(design_wh=round(volts * mah / 1000.0, 1))
    return BatteryLabel(**r.said, not_understood=r.not_understood, understood=r.understood)  # type: ignore[arg-type]


CONNECTORS = {
    "6-pin card power": r"6[- ]?pin(?:\s*(?:pcie|card))?",
    "8-pin card power": r"(?:6\+2|8)[- ]?pin(?:\s*(?:pcie|card))?",
    "SATA power": r"sata(?:\s*power)?", "4-pin drive power": r"(?:4[- ]?pin\s*)?(?:molex|drive power|peripheral)",
    "8-pin processor power": r"(?:4\+4|8)[- ]?pin\s*(?:cpu|eps|processor)",
}  # fmt: skip


def read_supply_label(text: str) -> SupplyLabel:
    """`ATX 500W, 12V 38A, 2x 6-pin, 4x SATA`. Never raises."""
    r = _Reader(text)
    rails: list[float] = []
    for _ in range(6):
        r.take(r"(?<![\w.,])\+?12\s*V\d?\s*[:=/,@]?\s*(\d{1,3}(?:[.,]\d{1,2})?)\s*A\b",
               lambda m: rails.append(12.0 * _figure(m)))  # fmt: skip
    r.take(r"(?<![\w.,])\+?12\s*V\d?\s*[:=/,@]?\s*(\d{2,4})\s*W\b", lambda m: r.say(rated_12v_w=_figure(m)))
    if len(rails) == 1:  # several rails share a limit that their sum does not tell
        r.say(rated_12v_w=rails[0])
    r._one("rated_w", r"W(?:atts?)?\b", 20, 3000)
    plugs: list[tuple[str, int]] = []
    for kind in ("8-pin processor power", "6-pin card power", "8-pin card power", "4-pin drive power", "SATA power"):
        r.take(rf"(?<![\w.])(?:(\d{{1,2}})\s*x?\s*)?{CONNECTORS[kind]}(?:\s*(?:plugs?|connectors?|leads?))?(?!\w)",
               lambda m, k=kind: plugs.append((k, int(m[1] or 1))))  # type: ignore[misc]  # fmt: skip
    if plugs:
        r.say(connectors=tuple(plugs))
    r.take(r"\b(ATX|SFX-L|SFX|TFX|FLEX(?:-ATX)?|CFX|LFX|BTX)\b", lambda m: r.say(form=m[1].upper()))
    r.take_words(((r"supply|psu|power supply", {}),))
    return SupplyLabel(**r.said, not_understood=r.not_understood, understood=r.understood)  # type: ignore[arg-type]
