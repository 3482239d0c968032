"""Repeats of each test as dots around their median, sessions side by side, spread in per cent."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.units import number, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import fitting_size, text_width
from brachium.core.measure.run import TestSpec

SPAN = 0.08
ROW_MAX, DENSE, ROW_MIN = 44.0, 30.0, 16.0  # below DENSE name and figure share a line


@dataclass(frozen=True)
class _Field:
    """Where the dots of a page of rows lie, and how large they are; `dense` rows share one line with their name."""

    left: float
    right: float
    dense: bool
    after: bool

    @property
    def centre(self) -> float:
        return (self.left + self.right) / 2

    @property
    def role(self) -> str:
        return "cool" if self.after else "warm"


SHORT = {
    "Drive, sequential read": "Sequential read",
    "Drive, random 4 KiB reads, one at a time": "4 KiB, one at a time",
    "Drive, random 4 KiB, 32 at a time": "4 KiB, 32 at a time",
    "Owner's task: clip export": "Clip export",
    "Drive, in order, 1 MiB": "In order, 1 MiB",
    "Drive, small reads, one at a time": "Small reads, one at a time",
    "Drive, small, 4 at a time": "Small, 4 at a time",
    "Drive, small, 32 at a time": "Small, 32 at a time",
    "Drive, reads and writes mixed": "Reads and writes mixed",
    "Drive, writes that wait": "Writes that wait",
}


def repeat_dots(
    rows: tuple[tuple[TestSpec, tuple[FloatArray, ...]], ...], width: float, height: float, after: bool
) -> Drawing:
    """One row per test; the field spans 8 % to either side of the median, farther dots sit at its edge."""
    sketch = Sketch(width, height)
    row = min(height / max(len(rows), 1), ROW_MAX)
    dense = row < DENSE
    field = _Field(width * (0.58 if dense else 0.46), width - (52 if dense else 66), dense, after)
    for index, (test, sessions) in enumerate(rows):
        y = index * row + row / 2
        sketch.add(Line(0, (index + 1) * row, width, (index + 1) * row, "grid"))
        values = [v for v in sessions if v.size]
        if not values:
            _name(sketch, test, "not yet", y, dense, field.left)
            continue
        everything = np.concatenate(values)
        middle = float(np.median(everything))
        _name(sketch, test, phrase("{middle} {test}", middle=number(middle), test=test.unit), y, dense, field.left)
        _dots(sketch, field, values, middle, y)
        spread = float(np.std(everything, ddof=1) / middle) if everything.size > 1 else 0.0
        if everything.size > 1:
            sketch.add(Text(width - 8, y + 4, percent(spread, 1), "soft", 12, 400, "end"))
        because = _because(test, values, middle, spread)
        sketch.regions.append(Region(f"test:{test.key}", 0, index * row, width, row, because.title, because))
    return sketch.done("Repeats", "dots around the median, plus or minus 8 %")


def _dots(sketch: Sketch, field: _Field, values: list[FloatArray], middle: float, y: float) -> None:
    """Sessions one above the other."""
    tall, apart, size = (6.0, 4.0, 2.4) if field.dense else (11.0, 9.0, 3.2)
    centre, half = field.centre, (field.right - field.left) / 2
    sketch.add(Line(centre, y - tall, centre, y + tall, "hair"), Line(field.left, y, field.right, y, "grid"))
    fill = field.role if field.after else "film"
    for k, session in enumerate(values):
        lift = (k - (len(values) - 1) / 2) * apart
        shares = np.clip((session / middle - 1.0) / SPAN, -1.0, 1.0)
        sketch.add(*(Dot(centre + float(s) * half, y + lift, size, field.role, fill, 1.3) for s in shares))


def _because(test: TestSpec, values: list[FloatArray], middle: float, spread: float) -> Because:
    return Because(
        phrase("{test}: {middle} {test2}", test=test.title, middle=number(middle), test2=test.unit),
        "median of valid repeats",
        upper_first(test.about) + ".",
        (
            *(
                Fact(phrase("session {k}", k=k + 1), joined(", ", (number(float(v)) for v in s)), Origin.MEASURED)
                for k, s in enumerate(values)
            ),
            Fact("spread of all", percent(spread, 1), Origin.COMPUTED),
        ),
        notes=("Outliers are never taken out silently; an invalid repeat keeps its reason.",),
    )


def _name(sketch: Sketch, test: TestSpec, figure: str, y: float, dense: bool, left: float) -> None:
    """What a row is of, and its figure below or beside it."""
    if dense:
        room = left - 20.0 - text_width(figure, 11, 400, True)
        name = short_title(test.title)
        size = fitting_size(name, max(room, 40.0), (11.0, 10.0, 9.0, 8.0), 500, True)
        sketch.add(Text(6, y + 4, name, "ink", size, 500, condensed=True),
                   Text(left - 6, y + 4, figure, "soft", 11, 400, "end", True))  # fmt: skip
    else:
        name = short_title(test.title)
        size = fitting_size(name, left - 12.0, (12.0, 11.0, 10.0, 9.0), 500, True)
        narrow = text_width(name, size, 500) > left - 12.0
        sketch.add(Text(6, y - 1, name, "ink", size, 500, condensed=narrow), Text(6, y + 13, figure, "soft", 11))


def rows_height(count: int) -> float:
    """Least height of so many rows [px]."""
    return count * ROW_MIN


def short_title(title: str) -> str:
    """A test's name where there is little room."""
    if title in SHORT:
        return SHORT[title]
    own = title.removeprefix("Owner's task: ")
    return title if own == title else upper_first(own)
