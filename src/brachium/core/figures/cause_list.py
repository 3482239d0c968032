"""Causes as rows: what, how sure, what share of the owner's time it takes, the cheapest next check."""

from __future__ import annotations

from brachium.core.cause.causes import Cause, Strength
from brachium.core.figures.drawing import Box, Drawing, Line, Region, Sketch, Text
from brachium.core.units import minutes, percent

ROW = 48.0
BAR_W = 150.0


def cause_list(causes: tuple[Cause, ...], width: float) -> Drawing:
    """One row per cause, costliest first; the bar is the share of working time it takes."""
    sketch = Sketch(width, ROW * max(len(causes), 1))
    top_share = max([0.3, *(c.cost_frac for c in causes)])
    bar_x = width - BAR_W - 60
    for index, cause in enumerate(causes):
        y = index * ROW
        out = cause.strength is Strength.RULED_OUT
        sketch.add(Line(0, y + ROW, width, y + ROW, "grid"))
        sketch.add(Text(8, y + 20, cause.title, "soft" if out else "ink", 14, 400 if out else 600))
        check = f"Next check: {cause.next_check}, {minutes(cause.check_minutes)}" if cause.next_check else "Ruled out."
        sketch.add(Text(8, y + 38, check, "soft", 12))
        if not out:
            length = BAR_W * cause.cost_frac / top_share
            strong = cause.strength is Strength.STRONG
            sketch.add(Box(bar_x, y + 14, BAR_W, 14, "", "grid"))
            sketch.add(Box(bar_x, y + 14, max(length, 2), 14, "warm", "warm" if strong else "warm_wash", 1.2))
            sketch.add(Text(width - 2, y + 26, percent(cause.cost_frac), "warm", 14, 600, "end"))
            sketch.add(Text(bar_x, y + 42, f"of the time, {cause.strength}", "soft", 11, condensed=True))
        sketch.regions.append(Region(f"cause:{cause.id}", 0, y + 1, width, ROW - 2, cause.title, cause.because))
    return sketch.done("Causes", "what holds the machine back for its use, costliest first")
