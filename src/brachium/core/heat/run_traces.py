"""The heat traces within a run: the stretch from idle to the end of cool-down of each session."""

from __future__ import annotations

from brachium.core.base.late_numpy import np
from brachium.core.heat.trace import HeatTrace
from brachium.core.measure.run import MeasuredSession, Run, Trace


def heat_traces(run: Run, limit_c: float | None = None) -> tuple[HeatTrace, ...]:
    """One heat trace per session that sampled a temperature; short tests after the cool-down are cut off."""
    found = (heat_trace(s, run.conditions.room_c, limit_c) for s in run.sessions)
    return tuple(t for t in found if t is not None)


def heat_trace(session: MeasuredSession, room_c: float | None, limit_c: float | None) -> HeatTrace | None:
    trace = _heat_part(session.trace)
    temp = trace.values("temp_c")
    if temp is None or trace.time_s.size < 2:
        return None
    logged_room = trace.values("room_c")
    if room_c is None and logged_room is not None:
        finite = logged_room[np.isfinite(logged_room)]
        room_c = float(finite.mean()) if finite.size else None
    return HeatTrace(
        trace.time_s, temp, trace.values("power_w"), trace.values("clock_mhz"), trace.values("fan_rpm"),
        trace.values("util_frac"), room_c, limit_c, trace.values("throttle_count"),
        trace.values("gpu_power_w"),
    )  # fmt: skip


def _heat_part(trace: Trace) -> Trace:
    """From the calm before the load to the end of the cool-down: no memory test before, no short tests after.

    The settle phase is left out where an idle phase follows it: a case still warm from the memory test looks to the fit
    like a better way out for the heat.
    """
    calm, cool = trace.phase("idle") or trace.phase("settle"), trace.phase("cool-down")
    if trace.time_s.size < 2 or (calm is None and cool is None):
        return trace
    start = calm.start_s if calm is not None else float(trace.time_s[0])
    return trace.cut(start, cool.end_s if cool is not None else float(trace.time_s[-1]))
