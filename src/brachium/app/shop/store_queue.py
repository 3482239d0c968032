"""Writes to the shop file, in order: what the disk refuses is not lost, stays in front, and is tried again.

A write that the file itself refuses (a run that is there twice) is dropped, and whoever asked for it hears of it.
"""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass

from brachium.app.shared.lanes import Lanes
from brachium.core.base.problems import EnvironmentProblem

RETRY_S = 5.0
Refused = Callable[[Exception], None]


@dataclass
class Ticket:
    """What became of a write."""

    kept: bool = False
    refused: bool = False


@dataclass(frozen=True)
class _Write:
    work: Callable[[], object]
    done: Callable[[], None]
    refused: Refused
    ticket: Ticket


class StoreQueue:
    """Submitted by the owner's thread, written in the store lane. `changed` hears when something waits or is saved."""

    def __init__(self, lanes: Lanes, problem: Refused, changed: Callable[[], None]) -> None:
        self._lanes, self._problem, self._changed = lanes, problem, changed
        self._waiting: deque[_Write] = deque()
        self._lock = threading.Lock()
        self._timer: threading.Timer | None = None
        self._stuck: EnvironmentProblem | None = None

    @property
    def unsaved(self) -> int:
        """How many writes wait because the disk refused one; 0 while all is well."""
        with self._lock:
            return len(self._waiting) if self._stuck is not None else 0

    @property
    def waiting(self) -> int:
        """How many writes are not stored yet."""
        with self._lock:
            return len(self._waiting)

    @property
    def why(self) -> str:
        """What the disk said; empty while all is well."""
        return self._stuck.text if self._stuck is not None else ""

    def raise_unsaved(self) -> None:
        """Raises the EnvironmentProblem that writes wait for; for work that ends when it is done."""
        if self._stuck is not None:
            raise self._stuck

    def submit(
        self, work: Callable[[], object], done: Callable[[], None] = lambda: None, refused: Refused | None = None
    ) -> Ticket:
        """Write behind everything that waits; `done` once it is on disk, `refused` where it never will be."""
        ticket = Ticket()
        with self._lock:
            self._waiting.append(_Write(work, done, refused or self._problem, ticket))
        self.flush()
        return ticket

    def flush(self) -> None:
        """Try what waits now."""
        self._lanes.submit("store", self._write_all)

    def close(self) -> None:
        """Try once more; the lanes finish it before they end."""
        if self._timer is not None:
            self._timer.cancel()
        self.flush()

    def _write_all(self) -> None:
        while True:
            with self._lock:
                write = self._waiting[0] if self._waiting else None
            if write is None:
                return self._well()
            try:
                write.work()
            except EnvironmentProblem as problem:
                return self._stand_still(problem)
            except Exception as error:
                self._drop(write)
                write.ticket.refused = True
                self._lanes.deliver(lambda e=error, w=write: w.refused(e))  # type: ignore[misc]
            else:
                self._drop(write)
                write.ticket.kept = True
                self._lanes.deliver(write.done)

    def _drop(self, write: _Write) -> None:
        with self._lock:
            assert self._waiting[0] is write
            self._waiting.popleft()

    def _stand_still(self, problem: EnvironmentProblem) -> None:
        first, self._stuck = self._stuck is None, problem
        if first:
            self._lanes.deliver(lambda: self._problem(problem))
        self._lanes.deliver(self._changed)
        if not self._lanes.closing and (self._timer is None or not self._timer.is_alive()):
            self._timer = threading.Timer(RETRY_S, self._again)
            self._timer.daemon = True
            self._timer.start()

    def _again(self) -> None:
        self._timer = None
        if not self._lanes.closing:
            self.flush()

    def _well(self) -> None:
        if self._stuck is not None:
            self._stuck = None
            self._lanes.deliver(self._changed)
