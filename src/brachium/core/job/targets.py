"""Targets judged: met, not met, or not measured."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.job.job import Target
from brachium.core.measure.comparison import Comparison
from brachium.core.units import number


@dataclass(frozen=True)
class TargetResult:
    """One target with its figures before and after; `met` is None where it was not measured."""

    target: Target
    before: float | None
    after: float | None
    met: bool | None

    @property
    def words(self) -> str:
        return "not measured" if self.met is None else "met" if self.met else "not met"

    @property
    def figures(self) -> str:
        if self.before is None or self.after is None:
            return ""
        digits = 2 if self.target.unit == "%" else 3
        return f"{number(self.before, digits)}, then {number(self.after, digits)} {self.target.unit}".strip()


def judge_targets(targets: tuple[Target, ...], comparison: Comparison) -> tuple[TargetResult, ...]:
    """Judge each target by the after-run."""
    return tuple(_judge(t, comparison) for t in targets)


def _judge(target: Target, comparison: Comparison) -> TargetResult:
    before, after = _figures(target.key, comparison)
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
