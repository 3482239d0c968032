"""The prediction against simulated machines, which are built from other equations; the benchmark has two hundred."""

from __future__ import annotations

import numpy as np

from benchmarks.prediction import outcome


def test_measured_gains_lie_in_the_band_about_as_often_as_it_says() -> None:
    found = [outcome(seed) for seed in range(60_000, 60_018)]
    inside = sum(o.inside for o in found)
    assert 10 <= inside <= 17, f"{inside} of {len(found)}; 80 % are meant"
    error = np.array([np.log(o.measured / o.band.mid) for o in found])
    width = np.mean([np.log(o.band.high / o.band.low) for o in found])
    assert abs(float(np.median(error))) < 0.02 and width < 0.12
