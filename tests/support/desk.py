"""A bench without a window: its calls from other threads are delivered when the test looks."""

from __future__ import annotations

import queue
import time
from collections.abc import Callable

from brachium.app.shop.open_shop import join_benches, open_shop
from brachium.app.shop.workspace import Workspace
from brachium.core.record.job import Job
from brachium.store.location import Place

PATIENCE_S = 120.0  # a wait ends by its event; this only ends a test that hangs


class Desk:
    """One program at a shop on a server."""

    def __init__(self, place: Place, name: str, fill: Callable[[Workspace], object] | None = None) -> None:
        self._calls: queue.Queue[Callable[[], None]] = queue.Queue()
        self.problems: list[Exception] = []
        self.shop = open_shop(place, self._calls.put, fill, name)
        self.shop.on_problem.append(self.problems.append)
        shared = join_benches(self.shop)
        assert shared is not None
        self.shared = shared

    def job(self, job_id: str) -> Job:
        self.look()
        return self.shop.job(job_id)

    def look(self) -> None:
        """Take what arrived."""
        while True:
            try:
                self._calls.get_nowait()()
            except queue.Empty:
                return

    def until(self, ready: Callable[[], object]) -> float:
        """Wait for something, however busy the machine is; how long it took [s]."""
        start = time.monotonic()
        while True:
            self.look()
            if ready():
                return time.monotonic() - start
            assert time.monotonic() - start < PATIENCE_S, "it never came"
            time.sleep(0.005)

    def sent(self) -> None:
        """Wait until everything of this bench is in the shop."""
        self.shop.lanes.drain("journal")
        self.until(lambda: not self.shop.writes.waiting)
        self.look()

    def __enter__(self) -> Desk:
        return self

    def __exit__(self, *_: object) -> None:
        self.shop.close()


def until_both(desks: tuple[Desk, ...], ready: Callable[[], object]) -> None:
    """Wait for something that several benches have to hear of."""

    def all_look() -> object:
        for desk in desks[1:]:
            desk.look()
        return ready()

    desks[0].until(all_look)
