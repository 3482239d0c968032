"""A watched day, hour by hour: minutes at work and what of the machine was the limit in them."""

from __future__ import annotations

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import many, phrase
from brachium.core.base.units import minutes, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Drawing, Hatch, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import text_width
from brachium.core.figures.plots.limit_bars import FILLS
from brachium.core.measure.waiting import KEYS, TITLES
from brachium.core.use.day_of_use import DayOfUse

LEFT, RIGHT, TOP, FOOT, NAME_W = 34.0, 8.0, 26.0, 20.0, 54.0
FULL_MIN, LEAST_HOURS = 60.0, 10
LEAST_MIN, LEAST_SHARE = 0.2, 0.01
SHOWN = ("storage", "paging", "held", "processor", "thread", "graphics", "free")  # from the bottom up


def day_hours(day: DayOfUse, width: float, height: float, name: str = "") -> Drawing:
    """A column an hour, as high as there were minutes at work; of several days their mean hour. `name` is before or
    after, where there are both."""
    sketch = Sketch(width, height)
    if name:
        sketch.add(Text(width - RIGHT, 13, name, "cool" if name == "after" else "warm", 12, 600, "end"))
    top = TOP + 15.0 * (_key(sketch, day, width - (NAME_W if name else 0.0)) - 1)
    by_hour = day.by_hour / max(day.hours / 24.0, 1.0)
    first, last = _hours(by_hour.sum(axis=1))
    tallest = max(float(by_hour.sum(axis=1).max()), 1.0)
    scale = (height - top - FOOT) / max(min(tallest, FULL_MIN), 10.0)
    base = height - FOOT
    column = (width - LEFT - RIGHT) / (last - first)
    for minute in (15, 30, 45, 60):
        y = base - minute * scale
        if y >= top - 4:
            sketch.add(Line(LEFT, y, width - RIGHT, y, "grid"))
            sketch.add(Text(LEFT - 6, y + 4, phrase("{minute}", minute=minute), "soft", 11, 400, "end", True))
    sketch.add(Text(LEFT - 6, 13, "min", "soft", 11, 400, "end", True))
    sketch.add(Line(LEFT, base, width - RIGHT, base, "hair"))
    for hour in range(first, last):
        x = LEFT + (hour - first) * column
        sketch.add(Text(x, height - 5, phrase("{hour}", hour=hour % 24), "soft", 11, 400, "middle", True))
        part = {k: float(by_hour[hour % 24, KEYS.index(k)]) for k in KEYS}
        _column(sketch, part, x + 2, column - 4, base, scale)
    because = day_because(day)
    sketch.regions.append(Region("day", 0, TOP, width, height - TOP, because.title, because))
    return sketch.done("A day of use", "minutes at work by the hour, and what limited in them")


def _hours(minutes_at_work: FloatArray) -> tuple[int, int]:
    """First hour that is drawn and the one after the last: those with work, and at least ten."""
    some = np.flatnonzero(minutes_at_work > LEAST_MIN)
    first, last = (int(some[0]), int(some[-1]) + 1) if some.size else (8, 18)
    lacking = max(LEAST_HOURS - (last - first), 0)
    first = max(first - lacking // 2, 0)
    return first, max(last, min(first + LEAST_HOURS, 24))


def _key(sketch: Sketch, day: DayOfUse, width: float) -> int:
    """The key of the fills; returns how many lines it takes."""
    x, y, lines = LEFT, 4.0, 1
    for key in SHOWN:
        if day.shares[key] < LEAST_SHARE:
            continue
        role, fill = FILLS[key]
        words = "person, network" if key == "free" else TITLES[key]
        wide = 30 + text_width(words, 11, condensed=True)
        if x + wide > width and x > LEFT:
            x, y, lines = LEFT, y + 15.0, lines + 1
        if key == "held":
            sketch.add(Hatch(x, y, 14, 10, "warm", 5.0))
        sketch.add(Box(x, y, 14, 10, role, fill, 1.0), Text(x + 19, y + 9, words, "soft", 11, condensed=True))
        x += wide
    return lines


def _column(sketch: Sketch, part: dict[str, float], x: float, w: float, base: float, scale: float) -> None:
    y = base
    for key in SHOWN:
        h = part[key] * scale
        if part[key] < LEAST_MIN:
            continue
        role, fill = FILLS[key]
        if key == "held":
            sketch.add(Hatch(x, y - h, w, h, "warm", 5.0))
        sketch.add(Box(x, y - h, w, h, role, fill, 1.0))
        y -= h


def day_because(day: DayOfUse) -> Because:
    """Where the figures of a watched day come from."""
    facts = [Fact("recorded", minutes(60 * day.hours), Origin.MEASURED),
             Fact("somebody at work", minutes(60 * day.hours_at_work), Origin.MEASURED)]  # fmt: skip
    facts += [Fact(TITLES[k], phrase("{v} ({shares})", v=minutes(v), shares=percent(day.shares[k], 1)), Origin.MEASURED)
              for k, v in day.held_min.items() if v >= 0.5]  # fmt: skip
    need = day.need
    if need is not None:
        words = phrase("{low_gib:.1f} to {high_gib:.1f} GiB", low_gib=need.low_gib, high_gib=need.high_gib)
        facts.append(
            Fact(
                "memory needed",
                phrase("at least {mid_gib:.1f} GiB", mid_gib=need.mid_gib) if need.at_least else words,
                Origin.MEASURED,
            )
        )
        if need.enough_gib is not None:
            facts.append(
                Fact("would have done", phrase("{enough_gib} GiB", enough_gib=need.enough_gib), Origin.COMPUTED)
            )
    blind = phrase(" Not recorded: {blind_words}.", blind_words=day.blind_words) if day.blind_words else ""
    return Because(
        "Where the day went", "watched day",
        phrase("Every 15 s are shared out: waiting for memory and drives first, then what the processor did, then "
"graphics. Time in which nobody was there is left out.{blind}", blind=blind),
        tuple(facts), TITLES[day.limiter], "More days; the same days after the work.",
        (phrase("{hours} recorded on the installed system.", hours=many(round(day.hours), 'hour')),),
    )  # fmt: skip
