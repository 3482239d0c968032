"""The knee of a memory ladder: how much memory a task needs before more of it brings nothing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

SLOWER = 1.15  # of the time with enough memory, from which on too little of it is felt
Curve = Sequence[tuple[float, float]]


@dataclass(frozen=True)
class Knee:
    """The least memory that does, and the next step below it where it no longer does [byte]; `times_slower` with the
    least memory that was tried. `below` None = even the least did."""

    enough: float
    below: float | None
    times_slower: float


def knee_of(curve: Curve) -> Knee | None:
    """From (memory [byte], seconds); None below three steps.

    More memory never makes a task slower, so the times are first made to fall (isotonic regression on the logarithm):
    one disturbed step does not make a knee.
    """
    points = sorted(curve)
    if len(points) < 3:
        return None
    from scipy.optimize import isotonic_regression  # late: the window opens without it

    times = isotonic_regression(np.log([t for _, t in points]), increasing=False).x
    least = float(times[-1])
    slow = np.flatnonzero(times > least + np.log(SLOWER))
    first = int(slow.max()) + 1 if slow.size else 0
    ratio = float(np.exp(times[0] - least))
    return Knee(points[first][0], points[first - 1][0] if first else None, ratio)
