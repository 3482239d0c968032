"""Orders of machines made into sheets: machine by machine, each block as early as technicians and benches allow.

What order is best is looked for by exchanging and moving machines, worse ones taken on at first (simulated annealing,
Kirkpatrick, Gelatt and Vecchi 1983); the same seed finds the same order in the same number of tries.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import exp

from brachium.core.day.blocks import Block, DayJob, ShopDay

IMPOSSIBLE = 10**9
WARM, COOLER, COLD_MIN = 0.02, 0.998, 5.0  # of the best lateness; a try; then it is warmed up again


@dataclass(frozen=True)
class Placement:
    """Lateness of an order [min] and the start of every block by its id."""

    late: int
    starts: dict[str, int]


def best_placement(
    jobs: Sequence[DayJob], shop: ShopDay, seconds: float, horizon: int, stopped: Callable[[], bool] = lambda: False
) -> Placement:
    """The best that was found in the time; blocks must not be fixed."""
    rng = random.Random(7)
    order = sorted(jobs, key=lambda j: (j.due if j.due is not None else IMPOSSIBLE, j.id))
    best = now = placed_in_order(order, shop, horizon)
    best_order, warmth = list(order), WARM * best.late
    end = time.monotonic() + seconds
    while best.late > 0 and len(order) > 1 and time.monotonic() < end and not stopped():
        tried = list(order)
        a, b = rng.sample(range(len(tried)), 2)
        if rng.random() < 0.5:
            tried[a], tried[b] = tried[b], tried[a]
        else:
            tried.insert(b, tried.pop(a))
        found = placed_in_order(tried, shop, horizon)
        if found.late <= now.late or rng.random() < exp((now.late - found.late) / max(warmth, 1.0)):
            order, now = tried, found
        if found.late < best.late:
            best, best_order = found, tried
        warmth *= COOLER
        if warmth < COLD_MIN:
            order, now, warmth = list(best_order), best, WARM * best.late
    return best


class _Taken:
    """Minutes in which one more cannot be taken, of something of which there are so many: bit k of `full` is minute k.

    Level n holds the minutes in which at least n are taken; whole numbers of any length serve as sets of minutes.
    """

    def __init__(self, many: int, closed: int = 0) -> None:
        self._levels = [closed] * many

    @property
    def full(self) -> int:
        return self._levels[-1]

    def take(self, start: int, end: int) -> None:
        """One more from `start` on until before `end`."""
        stretch = (1 << end) - (1 << start)
        for level in range(len(self._levels) - 1, 0, -1):
            self._levels[level] |= self._levels[level - 1] & stretch
        self._levels[0] |= stretch

    def earliest(self, at: int, length: int) -> int:
        """First minute from `at` on from which one is free so long."""
        free = ~self.full >> at  # endless beyond the last minute that is taken
        have = 1
        while have < length:  # bit k stays where minutes k to k + have are free
            step = min(have, length - have)
            free &= free >> step
            have += step
        return at + (free & -free).bit_length() - 1

    def last_full(self, start: int, end: int) -> int:
        """The last minute of a stretch in which all are taken; -1 where there is none."""
        inside = (self.full >> start) & ((1 << (end - start)) - 1)
        return start + inside.bit_length() - 1 if inside else -1


def placed_in_order(order: Sequence[DayJob], shop: ShopDay, horizon: int) -> Placement:
    """Every machine in turn as early as it can be; lateness IMPOSSIBLE where one finds no place before the horizon."""
    closed = (1 << max(horizon, 1)) - 1
    for start, end in shop.hours:
        closed &= ~((1 << max(min(end, horizon), 0)) - (1 << max(min(start, horizon), 0)))
    hands, benches = _Taken(max(shop.technicians, 1), closed), _Taken(max(shop.benches, 1))
    starts: dict[str, int] = {}
    late = 0
    for job in order:
        ready = max(job.release, shop.now)
        for run in _runs(job.blocks):
            mine, ready = _place(run, ready, hands, benches)
            if ready > horizon:
                return Placement(IMPOSSIBLE, {})
            for block, start in zip(run, mine, strict=True):
                starts[block.id] = start
        for block in job.blocks:
            hands.take(starts[block.id], starts[block.id] + block.attended)
        if job.due is not None:
            late += max(ready - job.due, 0)
    return Placement(late, starts)


def _runs(blocks: Sequence[Block]) -> list[list[Block]]:
    """Blocks that hold one bench together; every other by itself."""
    out: list[list[Block]] = []
    for k, block in enumerate(blocks):
        if k and block.bench and blocks[k - 1].bench:
            out[-1].append(block)
        else:
            out.append([block])
    return out


def _place(run: Sequence[Block], ready: int, hands: _Taken, benches: _Taken) -> tuple[list[int], int]:
    """(starts, when the last is over) of blocks one after the other; a bench is taken for the whole of an open run."""
    while True:
        starts, at = [], ready
        for block in run:
            start = hands.earliest(at, block.attended)
            starts.append(start)
            at = start + block.attended + block.unattended
        if not run[0].bench:
            return starts, at
        full = benches.last_full(starts[0], at)
        if full < 0:
            benches.take(starts[0], at)
            return starts, at
        ready = full + 1
