"""What a run in progress says of its promise: once its results scatter more than was assumed, and not before."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np

from brachium.app.bench.live_proof import LiveProof
from brachium.app.bench.recorder import LiveView, RunProgress
from brachium.core.measure.run import MeasuredSession, Repeat, Trace
from brachium.core.measure.statistics import as_shown, smallest_provable
from brachium.core.measure.workloads import STANDARD, spread_for

SPREADS = {"cpu_all": spread_for("cpu_all")}


def _live(values: Sequence[float], finished: Sequence[float] = ()) -> LiveView:
    bare = Trace(np.array([]), (), ())
    done = (MeasuredSession(1, bare, tuple(Repeat("cpu_all", v) for v in finished)),) if finished else ()
    progress = RunProgress(2 if finished else 1, 2, "tests", 0.0, 60.0)
    return LiveView(progress.session, None, tuple(Repeat("cpu_all", v) for v in values), done, progress)


def test_a_run_that_scatters_takes_its_promise_back() -> None:
    proof = LiveProof()
    assert proof.look(_live([100.0]), STANDARD, SPREADS) == "", "one result shows no spread"
    said = proof.look(_live([100.0, 112.0, 91.0]), STANDARD, SPREADS)
    now, was = (float(x) for x in re.findall(r"([0-9.]+) %", said)[1:])
    promised = 100 * smallest_provable(SPREADS["cpu_all"], STANDARD.sessions, STANDARD.repeats)
    assert "All threads, short scatters by" in said and now > 1.3 * was and abs(was - promised) < 0.06
    both = proof.look(_live([100.0, 100.4, 99.8], [100.0, 112.0, 91.0]), STANDARD, SPREADS)
    assert both, "a calm second session does not undo the first"
    assert LiveProof().look(_live([100.0, 100.4, 99.8]), STANDARD, SPREADS) == ""


def test_the_spread_shown_is_that_of_the_results() -> None:
    """Many repeats of known scatter: the spread within comes near it, and that between follows."""
    rng = np.random.default_rng(5)
    results = (np.exp(rng.normal(4.0, 0.05, 40)),)
    shown = as_shown(SPREADS["cpu_all"], results)
    assert abs(shown.within / 0.05 - 1.0) < 0.2 and shown.between > SPREADS["cpu_all"].between
    assert as_shown(SPREADS["cpu_all"], (np.array([5.0]),)) == SPREADS["cpu_all"]
