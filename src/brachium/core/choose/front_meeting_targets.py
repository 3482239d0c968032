"""The front of those plans only that meet the owner's targets: exact, and few plans looked at."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import phrase

MOST_LOOKED_AT = 20_000


class NotSettled(ValueError):  # noqa: N818 - an answer, not a bug
    """Too many plans would have to be looked at."""


def meeting_front(cost: FloatArray, gain: FloatArray, meets: Callable[[int], bool]) -> npt.NDArray[np.intp]:
    """Indices of the plans that meet the targets and that no cheaper or equally dear such plan matches, by rising cost.

    From the most gain down, a plan is looked at only while it is cheaper than the cheapest that met them so far: what
    is skipped is dominated by a plan that meets them. Raises NotSettled.
    """
    order = np.lexsort((cost, -gain))
    price = cost[order]
    found: list[int] = []
    looked, at, ceiling = 0, 0, np.inf
    while (at := _next_below(price, at, ceiling)) < price.size:
        looked += 1
        if looked > MOST_LOOKED_AT:
            raise NotSettled(phrase("{looked} plans", looked=looked))
        if meets(int(order[at])):
            found.append(int(order[at]))
            ceiling = price[at] - 1e-12
        at += 1
    return np.array(found[::-1], dtype=np.intp)


def _next_below(price: FloatArray, start: int, ceiling: float, chunk: int = 8192) -> int:
    """The first index from `start` on whose price is below the ceiling; the size where there is none."""
    for at in range(start, price.size, chunk):
        below = price[at : at + chunk] < ceiling
        if below.any():
            return at + int(np.argmax(below))
    return price.size
