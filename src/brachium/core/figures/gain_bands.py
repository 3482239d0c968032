"""Predicted gain of a plan: one band per change and for all together, on one axis."""

from __future__ import annotations

from brachium.core.choose.predict import Band, Prediction
from brachium.core.figures.drawing import Box, Dot, Drawing, Line, Region, Sketch, Text
from brachium.core.figures.scale import Scale, round_ticks
from brachium.core.units import ratio_band

NAME_W, WORD_W, FOOT = 210.0, 150.0, 20.0


def gain_bands(prediction: Prediction, width: float, row: float = 26.0) -> Drawing:
    """Bands hold 8 of 10 draws. Contributions multiply to the whole, up to the rounding of percentiles."""
    rows: list[tuple[str, str, Band, bool]] = [
        (c.candidate_id, c.title, c.band, False) for c in sorted(prediction.contributions, key=lambda c: -c.band.mid)
    ]
    rows.append(("total", "All together", prediction.band, True))
    height = row * len(rows) + FOOT
    sketch = Sketch(width, height)
    scale = Scale(0.95, max(max(r[2].high for r in rows) * 1.03, 1.2), NAME_W, width - WORD_W)
    bottom = row * len(rows)
    for tick in round_ticks(1.0, scale.high, 4):
        sketch.add(Line(scale(tick), 0, scale(tick), bottom, "hair" if tick == 1.0 else "grid"))
        sketch.add(Text(scale(tick), bottom + 14, f"× {tick:g}", "soft", 11, anchor="middle", condensed=True))
    for index, (key, title, band, total) in enumerate(rows):
        y = index * row + row / 2
        if total:
            sketch.add(Line(0, index * row, width, index * row, "ink"))
        sketch.add(Text(6, y + 4, title, "ink", 13, 600 if total else 400))
        sketch.add(Box(scale(band.low), y - 5, max(scale(band.high) - scale(band.low), 2), 10, "cool", "cool_wash"))
        sketch.add(Dot(scale(band.mid), y, 4.5 if total else 3.5, "cool", "cool", 0.0))
        text = ratio_band(band.low, band.mid, band.high)
        sketch.add(Text(width - 8, y + 4, text, "cool", 13, 600 if total else 500, "end", True))
        sketch.regions.append(Region(f"band:{key}", 0, index * row, width, row, f"{title} {text}", prediction.because))
    return sketch.done("Predicted work per time", "80 % band, today = 1")
