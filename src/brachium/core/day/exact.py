"""The best order of the day: lateness of promises first, then the finish.

Constraint programming (`solving`) proves a usual day at once. Of a fuller one exchanging finds better orders
(`searching`) while a bound of its own is worked out beside it (`priced_minutes`), and the solver goes on from the best.
What is left of the time brings the finish forward without more lateness. The answer is never worse than the greedy one.
Without the compiled kernels there is no exchanging and a weaker bound.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace

from brachium.core.day.blocks import DayJob, Sheet, ShopDay, lateness_of
from brachium.core.day.bound import lateness_bound
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.handing_out import handed_out
from brachium.core.day.placing import IMPOSSIBLE, Placement
from brachium.core.day.priced_minutes import PricedSearch
from brachium.core.day.searching import OrderFinder
from brachium.core.day.solving import day_model, solved

SECONDS = 8.7  # so that the whole, bound included, stays within ten
# of the time: lateness by the solver, orders tried, lateness by the solver again, the finish; the bound beside them
SHARES = (0.08, 0.5, 0.3, 0.12)
PRICED_MORE, PLACED_MORE = 60, 480  # minutes behind the end of the first order that have a price, are used by others


def best_sheet(
    jobs: Sequence[DayJob], shop: ShopDay, seconds: float = SECONDS, stopped: Callable[[], bool] = lambda: False
) -> Sheet:
    """The sheet with least lateness found in the time, with its gap in minutes; 0 = proven."""
    from ortools.sat.python import cp_model

    start = greedy_sheet(jobs, shop)
    jobs = [j for j in jobs if j.blocks]
    if not jobs:
        return replace(start, gap=0, method="nothing to plan")
    horizon = max(start.finish, shop.hours[-1][1] if shop.hours else start.finish) + 1
    best = _first(start)
    least = lateness_bound(jobs, shop)
    day = day_model(cp_model, jobs, shop, horizon)
    with _bounded(jobs, shop, start.late, min(horizon, start.finish + PRICED_MORE), stopped) as bound:
        for share in (SHARES[0], SHARES[2]):  # a usual day is proven by the first; the second begins at what was found
            day.begin_at(best.starts)
            day.least_late(least)
            solver = solved(cp_model, day.model, seconds * share, stopped)
            if solver is not None:
                found = Placement(round(solver.objective_value), day.found(solver))
                best, least = min(best, found, key=lambda p: p.late), max(least, round(solver.best_objective_bound))
            if best.late <= least or share == SHARES[2]:
                break
            if bound is not None:
                bound.best = min(bound.best, best.late)
                until = min(horizon, start.finish + PLACED_MORE)
                best = OrderFinder(jobs, shop, best, until, bound, stopped).run(seconds * SHARES[1])
                least = max(least, bound.least)
    if bound is not None:
        least = max(least, bound.least)
    if best.late == IMPOSSIBLE:
        return start
    day.begin_at(best.starts)
    day.soonest_finish(best.late, jobs)
    second = solved(cp_model, day.model, seconds * SHARES[3], stopped)
    placed = handed_out(jobs, best.starts if second is None else day.found(second), shop)
    lateness = lateness_of(jobs, placed)
    late = sum(lateness.values())
    return Sheet(placed, late, max(p.end for p in placed), max(late - least, 0), "exact order", lateness)


def _first(start: Sheet) -> Placement:
    """The greedy order; one that does not keep what a person fixed is worse than any that does."""
    late = start.late if start.keeps_fixed else IMPOSSIBLE
    return Placement(late, {p.block.id: p.start for p in start.placed})


@contextmanager
def _bounded(
    jobs: Sequence[DayJob], shop: ShopDay, late: int, horizon: int, stopped: Callable[[], bool]
) -> Iterator[PricedSearch | None]:
    """Work the bound out beside what is done in the block; None without the compiled kernels."""
    try:
        search = PricedSearch(jobs, shop, late, horizon)
    except OSError:
        yield None
        return
    over = threading.Event()
    worker = threading.Thread(
        target=search.run, args=(lambda: over.is_set() or stopped(),), name="brachium-bound", daemon=True
    )
    worker.start()
    try:
        yield search
    finally:
        over.set()
        worker.join()
