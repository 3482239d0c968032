"""Several logs of one run joined on time: the offset from the load edge, the rest resampled to the first one."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from brachium.core.base.arrays import FloatArray, frozen
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.heat.trace import HeatTrace, find_load
from brachium.core.measure.run import Series, Trace
from brachium.formats.sensor_log import SensorLog


def join_logs(first: SensorLog, second: SensorLog) -> SensorLog:
    """The first log with the series that only the second one has.

    Both clocks are aligned at the start of the load; where one shows none, both logs are taken to begin together, which
    is said. Raises ExpectedProblem where the second adds nothing or the two do not overlap.
    """
    have = {s.key for s in first.trace.series}
    new = [s for s in second.trace.series if s.key not in have]
    if not new:
        raise ExpectedProblem(phrase("adds nothing to {path}", path=first.path.name), second.path.name,
                              "Join a log with other columns, or keep it as a run of its own.")  # fmt: skip
    offset, how = _offset(first.trace, second.trace)
    time_s = second.trace.time_s + offset
    axis = first.trace.time_s
    if time_s[-1] < axis[0] or time_s[0] > axis[-1]:
        raise ExpectedProblem(phrase("does not overlap {path} in time", path=first.path.name), second.path.name,
                              "Log both over the same run.")  # fmt: skip
    series = tuple(Series(s.key, s.unit, s.source, frozen(_resampled(axis, time_s, s.values))) for s in new)
    step = float(np.median(np.diff(axis)))
    names = ", ".join(s.key for s in new)
    note = f"{names} from {second.path.name}, {how}, resampled by straight lines to {step:.2g} s"
    columns = (*first.columns, *(c for c in second.columns if c.role not in {x.role for x in first.columns}))
    return replace(
        first, trace=Trace(axis, (*first.trace.series, *series), first.trace.phases), columns=columns,
        notes=(*first.notes, note), bad_lines=first.bad_lines,
    )  # fmt: skip


def _offset(first: Trace, second: Trace) -> tuple[float, str]:
    """Seconds to add to the second clock, and how they were found."""
    edges = [_load_start(t) for t in (first, second)]
    if edges[0] is None or edges[1] is None:
        return float(first.time_s[0] - second.time_s[0]), "both taken to begin together"
    offset = edges[0] - edges[1]
    return offset, f"offset {offset:+.1f} s from the start of the load"


def _load_start(trace: Trace) -> float | None:
    calm = frozen(np.zeros(trace.time_s.size))
    load = find_load(HeatTrace(trace.time_s, calm, trace.values("power_w"), None, None, trace.values("util_frac")))
    return load.start_s if load is not None else None


def _resampled(axis: FloatArray, time_s: FloatArray, values: FloatArray) -> FloatArray:
    """Straight lines between samples; nothing beyond the ends, and nothing across a gap of missing values."""
    good = np.isfinite(values)
    if not good.any():
        return np.full(axis.size, np.nan)
    out: FloatArray = np.interp(axis, time_s[good], values[good], left=np.nan, right=np.nan)
    holes = np.interp(axis, time_s, good.astype(np.float64))
    out[holes < 0.5] = np.nan
    return out
