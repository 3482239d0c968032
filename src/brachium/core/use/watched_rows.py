"""The rows of a watch as one table: what was seen in each of them, how long it was, whether somebody was at work."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from brachium.core.base.arrays import BoolArray, FloatArray, IndexArray
from brachium.core.base.late_numpy import np
from brachium.core.measure.run import Run

WATCH = "Watch"  # name of the protocol that a watched day is kept under
BASE_PERCENTILE = 10.0  # of the busy processors: what works beside while nobody does anything
# above the base, and of drive, graphics or stalls, from which on a row is busy; and so many swings of the quiet rows
BUSY_CORES, BUSY_SHARE, SWINGS = 0.04, 0.05, 4.0
BESIDE = 2.5  # mean of what works beside over its lowest tenth
AWAY_S = 300.0  # so long without anything busy and nobody is there


@dataclass(frozen=True)
class Rows:
    """Columns by channel, shape (n_rows,); NaN where a row does not hold it, absent where none does."""

    length_s: FloatArray
    columns: dict[str, FloatArray]
    session: IndexArray

    def get(self, key: str, missing: float = 0.0) -> FloatArray:
        """A column with a value for what is missing."""
        values = self.columns.get(key)
        return (
            np.full(self.length_s.size, missing) if values is None else np.where(np.isfinite(values), values, missing)
        )

    def has(self, key: str) -> bool:
        return key in self.columns and bool(np.isfinite(self.columns[key]).any())

    @property
    def hours(self) -> float:
        return float(self.length_s.sum()) / 3600.0


def rows_of(run: Run) -> Rows:
    """All stretches of a watched run, one after the other."""
    keys = {s.key for session in run.sessions for s in session.trace.series}
    lengths, sessions, parts = [], [], {k: [] for k in keys}  # type: ignore[var-annotated]
    for number, session in enumerate(run.sessions):
        time_s = session.trace.time_s
        step = np.diff(time_s, prepend=0.0)
        usual = float(np.median(step)) if step.size else 0.0
        lengths.append(np.minimum(step, 2.0 * usual))
        sessions.append(np.full(time_s.size, number))
        for key in keys:
            values = session.trace.values(key)
            parts[key].append(np.full(time_s.size, np.nan) if values is None else values)
    if not lengths:
        return Rows(np.zeros(0), {}, np.zeros(0, dtype=np.intp))
    return Rows(np.concatenate(lengths), {k: np.concatenate(v) for k, v in parts.items()}, np.concatenate(sessions))


def joined_days(runs: Sequence[Run]) -> Run | None:
    """Several watched runs of one configuration as one; None without any."""
    if not runs:
        return None
    sessions = [s for r in runs for s in r.sessions]
    whole = tuple(replace(s, number=k) for k, s in enumerate(sessions, 1))
    return replace(runs[-1], sessions=whole, notes=tuple(dict.fromkeys(n for r in runs for n in r.notes)))


def base_cores(rows: Rows) -> float:
    """Busy processors while nobody does anything [cores]: the mean of what works beside lies above its lowest tenth."""
    cores = rows.get("cores_busy")
    if not cores.size:
        return 0.0
    low, some = np.percentile(cores, [BASE_PERCENTILE, 3.0 * BASE_PERCENTILE])
    return float(min(some, BESIDE * low))


def busy_rows(rows: Rows) -> BoolArray:
    """Rows in which more was done than what always works beside, shape (n_rows,)."""
    cores = rows.get("cores_busy")
    if not cores.size:
        return np.zeros(0, dtype=np.bool_)
    low, some = np.percentile(cores, [BASE_PERCENTILE, 3.0 * BASE_PERCENTILE])
    busy = cores > low + max(BUSY_CORES, SWINGS * min(some - low, 0.1))
    for key in ("disk_busy_frac", "gpu_util_frac", "io_stall_frac"):
        busy |= rows.get(key) > BUSY_SHARE
    return np.asarray(busy, dtype=np.bool_)


def at_work(rows: Rows) -> BoolArray:
    """Rows in which somebody was there: something was busy in them or not long before and after, shape (n_rows,)."""
    busy = busy_rows(rows)
    if not busy.any():
        return np.asarray(busy, dtype=np.bool_)
    middle = np.cumsum(rows.length_s) - 0.5 * rows.length_s
    seen = middle[busy]
    before = seen[np.clip(np.searchsorted(seen, middle, side="right") - 1, 0, seen.size - 1)]
    after = seen[np.clip(np.searchsorted(seen, middle), 0, seen.size - 1)]
    gap = np.where(before <= middle, middle - before, np.inf) + np.where(after >= middle, after - middle, np.inf)
    return np.asarray(busy | (gap <= AWAY_S), dtype=np.bool_)
