"""Exact permutation value of two small groups, shown beside the interval where there is one session each."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations
from math import comb

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import phrase

MOST = 50_000


@dataclass(frozen=True)
class Permutation:
    """Two-sided value; `smallest` is the least that groups of this size can reach at all."""

    p_value: float
    smallest: float

    @property
    def words(self) -> str:
        """The value, or that these groups are too small for one."""
        if self.smallest > 0.05:
            return phrase(
                "permutation value {p_value:.3f}; groups this small cannot go below {smallest:.2f}",
                p_value=self.p_value,
                smallest=self.smallest,
            )
        return phrase("permutation value {p_value:.3f}", p_value=self.p_value)


def permutation(before: FloatArray, after: FloatArray) -> Permutation | None:
    """Exact value of the difference of mean logarithms over every way to share the results out.

    None where there are too many ways, or a result is not positive. Source: Fisher (1935), The Design of Experiments.
    It knows nothing of sessions: repeats of one session are not independent, so it is only shown beside.
    """
    n, m = before.size, after.size
    ways = comb(n + m, n) if n and m else 0
    if not 1 < ways <= MOST or np.any(before <= 0) or np.any(after <= 0):
        return None
    pooled = np.log(np.concatenate([before, after]))
    chosen = np.array(list(combinations(range(n + m), n)))
    sums = pooled[chosen].sum(axis=1)
    total = pooled.sum()
    spread = np.abs(sums / n - (total - sums) / m)
    seen = abs(float(np.log(before).mean() - np.log(after).mean()))
    p_value = float(np.mean(spread >= seen - 1e-12))
    return Permutation(p_value, (2.0 if n == m else 1.0) / ways)
