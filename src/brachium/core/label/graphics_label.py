"""What a person says of a graphics card: memory, edge, power and plugs, size."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, fields

from brachium.core.label.words import LabelWords, Understood

LARGEST_MIB = 256 * 1024
PLUGS = ((r"8[- ]?pin", "8-pin"), (r"6[- ]?pin", "6-pin"))


@dataclass(frozen=True)
class GraphicsLabel:
    """Fields of a line; None = left open. Memory [MiB], draw [W], length [mm], thickness in card slots."""

    name: str | None = None
    memory_mib: int | None = None
    lanes: int | None = None
    generation: int | None = None
    power_w: float | None = None
    plugs: tuple[str, ...] | None = None
    length_mm: float | None = None
    thickness: int | None = None
    low_profile: bool | None = None
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the line does not say."""
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None)


def read_graphics_label(text: str) -> GraphicsLabel:
    """`graphics card 4gb pcie 3.0 x16 75w low profile`, `gpu "G-200" 2 slots 6-pin 170 mm`. Never raises."""
    r = LabelWords(text)
    r.take(r"[\"“]([^\"“”]{2,40})[\"”]", lambda m: r.say(name=m[1].strip()))
    r.take(r"(?<![\w.,])(\d{1,6}(?:[.,]\d)?)\s*([GM])i?B?(?:\s*(?:G?DDR\dX?|VRAM|HBM2?))?(?!\w)",
           lambda m: _memory(r, m))  # fmt: skip
    r.take(r"\b(?:pci-?e(?:xpress)?)\s*(?:gen)?\s*\.?([1-5])?(?:\.0)?\s*(?:x\s?(16|8|4|1))?(?!\w)",
           lambda m: r.say(generation=int(m[1]) if m[1] else None, lanes=int(m[2]) if m[2] else None))  # fmt: skip
    r.take(r"(?<!\w)x\s?(16|8|4|1)(?!\w)", lambda m: r.say(lanes=int(m[1])))
    r.take(r"(?<![\w.,])(\d{1,3})\s*W\b", lambda m: r.say(power_w=float(m[1])))
    plugs: list[str] = []
    r.take(r"\b(?:no|without)\s+(?:power\s+)?plugs?\b|\bslot[- ]powered\b", lambda _: r.say(plugs=()))
    for pattern, name in PLUGS:
        r.take(rf"(?<![\w.])(?:([12])\s*x\s*)?{pattern}\b",
               lambda m, n=name: plugs.extend([n] * int(m[1] or 1)))  # type: ignore[misc]  # fmt: skip
    r.say(plugs=tuple(plugs) or None)
    r.take(r"(?<![\w.,])(\d{2,3})\s*mm\b", lambda m: r.say(length_mm=float(m[1])))
    r.take(r"\b(single|dual|double|one|two|1|2)[- ]slots?\b",
           lambda m: r.say(thickness=1 if m[1].lower() in ("single", "one", "1") else 2))  # fmt: skip
    r.take_words((
        (r"low[- ]?profile|half[- ]height", {"low_profile": True}), (r"full[- ]height", {"low_profile": False}),
        (r"graphics?(?:\s+card)?|video\s+card|d?gpu|vga", {}),
    ))  # fmt: skip
    return GraphicsLabel(**r.said, not_understood=r.not_understood, understood=r.understood)  # type: ignore[arg-type]


def _memory(r: LabelWords, m: re.Match[str]) -> bool:
    mib = float(m[1].replace(",", ".")) * (1024 if m[2].upper() == "G" else 1)
    if not 1 <= mib <= LARGEST_MIB or mib != int(mib):
        return False
    r.say(memory_mib=int(mib))
    return True
