"""Orders of blocks made into sheets, and the search of a better one (compiled: `compiled/orders.c`).

An order says whose next block is placed at each turn; a block is placed as early as its machine, a technician and the
opening hours allow (serial schedule generation; Kolisch 1996). A machine that is opened holds a bench until it is
closed, whenever that is, so it is opened only where a bench is free from then on. What order is best is looked for by
moving and exchanging blocks and machines, worse ones taken on at first (simulated annealing, Kirkpatrick, Gelatt and
Vecchi 1983), warmer and cooler by turns; the same seed finds the same order in the same number of tries.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from brachium.core.day.blocks import DayJob, ShopDay
from brachium.core.day.compiled.arrays import DayArrays

IMPOSSIBLE = 2**63 - 1
TRIES, TRY_SIZE = 1000, 72  # between two looks at the clock, of so many blocks: some 10 ms; fewer of longer orders


@dataclass(frozen=True)
class Placement:
    """Lateness of an order [min] and the start of every block by its id."""

    late: int
    starts: dict[str, int]


class OrderSearch:
    """A search that can be gone on with, also from another order. Raises OSError where the kernels are not built."""

    def __init__(self, jobs: Sequence[DayJob], shop: ShopDay, horizon: int, seed: int = 7) -> None:
        self._jobs, self._shop = tuple(jobs), shop
        self._arrays = DayArrays(jobs, shop, horizon)
        blocks = int(self._arrays.first[-1])
        self._order, self._best_order, self._starts = (np.zeros(blocks, dtype=np.int32) for _ in range(3))
        self._state = self._arrays.ffi.new(
            "brachium_orders *",
            {
                "order": self._arrays.pointer(self._order),
                "best_order": self._arrays.pointer(self._best_order),
                "starts": self._arrays.pointer(self._starts),
                "cycle": -1,
                "random": 0x9E3779B97F4A7C15 * (2 * seed + 1) % 2**64,
            },
        )

    def begin(self, starts: Mapping[str, int]) -> Placement:
        """Place the order that these starts have; it is where the search begins."""
        turns = sorted((starts[b.id], k, row) for row, job in enumerate(self._jobs) for k, b in enumerate(job.blocks))
        self._order[:] = [row for _, _, row in turns]
        self._arrays.check(self._arrays.library.brachium_first_order(self._arrays.day, self._state))
        return self.best

    def go_on(self, tries: int) -> Placement:
        """So many more orders; the best of all."""
        self._arrays.check(self._arrays.library.brachium_try_orders(self._arrays.day, self._state, tries))
        return self.best

    def for_seconds(self, seconds: float, stopped: Callable[[], bool]) -> Placement:
        """Go on for a time, or until nothing is late."""
        end = time.monotonic() + seconds
        blocks = max(self._starts.size, 1)
        tries = max(min(TRIES, TRIES * TRY_SIZE**2 // blocks**2), 1)
        while self._state.best > 0 and time.monotonic() < end and not stopped():
            self.go_on(tries)
        return self.best

    @property
    def best(self) -> Placement:
        late = int(self._state.best)
        if late == IMPOSSIBLE:
            return Placement(late, {})
        ids = [b.id for job in self._jobs for b in job.blocks]
        starts = (self._starts + self._shop.now).tolist()
        return Placement(late, dict(zip(ids, starts, strict=True)))
