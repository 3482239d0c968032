"""Arrows, screws and captions that the pictures of steps share."""

from __future__ import annotations

from math import atan2, cos, pi, sin

from brachium.core.figures.base.drawing import Box, Dot, Line, Sketch, Text, path
from brachium.core.figures.base.text_width import text_width
from brachium.core.work.step import Motion


def arrow(sketch: Sketch, x1: float, y1: float, x2: float, y2: float, role: str = "cool") -> None:
    """A thick arrow from the first point to the second."""
    angle = atan2(y2 - y1, x2 - x1)
    head = 9.0
    sketch.add(Line(x1, y1, x2, y2, role, 2.6))
    left, right = angle + pi - 0.5, angle + pi + 0.5
    sketch.add(path((x2 + head * cos(left), y2 + head * sin(left)), (x2, y2),
                    (x2 + head * cos(right), y2 + head * sin(right)), role=role, width=2.6))  # fmt: skip


def motion_arrow(sketch: Sketch, motion: Motion, x: float, y: float, w: float, h: float) -> None:
    """The arrow of a motion at a place in its box."""
    cx, reach = x + w * 0.72, 36.0
    top, edge = max(y - reach, 4.0), max(y - 5.0, 12.0)  # the arrow ends above what may be filled
    match motion:
        case Motion.OUT:
            arrow(sketch, cx, y + min(h * 0.5, 12), cx, top)
        case Motion.IN:
            arrow(sketch, cx, top, cx, edge)
        case Motion.SLANT:
            arrow(sketch, min(cx + 34, sketch.width - 8), top, cx, edge)
        case Motion.SLIDE:
            arrow(sketch, x + w * 0.92, y + h / 2, x + w * 0.62, y + h / 2)
        case Motion.TURN:
            sketch.add(Dot(cx, y + h / 2, 12, "cool", "", 2.2))
            arrow(sketch, cx + 12, y + h / 2, cx + 8, y + h / 2 + 9)
        case Motion.NONE:
            pass


def screw(sketch: Sketch, x: float, y: float, known: bool = True, radius: float = 5.0) -> None:
    """A screw from above; dashed where nobody recorded that there is one."""
    if known:
        sketch.add(Dot(x, y, radius, "cool", "sheet", 1.8), Line(x - 2.5, y, x + 2.5, y, "cool", 1.4),
                   Line(x, y - 2.5, x, y + 2.5, "cool", 1.4))  # fmt: skip
    else:
        sketch.add(Box(x - radius, y - radius, 2 * radius, 2 * radius, "soft", "sheet", 1.4, radius, (3.0, 2.0)))


def caption(sketch: Sketch, text: str, role: str = "soft") -> None:
    """What is seen, at the top left."""
    sketch.add(Text(8, 14, text, role, 12))


def note_at(sketch: Sketch, x: float, y: float, text: str, to: tuple[float, float], role: str = "ink") -> None:
    """A leader from a thing to its words, which stay inside the drawing."""
    wide = text_width(text, 12, 500)
    left = min(max(x, 4.0), max(sketch.width - wide - 4.0, 4.0))
    sketch.add(Line(to[0], to[1], left + (4 if left > to[0] else wide * 0.5), y - 5 if y > to[1] else y + 4, "soft"),
               Dot(to[0], to[1], 2.2, "soft", "soft", 0.0), Text(left, y, text, role, 12, 500))  # fmt: skip
