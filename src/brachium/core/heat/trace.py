"""A heat trace: what the fit needs of one logged stretch, and where the load lies in it."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.arrays import BoolArray, FloatArray, filled, smoothed, stretches
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.measure.sampling import GAP_S, STUCK_S

MIN_LOAD_S = 20.0


@dataclass(frozen=True)
class HeatTrace:
    """One idle-load-cool-down stretch. All arrays have shape (n_samples,); None = not logged.

    `room_c` is the measured room temperature, `limit_c` the sensor's stated throttling limit.
    """

    time_s: FloatArray
    temp_c: FloatArray
    power_w: FloatArray | None = None
    clock_mhz: FloatArray | None = None
    fan_rpm: FloatArray | None = None
    util_frac: FloatArray | None = None
    room_c: float | None = None
    limit_c: float | None = None
    throttle_count: FloatArray | None = None
    sink_power_w: FloatArray | None = None  # of another chip on the same heatsink, such as the graphics


@dataclass(frozen=True)
class LoadPhase:
    """Index range of the sustained load and the kinds of ground around it."""

    first: int
    last: int
    start_s: float
    end_s: float
    idle_s: float
    cool_s: float

    @property
    def duration_s(self) -> float:
        return self.end_s - self.start_s


def find_load(trace: HeatTrace) -> LoadPhase | None:
    """Find the longest sustained load from the utilisation, else the power, else None.

    The threshold lies midway between the calm and the busy level; dips up to 5 s do not end a load.
    """
    drive = _load_signal(trace)
    if drive is None:
        return None
    time_s = trace.time_s
    low, high = np.percentile(drive, [4.0, 96.0])
    if trace.util_frac is not None and high < 0.3:
        return None
    if high - low < 0.25 * max(abs(high), 1e-9):
        return None
    busy = drive > 0.5 * (low + high)
    busy = _close_dips(busy, time_s)
    best: LoadPhase | None = None
    for first, past in stretches(busy):
        start = float(time_s[max(first - 1, 0)])
        end = float(time_s[past - 1])
        if end - start < MIN_LOAD_S or (best is not None and end - start <= best.duration_s):
            continue
        best = LoadPhase(first, past - 1, start, end, start - float(time_s[0]), float(time_s[-1]) - end)
    return best


def _load_signal(trace: HeatTrace) -> FloatArray | None:
    for series in (trace.util_frac, trace.power_w):
        if series is not None and np.isfinite(series).sum() > 2:
            return filled(series)
    return None


def _close_dips(busy: BoolArray, time_s: FloatArray) -> BoolArray:
    out = busy.copy()
    for first, past in stretches(~busy):
        inside = first > 0 and past < busy.size
        if inside and time_s[past - 1] - time_s[first] <= GAP_S:
            out[first:past] = True
    return out


def usable_mask(trace: HeatTrace, load: LoadPhase) -> tuple[BoolArray, tuple[str, ...]]:
    """Samples that may enter the fit, shape (n_samples,), and what was left out and why.

    Left out: missing temperatures, 3 s after a gap over 5 s, and a temperature that stays the same for 30 s
    *while the power changes* (an honest sensor may well repeat one integer at steady power).
    """
    mask = np.isfinite(trace.temp_c)
    notes: list[str] = []
    missing = int((~mask).sum())
    if missing:
        notes.append(phrase("{missing} samples without a temperature left out", missing=missing))
    gaps = np.flatnonzero(np.diff(trace.time_s) > GAP_S)
    for k in gaps:
        after = (trace.time_s > trace.time_s[k]) & (trace.time_s <= trace.time_s[k + 1] + 3.0)
        mask &= ~after
        notes.append(
            phrase(
                "gap of {time_s:.0f} s at {time_s2:.0f} s",
                time_s=trace.time_s[k + 1] - trace.time_s[k],
                time_s2=trace.time_s[k],
            )
        )
    for first, past in _stuck(trace):
        mask[first:past] = False
        notes.append(
            phrase(
                "sensor stuck from {time_s:.0f} to {time_s2:.0f} s, left out",
                time_s=trace.time_s[first],
                time_s2=trace.time_s[past - 1],
            )
        )
    for edge in (load.first, load.last + 1):
        if 0 < edge < mask.size and trace.time_s[edge] - trace.time_s[edge - 1] > 1.7 * _step_s(trace):
            mask &= ~((trace.time_s >= trace.time_s[edge]) & (trace.time_s < trace.time_s[edge] + 3.0))
            notes.append("a sample was lost at the power step: 3 s left out")
    return mask, tuple(notes)


def _step_s(trace: HeatTrace) -> float:
    return float(np.median(np.diff(trace.time_s)))


def _stuck(trace: HeatTrace) -> list[tuple[int, int]]:
    if trace.power_w is None:
        return []
    same = np.concatenate([[False], np.diff(trace.temp_c) == 0.0])
    power = smoothed(filled(trace.power_w), 5)
    span = float(np.ptp(power))
    out = []
    for first, past in stretches(same):
        long_enough = trace.time_s[past - 1] - trace.time_s[first - 1] > STUCK_S
        if long_enough and float(np.ptp(power[first:past])) > 0.4 * span:
            out.append((first, past))
    return out


def plateau_power_w(trace: HeatTrace, load: LoadPhase) -> float | None:
    """Mean power over the last 40 % of the load [W]; None without a power series."""
    return _late_mean(trace.power_w, trace, load)


def plateau_fan_rpm(trace: HeatTrace, load: LoadPhase) -> float | None:
    """Mean fan speed over the last 40 % of the load [1/min]; None without a fan series."""
    return _late_mean(trace.fan_rpm, trace, load)


def _late_mean(series: FloatArray | None, trace: HeatTrace, load: LoadPhase) -> float | None:
    if series is None:
        return None
    late = (trace.time_s > load.end_s - 0.4 * load.duration_s) & (trace.time_s <= load.end_s)
    values = series[late]
    values = values[np.isfinite(values)]
    return float(values.mean()) if values.size else None
