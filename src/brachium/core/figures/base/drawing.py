"""A drawing as data: lines, shapes and text in colour roles, with named regions that can be chosen.

The window paints it, the report writes it as SVG; neither adds anything, so they cannot drift apart.
Coordinates are pixels from the top left; text is placed by its baseline.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.why import Because

LEAST_TARGET_PX = 32.0  # what is smaller is pointed at as if it were this large


@dataclass(frozen=True)
class Line:
    x1: float
    y1: float
    x2: float
    y2: float
    role: str = "ink"
    width: float = 1.0
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Polyline:
    """An open path, or a closed one with a fill; `points` has shape (n, 2)."""

    points: FloatArray
    role: str = "ink"
    width: float = 1.5
    fill: str = ""
    closed: bool = False
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Box:
    x: float
    y: float
    w: float
    h: float
    role: str = ""
    fill: str = ""
    width: float = 1.0
    radius: float = 0.0
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Dot:
    x: float
    y: float
    r: float
    role: str = "ink"
    fill: str = ""
    width: float = 1.5


@dataclass(frozen=True)
class Hatch:
    """Slanted hatching of a rectangle."""

    x: float
    y: float
    w: float
    h: float
    role: str = "hair"
    spacing: float = 7.0


@dataclass(frozen=True)
class Text:
    """`anchor` is start, middle or end; weight 400, 500 or 600; `condensed` picks the narrow family."""

    x: float
    y: float
    text: str
    role: str = "ink"
    size: float = 13.0
    weight: int = 400
    anchor: str = "start"
    condensed: bool = False


Item = Line | Polyline | Box | Dot | Hatch | Text


@dataclass(frozen=True)
class Region:
    """A part that can be pointed at and chosen; `label` is what a screen reader says."""

    id: str
    x: float
    y: float
    w: float
    h: float
    label: str
    because: Because | None = None

    def holds(self, x: float, y: float, least: float = 0.0) -> bool:
        """Whether the point lies in it, each side taken as at least `least` px about its middle."""
        wide, high = max(self.w, least), max(self.h, least)
        return abs(x - self.x - self.w / 2) <= wide / 2 and abs(y - self.y - self.h / 2) <= high / 2


def region_at(regions: Sequence[Region], x: float, y: float) -> Region | None:
    """The region pointed at: the smallest under the point, else the nearest of those that reach it with 32 px."""
    inside = [r for r in regions if r.holds(x, y)]
    if inside:
        return min(inside, key=lambda r: r.w * r.h)
    near = [r for r in regions if r.holds(x, y, LEAST_TARGET_PX)]
    return min(near, key=lambda r: math.hypot(x - r.x - r.w / 2, y - r.y - r.h / 2)) if near else None


@dataclass(frozen=True)
class Drawing:
    """Items are painted in order. `title` and `about` describe the picture in words."""

    width: float
    height: float
    title: str
    items: tuple[Item, ...]
    regions: tuple[Region, ...] = ()
    about: str = ""


@dataclass
class Sketch:
    """Collects items while a figure is being laid out."""

    width: float
    height: float
    items: list[Item] = field(default_factory=list)
    regions: list[Region] = field(default_factory=list)

    def add(self, *items: Item) -> None:
        self.items.extend(items)

    def extend(self, items: Iterable[Item]) -> None:
        self.items.extend(items)

    def done(self, title: str, about: str = "") -> Drawing:
        return Drawing(self.width, self.height, title, tuple(self.items), tuple(self.regions), about)


def path(
    *points: tuple[float, float], role: str = "ink", width: float = 1.5, fill: str = "", closed: bool = False
) -> Polyline:
    """A polyline through the given corners."""
    return Polyline(np.array(points, dtype=np.float64), role, width, fill, closed)


def lines_of_text(lines: Iterable[str], first: Text, step: float) -> tuple[Text, ...]:
    """Lines of text below each other, set as `first` says; `step` is from baseline to baseline [px]."""
    return tuple(replace(first, y=first.y + k * step, text=line) for k, line in enumerate(lines))


def leader(x1: float, y1: float, x2: float, y2: float, role: str = "soft") -> tuple[Item, ...]:
    """A leader line with a dot at what it points to."""
    return (Line(x1, y1, x2, y2, role), Dot(x1, y1, 2.0, role, role, 0.0))


def dimension(x1: float, x2: float, y: float, role: str = "soft", tick: float = 4.0) -> tuple[Item, ...]:
    """A horizontal dimension line with end ticks."""
    return (
        Line(x1, y, x2, y, role),
        Line(x1, y - tick, x1, y + tick, role),
        Line(x2, y - tick, x2, y + tick, role),
    )


def dimension_v(x: float, y1: float, y2: float, role: str = "soft", tick: float = 4.0) -> tuple[Item, ...]:
    """A vertical dimension line with end ticks."""
    return (
        Line(x, y1, x, y2, role),
        Line(x - tick, y1, x + tick, y1, role),
        Line(x - tick, y2, x + tick, y2, role),
    )
