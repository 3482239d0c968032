"""Drives as rows: what their counters say, how they changed, and what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from brachium.core.drives.health import BY_KEY, DriveState, DriveVerdict
from brachium.core.drives.readings import HealthReading
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.lists.candidate_list import clipped

ROW = 66.0
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
    sketch = Sketch(width, ROW * max(len(rows), 1))
    for k, row in enumerate(rows):
        y = k * ROW
        state = row.verdict.state
        role = ROLES[state]
        fill = role if state in (DriveState.CLEAN, DriveState.MEDIA, DriveState.INTERFACE) else ""
        if state is DriveState.MEDIA:
            sketch.add(Box(4, y + 13, 12, 12, role, fill, 1.4))
        else:
            sketch.add(Dot(10, y + 19, 6, role, fill, 1.4))
        sketch.add(Text(28, y + 18, clipped(f"{row.label}: {row.verdict.text}", width - 36, 14, 600), role, 14, 600))
        sketch.add(Text(28, y + 35, clipped(_counters(row), width - 36, 12, 400), "soft", 12))
        sketch.add(
            Text(28, y + 53, clipped(f"Next: {'; '.join(row.verdict.advice)}.", width - 36, 12, 500), "ink", 12, 500)
        )
        sketch.add(Line(0, y + ROW - 1, width, y + ROW - 1, "grid"))
        label = f"{row.label}, {row.name}: {row.verdict.text}"
        sketch.regions.append(Region(f"drive:{row.place}", 0, y + 1, width, ROW - 3, label, row.verdict.because))
    if not rows:
        sketch.add(Text(0, 24, "No drive is recorded in this machine.", "soft", 13))
    return sketch.done("Drive health", "what SMART data say")


def _counters(row: DriveRow) -> str:
    if not row.readings:
        return row.name
    first, last = row.readings[0].counters, row.readings[-1].counters
    parts = []
    for key, value in last.items():
        rise = value - first.get(key, value)
        title = BY_KEY[key].title.lower() if key in BY_KEY else key
        parts.append(f"{title} {value}{f' ({rise:+d})' if rise else ''}")
    return f"{row.name}. {row.readings[-1].when}: {', '.join(parts)}"
