"""Days against days: how long the same work took before and after, by like minutes of load.

A new drive or more memory changes how long one waits, not how much there is to compute. So the processor's work is
the measure of what was done, and the time that went beside it is compared: minutes are sorted by what kind of load they
were (how much of it on all threads, how much graphics), each kind is weighed as the day before had it, and what a
person thought is taken from both days together. The interval comes from drawing stretches of 20 minutes anew (block
bootstrap).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.band import Band
from brachium.core.base.text import joined, phrase
from brachium.core.measure.run import Run
from brachium.core.measure.waiting import KEYS
from brachium.core.use.day_of_use import GRAPHICS, STALLS, DayOfUse, day_of, shared_out
from brachium.core.use.watched_rows import Rows, at_work, base_cores, rows_of

MINUTE_S, BLOCK_S = 60.0, 1200.0
DRAWS, SEED = 800, 41
PARALLEL = (0.35,)  # share of the work on all threads that parts the kinds of load
DRAWN = (0.25,)  # share of a minute in which graphics was busy, the same
LEAST_H = 2.0  # at work on each side, below which nothing is claimed
LEAST_WORK = 1e-3
SEEN_BY = {"storage": STALLS, "paging": STALLS, "graphics": GRAPHICS}  # the channel that a limit is told by
LEAST_SHARE = 0.04  # of the work on either side, below which a kind of load counts on neither


@dataclass(frozen=True)
class DayComparison:
    """`gain` is the work per time after over before, with its 80 % interval; held minutes per hour at work by KEYS."""

    before: DayOfUse
    after: DayOfUse
    gain: Band | None
    refusal: str

    def held(self, after: bool) -> dict[str, float]:
        """Minutes of each hour at work in which something of the machine was the limit, of what both sides recorded."""
        day = self.after if after else self.before
        hidden = {k for k, channel in SEEN_BY.items() if not (self.before.sees(channel) and self.after.sees(channel))}
        return {k: v / day.hours_at_work for k, v in day.held_min.items() if k not in hidden}


def compare_days(before: Run, after: Run, other_processor: bool = False) -> DayComparison | None:
    """Two watched runs against each other; None where one of them says nothing.

    `other_processor`: the work of one is then not the work of the other, and no gain is claimed.
    """
    first, second = day_of(before), day_of(after)
    if first is None or second is None:
        return None
    short = [name for name, d in (("before", first), ("after", second)) if d.hours_at_work < LEAST_H]
    if short:
        why = phrase(
            "at least {least_h:g} hours at work are needed on each side, {short} has fewer",
            least_h=LEAST_H,
            short=joined(" and ", short),
        )
        return DayComparison(first, second, None, why)
    dark = [name for name, d in (("before", first), ("after", second)) if not d.sees(STALLS)]
    if dark:
        why = phrase(
            "what was waited for {dark} was not recorded (the kernel keeps no pressure stalls)",
            dark=joined(" and ", dark),
        )
        return DayComparison(first, second, None, why)
    if first.sees(GRAPHICS) != second.sees(GRAPHICS):
        return DayComparison(first, second, None, "graphics was recorded on one side only")
    if other_processor:
        why = "another processor does other work in a second: days are compared by what held them back, not by a gain"
        return DayComparison(first, second, None, why)
    gain = _gain(_blocks(before), _blocks(after))
    return DayComparison(first, second, gain, "" if gain is not None else "no kind of load came up on both sides")


def _gain(before: FloatArray, after: FloatArray) -> Band | None:
    rng = np.random.default_rng(SEED)
    shares = _work(before), _work(after)
    weight = np.where((shares[0] > LEAST_SHARE) & (shares[1] > LEAST_SHARE), shares[0], 0.0)
    if not weight.any():
        return None
    whole = before.sum(axis=0)[None], after.sum(axis=0)[None]
    ratio = _ratio(_drawn(before, rng), _drawn(after, rng), weight)
    mid = float(_ratio(*whole, weight)[0])
    low, high = np.percentile(np.log(ratio) - np.median(np.log(ratio)), [10.0, 90.0])
    return Band(mid * float(np.exp(low)), mid, mid * float(np.exp(high)))


def _work(blocks: FloatArray) -> FloatArray:
    """Share of the work by kind of load, shape (n_kinds,)."""
    work = np.maximum(blocks[..., 0].sum(axis=0), 0.0)
    share: FloatArray = work / max(work.sum(), LEAST_WORK)
    return share


def _ratio(before: FloatArray, after: FloatArray, weight: FloatArray) -> FloatArray:
    """Time per work before over after, shape (n_draws,); by the share of each kind of load."""
    safe = np.maximum(before[..., 0], LEAST_WORK), np.maximum(after[..., 0], LEAST_WORK)
    person = (before[..., 2] + after[..., 2]) / (safe[0] + safe[1])
    times = [(part[..., 1] / work + person) * weight for part, work in zip((before, after), safe, strict=True)]
    out: FloatArray = times[0].sum(axis=-1) / np.maximum(times[1].sum(axis=-1), LEAST_WORK)
    return out


def _drawn(blocks: FloatArray, rng: np.random.Generator) -> FloatArray:
    """Sums over blocks drawn with replacement, shape (DRAWS, n_kinds, 3)."""
    n = blocks.shape[0]
    counts = rng.multinomial(n, np.full(n, 1.0 / n), DRAWS)
    out: FloatArray = np.tensordot(counts.astype(np.float64), blocks, axes=(1, 0))
    return out


def _blocks(run: Run) -> FloatArray:
    """Work, time in which the machine was the limit, and the rest, shape (n_blocks, n_kinds, 3)."""
    rows = rows_of(run)
    there = at_work(rows)
    table = shared_out(rows)
    length = np.where(there, rows.length_s, 0.0)
    free = table[:, KEYS.index("free")]
    work = (rows.get("cores_busy") - base_cores(rows)) * _clock(rows) * length  # noise of quiet rows cancels in sums
    values = np.stack([work, (1.0 - free) * length, free * length], axis=1)
    at_s = np.cumsum(rows.length_s) - 0.5 * rows.length_s
    minute = (at_s / MINUTE_S).astype(int)
    kind = _kinds(rows, table, minute)
    block = (at_s / BLOCK_S).astype(int)
    out = np.zeros((int(block.max()) + 1, (len(PARALLEL) + 1) * (len(DRAWN) + 1), 3))
    np.add.at(out, (block, kind), values)
    kept: FloatArray = out[out[..., 0].sum(axis=1) > LEAST_WORK]
    return kept


def _clock(rows: Rows) -> FloatArray:
    """Clock in GHz, its mean where a row does not hold it, 1 where nobody saw it."""
    if not rows.has("clock_mhz"):
        return np.ones(rows.length_s.size)
    return rows.get("clock_mhz", float(np.nanmean(rows.columns["clock_mhz"]))) / 1000.0


def _kinds(rows: Rows, table: FloatArray, minute: np.ndarray) -> np.ndarray:
    """The kind of load of each row, by the minute that it lies in."""
    together = rows.get("all_threads_frac") * float(np.percentile(rows.get("cores_busy"), 99.9))
    sums = [np.bincount(minute, weights=v) for v in (together, rows.get("cores_busy"), rows.get("gpu_util_frac"))]
    count = np.maximum(np.bincount(minute), 1)
    parallel = np.digitize(sums[0] / np.maximum(sums[1], LEAST_WORK), PARALLEL)
    drawn = np.digitize(sums[2] / count, DRAWN)
    out: np.ndarray = (parallel * (len(DRAWN) + 1) + drawn)[minute]
    return out
