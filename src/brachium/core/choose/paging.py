"""Paging apart from the task's own reads: how much memory the work touches, and which part of its waiting for storage
more memory would take away.

The memory in use while the owner works says most: room left means that nothing is paged. Where it is full, or nobody
looked, the working set of the use stands in for it with its spread. The waiting that was measured is shared out between
paging and reads of the task's own by what either would bring about alone: draws that explain it count more, and the
less certain of the two takes more of what is left over (a Gaussian conditioned on the sum). So nothing jumps where the
memory just suffices.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from brachium.core.base.arrays import FloatArray
from brachium.core.base.units import GIB
from brachium.core.choose.assumptions import (
    EXPLAINED_SPREAD,
    LEAST_BELIEVED,
    LEAST_ODDS,
    MEMORY_ROOM,
    MEMORY_SHORT,
    OWN_READS,
    OWN_READS_SPREAD,
    PAGED_BY_DISK,
    PAGED_BY_FLASH,
    PAGED_SPREAD,
    RESERVED_GIB,
    SHORT_BY,
    SKEW_SPREAD,
    WORKING_MEASURED,
    WORKING_SPREAD,
)
from brachium.core.heat.assumptions import STALL_SPREAD, STALL_SPREAD_TYPED
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.system_drive import system_drive
from brachium.core.use.profile import UseProfile

LEAST_LEFT = 1e-3  # of the waiting that stays, so that no ratio is without bound


@dataclass(frozen=True)
class PagingDraws:
    """Draws of what the work needs, each of shape (n_draws,): working set [GiB], exponent of its skew, share of the
    owner's time that waits for storage, share of that waiting which is paging (both 0..1)."""

    working_gib: FloatArray
    skew: FloatArray
    waiting: FloatArray
    paged: FloatArray


def usable_gib(config: Configuration) -> float:
    """Memory that the owner's programs can have [GiB]."""
    return max(config.memory_bytes() / GIB - RESERVED_GIB, 0.0)


def miss_share(usable: float, working_gib: FloatArray | float, skew: FloatArray | float) -> FloatArray:
    """Share of memory accesses that miss: 1 - (M/W)^k with usable memory M [GiB] below the working set W, else 0."""
    return np.asarray(1.0 - np.minimum(usable / np.maximum(working_gib, 1e-6), 1.0) ** skew, dtype=np.float64)


def draw_paging(
    rng: np.random.Generator, profile: UseProfile, figures: BeforeFigures, machine: Machine, count: int
) -> PagingDraws:
    """What is known of memory and waiting, as draws."""
    today = machine.configuration()
    usable = usable_gib(today)
    working = _working_set(rng, profile, figures, today, count)
    skew = profile.skew * rng.lognormal(0.0, SKEW_SPREAD, count)
    drive = system_drive(machine, today)
    disk = rng.random(count) < 0.5 if drive is None else np.full(count, drive[1].rotational)  # either where not known
    paging = np.where(disk, PAGED_BY_DISK, PAGED_BY_FLASH) * rng.lognormal(0.0, PAGED_SPREAD, count)
    paging = paging * miss_share(usable, working, skew) * (today.memory_bytes() > 0)  # of no memory nothing is known
    stated = profile.shares.get("random", 0.0) + profile.shares.get("sequential", 0.0)
    own = np.where(disk, OWN_READS[1], OWN_READS[0]) * stated * rng.lognormal(0.0, OWN_READS_SPREAD, count)
    share, spread = waiting_share(figures)
    if share is None:  # the use's own reads are among its shares already
        return PagingDraws(working, skew, paging / (1.0 + paging), np.ones(count))
    waiting = np.clip(share * rng.lognormal(0.0, spread, count), 0.0, 0.95)
    if figures.memory_stall_share is not None and figures.stall_measured and figures.stall_share > 0.0:
        paged = np.full(count, min(figures.memory_stall_share / figures.stall_share, 1.0))
        return PagingDraws(np.where(paged > 0.0, np.maximum(working, usable * 1.01), working), skew, waiting, paged)
    kept = _believed(rng, waiting, paging + own)
    working, skew, paging, own = (v[kept] for v in (working, skew, paging, own))
    return PagingDraws(working, skew, waiting, _shared_out(waiting, paging, own))


