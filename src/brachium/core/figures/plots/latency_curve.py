"""Latency of one load against the working set, both logarithmic: before hollow and warm, after solid and cool."""

from __future__ import annotations

from math import log2

from brachium.core.base.text import phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.log_axes import LogAxes

MARGINS = LEFT, RIGHT, TOP, FOOT = 46.0, 14.0, 20.0, 22.0
KIB = 1024.0
TICKS_NS = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0)
Curve = tuple[tuple[float, float], ...]


def latency_curve(before: Curve, after: Curve, width: float, height: float) -> Drawing:
    """Either may be empty. A step is a cache that the working set has outgrown."""
    sketch = Sketch(width, height)
    points = [*before, *after]
    if len(points) < 2:
        return sketch.done("Latency by working set", "not measured")
    sizes, times = [p[0] for p in points], [p[1] for p in points]
    axes = LogAxes.over(sizes, times, (width, height), MARGINS)
    _grid(sketch, axes)
    _line(sketch, axes, before, "warm", "film")
    _line(sketch, axes, after, "cool", "cool")
    _legend(sketch, before, after)
    _region(sketch, before, after, width, height)
    return sketch.done("Latency by working set", "one dependent load; steps are caches outgrown")


def _grid(sketch: Sketch, axes: LogAxes) -> None:
    for ns in (t for t in TICKS_NS if axes.y.low <= t <= axes.y.high):
        y = axes.y(ns)
        sketch.add(Line(LEFT, y, sketch.width - RIGHT, y, "grid"),
                   Text(LEFT - 6, y + 4, phrase("{ns:g}", ns=ns), "soft", 11, 400, "end", True))  # fmt: skip
    sketch.add(Text(LEFT - 6, 12, "ns", "soft", 11, 400, "end", True))
    first, last = log2(axes.x.low), log2(axes.x.high)
    for k in range(int(first), int(last) + 1, 2 if last - first > 8 else 1):
        sketch.add(Text(axes.x(2.0**k), sketch.height - 6, size_words(2.0**k), "soft", 11, 400, "middle", True))


def _line(sketch: Sketch, axes: LogAxes, curve: Curve, role: str, fill: str) -> None:
    if len(curve) > 1:
        line = [axes.at(*p) for p in curve]
        sketch.add(path(*line, role=role, width=1.6 if fill == "film" else 2.2))
        sketch.add(*(Dot(x, y, 3.0, role, fill, 1.4) for x, y in line))


def size_words(size: float) -> str:
    """`64 K`, `16 M`: a working set in little room."""
    return phrase("{size:.0f} K", size=size / KIB) if size < KIB**2 else phrase("{size:.0f} M", size=size / KIB**2)


def _legend(sketch: Sketch, before: Curve, after: Curve) -> None:
    for k, (name, curve, role) in enumerate((("before", before, "warm"), ("after", after, "cool"))):
        if curve:
            sketch.add(Text(LEFT + 8 + 60 * k, 12, name, role, 11, 600))


def _region(sketch: Sketch, before: Curve, after: Curve, width: float, height: float) -> None:
    facts = tuple(
        Fact(
            phrase("{name}, {size_words}iB", name=name, size_words=size_words(size)),
            phrase("{ns:.1f} ns", ns=ns),
            Origin.MEASURED,
        )
        for name, curve in (("before", before), ("after", after))
        for size, ns in (curve[-1:] if curve else ())
    )
    text = (
        "Each load waits for the address that the one before it brought, round a ring of lines in random order. As "
        "long as the ring fits a cache, that cache answers; beyond the last one memory does, and the look-up of pages."
    )
    because = Because("Latency by working set", "median of valid repeats", text, facts)
    sketch.regions.append(Region("latency", 0, 0, width, height, "Latency by working set", because))
