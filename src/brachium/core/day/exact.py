"""The best order of the day, exactly: lateness of promises first, then the finish, by constraint programming (CP-SAT).

Attended blocks share the technicians and lie in the opening hours; from opening to closing a machine holds a bench;
what runs by itself needs nobody. Lateness is minimised with its bound; what is left of the time brings the finish
forward without more lateness. The search starts at the best order that exchanging machines finds, and the answer is
never worse than the greedy one. Beside the solver a bound of its own is worked out (`priced_minutes`).
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

from brachium.core.base.text import phrase
from brachium.core.day.blocks import DayJob, Placed, Sheet, ShopDay, lateness_of
from brachium.core.day.bound import lateness_bound
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.opening import DAY_MIN
from brachium.core.day.placing import Placement, best_placement
from brachium.core.day.priced_minutes import priced_bound

SECONDS = 9.0  # so that the whole, bound included, stays within ten
SHARES = (0.1, 0.75, 0.15)  # of the time: orders tried, lateness by the solver with the bound beside it, the finish
PRICED_MORE = 60  # minutes behind the end of the first order that have a price too
WORKERS = 4
LOOK_S = 0.05  # how often a search asks whether it is stopped


# complex: one model solved twice; its parts share the solver's variables
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
    model, starts, late = _model(cp_model, jobs, shop, horizon)
    known = _known(start, jobs, shop, seconds * SHARES[0], horizon, stopped)
    for block_id, minute in known.starts.items():
        model.add_hint(starts[block_id], minute)
    least = lateness_bound(jobs, shop)
    if late:
        model.add(sum(late.values()) >= least)
    model.minimize(sum(late.values()) if late else 0)
    until = min(horizon, start.finish + PRICED_MORE)
    with _priced(jobs, shop, known.late, seconds * SHARES[1], until, stopped) as priced:
        solver = _solve(cp_model, model, seconds * SHARES[1], stopped)
    if solver is None:
        return start
    best = round(solver.objective_value)
    gap = max(best - max(round(solver.best_objective_bound), least, *priced), 0)
    if late:
        model.add(sum(late.values()) <= best)
    finish = model.new_int_var(0, horizon, "finish")
    for job in jobs:
        for block in job.blocks:
            model.add(finish >= starts[block.id] + block.attended + block.unattended)
    model.clear_hints()
    for block_id, var in starts.items():
        model.add_hint(var, solver.value(starts[block_id]))
        del var
    model.minimize(finish * len(starts) + sum(starts[j.blocks[-1].id] for j in jobs))
    second = _solve(cp_model, model, seconds * SHARES[2], stopped) or solver
    placed = _assigned(jobs, {b.id: second.value(starts[b.id]) for j in jobs for b in j.blocks}, shop)
    lateness = lateness_of(jobs, placed)
    if sum(lateness.values()) > start.late and start.keeps_fixed:
        return start
    return Sheet(placed, sum(lateness.values()), max(p.end for p in placed), gap, "exact order", lateness)


def _known(
    start: Sheet, jobs: Sequence[DayJob], shop: ShopDay, seconds: float, horizon: int, stopped: Callable[[], bool]
) -> Placement:
    """The best order that is known before the solver: soonest promise first, or one that a search of orders found."""
    first = Placement(start.late, {p.block.id: p.start for p in start.placed})
    if start.late == 0 or any(b.fixed is not None for j in jobs for b in j.blocks):
        return first
    found = best_placement(jobs, shop, seconds, min(horizon, start.finish + DAY_MIN), stopped)
    return found if found.late < start.late else first


@contextmanager
def _priced(
    jobs: Sequence[DayJob], shop: ShopDay, late: int, seconds: float, horizon: int, stopped: Callable[[], bool]
) -> Iterator[list[int]]:
    """Work the bound out beside the solver; it stands in the list once the block is left."""
    out = [0]
    over = threading.Event()

    def work() -> None:
        out.append(priced_bound(jobs, shop, late, seconds, horizon, lambda: over.is_set() or stopped()).least)

    worker = threading.Thread(target=work, name="brachium-bound", daemon=True)
    worker.start()
    try:
        yield out
    finally:
        over.set()
        worker.join()


def _model(
    cp_model: Any, jobs: Sequence[DayJob], shop: ShopDay, horizon: int
) -> tuple[Any, dict[str, Any], dict[str, Any]]:
    model = cp_model.CpModel()
    starts: dict[str, Any] = {}
    late: dict[str, Any] = {}
    attended: list[Any] = []
    on_bench: list[Any] = []
    for job in jobs:
        previous = None
        run: list[Any] = []
        for k, block in enumerate(job.blocks):
            low = max(job.release, shop.now) if k == 0 else shop.now
            var = model.new_int_var(min(low, horizon), horizon, block.id)
            if block.fixed is not None:
                model.add(var == block.fixed)
            starts[block.id] = var
            attended.append(model.new_fixed_size_interval_var(var, block.attended, phrase("a{block}", block=block.id)))
            if previous is not None:
                model.add(var >= starts[previous.id] + previous.attended + previous.unattended)
            if block.bench:
                run.append(block)
            if run and (not block.bench or k == len(job.blocks) - 1):
                on_bench.append(_bench(model, starts, run, horizon))
                run = []
            previous = block
        if job.due is not None and previous is not None:
            over = model.new_int_var(0, horizon, phrase("late {job}", job=job.id))
            model.add(over >= starts[previous.id] + previous.attended + previous.unattended - job.due)
            late[job.id] = over
    closed = [
        model.new_fixed_size_interval_var(a, b - a, phrase("closed {a}", a=a))
        for a, b in _closed(shop, horizon)
        if b > a
    ]
    many = max(shop.technicians, 1)
    model.add_cumulative([*attended, *closed], [1] * len(attended) + [many] * len(closed), many)
    model.add_cumulative(on_bench, [1] * len(on_bench), max(shop.benches, 1))
    return model, starts, late


def _bench(model: Any, starts: dict[str, Any], run: list[Any], horizon: int) -> Any:
    """The stretch in which a machine holds a bench, from its first open block to the end of its last."""
    first, last = run[0], run[-1]
    end = starts[last.id] + last.attended + last.unattended
    size = model.new_int_var(0, horizon, phrase("size {first}", first=first.id))
    return model.new_interval_var(starts[first.id], size, end, phrase("bench {first}", first=first.id))


def _closed(shop: ShopDay, horizon: int) -> list[tuple[int, int]]:
    """Stretches in which nobody works."""
    out, at = [], 0
    for start, end in shop.hours:
        if start > at:
            out.append((at, start))
        at = end
    del horizon  # what lies behind the last opening is past the plan's end: see `best_sheet`
    return out


def _solve(cp_model: Any, model: Any, seconds: float, stopped: Callable[[], bool]) -> Any | None:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = max(seconds, 0.05)
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = 7

    with _watched(solver, stopped):
        state = solver.solve(model)
    return solver if state in (cp_model.OPTIMAL, cp_model.FEASIBLE) else None


@contextmanager
def _watched(solver: Any, stopped: Callable[[], bool]) -> Iterator[None]:
    """Ask beside the search, which itself only looks up when it finds something."""
    over = threading.Event()

    def watch() -> None:
        while not over.wait(LOOK_S):
            if stopped():
                solver.stop_search()  # again and again: one that comes before the search has begun is lost

    watcher = threading.Thread(target=watch, name="brachium-stop", daemon=True)
    watcher.start()
    try:
        yield
    finally:
        over.set()
        watcher.join()


def _assigned(jobs: Sequence[DayJob], starts: dict[str, int], shop: ShopDay) -> tuple[Placed, ...]:
    """Technicians and benches given out in the order of starts: whoever was free longest."""
    blocks = sorted((b for j in jobs for b in j.blocks), key=lambda b: (starts[b.id], b.id))
    free = [0] * max(shop.technicians, 1)
    bench_of = _benches(jobs, starts, shop)
    out = []
    for block in blocks:
        able = [k for k in range(len(free)) if free[k] <= starts[block.id]]
        who = max(able, key=lambda k: (free[k], -k)) if able else min(range(len(free)), key=lambda k: free[k])
        free[who] = starts[block.id] + block.attended
        out.append(Placed(block, starts[block.id], who, bench_of.get(block.id, -1)))
    return tuple(out)


def _benches(jobs: Sequence[DayJob], starts: dict[str, int], shop: ShopDay) -> dict[str, int]:
    """Bench of every open block: stretches in order of their start take the first bench that is free."""
    stretches = []
    for job in jobs:
        run: list[Any] = []
        for k, block in enumerate(job.blocks):
            if block.bench:
                run.append(block)
            if run and (not block.bench or k == len(job.blocks) - 1):
                last = run[-1]
                end = starts[last.id] + last.attended + last.unattended
                stretches.append((starts[run[0].id], end, tuple(b.id for b in run)))
                run = []
    free = [0] * max(shop.benches, 1)
    out = {}
    for begin, end, ids in sorted(stretches):
        bench = next((k for k in range(len(free)) if free[k] <= begin), 0)
        free[bench] = end
        out.update(dict.fromkeys(ids, bench))
    return out
