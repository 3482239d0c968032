"""Work steps as rows: tick, title, minutes; the point of no return and cautions are marked."""

from __future__ import annotations

from collections.abc import Mapping

from brachium.core.base.units import minutes
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.lists.candidate_list import clipped
from brachium.core.record.job import StepDone
from brachium.core.work.step import Step

ROW = 40.0


def step_list(steps: tuple[Step, ...], done: Mapping[str, StepDone], width: float) -> Drawing:
    """One row per step in working order; a line joins them, ticked ones are solid."""
    sketch = Sketch(width, ROW * max(len(steps), 1))
    if len(steps) > 1:
        sketch.add(Line(CENTRE, ROW / 2, CENTRE, ROW * (len(steps) - 0.5), "hair", 1.2))
    upcoming = next((s.id for s in steps if s.id not in done), "")
    for index, step in enumerate(steps):
        _row(sketch, step, done.get(step.id), step.id == upcoming, index * ROW + ROW / 2, width)
    return sketch.done("Steps", "in working order; a dashed red line is the point of no return")


CENTRE = 18.0


def _row(sketch: Sketch, step: Step, entry: StepDone | None, upcoming: bool, y: float, width: float) -> None:
    role = "cool" if entry or upcoming else "soft"
    sketch.add(Box(CENTRE - 9, y - 9, 18, 18, role, "cool" if entry else "film", 1.4, 2.0))
    if entry:
        sketch.add(path((CENTRE - 5, y), (CENTRE - 1, y + 4), (CENTRE + 6, y - 5), role="on_cool", width=2.0))
    time = f"{entry.minutes:g} min logged" if entry else _expected(step)
    weight = 600 if upcoming else 500
    title = clipped(step.title, width - 62 - text_width(time, 12, 400, True), 13, weight)
    sketch.add(Text(42, y + 5, title, "soft" if entry else "ink", 13, weight))
    sketch.add(Text(width - 4, y + 5, time, "soft", 12, 400, "end", True))
    if step.no_return:
        sketch.add(Line(42, y + ROW / 2, width, y + ROW / 2, "alarm", 1.2, (6.0, 4.0)))
    else:
        sketch.add(Line(42, y + ROW / 2, width, y + ROW / 2, "grid"))
    label = f"{step.title}, {'done' if entry else 'to do'}, {time}"
    sketch.regions.append(Region(step.id, 0, y - ROW / 2 + 1, width, ROW - 2, label))


def _expected(step: Step) -> str:
    away = f" + {minutes(step.unattended_min)}" if step.unattended_min else ""
    return f"{minutes(step.attended_min)}{away}"
