"""The 80 % band of a ratio."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray


@dataclass(frozen=True)
class Band:
    """10th, 50th and 90th percentile of a ratio."""

    low: float
    mid: float
    high: float

    @staticmethod
    def of(draws: FloatArray) -> Band:
        low, mid, high = np.percentile(draws, [10.0, 50.0, 90.0])
        return Band(float(low), float(mid), float(high))
