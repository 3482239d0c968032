"""The knee of a ladder: found through noise, never below what was tried, none where nothing bends."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.measure.knee import knee_of

STEPS = (1.5, 1.2, 1.0, 0.85, 0.7, 0.5, 0.35)


@given(st.integers(2, 5), st.floats(1.4, 200.0), st.integers(0, 10_000))
def test_a_knee_is_found_where_it_was_put(at: int, steep: float, seed: int) -> None:
    rng = np.random.default_rng(seed)
    times = [1.0 if k <= at else steep ** ((k - at) / (len(STEPS) - 1 - at)) * 1.3 for k in range(len(STEPS))]
    curve = [(100.0 * s, t * float(rng.lognormal(0.0, 0.02))) for s, t in zip(STEPS, times, strict=True)]
    knee = knee_of(curve)
    assert knee is not None and knee.enough == 100.0 * STEPS[at] and knee.below == 100.0 * STEPS[at + 1]
    assert knee.times_slower == pytest.approx(1.3 * steep, rel=0.15)


def test_one_disturbed_step_is_no_knee_and_enough_memory_everywhere_has_none() -> None:
    flat = [(float(k), 1.0) for k in range(1, 8)]
    knee = knee_of(flat)
    assert knee is not None and knee.enough == 1.0 and knee.below is None and knee.times_slower == 1.0
    disturbed = [(x, 1.3 if x == 4.0 else t) for x, t in flat]
    found = knee_of(disturbed)
    assert found is not None and found.enough == 1.0, "more memory never makes a task slower"
    assert knee_of(flat[:2]) is None
