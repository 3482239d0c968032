"""Drives as rows: what their counters say, how they changed, and what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.drives.health import BY_KEY, DriveState, DriveVerdict
from brachium.core.drives.readings import HealthReading
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch
from brachium.core.figures.base.writing import Face, write

ROLES = {DriveState.MEDIA: "alarm", DriveState.INTERFACE: "warm", DriveState.INTERFACE_OLD: "warm",
         DriveState.WATCH: "warm", DriveState.CLEAN: "cool", DriveState.NOT_READ: "soft"}  # fmt: skip


@dataclass(frozen=True)
class DriveRow:
    """A drive in its place with its verdict and readings in order."""

    place: str
    label: str
    name: str
    verdict: DriveVerdict
    readings: tuple[HealthReading, ...]


def drive_list(rows: Sequence[DriveRow], width: float) -> Drawing:
    """A row per drive: shape by state, verdict, latest counters with their change, advice."""
    sketch = Sketch(width, 0)
    y = 0.0
    for row in rows:
        y = _drive(sketch, row, y, width)
    if not rows:
        y = write(sketch, 0, 10, width, "No drive is recorded in this machine.", Face(13, role="soft"))
    sketch.height = max(y, 40.0)
    return sketch.done("Drive health", "what SMART data say")


def _drive(sketch: Sketch, row: DriveRow, y: float, width: float) -> float:
    """One drive; where its row ends."""
    state, role = row.verdict.state, ROLES[row.verdict.state]
    fill = role if state in (DriveState.CLEAN, DriveState.MEDIA, DriveState.INTERFACE) else ""
    if state is DriveState.MEDIA:
        sketch.add(Box(4, y + 9, 12, 12, role, fill, 1.4))
    else:
        sketch.add(Dot(10, y + 15, 6, role, fill, 1.4))
    end = write(
        sketch,
        28,
        y + 5,
        width - 34,
        phrase("{row}: {verdict}", row=row.label, verdict=row.verdict.text),
        Face(14, 600, role),
    )
    end = write(sketch, 28, end + 1, width - 34, _counters(row), Face(12, role="soft"))
    end = (
        write(
            sketch,
            28,
            end + 2,
            width - 34,
            phrase("Next: {advice}.", advice=joined("; ", row.verdict.advice)),
            Face(12, 500),
        )
        + 7
    )
    sketch.add(Line(0, end, width, end, "grid"))
    label = phrase("{row}, {row2}: {verdict}", row=row.label, row2=row.name, verdict=row.verdict.text)
    sketch.regions.append(Region(f"drive:{row.place}", 0, y + 1, width, end - y - 3, label, row.verdict.because))
    return end


def _counters(row: DriveRow) -> str:
    if not row.readings:
        return row.name
    first, last = row.readings[0].counters, row.readings[-1].counters
    parts = []
    for key, value in last.items():
        rise = value - first.get(key, value)
        title = lower_first(BY_KEY[key].title) if key in BY_KEY else key
        parts.append(
            phrase(
                "{title} {value}{more}",
                title=title,
                value=value,
                more=phrase(" ({rise:+d})", rise=rise) if rise else "",
            )
        )
    return phrase("{row}. {when}: {parts}", row=row.name, when=row.readings[-1].when, parts=joined(", ", parts))
