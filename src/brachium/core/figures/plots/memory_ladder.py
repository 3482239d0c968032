"""Time against memory: one task held to less memory each time; the knee marked, both scales logarithmic."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.units import ratio
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Dot, Drawing, Line, Region, Sketch, Text, path
from brachium.core.figures.base.log_axes import LogAxes
from brachium.core.measure.knee import Knee, knee_of

MARGINS = LEFT, RIGHT, TOP, FOOT = 46.0, 16.0, 22.0, 24.0
MIB = 2.0**20
TICKS_S = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0)
FINE_S = tuple(k / 10.0 for k in (*range(1, 10), *range(10, 40, 5), *range(40, 100, 10)))  # where those are too few
FEW, SIZE_W = 3, 44.0
Curve = tuple[tuple[float, float], ...]


def memory_ladder(before: Curve, after: Curve, width: float, height: float) -> Drawing:
    """Either may be empty. Left of the knee the task waits for the drive."""
    sketch = Sketch(width, height)
    points = [*before, *after]
    if len(points) < 2:
        return sketch.done("Time against memory", "not measured")
    sizes, times = [p[0] for p in points], [p[1] for p in points]
    axes = LogAxes.over(sizes, times, (width, height), MARGINS, (0.8, 1.3))
    _grid(sketch, axes, sizes)
    for curve, role, fill, name in ((before, "warm", "film", "before"), (after, "cool", "cool", "after")):
        _line(sketch, axes, curve, role, fill)
        _knee(sketch, axes, curve, role, name)
    because = _because(before, after)
    sketch.regions.append(Region("ladder", 0, 0, width, height, because.title, because))
    return sketch.done("Time against memory", "one task held to less memory each time")


def _grid(sketch: Sketch, axes: LogAxes, sizes: list[float]) -> None:
    """Lines at round seconds, a memory size under each step that has room for it."""
    ticks, fine = ([t for t in some if axes.y.low <= t <= axes.y.high] for some in (TICKS_S, FINE_S))
    for s in ticks if len(ticks) >= FEW else fine:
        y = axes.y(s)
        sketch.add(Line(LEFT, y, sketch.width - RIGHT, y, "grid"))
        sketch.add(Text(LEFT - 6, y + 4, phrase("{s:g}", s=s), "soft", 11, 400, "end", True))
    sketch.add(Text(LEFT - 6, 12, "s", "soft", 11, 400, "end", True))
    taken = -SIZE_W
    for size in sorted(set(sizes)):
        x = axes.x(size)
        if x - taken > SIZE_W:
            sketch.add(
                Text(x, sketch.height - 6, phrase("{size:.0f} MiB", size=size / MIB), "soft", 11, 400, "middle", True)
            )
            taken = x


def _knee(sketch: Sketch, axes: LogAxes, curve: Curve, role: str, name: str) -> None:
    knee = knee_of(curve)
    if knee is None:
        return
    x = axes.x(knee.enough)
    sketch.add(Line(x, TOP, x, sketch.height - FOOT, role, 1.0, (3.0, 3.0)))
    side, shift = ("start", 5.0) if x < sketch.width - 150 else ("end", -5.0)
    y = TOP + (2.0 if name == "before" else 16.0)
    words = phrase("{name}: enough from {enough:.0f} MiB on", name=name, enough=knee.enough / MIB)
    sketch.add(Text(x + shift, y + 8, words, role, 11, 500, side, True))


def _line(sketch: Sketch, axes: LogAxes, curve: Curve, role: str, fill: str) -> None:
    if len(curve) > 1:
        line = [axes.at(*p) for p in sorted(curve)]
        sketch.add(path(*line, role=role, width=1.6))
        for x, y in line:
            sketch.add(Dot(x, y, 3.2, role, fill))


def _because(before: Curve, after: Curve) -> Because:
    facts: list[Fact] = []
    for name, curve in (("before", before), ("after", after)):
        knee: Knee | None = knee_of(curve)
        if knee is not None:
            facts.append(
                Fact(
                    phrase("{name}, enough from", name=name),
                    phrase("{enough:.0f} MiB on", enough=knee.enough / MIB),
                    Origin.FITTED,
                )
            )
            least = phrase("{times_slower} as long", times_slower=ratio(knee.times_slower))
            facts.append(
                Fact(
                    phrase("{name}, with {curve:.0f} MiB", name=name, curve=min(curve)[0] / MIB), least, Origin.MEASURED
                )
            )
    return Because(
        "What too little memory costs here", "memory ladder",
        "One task on a file of 256 MiB, held to less memory each time. What is not in memory comes from the drive: how "
        "steeply it rises is this drive's doing, where it begins is the size of the task.",
        tuple(facts), "", "A faster drive flattens it; more memory moves everyday work to its flat end.",
    )  # fmt: skip
