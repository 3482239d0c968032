"""Predicted against measured gain: a point a job with its 80 % band, on the diagonal where the prediction was right."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import copysign, log1p

from brachium.core.base.band import Band
from brachium.core.base.text import phrase
from brachium.core.base.units import ratio_band
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Dot, Drawing, Line, Region, Sketch, Text, lines_of_text
from brachium.core.figures.base.scale import Scale
from brachium.core.figures.base.text_width import wrapped
from brachium.core.learn.outcomes import JobOutcome
from brachium.core.record.correction import Correction

LEFT, RIGHT, TOP, FOOT = 52.0, 14.0, 12.0, 40.0
FINE, TICK_GAP = 0.03, 34.0  # gains that are told apart; px between figures below the axis
TICKS = (0.1, 0.2, 0.5, 0.7, 0.8, 0.9, 0.95, 1.0, 1.05, 1.1, 1.2, 1.5, 2.0, 3.0, 5.0, 10.0, 20.0, 50.0, 100.0)


@dataclass(frozen=True)
class Judged:
    """A finished job with its corrected band."""

    outcome: JobOutcome
    band: Band
    inside: bool


def calibration_points(outcomes: Sequence[JobOutcome], correction: Correction) -> tuple[Judged, ...]:
    """Jobs that were both predicted and measured."""
    out = []
    for o in outcomes:
        if o.predicted is None or o.measured is None:
            continue
        plain = Band(o.predicted.low, o.predicted.mid, o.predicted.high)
        band = correction.applied(plain, [c.group for c in o.changes])
        out.append(Judged(o, band, band.low <= o.measured <= band.high))
    return tuple(out)


def calibration(found: Sequence[Judged], width: float, height: float) -> Drawing:
    """Predicted across, measured up; bars hold 8 of 10 draws, hollow points lie outside their band."""
    sketch = Sketch(width, height)
    values = [v for j in found for v in (j.band.low, j.band.high, j.outcome.measured or 1.0)]
    low, high = min([0.95, *values]), max([1.3, *values]) * 1.03
    x_of = Scale(spread(low), spread(high), LEFT, width - RIGHT)
    y_of = Scale(spread(low), spread(high), height - FOOT, TOP)

    def across(gain: float) -> float:
        return x_of(spread(gain))

    def up(gain: float) -> float:
        return y_of(spread(gain))

    _ticks(sketch, across, up, (low, high), (width, height))
    sketch.add(Line(across(low), up(low), across(high), up(high), "ink", 1.0, (4.0, 3.0)))
    sketch.add(Text(width - RIGHT, height - 6, "predicted", "soft", 11, anchor="end"))
    sketch.add(Text(LEFT, TOP, "measured", "soft", 11))
    if not all(j.inside for j in found):
        sketch.add(Dot(LEFT + 12, TOP + 22, 4.5, "warm", "sheet", 1.6))
        sketch.add(Text(LEFT + 24, TOP + 26, "outside its band", "soft", 11))
    for j in found:
        measured = j.outcome.measured or 1.0
        x, y = across(j.band.mid), up(measured)
        role = "cool" if j.inside else "warm"
        sketch.add(Line(across(j.band.low), y, across(j.band.high), y, role, 1.2))
        sketch.add(Dot(x, y, 4.5, role, "cool" if j.inside else "sheet", 1.6))
        sketch.regions.append(
            Region(
                f"job:{j.outcome.job_id}",
                x - 8,
                y - 8,
                16,
                16,
                phrase("{outcome}: × {measured:.2f}", outcome=j.outcome.name, measured=measured),
                _because(j),
            )
        )
    if not found:
        words = wrapped("Hand a job over that was predicted and measured.", width - LEFT - 24, 13)
        sketch.extend(lines_of_text(words, Text(LEFT + 12, TOP + 40, "", "soft", 13), 17))
    return sketch.done("Predicted against measured", "points on the dashed line were predicted right")


def _ticks(
    sketch: Sketch, across: Callable[[float], float], up: Callable[[float], float], span: tuple[float, float],
    size: tuple[float, float],
) -> None:  # fmt: skip
    """Lines at round gains; below the axis only figures that have room."""
    (low, high), (width, height) = span, size
    last = -TICK_GAP
    for tick in (t for t in TICKS if low <= t <= high):
        sketch.add(Line(LEFT, up(tick), width - RIGHT, up(tick), "hair" if tick == 1.0 else "grid"))
        sketch.add(
            Text(LEFT - 6, up(tick) + 4, phrase("× {tick:g}", tick=tick), "soft", 11, anchor="end", condensed=True)
        )
        if across(tick) - last >= TICK_GAP:
            x, foot = across(tick), height - FOOT + 16
            sketch.add(Text(x, foot, phrase("× {tick:g}", tick=tick), "soft", 11, anchor="middle", condensed=True))
            last = across(tick)


def spread(gain: float) -> float:
    """Logarithmic to both sides of no gain, so that small gains stand apart too."""
    return copysign(log1p(abs(gain - 1.0) / FINE), gain - 1.0)


def _because(j: Judged) -> Because:
    o = j.outcome
    facts = [
        Fact("predicted", ratio_band(j.band.low, j.band.mid, j.band.high), Origin.COMPUTED),
        Fact("measured", phrase("× {measured:.2f}", measured=o.measured or 1.0), Origin.MEASURED),
        Fact(
            "minutes, planned and real",
            phrase("{planned_min:.0f}, {real_min:.0f}", planned_min=o.planned_min, real_min=o.real_min),
            Origin.LOGGED,
        ),
    ]
    facts += [
        Fact(c.group, phrase("predicted × {mid:.2f}, brought × {mid2:.2f}", mid=c.predicted.mid, mid2=c.brought.mid),
             Origin.MEASURED if c.alone else Origin.COMPUTED)
        for c in o.changes
    ]  # fmt: skip
    inside = "inside its 80 % band" if j.inside else "outside its 80 % band"
    return Because(
        o.name, "track record", phrase("Handed over {when}; {inside}.", when=o.when, inside=inside), tuple(facts)
    )
