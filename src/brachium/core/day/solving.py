"""The day as a constraint program (CP-SAT): attended blocks share the technicians and lie in the opening hours; from
opening to closing a machine holds a bench; what runs by itself needs nobody.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from brachium.core.base.text import phrase
from brachium.core.day.blocks import DayJob, ShopDay, closed_between

WORKERS = 4
LOOK_S = 0.05  # how often a search asks whether it is stopped


@dataclass(frozen=True)
class DayModel:
    """The program, the start of every block by its id, the lateness of every promised job."""

    model: Any
    starts: dict[str, Any]
    late: tuple[Any, ...]
    horizon: int

    def begin_at(self, starts: Mapping[str, int]) -> None:
        """Where the search begins."""
        self.model.clear_hints()
        for key, minute in starts.items():
            self.model.add_hint(self.starts[key], minute)

    def least_late(self, least: int) -> None:
        """Ask for the least lateness; `least` minutes are known to be unavoidable."""
        if self.late:
            self.model.add(sum(self.late) >= least)
        self.model.minimize(sum(self.late) if self.late else 0)

    def soonest_finish(self, most: int, jobs: Sequence[DayJob]) -> None:
        """Ask for the soonest finish with at most so much lateness; then for every machine as soon as can be."""
        if self.late:
            self.model.add(sum(self.late) <= most)
        finish = self.model.new_int_var(0, self.horizon, "finish")
        lasts = [j.blocks[-1] for j in jobs]
        for block in lasts:
            self.model.add(finish >= self.starts[block.id] + block.attended + block.unattended)
        self.model.minimize(finish * len(self.starts) + sum(self.starts[b.id] for b in lasts))

    def found(self, solver: Any) -> dict[str, int]:
        return {key: solver.value(var) for key, var in self.starts.items()}


def day_model(cp_model: Any, jobs: Sequence[DayJob], shop: ShopDay, horizon: int) -> DayModel:
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
        model.new_fixed_size_interval_var(a, b - a, phrase("closed {a}", a=a)) for a, b in closed_between(shop.hours)
    ]
    many = max(shop.technicians, 1)
    model.add_cumulative([*attended, *closed], [1] * len(attended) + [many] * len(closed), many)
    model.add_cumulative(on_bench, [1] * len(on_bench), max(shop.benches, 1))
    return DayModel(model, starts, tuple(late.values()), horizon)


def _bench(model: Any, starts: dict[str, Any], run: list[Any], horizon: int) -> Any:
    """The stretch in which a machine holds a bench, from its first open block to the end of its last."""
    first, last = run[0], run[-1]
    end = starts[last.id] + last.attended + last.unattended
    size = model.new_int_var(0, horizon, phrase("size {first}", first=first.id))
    return model.new_interval_var(starts[first.id], size, end, phrase("bench {first}", first=first.id))


def solved(cp_model: Any, model: Any, seconds: float, stopped: Callable[[], bool]) -> Any | None:
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
