"""Screw tray: compartments in the order of removal, each with what lies in it; refitting runs from the right."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import cos, pi, sin

from brachium.core.base.text import phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.screws import TightenPlan, open_screws

HEIGHT, PLATE = 96.0, 92.0


def screw_tray(groups: Sequence[ScrewGroup], titles: Mapping[str, str], refitting: bool, width: float) -> Drawing:
    """Region ids are the groups' numbers. The screw is drawn to its length, its head by its driver."""
    sketch = Sketch(width, HEIGHT)
    each = min(width / max(len(groups), 1), 130.0)
    for k, group in enumerate(groups):
        x = k * each
        whole = group.captive or group.back == group.count
        role = "cool" if whole and refitting else "warm" if refitting else "ink"
        sketch.add(Box(x + 1, 14, each - 6, HEIGHT - 18, role, "", 1.2, 2.0))
        sketch.add(
            Text(
                x + 4,
                10,
                phrase("{k}  {titles}", k=k + 1, titles=titles.get(group.layer, group.layer))[: int(each / 6)],
                "soft",
                11,
            )
        )
        _screw(sketch, group, x + 12, 38)
        sketch.add(
            Text(
                x + 8,
                66,
                phrase("{count} × {head}", count=group.count, head=group.head),
                "ink",
                12,
                600,
                condensed=True,
            )
        )
        sketch.add(
            Text(
                x + 8,
                82,
                phrase("{thread} × {length_mm:g} mm", thread=group.thread, length_mm=group.length_mm),
                "soft",
                11,
                400,
                condensed=True,
            )
        )
        if refitting:
            back = (
                "stay in"
                if group.captive
                else phrase("{back} back", back=group.back if group.back is not None else "?")
            )
            sketch.add(Text(x + each - 10, 66, back, role, 12, 600, "end", True))
        problem = open_screws((group,), group.layer)
        facts = (
            Fact("count", str(group.count), Origin.TYPED),
            Fact("driver", group.head, Origin.TYPED),
            Fact(
                "thread and length",
                phrase("{thread} × {length_mm:g} mm", thread=group.thread, length_mm=group.length_mm),
                Origin.TYPED,
            ),
            Fact("captive", "yes" if group.captive else "no", Origin.TYPED),
        )
        because = Because(
            titles.get(group.layer, group.layer), "screw tray", problem or "Every screw is accounted for.", facts
        )
        label = phrase(
            "{titles}: {count} {thread} {length_mm:g} mm",
            titles=titles.get(group.layer, group.layer),
            count=group.count,
            thread=group.thread,
            length_mm=group.length_mm,
        )
        sketch.regions.append(Region(str(k), x, 2, each - 4, HEIGHT - 4, label, because))
    if groups and refitting:
        end = len(groups) * each - 10
        sketch.add(Line(end, HEIGHT - 2, 8, HEIGHT - 2, "cool", 1.4), Line(8, HEIGHT - 2, 16, HEIGHT - 6, "cool", 1.4))
    return sketch.done("Screw tray", "compartments in the order of removal; refitting runs it backwards")


def _screw(sketch: Sketch, group: ScrewGroup, x: float, y: float) -> None:
    """Head with its drive, shank to scale: 4 px a millimetre, at most 70."""
    sketch.add(Dot(x + 6, y, 8, "ink", "", 1.4))
    _drive(sketch, group.head, x + 6, y)
    long = min(4.0 * group.length_mm, 70.0)
    sketch.add(Box(x + 20, y - 4, 4, 8, "ink"), Box(x + 24, y - 2.5, long, 5, "ink"))
    for k in range(int(long / 4)):
        sketch.add(Line(x + 26 + 4 * k, y - 2.5, x + 24 + 4 * k, y + 2.5, "soft", 0.8))


def _drive(sketch: Sketch, head: str, x: float, y: float) -> None:
    """What the driver reaches into: a cross, a star of five or six, three wings, a hexagon, a slot."""
    rays = {"five-lobe": 5, "tri-wing": 3}.get(head, 4 if head.startswith("PH") else 6 if head.startswith("T") else 0)
    if rays:
        for k in range(rays):
            angle = 2 * pi * k / rays - pi / 2
            sketch.add(Line(x, y, x + 4.5 * cos(angle), y + 4.5 * sin(angle), "ink", 1.4))
    elif head == "hex":
        corners = [(x + 4.5 * cos(pi * k / 3), y + 4.5 * sin(pi * k / 3)) for k in range(6)]
        sketch.add(path(*corners, role="ink", width=1.4, closed=True))
    else:
        sketch.add(Line(x - 4, y, x + 4, y, "ink", 1.6))


def tighten_figure(plan: TightenPlan, numbered: bool, size: float = PLATE) -> Drawing:
    """The plate with its screws and the order of both passes; numbered plates follow their own numbers."""
    sketch = Sketch(size + 190, size)
    sketch.add(Box(2, 2, size - 4, size - 4, "ink", "", 1.4, 4.0))
    place = [(2 + x * (size - 4), 2 + y * (size - 4)) for x, y in plan.places]
    for a, b in zip(plan.order, plan.order[1:], strict=False):
        sketch.add(Line(*place[a], *place[b], "hair", 1.0, (3.0, 3.0)))
    for turn, k in enumerate(plan.order, 1):
        x, y = place[k]
        sketch.add(Dot(x, y, 9, "cool", "sheet", 1.4), Text(x, y + 4, str(turn), "cool", 11, 600, "middle"))
    words = ("by the plate's own numbers" if numbered else "crosswise, in this order",
             phrase("{passes} passes: first until it touches,", passes=plan.passes), "then firm, by hand")  # fmt: skip
    for k, line in enumerate(words):
        sketch.add(Text(size + 12, 24 + 18 * k, line, "ink" if k == 0 else "soft", 12, 500 if k == 0 else 400))
    return sketch.done("Tightening order", "in two passes")
