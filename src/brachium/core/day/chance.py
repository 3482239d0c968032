"""The chance to keep each promise: the sheet's order kept, attended minutes drawn log-normally with their spread."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.day.blocks import DayJob, Sheet, ShopDay

DRAWS, SEED = 1000, 31


def chances(jobs: Sequence[DayJob], sheet: Sheet, shop: ShopDay, draws: int = DRAWS) -> dict[str, float]:
    """Share of draws in which each promised job is done in time.

    Blocks start in the sheet's order, when the technician and the bench are free and the job's last block is over, and
    never before they stand on the sheet: nobody starts early what was promised to others.
    """
    rng = np.random.default_rng(SEED)
    technician = np.full((max(shop.technicians, 1), draws), float(shop.now))
    bench = np.full((max(shop.benches, 1), draws), float(shop.now))
    done: dict[str, FloatArray] = {}
    for p in sorted(sheet.placed, key=lambda p: (p.start, p.block.id)):
        took = p.block.attended * rng.lognormal(0.0, p.block.spread, draws)
        start = np.maximum(technician[p.technician], float(p.start))
        start = np.maximum(start, done.get(p.block.job_id, np.zeros(draws)))
        if p.bench >= 0 and _opens(sheet, p.block.job_id) == p.block.id:
            start = np.maximum(start, bench[p.bench])
        end = _worked(start, took, shop.hours)
        technician[p.technician] = end
        over = end + p.block.unattended
        done[p.block.job_id] = over
        if p.bench >= 0:
            bench[p.bench] = over
    return {j.id: float((done[j.id] <= j.due).mean()) for j in jobs if j.due is not None and j.id in done}


def _opens(sheet: Sheet, job_id: str) -> str:
    """The first open block of a job."""
    return next((p.block.id for p in sorted(sheet.of(job_id), key=lambda p: p.start) if p.bench >= 0), "")


def _worked(start: FloatArray, took: FloatArray, hours: Sequence[tuple[int, int]]) -> FloatArray:
    """When work that starts then is over, counting opening hours only."""
    left = took.copy()
    at = start.copy()
    end = start.copy()
    for begin, close in hours:
        inside = np.clip(close - np.maximum(at, begin), 0.0, None)
        use = np.minimum(inside, left)
        working = use > 0.0
        end = np.where(working, np.maximum(at, begin) + use, end)
        left = left - use
        at = np.maximum(at, float(close))
    return np.where(left > 1e-9, end + left, end)
