"""How wide a text of the shipped fonts is, and how it breaks into lines: figures are laid out without a screen."""

from __future__ import annotations

import json
import re
from functools import cache
from importlib.resources import files

from brachium.core.base.spoken import say

UNKNOWN = 620  # thousandths of the size for a sign that the fonts lack and another font stands in for
FIXED_SPACE = "\N{NO-BREAK SPACE}"
UNIT_AFTER = re.compile(
    r"(?<=[\d.]) (?=(?:%|°C|EUR|[GMk]i?B(?:/s)?|[GM]Hz|MT/s|W|K|V|A|Wh|mm|cm²|min|ms|s|h|g|ml|px)(?![\w°]))"
)
MORE = 1.01  # kerning and rounding to whole pixels may add so much


@cache
def _faces() -> dict[str, dict[str, int]]:
    """Advance widths by face, thousandths of the type size; written by scripts/advances.py."""
    text = files("brachium.resources").joinpath("fonts", "advances.json").read_text(encoding="utf-8")
    faces: dict[str, dict[str, int]] = json.loads(text)
    return faces


def text_width(text: str, size: float, weight: int = 400, condensed: bool = False) -> float:
    """Advance width [px] of a text, as it is said, at a type size [px]; weight 400, 500 or 600."""
    face = _faces()[f"{'condensed' if condensed else 'normal'}-{400 if weight < 450 else 500 if weight < 550 else 600}"]
    return MORE * size * sum(face.get(sign, UNKNOWN) for sign in say(text)) / 1000.0


def wrapped(text: str, room: float, size: float, weight: int = 400, condensed: bool = False) -> tuple[str, ...]:
    """A text in as many lines as it takes in this room [px]; a word that is longer than a line is broken."""
    said = say(text)
    lines: list[str] = []
    for word in _words(said):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(longer, size, weight, condensed) <= room:
            lines[-1] = longer
            continue
        rest = word
        while len(rest) > 1 and text_width(rest, size, weight, condensed) > room:
            cut = next((k for k in range(len(rest) - 1, 1, -1)
                        if text_width(rest[:k], size, weight, condensed) <= room), 1)  # fmt: skip
            cut = max((rest.rfind(sign, 1, cut) + 1 for sign in f"-/_{FIXED_SPACE}"), default=0) or cut
            lines.append(rest[:cut])
            rest = rest[cut:]
        lines.append(rest)
    return tuple(lines if FIXED_SPACE in said else [line.replace(FIXED_SPACE, " ") for line in lines]) or ("",)


def _words(said: str) -> list[str]:
    """Where a text may break: never at a space that is meant to hold, nor between a figure and its unit."""
    return [w for w in re.split(r"[ \t\n]+", UNIT_AFTER.sub(FIXED_SPACE, said)) if w]


def fitting_size(text: str, room: float, sizes: tuple[float, ...], weight: int = 400, condensed: bool = False) -> float:
    """The largest of these type sizes at which a text fits a room; the smallest where none does."""
    return next((s for s in sizes if text_width(text, s, weight, condensed) <= room), sizes[-1])
