"""Runs made of numbers, for files and statistics."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from brachium.core.base.arrays import frozen, time_axis
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, Phase, Repeat, Run, RunCheck, Series, Trace
from brachium.core.measure.workloads import QUICK, TESTS


def some_trace(samples: int = 20, seed: int = 1) -> Trace:
    """A trace with gaps, an awkward time axis and units outside ASCII."""
    rng = np.random.default_rng(seed)
    time = time_axis(np.cumsum(rng.uniform(0.5, 1.5, samples)))
    temp = rng.normal(60.0, 5.0, samples)
    temp[samples // 2] = np.nan
    series = (
        Series("temp_c", "°C", "coretemp Package id 0", frozen(temp)),
        Series("util_frac", "1", "/proc/stat", frozen(rng.random(samples))),
    )
    return Trace(time, series, (Phase("idle", 0.0, 5.0), Phase("load", 5.0, float(time[-1]))))


def some_run(
    run_id: str = "r1", results: Sequence[Sequence[float]] = ((100.0, 101.0, 99.0), (102.0, 100.5, 101.0)),
    machine: str = "Kestrion M4-35, 4 threads, 7.6 GiB", test: str = "cpu_all", boot: str = "boot", seed: int = 1,
) -> Run:  # fmt: skip
    """A run with these results of one test, session by session."""
    sessions = tuple(
        MeasuredSession(k, some_trace(seed=seed + k), tuple(Repeat(test, v) for v in values), f"{boot}-{k}")
        for k, values in enumerate(results, 1)
    )
    return Run(
        run_id, "as taken in", QUICK, Conditions(room_c=22.5, room_note="typed"),
        tuple(t for t in TESTS if t.key == test), sessions, "2026-11-24 10:00", "measured", True, "",
        ("not measured here: power: no counter",),
        (RunCheck("mem_test", "Memory test by patterns", True, "nothing found"),), machine,
    )  # fmt: skip


def same(a: Run, b: Run) -> bool:
    """Two runs hold the same, to the last bit."""
    from brachium.formats.records import run_arrays, run_to_json

    if run_to_json(a) != run_to_json(b):
        return False
    left, right = run_arrays(a), run_arrays(b)
    return len(left) == len(right) and all(
        (x.session, x.key, x.unit, x.source) == (y.session, y.key, y.unit, y.source)
        and np.array_equal(x.values, y.values, equal_nan=True)
        for x, y in zip(left, right, strict=True)
    )
