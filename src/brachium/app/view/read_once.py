"""Figures of runs, read once: a run is never edited, so its id and void reason say it all."""

from __future__ import annotations

from collections.abc import Hashable
from functools import lru_cache

import numpy as np

from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.heat.claims import HeatVerdict
from brachium.core.measure.run import Run
from brachium.core.measure.run_checks import Flag, run_flags
from brachium.core.prove.comparison import heat_verdict
from brachium.core.prove.days import DayComparison, compare_days
from brachium.core.use.day_of_use import DayOfUse, day_of


def run_key(run: Run) -> Hashable:
    """What tells one run from another without comparing every sample: the same run read twice has the same key."""
    sessions = tuple(
        (s.number, s.repeats, s.trace.phases, tuple((x.key, x.values.size, float(np.nansum(x.values)))
                                                    for x in s.trace.series))
        for s in run.sessions
    )  # fmt: skip
    return run.id, run.taken_at, run.void_reason, run.complete, run.conditions, sessions


class _Once:
    """A run as a cache key."""

    def __init__(self, run: Run) -> None:
        self.run, self._key = run, run_key(run)

    def __hash__(self) -> int:
        return hash((self.run.id, self.run.void_reason))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Once) and (self.run is other.run or self._key == other._key)


def figures_once(run: Run, limit_c: float | None) -> BeforeFigures:
    """What causes and predictions start from."""
    return _figures(_Once(run), limit_c)


def heat_once(before: Run, after: Run, limit_c: float | None) -> HeatVerdict:
    """The heat verdict of a pair; the fits take up to a second."""
    return _heat(_Once(before), _Once(after), limit_c)


def flags_once(run: Run) -> tuple[Flag, ...]:
    """What stands out in a run."""
    return _flags(_Once(run))


def day_once(run: Run) -> DayOfUse | None:
    """What a watched run says."""
    return _day(_Once(run))


@lru_cache(maxsize=16)
def _day(run: _Once) -> DayOfUse | None:
    return day_of(run.run)


def days_once(before: Run, after: Run, other_processor: bool) -> DayComparison | None:
    """Watched days against each other."""
    return _days(_Once(before), _Once(after), other_processor)


@lru_cache(maxsize=16)
def _days(before: _Once, after: _Once, other_processor: bool) -> DayComparison | None:
    return compare_days(before.run, after.run, other_processor)


@lru_cache(maxsize=32)
def _figures(run: _Once, limit_c: float | None) -> BeforeFigures:
    return figures_of(run.run, limit_c)


@lru_cache(maxsize=32)
def _heat(before: _Once, after: _Once, limit_c: float | None) -> HeatVerdict:
    return heat_verdict(before.run, after.run, limit_c)


@lru_cache(maxsize=32)
def _flags(run: _Once) -> tuple[Flag, ...]:
    return run_flags(run.run)
