"""The heat traces within a run: the stretch from idle to the end of cool-down of each session."""

from __future__ import annotations

from brachium.core.heat.trace import HeatTrace
from brachium.core.measure.run import Run, Session, Trace


def heat_traces(run: Run, limit_c: float | None = None) -> tuple[HeatTrace, ...]:
    """One heat trace per session that sampled a temperature; short tests after the cool-down are cut off."""
    found = (heat_trace(s, run.conditions.room_c, limit_c) for s in run.sessions)
    return tuple(t for t in found if t is not None)


def heat_trace(session: Session, room_c: float | None, limit_c: float | None) -> HeatTrace | None:
    trace = _heat_part(session.trace)
    temp = trace.values("temp_c")
    if temp is None or trace.time_s.size < 2:
        return None
    logged_room = trace.values("room_c")
    if room_c is None and logged_room is not None:
        import numpy as np

        finite = logged_room[np.isfinite(logged_room)]
        room_c = float(finite.mean()) if finite.size else None
    return HeatTrace(
        trace.time_s, temp, trace.values("power_w"), trace.values("clock_mhz"), trace.values("fan_rpm"),
        trace.values("util_frac"), room_c, limit_c, trace.values("throttle_count"),
    )  # fmt: skip


def _heat_part(trace: Trace) -> Trace:
    cool = trace.phase("cool-down")
    return trace if cool is None else trace.cut(float(trace.time_s[0]), cool.end_s)
