"""A lower bound of the lateness of any order, from what the technicians can do at all.

The k-th machine to be finished cannot be done before the attended work of the k smallest jobs is, with every technician
at it all the time, nor before the k-th earliest finish that the jobs have each on their own. Sorted finishes against
sorted promises give the least sum of lateness that any pairing has, because lateness is convex.
"""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.day.blocks import DayJob, ShopDay, next_open


def lateness_bound(jobs: Sequence[DayJob], shop: ShopDay) -> int:
    """Minutes of lateness that no order can avoid."""
    promised = [j for j in jobs if j.due is not None and j.blocks]
    if not promised:
        return 0
    attended = sorted(sum(b.attended for b in j.blocks) for j in promised)
    tail = min(j.blocks[-1].unattended for j in promised)
    begin = max(shop.now, min(j.release for j in promised))
    alone = sorted(_alone(j, shop) for j in promised)
    due = sorted(j.due for j in promised if j.due is not None)
    work, late = 0, 0
    for amount, own, promise in zip(attended, alone, due, strict=True):
        work += amount
        together = _worked(shop.hours, begin, work / max(shop.technicians, 1)) + tail
        late += max(int(max(together, own)) - promise, 0)
    return late


def _alone(job: DayJob, shop: ShopDay) -> int:
    """Earliest finish of a job with nothing else to do."""
    at = max(job.release, shop.now)
    for block in job.blocks:
        at = next_open(shop.hours, at, block.attended) + block.attended + block.unattended
    return at


def _worked(hours: Sequence[tuple[int, int]], begin: int, amount: float) -> float:
    """When so many minutes of opening hours have passed."""
    left = amount
    for start, end in hours:
        free = max(end - max(start, begin), 0)
        if free >= left:
            return max(start, begin) + left
        left -= free
    return (hours[-1][1] if hours else begin) + left
