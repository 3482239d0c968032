"""Work steps as rows: tick, title, minutes; the point of no return and cautions are marked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.base.units import minutes
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.base.writing import Face, write
from brachium.core.record.job import StepDone
from brachium.core.work.step import Step

ROW = 33.0
TITLE = Face(13, 600)


def step_list(steps: tuple[Step, ...], done: Mapping[str, StepDone], width: float) -> Drawing:
    """One row per step in working order; a line joins them, ticked ones are solid."""
    sketch = Sketch(width, 0)
    upcoming = next((s.id for s in steps if s.id not in done), "")
    y, middles = 0.0, []
    for step in steps:
        end = y + _height(step, done.get(step.id), width)
        middles.append((y + end) / 2)
        y = end
    if len(steps) > 1:
        sketch.add(Line(CENTRE, middles[0], CENTRE, middles[-1], "hair", 1.2))
    y = 0.0
    for step in steps:
        y = _row(sketch, step, done.get(step.id), step.id == upcoming, y, width)
    sketch.height = max(y, ROW)
    return sketch.done("Steps", "in working order; a dashed red line is the point of no return")


CENTRE = 18.0


def _room(step: Step, entry: StepDone | None, width: float) -> float:
    return width - 62 - text_width(_time(step, entry), 12, 400, True)


def _height(step: Step, entry: StepDone | None, width: float) -> float:
    return ROW - TITLE.step + TITLE.step * TITLE.lines(step.title, _room(step, entry, width))


def _time(step: Step, entry: StepDone | None) -> str:
    return phrase("{minutes:g} min logged", minutes=entry.minutes) if entry else _expected(step)


def _row(sketch: Sketch, step: Step, entry: StepDone | None, upcoming: bool, y: float, width: float) -> float:
    """One step; where its row ends."""
    end = y + _height(step, entry, width)
    middle = (y + end) / 2
    role = "cool" if entry or upcoming else "soft"
    sketch.add(Box(CENTRE - 9, middle - 9, 18, 18, role, "cool" if entry else "film", 1.4, 2.0))
    if entry:
        tick = path((CENTRE - 5, middle), (CENTRE - 1, middle + 4), (CENTRE + 6, middle - 5), role="on_cool", width=2.0)
        sketch.add(tick)
    time = _time(step, entry)
    title = replace(TITLE, weight=600 if upcoming else 500, role="soft" if entry else "ink")
    write(sketch, 42, y + (ROW - TITLE.step) / 2, _room(step, entry, width), step.title, title)
    sketch.add(Text(width - 4, middle + 5, time, "soft", 12, 400, "end", True))
    line = ("alarm", 1.2, (6.0, 4.0)) if step.no_return else ("grid", 1.0, ())
    sketch.add(Line(42, end, width, end, *line))
    label = phrase("{step}, {which}, {time}", step=step.title, which="done" if entry else "to do", time=time)
    sketch.regions.append(Region(step.id, 0, y + 1, width, end - y - 2, label))
    return end


def _expected(step: Step) -> str:
    away = phrase(" + {unattended_min}", unattended_min=minutes(step.unattended_min)) if step.unattended_min else ""
    return phrase("{attended_min}{away}", attended_min=minutes(step.attended_min), away=away)
