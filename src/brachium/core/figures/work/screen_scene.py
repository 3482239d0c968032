"""A step on screen: what to see or set, a load as it should run, the before and the after."""

from __future__ import annotations

import numpy as np

from brachium.core.base.text import joined, phrase
from brachium.core.figures.base.drawing import Box, Drawing, Line, Polyline, Sketch, Text
from brachium.core.figures.base.text_width import fitting_size
from brachium.core.figures.work.marks import caption
from brachium.core.figures.work.scene import Scene
from brachium.core.work.step_kinds.proof import AFTER_RUN, LOAD_TEST

ROW = 19.0


def screen(scene: Scene, width: float, height: float) -> Drawing:
    """A monitor with what matters on it."""
    sketch = Sketch(width, height)
    caption(sketch, "on screen")
    mw, mh = min(0.9 * width, 560.0), height - 78
    x, y = (width - mw) / 2, 26.0
    sketch.add(Box(x, y, mw, mh, "ink", "sheet", 1.8, 6), Line(width / 2, y + mh, width / 2, y + mh + 18, "ink", 2.4),
               Line(width / 2 - 50, y + mh + 19, width / 2 + 50, y + mh + 19, "ink", 2.4))  # fmt: skip
    if scene.step.id in (LOAD_TEST, "voltage"):
        _load(sketch, scene, x + 24, y + 20, mw - 48, mh - 52)
    elif scene.step.id == AFTER_RUN:
        _runs(sketch, x + 24, y + 20, mw - 48, mh - 52)
    elif scene.looks:
        _looks(sketch, scene, x + 16, y + 12, mw - 32, mh - 20)
    else:
        _bar(sketch, scene, x + 24, y + mh / 2, mw - 48)
    return sketch.done(
        scene.step.title, joined("; ", (phrase("{a}: {b}", a=a, b=b) if b else a for a, b in scene.looks))
    )


def _looks(sketch: Sketch, scene: Scene, x: float, y: float, w: float, h: float) -> None:
    """Rows with a box to tick; what has no room is counted."""
    looks = scene.looks
    room = int(h // ROW)
    columns = 2 if len(looks) > room else 1
    each = w / columns
    fits = room * columns
    shown = looks if len(looks) <= fits else looks[: fits - 1]
    for k, (name, words) in enumerate(shown):
        px, py = x + (k // room) * each, y + (k % room) * ROW
        sketch.add(Box(px, py + 3, 13, 13, "cool", "", 1.6, 2))
        said = phrase("{name}:  {words}", name=name, words=words) if words else name
        size = fitting_size(said, each - 28, (13.0, 12.0, 11.0, 10.0, 9.0, 8.0), 500, True)
        sketch.add(Text(px + 22, py + 15, said, "ink", size, 500, condensed=True))
    if len(shown) < len(looks):
        left = len(looks) - len(shown)
        sketch.add(
            Text(
                x + each + 24,
                y + (room - 1) * ROW + 17,
                phrase("and {left} more: Is everything seen?", left=left),
                "soft",
                13,
            )
        )


def _load(sketch: Sketch, scene: Scene, x: float, y: float, w: float, h: float) -> None:
    """Temperature rising and settling below its limit: how it should look, without figures of its own."""
    limit = scene.machine.processor.limit_c
    t = np.linspace(0.0, 1.0, 60)
    rise = 1.0 - 0.72 * (1.0 - np.exp(-t / 0.16))
    points = np.column_stack((x + t * w, y + h * (0.12 + 0.83 * rise)))
    sketch.add(Line(x, y + h, x + w, y + h, "soft"), Line(x, y, x, y + h, "soft"),
               Line(x, y + h * 0.12, x + w, y + h * 0.12, "warm", 1.4, (6.0, 4.0)),
               Polyline(points, "cool", 2.6))  # fmt: skip
    words = phrase("limit {limit:.0f} °C, as recorded", limit=limit) if limit else "its limit (not recorded)"
    sketch.add(Text(x + w, y + h * 0.12 - 6, words, "warm", 13, 500, "end"))
    sketch.add(Text(x + w * 0.62, y + h * 0.42 + 22, "settles below it", "cool", 14, 600))
    sketch.add(Text(x, y + h + 20, "load on", "soft", 12), Text(x + w, y + h + 20, "10 min", "soft", 12, 400, "end"))


def _runs(sketch: Sketch, x: float, y: float, w: float, h: float) -> None:
    """Before dashed and warm, after solid and cool, at the same load: what the last step is for, without figures."""
    t = np.linspace(0.0, 1.0, 60)
    for level, role, dash in ((0.25, "warm", (6.0, 4.0)), (0.55, "cool", ())):
        curve = 0.95 - (0.95 - level) * (1.0 - np.exp(-t / 0.15))
        sketch.add(Polyline(np.column_stack((x + t * w, y + h * curve)), role, 2.4, dash=dash))
    sketch.add(Line(x, y + h, x + w, y + h, "soft"), Line(x, y, x, y + h, "soft"))
    sketch.add(Text(x + w, y + h * 0.25 - 8, "before", "warm", 14, 600, "end"),
               Text(x + w, y + h * 0.55 - 8, "after", "cool", 14, 600, "end"),
               Text(x, y + h + 20, "same room, power, profile, panel", "soft", 12))  # fmt: skip


def _bar(sketch: Sketch, scene: Scene, x: float, y: float, w: float) -> None:
    """Something that runs to its end."""
    sketch.add(Box(x, y - 12, w, 24, "cool", "", 1.8, 3), Box(x + 3, y - 9, w * 0.3, 18, "", "cool_wash"))
    away = scene.step.unattended_min
    words = phrase("runs by itself, about {away:.0f} min", away=away) if away else "to its end"
    sketch.add(Text(x, y - 24, scene.step.title, "ink", 15, 600), Text(x, y + 34, words, "soft", 13))
