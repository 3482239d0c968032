"""What a watched day says: where its time went, hour by hour, how much memory it needed, what held the owner back.

Each row of 15 s is shared out among what could limit it, as in measure/waiting.py; the shares of a row sum to one:
    paging    pressure of memory, whole tasks waiting for it
    storage   pressure of drives without that
    held      all threads busy, times what the clock was below its best
    processor all threads busy, the rest
    thread    one thread's worth of work
    graphics  graphics busy while nothing of the above was
    free      a person thinks, or the network is waited for
Rows in which nobody was there are left out. What was not recorded is named and counts as nothing known, not as zero.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.text import joined
from brachium.core.measure.run import Run
from brachium.core.measure.waiting import KEYS
from brachium.core.use.watched_rows import Rows, at_work, base_cores, rows_of

LEAST_H = 0.5  # of somebody at work, below which a day says nothing
NEED_PERCENTILE, NEED_LOW, NEED_HIGH = 96.0, 90.0, 100.0
SHORT_STALL = 0.005  # share of the time waiting for memory from which on there was too little of it
ENOUGH = 0.92  # of a memory that may be in use before a kernel begins to page
SIZES_GIB = (2, 4, 6, 8, 12, 16, 20, 24, 32, 48, 64, 96, 128)
NETWORK_BUSY_MB_S = 0.25  # from which on the network is more than background
LINE_PERCENTILE = 99.5  # of the busiest seconds: what the line gives
STALLS, PAGING, GRAPHICS, NETWORK = "io_stall_frac", "memory_stall_frac", "gpu_util_frac", "network_mb_s"
BLIND = {
    STALLS: "waiting for drives and memory (the kernel keeps no pressure stalls)", PAGING: "paging apart from drives",
    GRAPHICS: "graphics", NETWORK: "the network", "memory_gib": "memory in use",
}  # fmt: skip


@dataclass(frozen=True)
class MemoryNeed:
    """Memory in use and swapped out while somebody worked [GiB]: typical high, its range; `at_least`: more may be
    needed, since pages had nowhere else to go."""

    low_gib: float
    mid_gib: float
    high_gib: float
    at_least: bool

    @property
    def enough_gib(self) -> int | None:
        """The smallest usual size that would have done; None where nobody can say."""
        if self.at_least:
            return None
        return next((s for s in SIZES_GIB if ENOUGH * s >= self.mid_gib), None)


@dataclass(frozen=True)
class DayOfUse:
    """`shares` of the time at work by KEYS (sum 1); `by_hour` minutes, shape (24, len(KEYS)); `overlap` 0..1. `blind`
    are the channels that no row holds: what they would show is within `free`, and not known."""

    hours: float
    hours_at_work: float
    shares: Mapping[str, float]
    network_share: float
    by_hour: FloatArray
    need: MemoryNeed | None
    total_gib: float | None
    overlap: float
    blind: tuple[str, ...]

    def sees(self, channel: str) -> bool:
        """Whether a channel was recorded."""
        return channel not in self.blind

    @property
    def blind_words(self) -> str:
        """What was not recorded; empty where all was."""
        return joined("; ", (BLIND[k] for k in self.blind if k != PAGING or self.sees(STALLS)))

    @property
    def held_min(self) -> Mapping[str, float]:
        """Minutes in which the machine was the limit, by what of it."""
        return {k: 60.0 * self.hours_at_work * self.shares[k] for k in KEYS if k != "free"}

    @property
    def limiter(self) -> str:
        """What of the machine limited longest."""
        return max((k for k in KEYS if k != "free"), key=lambda k: self.shares[k])


def day_of(run: Run) -> DayOfUse | None:
    """What a watched run says; None where nobody was at work long enough."""
    rows = rows_of(run)
    there = at_work(rows)
    weight = np.where(there, rows.length_s, 0.0)
    if weight.sum() < 3600.0 * LEAST_H or not rows.has("cores_busy"):
        return None
    table = shared_out(rows)
    shares = {k: float((table[:, i] * weight).sum() / weight.sum()) for i, k in enumerate(KEYS)}
    network = float((_network(rows, table) * weight).sum() / weight.sum())
    blind = tuple(key for key in BLIND if not rows.has(key))
    total = float(np.nanmax(rows.columns["memory_total_gib"])) if rows.has("memory_total_gib") else None
    return DayOfUse(
        rows.hours, float(weight.sum()) / 3600.0, shares, network, _by_hour(rows, table, weight),
        _need(rows, weight, shares["paging"], total), total, _overlap(rows, table, weight), blind,
    )  # fmt: skip


def shared_out(rows: Rows) -> FloatArray:
    """Shares of each row by KEYS, shape (n_rows, len(KEYS))."""
    stall = np.clip(rows.get("io_stall_frac"), 0.0, 1.0)
    paging = np.minimum(np.clip(rows.get("memory_stall_frac"), 0.0, 1.0), np.maximum(stall, 0.0))
    storage = stall - paging
    left = 1.0 - stall
    together = np.minimum(rows.get("all_threads_frac"), left)
    one = np.minimum(np.maximum(rows.get("one_thread_frac") - base_cores(rows), 0.0), left - together)
    graphics = np.clip(rows.get("gpu_util_frac"), 0.0, left - together - one)
    clock = rows.get("clock_mhz", np.nan)
    top = float(np.nanpercentile(clock, 99.0)) if np.isfinite(clock).any() else float("nan")
    kept = np.where(np.isfinite(clock), np.clip(clock / top, 0.0, 1.0), 1.0) if np.isfinite(top) else np.ones(left.size)
    held = together * (1.0 - kept)
    busy = together + one + graphics + storage + paging
    columns = {
        "processor": together - held, "held": held, "thread": one, "paging": paging, "storage": storage,
        "graphics": graphics, "free": np.clip(1.0 - busy, 0.0, 1.0),
    }  # fmt: skip
    return np.stack([columns[k] for k in KEYS], axis=1)


def _network(rows: Rows, table: FloatArray) -> FloatArray:
    """Of the free share the part in which the line was full: what came over it against the most that it ever gave."""
    rate = rows.get("network_mb_s")
    peak = rows.get("network_peak_mb_s") if rows.has("network_peak_mb_s") else rate
    most = float(np.percentile(peak, LINE_PERCENTILE)) if rate.size else 0.0
    if most < NETWORK_BUSY_MB_S:
        return np.zeros(rate.size)
    out: FloatArray = np.minimum(rate / most, 1.0)
    return np.minimum(out, table[:, KEYS.index("free")])


def _by_hour(rows: Rows, table: FloatArray, weight: FloatArray) -> FloatArray:
    """Minutes by hour of the day and limit; of a watch without a time of day all stand in hour 0."""
    hour = np.clip(rows.get("clock_h").astype(int), 0, 23)
    out = np.zeros((24, len(KEYS)))
    np.add.at(out, hour, table * weight[:, None] / 60.0)
    return out


def _need(rows: Rows, weight: FloatArray, paging: float, total: float | None) -> MemoryNeed | None:
    """From memory in use and what was swapped out beyond what always was."""
    if not rows.has("memory_gib"):
        return None
    swap = rows.get("swap_gib")
    there = weight > 0.0
    need = (rows.get("memory_gib") + np.maximum(swap - swap.min(), 0.0))[there]
    low, mid, high = (float(np.percentile(need, p)) for p in (NEED_LOW, NEED_PERCENTILE, NEED_HIGH))
    nowhere = not rows.has("swap_gib") or float(swap.max() - swap.min()) < 0.02
    short = nowhere and total is not None and (paging > SHORT_STALL or mid >= ENOUGH * total)
    return MemoryNeed(low, mid, high, short)


def _overlap(rows: Rows, table: FloatArray, weight: FloatArray) -> float:
    """Share of the work in which drive or graphics were busy beside the processor."""
    computing = table[:, [KEYS.index(k) for k in ("processor", "held", "thread")]].sum(axis=1)
    stalled = table[:, [KEYS.index(k) for k in ("storage", "paging")]].sum(axis=1)
    beside = np.minimum(np.maximum(rows.get("disk_busy_frac") - stalled, 0.0), computing)
    drawn = np.minimum(rows.get("gpu_util_frac"), computing)
    whole = float(((computing + stalled) * weight).sum())
    return float(np.clip(((np.maximum(beside, drawn)) * weight).sum() / whole, 0.0, 1.0)) if whole > 0.0 else 0.0
