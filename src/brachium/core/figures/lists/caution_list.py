"""Cautions of a step: a sign in a rounded triangle beside its words, wrapped to the width."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.spoken import say
from brachium.core.figures.base.drawing import Dot, Drawing, Item, Line, Region, Sketch, Text, path
from brachium.core.figures.base.text_width import text_width

SIZE, LINE, GAP = 30.0, 17.0, 8.0


def caution_list(cautions: Sequence[tuple[str, str]], width: float) -> Drawing:
    """(sign, words) one below the other; as high as they need."""
    rows = [(sign, wrapped(words, width - SIZE - 16)) for sign, words in cautions]
    heights = [max(SIZE, LINE * len(lines)) + GAP for _, lines in rows]
    sketch = Sketch(width, max(sum(heights), 1.0))
    y = 0.0
    for (sign, lines), height, (_, words) in zip(rows, heights, cautions, strict=True):
        sketch.extend(sign_shape(sign, 2.0, y, SIZE))
        top = y + (height - GAP - LINE * len(lines)) / 2 + 12
        for k, line in enumerate(lines):
            sketch.add(Text(SIZE + 14, top + k * LINE, line, "warm", 13, 500))
        sketch.regions.append(Region(f"caution-{len(sketch.regions)}", 0, y, width, height - 2, words))
        y += height
    return sketch.done("Cautions", "what can hurt at this step")


def wrapped(text: str, width: float, size: float = 13.0, weight: int = 500) -> list[str]:
    """Lines that fit a width."""
    lines: list[str] = []
    for word in say(text).split():
        line = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(line, size, weight) <= width:
            lines[-1] = line
        else:
            lines.append(word)
    return lines or [""]


def sign_shape(sign: str, x: float, y: float, size: float) -> list[Item]:
    """A triangle with the hazard's own drawing in it; legible without colour."""

    def at(u: float, v: float) -> tuple[float, float]:
        return x + u * size, y + v * size

    out: list[Item] = [path(at(0.5, 0.04), at(0.98, 0.92), at(0.02, 0.92), at(0.5, 0.04), role="warm", width=1.8)]
    if sign == "bolt":
        out.append(path(at(0.56, 0.30), at(0.42, 0.58), at(0.54, 0.58), at(0.44, 0.84), role="warm", width=1.8))
    elif sign == "cell":
        out.append(
            path(at(0.36, 0.52), at(0.64, 0.52), at(0.64, 0.82), at(0.36, 0.82), at(0.36, 0.52), role="warm", width=1.6)
        )
        out += [
            Line(*at(0.45, 0.46), *at(0.55, 0.46), "warm", 1.8),
            Line(*at(0.43, 0.67), *at(0.57, 0.67), "warm", 1.4),
        ]
    elif sign == "strap":
        out += [Dot(*at(0.5, 0.62), 0.13 * size, "warm", "", 1.6), path(at(0.60, 0.70), at(0.70, 0.78), at(0.62, 0.84),
                role="warm", width=1.6)]  # fmt: skip
    elif sign == "edge":
        out.append(
            path(at(0.30, 0.80), at(0.62, 0.42), at(0.70, 0.50), at(0.46, 0.80), at(0.30, 0.80), role="warm", width=1.6)
        )
    elif sign == "lift":
        out += [Line(*at(0.34, 0.82), *at(0.66, 0.82), "warm", 1.8), path(at(0.40, 0.56), at(0.50, 0.44), at(0.60,
                                                                                                             0.56),
                role="warm", width=1.6), Line(*at(0.50, 0.44), *at(0.50, 0.76), "warm", 1.6)]  # fmt: skip
    elif sign == "mask":
        out += [path(at(0.32, 0.58), at(0.50, 0.50), at(0.68, 0.58), at(0.60, 0.80), at(0.40, 0.80), at(0.32, 0.58),
                     role="warm", width=1.6), Line(*at(0.40, 0.66), *at(0.60, 0.66), "warm", 1.2)]  # fmt: skip
    elif sign == "flame":
        out.append(path(at(0.50, 0.38), at(0.62, 0.60), at(0.58, 0.80), at(0.42, 0.80), at(0.38, 0.62), at(0.47, 0.62),
                        at(0.50, 0.38), role="warm", width=1.6))  # fmt: skip
    else:
        out += [
            Line(*at(0.5, 0.40), *at(0.5, 0.66), "warm", 2.2),
            Dot(*at(0.5, 0.78), 0.03 * size, "warm", "warm", 1.6),
        ]
    return out
