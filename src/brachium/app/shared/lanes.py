"""Background work: lanes for the journal, the store, news from other benches, the machine under test, computation, a
stick, long searches.

Workers return records; what happens with them runs wherever `post` delivers (the window's thread).
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import TypeVar

T = TypeVar("T")
Post = Callable[[Callable[[], None]], None]


def at_once(call: Callable[[], None]) -> None:
    """Deliver in the worker itself; for the command line."""
    call()


class Lanes:
    """Named single-thread lanes; work in one lane runs in order, lanes run beside each other."""

    NAMES = ("journal", "store", "news", "bench", "compute", "watch", "solve")
    KEPT = ("journal", "store")
    """Lanes that finish what is queued when the window closes."""

    def __init__(self, post: Post = at_once) -> None:
        self.post = post
        self._pools = {name: ThreadPoolExecutor(1, thread_name_prefix=f"brachium-{name}") for name in self.NAMES}
        self._closing = threading.Event()

    def submit(
        self,
        lane: str,
        work: Callable[[], T],
        success: Callable[[T], None] | None = None,
        failure: Callable[[Exception], None] | None = None,
    ) -> Future[None]:
        """Run `work` in a lane, then deliver `success(result)` or `failure(error)` through `post`."""

        def task() -> None:
            try:
                result = work()
            except Exception as error:
                if failure is None:
                    raise
                caught = error
                self.deliver(lambda: failure(caught))
                return
            if success is not None:
                self.deliver(lambda: success(result))

        return self._pools[lane].submit(task)

    def deliver(self, call: Callable[[], None]) -> None:
        """A call that waits in the window's queue while the lanes close is dropped too."""
        if not self._closing.is_set():
            self.post(lambda: None if self._closing.is_set() else call())

    @property
    def closing(self) -> bool:
        """The window closes: long work in a lane ends early when it sees this."""
        return self._closing.is_set()

    def drain(self, lane: str) -> None:
        """Wait until everything submitted to a lane so far is done."""
        self._pools[lane].submit(lambda: None).result()

    def close(self) -> None:
        """Finish what is queued for the disk, drop the rest, deliver nothing more."""
        self._closing.set()
        for name, pool in self._pools.items():
            pool.shutdown(wait=False, cancel_futures=name not in self.KEPT)
        for pool in self._pools.values():
            pool.shutdown(wait=True)
