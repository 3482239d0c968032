"""The contact and the paste on it to scale: what the amount looks like before the cooler comes down."""

from __future__ import annotations

from math import sqrt

from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Line, Sketch, Text
from brachium.core.record.work.paste import Method
from brachium.core.work.paste import Amount

SIZE = 190.0


def paste_figure(area_mm2: float, amount: Amount, method: Method) -> Drawing:
    """A square contact of that area with the paste as it is put on; 10 mm as a measure below."""
    side = sqrt(area_mm2)
    scale = (SIZE - 50.0) / max(side, 8.0)
    edge = side * scale
    sketch = Sketch(SIZE, SIZE)
    x, y = (SIZE - edge) / 2, 8.0
    cx, cy = x + edge / 2, y + edge / 2
    sketch.add(Box(x, y, edge, edge, "ink", "sheet", 1.4, 2.0))
    volume = amount.volume_mm3[1]
    if method is Method.SPREAD:
        sketch.add(Box(x + 2, y + 2, edge - 4, edge - 4, "cool", "cool_wash", 1.0, 2.0))
    elif method is Method.DOT:
        sketch.add(Dot(cx, cy, amount.dot_mm / 2 * scale, "cool", "cool_wash"))
    else:
        length = 0.7 * side
        wide = max(sqrt(8.0 * volume / (3.14159 * length * (2.0 if method is Method.CROSS else 1.0))), 0.6) * scale
        reach = length * scale / 2
        if method is Method.LINE:
            sketch.add(Line(cx, cy - reach, cx, cy + reach, "cool", wide))
        else:
            d = reach * 0.7
            sketch.add(
                Line(cx - d, cy - d, cx + d, cy + d, "cool", wide), Line(cx - d, cy + d, cx + d, cy - d, "cool", wide)
            )
    foot = SIZE - 14.0
    ruler = 10.0 * scale
    sketch.add(
        Line(x, foot, x + ruler, foot, "ink"),
        Line(x, foot - 4, x, foot + 4, "ink"),
        Line(x + ruler, foot - 4, x + ruler, foot + 4, "ink"),
        Text(x + ruler / 2, foot - 6, "10 mm", "soft", 11, anchor="middle"),
    )
    return sketch.done(
        "Paste to scale", phrase("{method}, {volume:.0f} mm³ at most", method=method.value, volume=volume)
    )
