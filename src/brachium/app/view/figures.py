"""The figures of a job, built from its view: the same ones for the window and the report."""

from __future__ import annotations

from brachium.core.base.arrays import BoolArray
from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.lists.gain_ledger import gain_ledger
from brachium.core.figures.plots.heat_stair import StairColumn, heat_stair
from brachium.core.figures.plots.traces import Strand, strand, twin_traces
from brachium.core.heat.run_traces import heat_trace
from brachium.core.heat.throttle import find_throttling
from brachium.core.heat.trace import find_load
from brachium.core.measure.run import Run
from brachium.core.prove.comparison import Comparison


def is_sampled(run: Run) -> bool:
    """Whether a run holds samples to draw; typed results, and runs whose traces are damaged, hold none."""
    return bool(run.sessions) and run.sessions[0].trace.time_s.size > 2


def run_strand(run: Run, name: str, after: bool, limit_c: float | None) -> Strand:
    """The first session of a sampled run as a strand, short tests cut off, held-back samples marked."""
    session = run.sessions[0]
    cool = session.trace.phase("cool-down")
    trace = session.trace if cool is None else session.trace.cut(float(session.trace.time_s[0]), cool.end_s)
    load = trace.phase("load")
    if load is not None:
        start = max(float(trace.time_s[0]), load.start_s - 150.0)
        trace = trace.cut(start, float(trace.time_s[-1]))
    held, share = _held(run, limit_c, trace.time_s.size, float(trace.time_s[0]))
    return strand(trace, name, after, held, share)


def _held(run: Run, limit_c: float | None, size: int, start_s: float) -> tuple[BoolArray | None, float]:
    """Held-back samples of the first session from `start_s` on, and their share of the load."""
    heat = heat_trace(run.sessions[0], run.conditions.room_c, limit_c)
    load = find_load(heat) if heat is not None else None
    if heat is None or load is None:
        return None, 0.0
    found = find_throttling(heat, load)
    return found.mask[heat.time_s >= start_s][:size], found.share


def traces_of(comparison: Comparison, limit_c: float | None, width: float, height: float) -> Drawing | None:
    """Both runs aligned; None where one of them holds no samples."""
    if not (is_sampled(comparison.before) and is_sampled(comparison.after)):
        return None
    pair = (
        run_strand(comparison.before, "before", False, limit_c),
        run_strand(comparison.after, "after", True, limit_c),
    )
    return twin_traces(pair, width, height)


def stair_of(comparison: Comparison, width: float, height: float) -> Drawing | None:
    """The heat stair before and after; None where the heat verdict has none."""
    heat = comparison.heat
    if heat.stairs is None:
        return None
    columns = (StairColumn("before", heat.stairs[0], False), StairColumn("after", heat.stairs[1], True))
    return heat_stair(columns, heat.power_ref_w, heat.fan_ref_rpm, width, height)


def ledger_of(comparison: Comparison, width: float, row: float = 28.0) -> Drawing | None:
    return gain_ledger(comparison.gains, width, row) if comparison.gains else None
