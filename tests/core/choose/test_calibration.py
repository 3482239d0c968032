"""The prediction against simulated machines, which are built from other equations; the benchmark has a hundred of each
kind of plan."""

from __future__ import annotations

import numpy as np

from benchmarks.prediction import KINDS, outcome, table


def test_measured_gains_lie_in_the_band_about_as_often_as_it_says() -> None:
    asked = [(kind, 60_000 + k) for kind in KINDS if kind not in ("processor", "service") for k in range(2)]
    found = [o for o in map(outcome, asked) if o is not None]
    inside = sum(o.inside for o in found)
    assert 0.6 * len(found) <= inside < len(found) and len(found) >= 14, table(found)
    assert abs(float(np.median([o.error for o in found]))) < 0.02, table(found)
    assert np.mean([np.log(o.band.high / o.band.low) for o in found]) < 0.15
