"""Series: a moving mean is centred and keeps its shape."""

from __future__ import annotations

import numpy as np
import pytest

from brachium.core.base.arrays import smoothed


def test_a_moving_mean_stays_in_its_place() -> None:
    ramp = np.arange(20.0)
    assert smoothed(ramp, 5)[2:-2] == pytest.approx(ramp[2:-2]) and smoothed(ramp, 5).shape == ramp.shape
    assert smoothed(np.eye(1, 9, 4)[0], 3) == pytest.approx([0, 0, 0, 1 / 3, 1 / 3, 1 / 3, 0, 0, 0])
