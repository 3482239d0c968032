"""Heat claims on machines of five nodes that the fit does not know (`python -m benchmarks.heat_pairs` takes 240)."""

from __future__ import annotations

import numpy as np
import pytest

from benchmarks.heat_pairs import Told, judged
from tests.support.five_nodes import BOTH, PASTE, five_pairs


@pytest.fixture(scope="module", params=[True, False], ids=["fan logged", "no fan column"])
def told(request: pytest.FixtureRequest) -> list[Told]:
    found = [judged(pair, k) for k, pair in enumerate(five_pairs(16, 31, request.param))]
    return [t for t in found if t is not None]


def test_the_paste_interval_holds_the_truth_and_untouched_paste_is_left_alone(told: list[Told]) -> None:
    assert len(told) >= 15
    assert np.mean([abs(t.errors_k[0]) <= t.halves_k[0] for t in told]) >= 0.88
    assert sum(t.claimed[0] for t in told if t.changed not in (PASTE, BOTH)) <= 1


def test_a_new_paste_is_found(told: list[Told]) -> None:
    large = [t for t in told if t.changed in (PASTE, BOTH) and abs(t.truths_k[0]) >= 3.0]
    assert len(large) >= 4 and np.mean([t.claimed[0] for t in large]) >= 0.9
