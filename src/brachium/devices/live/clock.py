"""Real time. Sleeping goes to the next tick of a grid, so that late samples do not push all later ones."""

from __future__ import annotations

import threading
import time


class LiveClock:
    """Monotonic time [s]. `wake` ends a wait early, when a run is stopped."""

    def __init__(self) -> None:
        self._next = time.monotonic()
        self._wake = threading.Event()

    def now_s(self) -> float:
        return time.monotonic()

    def sleep(self, duration_s: float) -> None:
        now = time.monotonic()
        self._next += duration_s
        if self._next < now or self._next > now + 2 * duration_s:
            self._next = now + duration_s
        self._wake.wait(max(self._next - now, 0.0))
        self._wake.clear()

    def wake(self) -> None:
        self._wake.set()

    speed: float | None = 1.0

    def set_speed(self, speed: float | None) -> None:
        """Real time cannot run faster; None (as fast as possible, when stopping) ends the present wait."""
        if speed is None:
            self.wake()
