"""Twin traces: one or two runs on one time axis, aligned at load onset; held-back stretches hatched."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import BoolArray, FloatArray, stretches
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.units import number, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import (
    Box,
    Dot,
    Drawing,
    Hatch,
    Line,
    Polyline,
    Region,
    Sketch,
    Text,
    dimension,
)
from brachium.core.figures.base.scale import Scale, decimated, round_ticks
from brachium.core.measure.run import Trace

PIXELS = 2.0  # a lowest and a highest value for so many pixels
LEFT, RIGHT, RIBBON, FOOT = 78.0, 6.0, 30.0, 38.0
LANES: tuple[tuple[str, str, str, float], ...] = (
    ("temp_c", "chip", "°C", 1.0),
    ("clock_mhz", "clock", "GHz", 0.001),
    ("power_w", "power", "W", 1.0),
    ("fan_rpm", "fan", "1/min", 1.0),
)
MORE_LANES: tuple[tuple[str, str, str, float], ...] = (
    ("util_frac", "busy", "%", 100.0),
    ("io_stall_frac", "waiting", "%", 100.0),
    ("disk_mb_s", "drive", "MB/s", 1.0),
    ("background_frac", "others", "%", 100.0),
)


@dataclass(frozen=True)
class Strand:
    """One run in the figure: its trace, when its load begins [s], the held-back samples, its role."""

    trace: Trace
    onset_s: float
    held: BoolArray | None
    name: str
    after: bool
    held_share: float = 0.0

    @property
    def role(self) -> str:
        return "cool" if self.after else "warm"


def strand(trace: Trace, name: str, after: bool, held: BoolArray | None = None, held_share: float = 0.0) -> Strand:
    """A strand aligned at its load phase; without one it keeps its own zero."""
    load = trace.phase("load")
    return Strand(trace, load.start_s if load else 0.0, held, name, after, held_share)


def twin_traces(
    strands: tuple[Strand, ...], width: float, height: float, lanes: tuple[tuple[str, str, str, float], ...] = LANES,
    span_s: tuple[float, float] | None = None, limits: Mapping[str, tuple[float, float]] | None = None,
) -> Drawing:  # fmt: skip
    """Lanes share one time axis in minutes from load onset. `span_s` fixes the axis (a run in progress, a closer look),
    `limits` the lowest and highest value of each lane by its key, in the lane's own unit."""
    sketch = Sketch(width, height)
    present = [lane for lane in lanes if any(s.trace.values(lane[0]) is not None for s in strands)]
    if len(present) < len(lanes):  # a machine without some sensors shows what else it has
        more = [lane for lane in MORE_LANES if any(s.trace.values(lane[0]) is not None for s in strands)]
        present += [lane for lane in more if lane not in present][: len(lanes) - len(present)]
    low, high = span_s if span_s is not None else _span(strands)
    time = Scale(low, high, LEFT, width - RIGHT)
    _ribbon(sketch, strands[0], time)
    room = (height - RIBBON - FOOT) / max(len(present), 1)
    for index, lane in enumerate(present):
        _lane(sketch, strands, lane, time, RIBBON + index * room, room, limits)
    _foot(sketch, strands, time, height, "min from load" if strands[0].trace.phase("load") else "min from start")
    return sketch.done("Traces", joined(" and ", (s.name for s in strands)))


def _span(strands: tuple[Strand, ...]) -> tuple[float, float]:
    lows = [float(s.trace.time_s[0]) - s.onset_s for s in strands]
    highs = [float(s.trace.time_s[-1]) - s.onset_s for s in strands]
    return min(lows), max(max(highs), min(lows) + 1.0)


def _ribbon(sketch: Sketch, first: Strand, time: Scale) -> None:
    for phase in first.trace.phases:
        if phase.name.startswith("test") or phase.name == "rest":
            continue
        x1, x2 = time(phase.start_s - first.onset_s), time(phase.end_s - first.onset_s)
        x1, x2 = max(x1, time.start), min(x2, time.end)
        if x2 - x1 < 2.0:
            continue
        sketch.extend(dimension(x1, x2, RIBBON - 10))
        if x2 - x1 > 34:
            sketch.add(Text((x1 + x2) / 2, RIBBON - 16, phase.name, "soft", 11, anchor="middle"))


def _lane(
    sketch: Sketch, strands: tuple[Strand, ...], lane: tuple[str, str, str, float], time: Scale, top: float,
    room: float, limits: Mapping[str, tuple[float, float]] | None,
) -> None:  # fmt: skip
    key, name, unit, factor = lane
    ends = (limits or {}).get(key) or _ends([(s, s.trace.values(key)) for s in strands], factor)
    if ends is None:
        return
    series = [(s, v) for s in strands if (v := s.trace.values(key)) is not None]
    scale = _axis(sketch, _bounds(key, *ends), time, top, room)
    sketch.add(Text(0, top + room / 2 - 2, name, "ink", 13, 600), Text(0, top + room / 2 + 12, unit, "soft", 11))
    for s in [s for s, _ in series if s.held is not None and key in ("temp_c", "clock_mhz")]:
        _hatch(sketch, s, time, top, room)
    for s, values in series:
        _curve(sketch, s, values * factor, time, scale)
    facts = tuple(_fact(s, v, factor, unit) for s, v in series if np.isfinite(v).any())
    because = Because(
        phrase("{name} over time", name=upper_first(name)), "sampled", "As sampled, aligned at load onset.", facts,
        notes=tuple(dict.fromkeys(_source(s, key) for s in strands)),
    )  # fmt: skip
    sketch.regions.append(
        Region(
            f"lane:{key}", 0, top + 2, sketch.width, room - 4, phrase("{name} in {unit}", name=name, unit=unit), because
        )
    )


