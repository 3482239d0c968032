"""The cooler's plate with the order of its screws, and how the paste goes onto the contact under it."""

from __future__ import annotations

from itertools import pairwise

from brachium.core.base.text import joined, phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Line, Sketch, Text
from brachium.core.figures.work.marks import arrow, caption
from brachium.core.figures.work.scene import Scene
from brachium.core.machine.platform import CoolerHold
from brachium.core.work.screws import tighten_plan

TYPICAL = 4  # fastenings of a plate that nobody counted


def contact(scene: Scene, width: float, height: float) -> Drawing:
    """At the left the plate, numbered; at the right what lies under it."""
    sketch = Sketch(width, height)
    caption(sketch, "the cooler from above" if scene.comes_off else "the cooler from above, the contact under it")
    side = min(0.62 * height, 0.42 * width)
    y = (height - side) / 2
    left = 0.06 * width if not scene.comes_off else (width - side) / 2 - 20
    _plate(sketch, scene, left, y, side)
    if not scene.comes_off:
        _paste(sketch, scene, width - side - 0.04 * width, y, side)
    return sketch.done(scene.step.title, "the order of the screws, and how paste goes on")


def _plate(sketch: Sketch, scene: Scene, x: float, y: float, side: float) -> None:
    hold = scene.machine.platform.build.cooler_hold
    count = sum(g.count for g in scene.screws) or (2 if hold is CoolerHold.CLIP else TYPICAL)
    plan = tighten_plan(count)
    _metal(sketch, scene, x, y, side)
    at = [(x + u * side, y + v * side) for u, v in plan.places]
    order = plan.order if not scene.comes_off else plan.order[::-1]
    if hold is not CoolerHold.CLIP:
        for a, b in pairwise(order):
            sketch.add(Line(*at[a], *at[b], "cool", 1.0, (4.0, 3.0)))
    for turn, k in enumerate(order, 1):
        px, py = at[k]
        sketch.add(Dot(px, py, 12, "cool", "sheet", 2.0), Text(px, py + 5, str(turn), "cool", 14, 600, "middle"))
    cx = x + side * 0.5
    ends = (y + side * 0.4, y - 16) if scene.comes_off else (y - 22, y + side * 0.34)
    arrow(sketch, cx, ends[0], cx, ends[1])
    known = joined(", ", (phrase("{count} × {head}", count=g.count, head=g.head) for g in scene.screws)) or (
        hold.value if hold is not None else ""
    )
    words = known or "how it is held: look first"
    sketch.add(Text(cx, y + side + 20, words, "ink" if known else "warm", 13, 600, "middle"))
    sketch.add(Text(cx, y + side + 38, _order_words(scene), "soft", 12, 400, "middle"))


def _metal(sketch: Sketch, scene: Scene, x: float, y: float, side: float) -> None:
    """The plate itself; shaded while it comes off."""
    if scene.comes_off:
        sketch.add(Hatch(x, y, side, side, "cool", 9.0))
    sketch.add(Box(x, y, side, side, "ink", "" if scene.comes_off else "sheet", 1.6, 4))
    for k in range(1, 7):
        sketch.add(Line(x + side * k / 7, y + side * 0.24, x + side * k / 7, y + side * 0.76, "hair"))


def _order_words(scene: Scene) -> str:
    """In which order its fastenings are worked."""
    hold = scene.machine.platform.build.cooler_hold
    if hold is CoolerHold.PUSH_PINS:
        return "opposite pins, one pair after the other"
    if scene.comes_off:
        return "loosened in this order"
    return "far side first" if hold is CoolerHold.CLIP else "two passes, by hand, in this order"


def _paste(sketch: Sketch, scene: Scene, x: float, y: float, side: float) -> None:
    bare = scene.machine.platform.contacts.bare_die
    cx = x + side / 2
    if bare is None:
        half = side * 0.46
        _die(sketch, cx - half / 2, y - 4, half)
        _spreader(sketch, cx - half / 2, y + side * 0.54, half)
        sketch.add(Text(cx, y + side * 0.47 + 8, "bare die: all of it", "ink", 12, 500, "middle"))
        sketch.add(Text(cx, y + side + 20, "spreader: a pea or a cross", "ink", 12, 500, "middle"))
        sketch.add(Text(cx, y + side + 38, "which it is nobody recorded: look", "warm", 12, 400, "middle"))
        return
    (_die if bare else _spreader)(sketch, x + side * 0.1, y + side * 0.1, side * 0.8)
    words = "bare die: cover it whole, thinly" if bare else "spreader: a pea or a thin cross"
    sketch.add(Text(cx, y + side + 20, words, "ink", 13, 600, "middle"))


def _die(sketch: Sketch, x: float, y: float, side: float) -> None:
    """A bare die covered to its edges."""
    inner = side * 0.25
    sketch.add(Box(x, y, side, side, "soft", "sheet", 1.2, 2))
    sketch.add(Box(x + inner, y + inner, side - 2 * inner, side - 2 * inner, "cool", "cool_wash", 2.2))
    sketch.add(Hatch(x + inner, y + inner, side - 2 * inner, side - 2 * inner, "cool", 5.0))


def _spreader(sketch: Sketch, x: float, y: float, side: float) -> None:
    """A spreader with a pea and, lighter, the cross."""
    sketch.add(Box(x, y, side, side, "ink", "sheet", 1.4, 4))
    cx, cy, r = x + side / 2, y + side / 2, side * 0.28
    sketch.add(Line(cx - r, cy - r, cx + r, cy + r, "cool", 2.0, (5.0, 4.0)),
               Line(cx - r, cy + r, cx + r, cy - r, "cool", 2.0, (5.0, 4.0)),
               Dot(cx, cy, max(side * 0.07, 4.0), "cool", "cool", 0.0))  # fmt: skip
