"""Any number of configurations of one machine in time order, all against the first: gains, heat stairs, what is left
out.

False discoveries are controlled over all tests of all configurations together (Benjamini and Hochberg 1995): more
comparisons do not make a chance difference more likely to be claimed.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from brachium.core.heat.claims import HeatVerdict, SeriesStairs, stairs_of_series
from brachium.core.heat.run_traces import heat_traces
from brachium.core.measure.run import Run, TestSpec
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import adjusted_p_values
from brachium.core.prove.comparison import Comparison, Gain, compare_runs, heat_verdict, judged


@dataclass(frozen=True)
class ConfigurationSeries:
    """`comparisons` are of every later run with the first; `stairs` at one power and fan speed for all of them,
    `steps` of every run with the one before it: what changed in between."""

    runs: tuple[Run, ...]
    comparisons: tuple[Comparison, ...]
    stairs: SeriesStairs
    steps: tuple[Comparison, ...] = ()

    @property
    def tests(self) -> tuple[TestSpec, ...]:
        return self.runs[0].tests

    def gains(self, test: str) -> tuple[Gain | None, ...]:
        """One test over all later configurations; None where a run did not hold it."""
        return tuple(c.gain(test) for c in self.comparisons)

    def left_out(self) -> tuple[tuple[str, str, str], ...]:
        """(configuration, test, why) of everything that is not compared."""
        return tuple(
            (c.after.configuration or c.after.id, g.test.title, g.excluded)
            for c in self.comparisons
            for g in c.gains
            if g.excluded
        )


def series_of(
    runs: Sequence[Run], limit_c: float | None = None, spreads: Mapping[str, Spread] | None = None,
    arrived: bool = False, steps: bool = False,
    heat_of: Callable[[Run, Run, float | None], HeatVerdict] = heat_verdict,
) -> ConfigurationSeries:  # fmt: skip
    """Compare two or more runs of one machine, ordered by the time they were taken; `arrived`: they stand in the order
    in which they arrived, and keep it whatever their dates say; `steps`: also each with the one before it; `heat_of`
    judges the heat of a pair, or knows it. Raises ValueError for fewer.
    """
    if len(runs) < 2:
        raise ValueError("a series needs two runs or more")
    ordered = tuple(runs if arrived else sorted(runs, key=lambda r: (r.taken_at, r.id)))

    def compared(a: Run, b: Run) -> Comparison:
        return compare_runs(a, b, limit_c, spreads, heat_of(a, b, limit_c))

    found = [compared(ordered[0], later) for later in ordered[1:]]
    stairs = stairs_of_series([heat_traces(r, limit_c) for r in ordered])
    each = [compared(a, b) for a, b in pairwise(ordered[1:])] if steps else []
    return ConfigurationSeries(ordered, _together(found), stairs, (found[0], *each) if steps else ())


def _together(comparisons: Sequence[Comparison]) -> tuple[Comparison, ...]:
    """The comparisons with their claims corrected over all of them."""
    p_values = adjusted_p_values(tuple(g.result.p_value for c in comparisons for g in c.gains if g.result is not None))
    queue = list(p_values)
    out = []
    for comparison in comparisons:
        gains = [
            g if g.result is None else replace(g, judgement=judged(g.test, g.result, queue.pop(0), g.hangs_on))
            for g in comparison.gains
        ]
        out.append(replace(comparison, gains=tuple(gains)))
    return tuple(out)
