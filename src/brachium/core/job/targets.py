"""Targets judged: met, not met, not measured, or measured under other conditions."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from brachium.core.heat.throttle import find_throttling
from brachium.core.heat.trace import find_load
from brachium.core.job.job import Target
from brachium.core.measure.comparison import Comparison
from brachium.core.measure.heat_view import heat_traces
from brachium.core.measure.run import Run
from brachium.core.units import number


@dataclass(frozen=True)
class TargetResult:
    """One target with its figures before and after; `met` is None where it was not measured, or `elsewise`: under
    conditions that forbid the comparison."""

    target: Target
    before: float | None
    after: float | None
    met: bool | None
    elsewise: bool = False

    @property
    def words(self) -> str:
        if self.elsewise:
            return "other conditions"
        return "not measured" if self.met is None else "met" if self.met else "not met"

    @property
    def figures(self) -> str:
        if self.after is None:
            return ""
        digits = 2 if self.target.unit == "%" else 3
        if self.before is None:
            return f"{number(self.after, digits)} {self.target.unit}".strip()
        return f"{number(self.before, digits)}, then {number(self.after, digits)} {self.target.unit}".strip()


def judge_targets(targets: tuple[Target, ...], comparison: Comparison) -> tuple[TargetResult, ...]:
    """Judge each target by the after-run."""
    return tuple(_judge(t, comparison) for t in targets)


def judge_alone(targets: tuple[Target, ...], after: Run, limit_c: float | None) -> tuple[TargetResult, ...]:
    """Judge each target by an after-run without a before: met or not, with no word on what changed."""
    return tuple(_decided(t, None, _figure_alone(t.key, after, limit_c)) for t in targets)


def _figure_alone(key: str, run: Run, limit_c: float | None) -> float | None:
    traces = heat_traces(run, limit_c)
    if key == "peak_c":
        return max((float(np.nanmax(t.temp_c)) for t in traces), default=None)
    if key == "held_back":
        loads = [(t, load) for t in traces if (load := find_load(t)) is not None]
        return max((100.0 * find_throttling(t, load).share for t, load in loads), default=None)
    results = run.results(key)
    return float(np.median(np.concatenate(results))) if results else None


def _judge(target: Target, comparison: Comparison) -> TargetResult:
    result = _decided(target, *_figures(target.key, comparison))
    excluded = (gain := comparison.gain(target.key)) is not None and bool(gain.excluded)
    heat = target.key in ("peak_c", "held_back") and bool(comparison.refusal)
    return replace(result, elsewise=result.met is None and (excluded or heat))


def _decided(target: Target, before: float | None, after: float | None) -> TargetResult:
    met = None if after is None else (after <= target.limit if target.at_most else after >= target.limit)
    return TargetResult(target, before, after, met)


def _figures(key: str, comparison: Comparison) -> tuple[float | None, float | None]:
    heat = comparison.heat
    if key == "peak_c":
        return heat.peaks_c if heat.peaks_c is not None else (None, None)
    if key == "held_back":
        if heat.throttles is None:
            return None, None
        return 100.0 * heat.throttles[0].share, 100.0 * heat.throttles[1].share
    gain = comparison.gain(key)
    if gain is None or gain.result is None:
        return None, None
    return gain.before, gain.after
