"""Targets judged: met, missed, or cannot tell, with the margin and its interval.

The after-run's figure stands with its 95 % interval: a target is met or missed only where the whole interval lies on
one side. Of a peak temperature the interval holds the sensor's own error (0.6 K), of a share of time the sessions'
range.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from brachium.core.base.late_numpy import np
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import number
from brachium.core.heat.run_traces import heat_traces
from brachium.core.heat.throttle import find_throttling
from brachium.core.heat.trace import find_load
from brachium.core.measure.run import Run
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import interval_of
from brachium.core.measure.workloads import spread_for
from brachium.core.prove.assumptions import SENSOR_K
from brachium.core.prove.comparison import Comparison
from brachium.core.record.target import Target

NO_SPREADS: Mapping[str, Spread] = MappingProxyType({})


@dataclass(frozen=True)
class TargetResult:
    """One target with its figures before and after, the after's 95 % interval. `met` is None where it was not measured,
    where the interval holds the limit, or `elsewise`: under conditions that forbid the comparison."""

    target: Target
    before: float | None
    after: float | None
    met: bool | None
    elsewise: bool = False
    low: float | None = None
    high: float | None = None

    @property
    def undecided(self) -> bool:
        """Measured, and the interval holds the limit."""
        return self.met is None and self.after is not None and not self.elsewise

    @property
    def words(self) -> str:
        if self.elsewise:
            return "other conditions"
        if self.undecided:
            return "cannot tell"
        return "not measured" if self.met is None else "met" if self.met else "not met"

    @property
    def margin(self) -> float | None:
        """By how much the figure keeps the limit, in its unit; below zero where it misses it."""
        if self.after is None:
            return None
        return self.target.limit - self.after if self.target.at_most else self.after - self.target.limit

    @property
    def figures(self) -> str:
        if self.after is None:
            return ""
        digits = 2 if self.target.unit == "%" else 3
        unit = phrase(" {target}", target=self.target.unit).rstrip()
        band = ""
        if self.low is not None and self.high is not None and self.high - self.low > 1e-9:
            band = phrase(" ({low} to {high})", low=number(self.low, digits), high=number(self.high, digits))
        now = phrase("{after}{unit}{band}", after=number(self.after, digits), unit=unit, band=band)
        return (
            now if self.before is None else phrase("{before}, then {now}", before=number(self.before, digits), now=now)
        )

    @property
    def margin_words(self) -> str:
        """The margin with its unit, empty where nothing was measured or where it is met to the unit."""
        if not self.margin:
            return ""
        word = "to spare" if self.margin >= 0 else "short of it"
        digits = 2 if self.target.unit == "%" else 3
        unit = {"°C": "K", "dB(A)": "dB"}.get(self.target.unit, self.target.unit)  # a margin is a difference
        margin = number(abs(self.margin), digits)
        return joined(" ", (w for w in (margin, unit, word) if w))


def judge_targets(
    targets: tuple[Target, ...], comparison: Comparison, limit_c: float | None = None,
    spreads: Mapping[str, Spread] = NO_SPREADS,
) -> tuple[TargetResult, ...]:  # fmt: skip
    """Judge each target by the after-run; `limit_c` is the chip's, `spreads` what the history taught, by test."""
    return tuple(_judge(t, comparison, limit_c, spreads) for t in targets)


def judge_alone(
    targets: tuple[Target, ...], after: Run, limit_c: float | None, spreads: Mapping[str, Spread] = NO_SPREADS
) -> tuple[TargetResult, ...]:
    """Judge each target by an after-run without a before, with no word on what changed."""
    return tuple(_decided(t, None, _alone(t.key, after, limit_c), _interval(t.key, after, limit_c, spreads))
                 for t in targets)  # fmt: skip


def _alone(key: str, run: Run, limit_c: float | None) -> float | None:
    if key in ("peak_c", "held_back"):
        return max(_of_sessions(key, run, limit_c), default=None)
    results = run.results(key)
    return float(np.median(np.concatenate(results))) if results else None


def _of_sessions(key: str, run: Run, limit_c: float | None) -> list[float]:
    """Peak [degC] or held-back share [%] of each session."""
    traces = heat_traces(run, limit_c)
    if key == "peak_c":
        return [float(np.nanmax(t.temp_c)) for t in traces]
    loads = [(t, load) for t in traces if (load := find_load(t)) is not None]
    return [100.0 * find_throttling(t, load).share for t, load in loads]


def _interval(key: str, run: Run, limit_c: float | None, spreads: Mapping[str, Spread]) -> tuple[float, float] | None:
    if key in ("peak_c", "held_back"):
        found = _of_sessions(key, run, limit_c)
        if not found:
            return None
        if key == "held_back":
            return min(found), max(found)
        half = 1.96 * SENSOR_K / np.sqrt(len(found))
        return float(max(found) - half), float(max(found) + half)
    return interval_of(run.results(key), spreads.get(key) or spread_for(key))


def _judge(
    target: Target, comparison: Comparison, limit_c: float | None, spreads: Mapping[str, Spread]
) -> TargetResult:
    before, after = _figures(target.key, comparison)
    band = None if after is None else _interval(target.key, comparison.after, limit_c, spreads)
    result = _decided(target, before, after, band)
    excluded = (gain := comparison.gain(target.key)) is not None and bool(gain.excluded)
    heat = target.key in ("peak_c", "held_back") and bool(comparison.refusal)
    return replace(result, elsewise=after is None and (excluded or heat))


def _decided(
    target: Target, before: float | None, after: float | None, band: tuple[float, float] | None
) -> TargetResult:
    if after is None:
        return TargetResult(target, before, None, None)
    low, high = band if band is not None else (after, after)
    low, high = min(low, after), max(high, after)
    sides = {bool(v <= target.limit if target.at_most else v >= target.limit) for v in (low, high)}
    met = sides.pop() if len(sides) == 1 else None
    return TargetResult(target, before, after, met, low=low, high=high)


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
