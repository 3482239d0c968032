"""A drawing made larger or smaller as a whole, its type too, and moved."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Item, Line, Polyline, Region, Text


def scaled(drawing: Drawing, factor: float) -> Drawing:
    """Every length times `factor`."""
    regions = tuple(_region(r, factor, 0.0, 0.0) for r in drawing.regions)
    items = tuple(placed(i, factor) for i in drawing.items)
    size = drawing.width * factor, drawing.height * factor
    return replace(drawing, width=size[0], height=size[1], items=items, regions=regions)


def beside(drawing: Drawing, dx: float, dy: float) -> tuple[list[Item], list[Region]]:
    """Items and regions of a drawing as part of a larger one, from (dx, dy) [px] on."""
    return [placed(i, 1.0, dx, dy) for i in drawing.items], [_region(r, 1.0, dx, dy) for r in drawing.regions]


def _region(r: Region, f: float, dx: float, dy: float) -> Region:
    return replace(r, x=r.x * f + dx, y=r.y * f + dy, w=r.w * f, h=r.h * f)


def placed(item: Item, f: float, dx: float = 0.0, dy: float = 0.0) -> Item:
    """An item with every length times `f`, then moved."""
    match item:
        case Line():
            return replace(item, x1=item.x1 * f + dx, y1=item.y1 * f + dy, x2=item.x2 * f + dx, y2=item.y2 * f + dy,
                           width=item.width * f, dash=_dash(item.dash, f))  # fmt: skip
        case Polyline():
            points = item.points * f + np.array([dx, dy])
            return replace(item, points=points, width=item.width * f, dash=_dash(item.dash, f))
        case Box():
            return replace(item, x=item.x * f + dx, y=item.y * f + dy, w=item.w * f, h=item.h * f,
                           width=item.width * f, radius=item.radius * f, dash=_dash(item.dash, f))  # fmt: skip
        case Dot():
            return replace(item, x=item.x * f + dx, y=item.y * f + dy, r=item.r * f, width=item.width * f)
        case Hatch():
            return replace(item, x=item.x * f + dx, y=item.y * f + dy, w=item.w * f, h=item.h * f,
                           spacing=item.spacing * f)  # fmt: skip
        case Text():
            return replace(item, x=item.x * f + dx, y=item.y * f + dy, size=item.size * f)


def _dash(dash: tuple[float, ...], f: float) -> tuple[float, ...]:
    return tuple(d * f for d in dash)
