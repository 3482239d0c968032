"""The heat claims on machines whose truth is known and whose physics the fit does not know.

Forty of them here; `FLEET_PAIRS=200` takes more (docs/performance.md).
"""

from __future__ import annotations

import os
from multiprocessing import get_context

import numpy as np
import pytest

from tests.support.fleet import Outcome, judge_pair

PAIRS = int(os.environ.get("FLEET_PAIRS", "40"))


@pytest.fixture(scope="module")
def outcomes() -> list[Outcome]:
    with get_context("spawn").Pool(2) as pool:
        return pool.map(judge_pair, range(PAIRS), chunksize=10)


@pytest.mark.parametrize(("part", "name"), [(0, "paste"), (1, "airflow")])
def test_interval_of_the_change_contains_the_truth(outcomes: list[Outcome], part: int, name: str) -> None:
    stated = [o for o in outcomes if np.isfinite(o.errors_k[part])]
    assert len(stated) >= (PAIRS if part == 0 else 0.9 * PAIRS)  # airflow is refused where the sink is too slow
    inside = np.mean([abs(o.errors_k[part]) <= o.halves_k[part] for o in stated])
    assert 0.88 <= inside <= (0.995 if PAIRS >= 200 else 1.0), f"{name}: {inside:.3f}"


def test_errors_are_as_small_as_the_method_can_be(outcomes: list[Outcome]) -> None:
    paste, airflow = (np.abs([o.errors_k[k] for o in outcomes]) for k in (0, 1))
    assert np.median(paste) < 0.40 and np.percentile(paste, 90) < 1.2
    assert np.nanmedian(airflow) < 0.90 and np.nanpercentile(airflow, 90) < 2.6


def test_a_change_is_claimed_where_there_is_one_and_only_there(outcomes: list[Outcome]) -> None:
    for part, kinds in ((0, (1, 3)), (1, (2, 3))):
        with_change = [o for o in outcomes if o.changed in kinds and abs(o.truths_k[part]) > 3.0]
        with_change = [o for o in with_change if np.isfinite(o.errors_k[part])]
        without = [o for o in outcomes if o.changed not in kinds]
        found = np.mean([o.claimed[part] for o in with_change])
        false = np.mean([o.claimed[part] for o in without])
        assert found >= 0.95 and false <= 0.05, (part, found, false)


def test_which_helped_more_is_never_wrong_from_four_kelvin_on(outcomes: list[Outcome]) -> None:
    clear = [o for o in outcomes if abs(o.truths_k[0] - o.truths_k[1]) >= 4.0]
    assert len(clear) > 0.3 * PAIRS
    for o in clear:
        estimated = [t + e for t, e in zip(o.truths_k, o.errors_k, strict=True)]
        if not np.isfinite(estimated[1]):
            continue
        assert (estimated[0] > estimated[1]) == (o.truths_k[0] > o.truths_k[1])
