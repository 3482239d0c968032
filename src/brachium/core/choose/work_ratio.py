"""Work per time from the speed-ups of the resources: the one functional for prediction and measurement.

Time per unit of work lies between the sum of share/speed-up (nothing overlaps) and the largest of them (everything
overlaps); the profile's overlap mixes the two.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from brachium.core.base.arrays import FloatArray


def work_ratio(shares: Mapping[str, FloatArray], speedups: Mapping[str, FloatArray], overlap: FloatArray) -> FloatArray:
    """Work per time relative to today, shape (n_draws,). A share without a speed-up keeps its time."""
    after = [share / speedups[key] if key in speedups else share for key, share in shares.items()]
    before = list(shares.values())
    return _time(before, overlap) / _time(after, overlap)


def _time(parts: list[FloatArray], overlap: FloatArray) -> FloatArray:
    stacked = np.stack(parts)
    mixed: FloatArray = overlap * stacked.max(axis=0) + (1.0 - overlap) * stacked.sum(axis=0)
    return mixed