def waiting_share(figures: BeforeFigures) -> tuple[float | None, float]:
    """(share of time waiting for storage, its log-normal spread): sampled, else told from a typed figure, else None."""
    if figures.stall_measured:
        return figures.stall_share, STALL_SPREAD
    return figures.typed_stall_share, STALL_SPREAD_TYPED


def _working_set(
    rng: np.random.Generator, profile: UseProfile, figures: BeforeFigures, today: Configuration, count: int
) -> FloatArray:
    """Draws of the working set [GiB], by the memory in use where it was seen."""
    stated = profile.working_set_gib * rng.lognormal(0.0, WORKING_SPREAD, count)
    seen = rng.lognormal(0.0, WORKING_MEASURED, count)
    over = 1.0 + SHORT_BY * np.abs(rng.normal(0.0, 1.0, count))
    chance = rng.random(count)
    size, used = today.memory_bytes() / GIB, figures.memory_used_gib
    if used is None and figures.memory_used_frac is not None:
        used = figures.memory_used_frac * size
    if used is None or size <= 0.0:
        return stated
    usable = usable_gib(today)
    enough = np.clip((used - RESERVED_GIB) * seen, 0.05, max(usable, 0.05))
    short = np.maximum(stated, usable * over)
    return np.where(chance < (used / size - MEMORY_ROOM) / (MEMORY_SHORT - MEMORY_ROOM), short, enough)


def _believed(rng: np.random.Generator, waiting: FloatArray, alone: FloatArray) -> npt.NDArray[np.intp]:
    """Which draws of the need to keep, each as often as it explains the waiting: much of it speaks for a working set
    well above the memory (importance resampling, systematic)."""
    seen = np.log(waiting / (1.0 - waiting) + LEAST_ODDS)
    away = (np.median(seen) - np.log(alone + LEAST_ODDS)) / EXPLAINED_SPREAD
    weight = np.exp(-0.5 * away**2) + LEAST_BELIEVED
    steps = (np.arange(waiting.size) + rng.random()) / waiting.size
    kept = np.searchsorted(np.cumsum(weight) / weight.sum(), steps)
    return rng.permutation(np.minimum(kept, waiting.size - 1))


def _shared_out(waiting: FloatArray, paging: FloatArray, own: FloatArray) -> FloatArray:
    """Share of the waiting that is paging, from what paging and own reads would bring about alone (as odds of time)."""
    odds = waiting / (1.0 - waiting)
    wide = (paging * PAGED_SPREAD) ** 2, (own * OWN_READS_SPREAD) ** 2
    part = wide[0] / np.maximum(wide[0] + wide[1], 1e-12)
    found = paging + (odds - paging - own) * part
    return np.clip(found / np.maximum(odds, 1e-9), 0.0, 1.0)


def fewer_waits(draws: PagingDraws, today: Configuration, later: Configuration) -> FloatArray:
    """Waiting for storage today over that with another memory and the same drive, shape (n_draws,)."""
    here, then = (miss_share(usable_gib(c), draws.working_gib, draws.skew) for c in (today, later))
    left = np.where(here > 0.0, then / np.where(here > 0.0, here, 1.0), 1.0)
    return np.asarray(1.0 / np.maximum(draws.paged * left + 1.0 - draws.paged, LEAST_LEFT))


def paging_held(draws: PagingDraws, percentile: float) -> PagingDraws:
    """The draws with the memory that the work needs, and the part of the waiting that goes with it, held at a
    percentile of theirs."""
    held = {
        k: np.full(draws.paged.size, np.percentile(getattr(draws, k), percentile)) for k in ("working_gib", "paged")
    }
    return replace(draws, **held)
