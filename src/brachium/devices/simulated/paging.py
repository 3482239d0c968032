"""Page misses of a task whose accesses are skewed, under least-recently-used replacement.

Pages are touched with a Zipf law; the hit share for a cache of so many pages follows Che's approximation
(Che, Tung, Wang 2002): a page is present if it was touched within the characteristic time of the cache.
"""

from __future__ import annotations

import numpy as np

PAGES = 1500


def miss_share(memory_gib: float, working_set_gib: float, zipf: float = 0.85) -> float:
    """Share of accesses that miss; zero once the working set fits."""
    if memory_gib >= working_set_gib:
        return 0.0
    weights = np.arange(1, PAGES + 1, dtype=np.float64) ** -zipf
    weights /= weights.sum()
    wanted = max(memory_gib, 0.05) / working_set_gib * PAGES
    low, high = 0.0, 1e9
    for _ in range(80):
        mid = 0.5 * (low + high)
        if float((1.0 - np.exp(-weights * mid)).sum()) < wanted:
            low = mid
        else:
            high = mid
    return float((weights * np.exp(-weights * low)).sum())
