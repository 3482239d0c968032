"""Two pieces of work measured in turn, so that a busy moment falls on both."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Limit:
    """What was done, by the program and bare [s]."""

    name: str
    program_s: float
    bare_s: float
    bare: str

    @property
    def ratio(self) -> float:
        return self.program_s / self.bare_s


def in_turn(one: Callable[[], object], other: Callable[[], object], times: int = 9) -> tuple[float, float]:
    """Median times of two pieces of work [s]; both are done once before."""
    one(), other()
    took: tuple[list[float], list[float]] = ([], [])
    for _ in range(times):
        for work, out in zip((one, other), took, strict=True):
            start = time.perf_counter()
            work()
            out.append(time.perf_counter() - start)
    return statistics.median(took[0]), statistics.median(took[1])
