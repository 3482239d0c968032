"""Everyday tasks: how long each took, and where its seconds went; before above after, on one scale of seconds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from brachium.core.base.text import joined, phrase
from brachium.core.base.units import minutes, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.base.text_width import fitting_size, text_width
from brachium.core.figures.plots.repeats import short_title
from brachium.core.measure.feel_tests import EVERYDAY, SPLIT_WITHIN, WHERE
from brachium.core.measure.run import Run, parts_of

ROW, ROW_TWO, KEY_H, BAR = 34.0, 52.0, 24.0, 14.0
NAME_W, VALUE_W = 236.0, 70.0
LEAST_PX = 2.0
TITLES = {"processor": "processor", "storage": "waiting for the drive", "paging": "paging", "other": "other"}
FILLS = {
    "processor": ("ink", "ink"),
    "storage": ("warm", "warm_wash"),
    "paging": ("warm", "warm"),
    "other": ("hair", ""),
}


@dataclass(frozen=True)
class TaskTime:
    """One task in one run: seconds in all, by where they went, pictures that came late and how many there were."""

    seconds: float
    parts: Mapping[str, float]
    late: tuple[int, int] | None

    @property
    def whole(self) -> bool:
        """Whether the parts add up."""
        return abs(sum(self.parts.values()) / self.seconds - 1.0) <= SPLIT_WITHIN if self.parts else False


def task_time(run: Run | None, key: str) -> TaskTime | None:
    """Of the median repeat; None where the run does not hold the task."""
    results = [x for session in run.results(key) for x in session] if run is not None else []
    if run is None or not results:
        return None
    seconds = float(sorted(results)[len(results) // 2])
    told = parts_of(run, key)
    parts = {k: told[k] for k in WHERE if k in told}
    pictures = told.get("pictures")
    late = (round(told.get("late_pictures", 0.0)), round(pictures)) if pictures else None
    return TaskTime(seconds, parts, late)


def task_split(before: Run | None, after: Run | None, width: float) -> Drawing:
    """A row for each task that either run holds."""
    rows = [(key, task_time(before, key), task_time(after, key)) for key in EVERYDAY]
    rows = [r for r in rows if r[1] is not None or r[2] is not None]
    two = any(a is not None and b is not None for _, a, b in rows)
    row = ROW_TWO if two else ROW
    sketch = Sketch(width, KEY_H + row * max(len(rows), 1) + 2)
    if not rows:
        sketch.add(Text(0, KEY_H + 16, "No everyday tasks were measured.", "soft", 13))
        return sketch.done("Everyday tasks", "where their seconds went")
    _key(sketch)
    longest = max(t.seconds for _, a, b in rows for t in (a, b) if t is not None)
    scale = (width - NAME_W - VALUE_W) / longest
    for index, (key, first, second) in enumerate(rows):
        _row(sketch, key, (first, second), KEY_H + index * row, row, scale, width)
    return sketch.done("Everyday tasks", "where their seconds went")


def _key(sketch: Sketch) -> None:
    x = NAME_W
    for name in WHERE:
        role, fill = FILLS[name]
        sketch.add(Box(x, 4, 14, 10, role, fill, 1.0), Text(x + 20, 13, TITLES[name], "soft", 11, condensed=True))
        x += 32 + text_width(TITLES[name], 11, condensed=True)


def _row(
    sketch: Sketch, key: str, times: tuple[TaskTime | None, TaskTime | None], y: float, row: float, scale: float,
    width: float,
) -> None:  # fmt: skip
    title = short_title(_title(key))
    shown = [(t, last) for t, last in zip(times, (False, True), strict=True) if t is not None]
    room = NAME_W - (56.0 if len(shown) > 1 else 8.0)
    size = fitting_size(title, room, (13, 12), 600)
    narrow = text_width(title, size, 600) > room
    size = fitting_size(title, room, (13, 12, 11, 10), 600, True) if narrow else size
    sketch.add(Text(0, y + 16, title, "ink", size, 600, condensed=narrow))
    late = next((t.late for t, _ in reversed(shown) if t.late is not None), None)
    if late is not None and row > ROW:
        sketch.add(Text(0, y + 32, _late_words(times), "soft", 11, condensed=True))
    for k, (time, last) in enumerate(shown):
        top = y + 4 + k * (BAR + 6)
        role = "cool" if last else "warm"
        if len(shown) > 1:
            name = "after" if last else "before"
            sketch.add(Text(NAME_W - 8, top + 11, name, role, 11, 500, "end", True))
        _bar(sketch, time, top, scale)
        sketch.add(Text(NAME_W + time.seconds * scale + 8, top + 11, seconds_words(time.seconds), role, 12, 600,
                        condensed=True))  # fmt: skip
    sketch.add(Line(0, y + row - 2, width, y + row - 2, "grid"))
    because = _because(title, times)
    sketch.regions.append(Region(f"task:{key}", 0, y, width, row - 3, because.title, because))


def _title(key: str) -> str:
    from brachium.core.measure.workloads import spec_of

    return spec_of(key).title


def _bar(sketch: Sketch, time: TaskTime, top: float, scale: float) -> None:
    if not time.parts:
        sketch.add(Box(NAME_W, top, time.seconds * scale, BAR, "hair", "", 1.0, 0.0, (3.0, 3.0)))
        return
    x, whole = NAME_W, sum(time.parts.values())
    for name in WHERE:
        part = time.parts.get(name, 0.0) / whole * time.seconds * scale
        if part >= LEAST_PX:
            role, fill = FILLS[name]
            sketch.add(Box(x, top, part, BAR, role, fill, 1.0))
        x += part


def seconds_words(value_s: float) -> str:
    """Tenths of a second up to a minute, then minutes."""
    return phrase("{value_s:.1f} s", value_s=value_s) if value_s < 60.0 else minutes(value_s / 60.0)


def _late_words(times: Sequence[TaskTime | None]) -> str:
    words = [
        phrase("{late} of {late2}", late=t.late[0], late2=t.late[1])
        for t in times
        if t is not None and t.late is not None
    ]
    return phrase("pictures too late: {words}", words=joined(", then ", words))


def _because(title: str, times: tuple[TaskTime | None, TaskTime | None]) -> Because:
    facts: list[Fact] = []
    for time, name in zip(times, ("before", "after"), strict=True):
        if time is None:
            continue
        facts.append(Fact(phrase("{name}, in all", name=name), seconds_words(time.seconds), Origin.MEASURED))
        facts += [
            Fact(
                phrase("{name}, {title}", name=name, title=TITLES[k]),
                phrase("{v:.2f} s ({v2})", v=v, v2=percent(v / time.seconds)),
                Origin.MEASURED,
            )
            for k, v in time.parts.items()
            if v > 0.0005 * time.seconds
        ]
        if time.late is not None:
            facts.append(
                Fact(
                    phrase("{name}, pictures too late", name=name),
                    phrase("{late} of {late2}", late=time.late[0], late2=time.late[1]),
                    Origin.MEASURED,
                )
            )
    bad = [n for t, n in zip(times, ("before", "after"), strict=True) if t is not None and t.parts and not t.whole]
    note = phrase("The parts of {bad} do not add up to the whole within 3 %.", bad=joined(" and ", bad)) if bad else ""
    return Because(
        title, "where the seconds went",
        "Processor time is the kernel's account of the task; waiting is what it was seen to wait for, at irregular "
        "moments from beside. The parts are measured apart from the whole.",
        tuple(facts), "", "A task waits for the drive: a faster one helps. It pages: memory does. Else the processor.",
        (note,) if note else (),
    )  # fmt: skip
