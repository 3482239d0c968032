"""A day's jobs as the arrays that the compiled kernels read (`day.h`): minutes from the day's begin on."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np

from brachium.core.base.arrays import BoolArray, IntArray
from brachium.core.base.kernels import Kernels, loaded
from brachium.core.day.blocks import DayJob, ShopDay, closed_between

VERSION = 1
DAY_KERNELS = Kernels(Path(__file__).parent, ("prices.c", "orders.c"), ("day.h",))
NO_CUT = -1


class DayArrays:
    """Keeps the arrays alive as long as the kernels may read them."""

    def __init__(self, jobs: Sequence[DayJob], shop: ShopDay, horizon: int, cut: int | None = None) -> None:
        """Up to `horizon` something can be placed; `cut` is the moment by which machines count as done "by the night".

        Raises OSError where the kernels are not built.
        """
        self.ffi, self.library = loaded(DAY_KERNELS)
        if self.library.brachium_day_version() != VERSION:
            raise OSError("the compiled kernels are of another version; run set-up again")
        self.jobs, self.shop = tuple(jobs), shop
        self.minutes = max(horizon - shop.now, 1)
        self.first = np.cumsum([0, *(len(j.blocks) for j in jobs)], dtype=np.int32)
        columns = _columns(jobs, shop, self.first, self.minutes)
        self._kept = {name: np.ascontiguousarray(values, dtype=np.int32) for name, values in columns.items()}
        cut_at = NO_CUT if cut is None else min(cut - shop.now, self.minutes)
        self.day = self.ffi.new(
            "brachium_day *",
            {
                "jobs": len(self.jobs),
                "minutes": self.minutes,
                "technicians": max(shop.technicians, 1),
                "benches": max(shop.benches, 1),
                "cut": cut_at,
                **{name: self.pointer(array) for name, array in self._kept.items()},
            },
        )

    def pointer(self, array: Any) -> Any:
        """The first element of an array of int32 or float64, for the kernels; the caller keeps the array."""
        kind = "int32_t *" if array.dtype == np.int32 else "double *"
        return self.ffi.cast(kind, array.ctypes.data)

    def check(self, done: int) -> int:
        """What a kernel gave back. Raises MemoryError where it found no room."""
        if done < 0:
            raise MemoryError("not enough memory for the day's order")
        return done


def _columns(jobs: Sequence[DayJob], shop: ShopDay, first: IntArray, minutes: int) -> dict[str, Any]:
    blocks = [b for j in jobs for b in j.blocks]
    never = np.iinfo(np.int32).max
    return {
        "first": first,
        "attended": [b.attended for b in blocks],
        "whole": [b.attended + b.unattended for b in blocks],
        "bench": [int(b.bench) for b in blocks],
        "fixed": [-1 if b.fixed is None else b.fixed - shop.now for b in blocks],
        "release": [max(j.release - shop.now, 0) for j in jobs],
        "due": [never if j.due is None else j.due - shop.now for j in jobs],
        "open": _open_minutes(shop, minutes),
    }


def _open_minutes(shop: ShopDay, minutes: int) -> IntArray:
    """For every minute, how many are open from it on; where it is closed, below 0: how many until it opens."""
    size = minutes + 1
    is_open = np.ones(size, dtype=bool)
    for start, end in closed_between(shop.hours):
        is_open[max(start - shop.now, 0) : max(end - shop.now, 0)] = False
    at = np.arange(size)

    def next_where(mask: BoolArray) -> IntArray:
        return np.minimum.accumulate(np.where(mask, at, size)[::-1])[::-1].astype(np.int32)

    return np.where(is_open, next_where(~is_open) - at, at - next_where(is_open)).astype(np.int32)