def _axis(sketch: Sketch, bounds: tuple[float, float], time: Scale, top: float, room: float) -> Scale:
    """The scale of a lane with a line and a figure at either end."""
    scale = Scale(*bounds, top + room - 9, top + 7)
    for tick in bounds:
        y = scale(tick)
        sketch.add(Line(time.start, y, time.end, y, "grid"))
        label = number(tick, 2) if abs(tick) < 100 else phrase("{tick:.0f}", tick=tick)
        sketch.add(Text(LEFT - 8, y + 4, label, "soft", 11, anchor="end", condensed=True))
    return scale


def lane_limits(strands: tuple[Strand, ...]) -> dict[str, tuple[float, float]]:
    """Lowest and highest value of every lane over whole strands, for `limits`."""
    found = {
        key: _ends([(s, s.trace.values(key)) for s in strands], factor)
        for key, _, _, factor in (*LANES, *MORE_LANES)
    }  # fmt: skip
    return {k: v for k, v in found.items() if v is not None}


def _ends(series: Sequence[tuple[Strand, FloatArray | None]], factor: float) -> tuple[float, float] | None:
    finite = [v[np.isfinite(v)] * factor for _, v in series if v is not None and np.isfinite(v).any()]
    return (min(float(v.min()) for v in finite), max(float(v.max()) for v in finite)) if finite else None


def _bounds(key: str, low: float, high: float) -> tuple[float, float]:
    if key.endswith("_frac"):
        return 0.0, 100.0 if high > 50.0 else float(np.ceil(max(high, 1.0) / 5.0) * 5.0)
    pad = 0.06 * max(high - low, 1e-6)
    step = {"temp_c": 5.0, "clock_mhz": 0.2, "power_w": 5.0, "fan_rpm": 200.0}.get(key, 0.1)
    bottom = np.floor((low - pad) / step) * step
    return max(float(bottom), 0.0), float(np.ceil((high + pad) / step) * step)


def _fact(s: Strand, values: FloatArray, factor: float, unit: str) -> Fact:
    finite = values[np.isfinite(values)] * factor
    text = phrase(
        "{float} to {float2} {unit}",
        float=number(float(finite.min()), 3),
        float2=number(float(finite.max()), 3),
        unit=unit,
    )
    return Fact(s.name, text, Origin.MEASURED)


def _source(s: Strand, key: str) -> str:
    found = next((x.source for x in s.trace.series if x.key == key), "")
    return phrase("Source: {found}.", found=found) if found else ""


def _hatch(sketch: Sketch, s: Strand, time: Scale, top: float, room: float) -> None:
    """Hatch held-back stretches; short gaps are bridged, so that a hunting clock reads as one stretch."""
    assert s.held is not None
    axis = s.trace.time_s
    held = s.held[: axis.size] if s.held.size >= axis.size else np.pad(s.held, (0, axis.size - s.held.size))
    joined: list[list[float]] = []
    for first, past in stretches(held):
        a, b = float(axis[first]) - s.onset_s, float(axis[past - 1]) - s.onset_s
        if joined and a - joined[-1][1] < 20.0:
            joined[-1][1] = b
        else:
            joined.append([a, b])
    for a, b in joined:
        x1, x2 = max(time(a), time.start), min(time(b), time.end)
        if x2 > x1 + 1:
            sketch.add(Hatch(x1, top + 7, x2 - x1, room - 16, "hair" if s.after else "warm_wash", 6.0))


def _curve(sketch: Sketch, s: Strand, values: FloatArray, time: Scale, scale: Scale) -> None:
    shown = (s.trace.time_s - s.onset_s >= time.low) & (s.trace.time_s - s.onset_s <= time.high)
    t, v = decimated(s.trace.time_s[shown] - s.onset_s, values[shown], int((time.end - time.start) / PIXELS))
    if t.size > 1:
        points = np.column_stack([time.many(t), scale.many(v)])
        sketch.add(Polyline(points, s.role, 1.8 if s.after else 1.2))


def _foot(sketch: Sketch, strands: tuple[Strand, ...], time: Scale, height: float, axis: str) -> None:
    y = height - 8
    for tick in round_ticks(time.low / 60.0, time.high / 60.0, 6):
        x = time(tick * 60.0)
        sketch.add(Line(x, height - FOOT - 2, x, height - FOOT + 2, "hair"))
        if x < time.end - 64:
            sketch.add(Text(x, y - 16, phrase("{tick:g}", tick=tick), "soft", 11, anchor="middle", condensed=True))
    x = LEFT
    for s in strands:
        sketch.add(Dot(x + 4, y - 4, 3.5, s.role, s.role if s.after else "", 1.2))
        sketch.add(Text(x + 12, y, s.name, s.role, 12, 600))
        x += 24 + 7.0 * len(s.name)
        if s.held is not None and s.held.any():
            sketch.add(Hatch(x, y - 9, 16, 11, "warm", 5.0), Box(x, y - 9, 16, 11, "hair"))
            sketch.add(
                Text(
                    x + 22,
                    y,
                    phrase("held back, {held_share} of the load", held_share=percent(s.held_share)),
                    "soft",
                    11,
                    condensed=True,
                )
            )
            x += 160
    sketch.add(Text(time.end, y - 16, axis, "soft", 11, anchor="end", condensed=True))
