"""A good order before the solver looks for the best: blocks exchanged, from one choice of machines for the night on.

What is late by a night outweighs all else, and exchanging blocks seldom frees the hour that one more machine needs. So
the parts of the bound that may still hold a better order (`priced_minutes`) say which machines to have done by the
first night; an order that has them is looked for with overtime allowed and charged, which exchanging brings down to
none where it can be, and exchanging goes on from there with all machines.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import replace

from brachium.core.day.blocks import DayJob, ShopDay
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.placing import IMPOSSIBLE, OrderSearch, Placement
from brachium.core.day.priced_minutes import PricedSearch, first_night

OVERTIME_S, EXCHANGE_S = 0.2, 0.2  # longest for one choice of machines
GOOD = 4  # of the choices of machines, gone on with by turns
WAIT_S = 0.05


class OrderFinder:
    """Keeps the best order and tells the bound of every better one."""

    def __init__(
        self, jobs: Sequence[DayJob], shop: ShopDay, first: Placement, horizon: int, bound: PricedSearch,
        stopped: Callable[[], bool],
    ) -> None:  # fmt: skip
        self.best = first
        self._jobs, self._shop, self._horizon, self._bound = tuple(jobs), shop, horizon, bound
        self._stopped = stopped
        self._tried: dict[frozenset[str], Placement] = {}  # the best that was found from each choice on
        self._searches = 0
        self._lock = threading.Lock()

    def run(self, seconds: float) -> Placement:
        """The best order that was found in the time. The kernels let go of the interpreter, so workers run at once."""
        end = time.monotonic() + seconds
        second = threading.Thread(target=self._work_after_bound, args=(end,), name="brachium-orders", daemon=True)
        second.start()
        self._work(end)
        second.join()
        return self.best

    def _work_after_bound(self, end: float) -> None:
        """One more, from when the bound gains little more."""
        while not self._bound.settled.wait(WAIT_S):
            if self._over() or time.monotonic() > end:
                return
        self._work(end)

    def _work(self, end: float) -> None:
        self._exchange(self.best, min(EXCHANGE_S, end - time.monotonic()))
        while not self._over() and (left := end - time.monotonic()) > 0:
            chosen, start = self._next_start()
            found = start if start.starts else self._with_done(chosen, min(OVERTIME_S, left))
            if found is not None:
                self._exchange(found, min(EXCHANGE_S, end - time.monotonic()), chosen)

    def _next_start(self) -> tuple[frozenset[str], Placement]:
        """(machines to have done by the night, where to begin): what nobody tried yet, or one of the best by turns."""
        none = Placement(IMPOSSIBLE, {})
        with self._lock:
            for chosen in self._bound.likely_by_night():
                if chosen not in self._tried:
                    self._tried[chosen] = none
                    return chosen, none
            found = sorted((p.late, k) for k, p in enumerate(self._tried.values()) if p.starts)[:GOOD]
            turn = self._searches % (len(found) + 1)
            if turn == len(found):
                return frozenset(), self.best
            return list(self._tried.items())[found[turn][1]]

    def _over(self) -> bool:
        return self._stopped() or self.best.late <= self._bound.least

    def _exchange(self, start: Placement, seconds: float, chosen: frozenset[str] = frozenset()) -> None:
        with self._lock:
            self._searches += 1  # another seed each time: the same one would find the same again
            search = OrderSearch(self._jobs, self._shop, self._horizon, self._searches)
        search.begin(start.starts)
        found = search.for_seconds(seconds, self._over)
        with self._lock:
            if chosen and found.late < self._tried[chosen].late:
                self._tried[chosen] = found
            if found.late < self.best.late:
                self.best = found
                self._bound.best = found.late

    def _with_done(self, chosen: frozenset[str], seconds: float) -> Placement | None:
        """An order with these machines done by the first night; None where none was found."""
        night = first_night(self._shop, self._horizon)
        if night is None:
            return None
        closes, opens = night
        hours = tuple((a, opens if b == closes else b) for a, b in self._shop.hours if b <= closes)
        mine = [replace(j, due=min(closes + j.blocks[-1].unattended, opens)) for j in self._jobs if j.id in chosen]
        overtime = replace(self._shop, hours=hours)
        first = {p.block.id: p.start for p in greedy_sheet(mine, overtime).placed}
        search = OrderSearch(mine, overtime, opens)
        search.begin(first)
        found = search.for_seconds(seconds, self._stopped)
        if found.late:
            return None
        rest = {b.id: opens + self.best.starts[b.id] for j in self._jobs if j.id not in chosen for b in j.blocks}
        return Placement(IMPOSSIBLE, {**found.starts, **rest})
