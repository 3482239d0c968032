"""An imported log as a run: the load is found, phases are named, the room is taken from the log or typed."""

from __future__ import annotations

from brachium.core.base.problems import ExpectedProblem
from brachium.core.heat.run_traces import heat_trace
from brachium.core.heat.trace import find_load
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, Phase, Protocol, Run, Trace
from brachium.formats.sensor_log import SensorLog


def run_from_log(log: SensorLog, run_id: str, configuration: str, taken_at: str, room_c: float | None = None) -> Run:
    """Make a run of one session. A typed room temperature wins over the logged one.

    Raises ExpectedProblem where the log holds no load phase.
    """
    room = room_c if room_c is not None else log.room_c
    trace = heat_trace(MeasuredSession(1, log.trace), room, None)
    load = find_load(trace) if trace is not None else None
    if load is None:
        raise ExpectedProblem(
            "no load phase found: utilisation or power never rises and stays up for 20 s", str(log.path),
            "Log some idle time, a steady load of 10 minutes, and the cool-down.",
        )  # fmt: skip
    start, end = float(log.trace.time_s[0]), float(log.trace.time_s[-1])
    phases = tuple(
        Phase(name, a, b)
        for name, a, b in (("idle", start, load.start_s), ("load", load.start_s, load.end_s),
                           ("cool-down", load.end_s, end))
        if b > a
    )  # fmt: skip
    conditions = Conditions(room_c=room, room_note="typed" if room_c is not None else log.room_source)
    notes = (*log.notes, *(f"line {n} left out: {text}" for n, text in log.bad_lines[:20]))
    session = MeasuredSession(1, Trace(log.trace.time_s, log.trace.series, phases))
    protocol = Protocol("Imported log", 1, (), (), 0, 1)
    return Run(run_id, configuration, protocol, conditions, (), (session,), taken_at, log.path.name, notes=notes)
