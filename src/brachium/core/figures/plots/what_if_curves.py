"""What if: chip temperature and clock over the load, today hollow, changed solid."""

from __future__ import annotations

import numpy as np

from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Drawing, Line, Polyline, Sketch, Text, path
from brachium.core.figures.base.scale import Scale, round_ticks
from brachium.core.heat.what_if import Base, WhatIfOutcome

LEFT, RIGHT, FOOT, GAP = 42.0, 8.0, 20.0, 14.0


def what_if_curves(base: Base, today: WhatIfOutcome, changed: WhatIfOutcome, width: float, height: float) -> Drawing:
    """Two lanes over minutes of full load; the limit is dashed."""
    sketch = Sketch(width, height)
    room = (height - FOOT - GAP) / 2
    time = Scale(0.0, float(today.time_s[-1]) / 60.0, LEFT, width - RIGHT)
    lanes = (
        ("chip °C", today.chip_trace_c, changed.chip_trace_c, 4.0, base.limit_c),
        ("clock GHz", today.clock_trace_mhz / 1000.0, changed.clock_trace_mhz / 1000.0, room + GAP, None),
    )
    for name, a, b, top, limit in lanes:
        values = np.concatenate([a, b, [limit] if limit is not None else []])
        low, high = float(values.min()), float(values.max())
        pad = max(0.06 * (high - low), 0.02 * abs(high))
        scale = Scale(low - pad, high + pad, top + room - 4, top + 4)
        for tick in round_ticks(low - pad, high + pad, 3):
            sketch.add(Line(LEFT, scale(tick), width - RIGHT, scale(tick), "grid"))
            sketch.add(
                Text(LEFT - 6, scale(tick) + 4, phrase("{tick:g}", tick=tick), "soft", 11, anchor="end", condensed=True)
            )
        if limit is not None:
            sketch.add(Line(LEFT, scale(limit), width - RIGHT, scale(limit), "warm", 1.0, (4.0, 3.0)))
        sketch.add(
            Text(
                width - RIGHT - 2,
                top + 12 if name.startswith("clock") else top + room - 8,
                name,
                "soft",
                11,
                anchor="end",
                condensed=True,
            )
        )
        for values_, role, stroke in ((a, "warm", 1.2), (b, "cool", 2.0)):
            points = np.column_stack([time.many(today.time_s / 60.0), scale.many(values_)])
            sketch.add(Polyline(points, role, stroke))
    for tick in round_ticks(0.0, time.high, 5):
        sketch.add(
            Text(time(tick), height - 4, phrase("{tick:g}", tick=tick), "soft", 11, anchor="middle", condensed=True)
        )
    sketch.add(Text(LEFT - 6, height - 4, "min", "soft", 11, anchor="end", condensed=True))
    sketch.add(path((LEFT, 4), (LEFT, height - FOOT), role="hair", width=1.0))
    return sketch.done("What if", "chip and clock under full load, today and changed")
