"""Background load in the calm phase spoils the repeats."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.base.arrays import ArrayProblem, frozen, smoothed, stretches, time_axis
from brachium.core.measure.run import Phase, Run, Series, Trace
from brachium.core.measure.validity import settle_problem


def calm(util: float, share: float, key: str = "util_frac") -> Trace:
    time = np.arange(300.0)
    values = np.full(300, 0.01)
    values[: int(300 * share)] = util
    return Trace(time, (Series(key, "1", "", values),), (Phase("idle", 0.0, 300.0),))


@pytest.mark.parametrize(
    ("trace", "word"),
    [(calm(0.3, 0.05), ""), (calm(0.3, 0.3), "processor"), (calm(0.04, 0.9), ""),
     (calm(0.5, 0.2, "disk_busy_frac"), "drive")],
)  # fmt: skip
def test_background_load(trace: Trace, word: str) -> None:
    problem = settle_problem(trace)
    assert (word in problem) if word else problem == ""


def test_cut_keeps_series_and_phases_together(runs: tuple[Run, Run]) -> None:
    trace = runs[0].sessions[0].trace
    load = trace.phase("load")
    assert load is not None
    part = trace.cut(load.start_s, load.end_s)
    assert all(s.values.size == part.time_s.size for s in part.series)
    assert part.time_s[0] >= load.start_s and part.phase("cool-down") is None
    util = part.values("util_frac")
    assert util is not None and util[2:-1].min() > 0.95


def test_invalid_repeats_keep_their_value_but_do_not_count(runs: tuple[Run, Run]) -> None:
    session = runs[0].sessions[0]
    repeats = tuple(replace(r, valid=False, reason="update") if r.test == "cpu_all" else r for r in session.repeats)
    spoiled = replace(session, repeats=repeats)
    assert spoiled.results("cpu_all").size == 0 and session.results("cpu_all").size == 3
    assert sum(r.test == "cpu_all" for r in spoiled.repeats) == 3


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ([1.0], "two samples"),
        ([0.0, 1.0, 1.0], "sample 3"),
        ([0.0, np.nan, 2.0], "sample 2"),
        ([[1.0], [2.0]], "dimension"),
    ],
)
def test_the_gate_names_the_sample(values: object, words: str) -> None:
    with pytest.raises(ArrayProblem, match=words):
        time_axis(values)  # type: ignore[arg-type]


def test_arrays_are_read_only_and_helpers_keep_their_shape() -> None:
    values = frozen([1, 2, 3])
    with pytest.raises(ValueError, match="read-only"):
        values[0] = 5.0
    assert smoothed(np.arange(9.0), 4).shape == (9,)
    np.testing.assert_allclose(smoothed(np.full(7, 3.0), 5), 3.0)
    assert stretches(np.array([True, True, False, True])) == ((0, 2), (3, 4))
