"""What the machine waited for: shares of time per phase or test, and the limiter in words.

Every sample is shared out among what could limit it; the shares of a stretch sum to one:
    storage   the share of the time in which the whole task waited for storage (pressure stall, full)
    paging    the same while memory was full
    held      processor busy, times (1 - clock / highest all-thread clock seen): work not done for a lower clock
    processor all threads busy, without what is lost to the clock
    graphics  graphics busy while the processor was not
    thread    one thread's worth of processor: the rest of the threads had nothing to do
    free      nothing of the machine limits: a person, the network, or a frame cap
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.arrays import FloatArray, filled, smoothed
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.measure.assumptions import ALL_BUSY, GRAPHICS_BUSY, MEMORY_FULL
from brachium.core.measure.run import Phase, Run, Trace

KEYS = ("processor", "held", "thread", "paging", "storage", "graphics", "free")
TITLES = {
    "processor": "all threads", "held": "lowered clock", "thread": "one thread", "paging": "paging",
    "storage": "storage", "graphics": "graphics", "free": "nothing",
}  # fmt: skip
SHORT_S = 5.0
SKIPPED = ("rest", "settle", "memory test", "test file", "cool-down", "idle")
# these load one thing alone, so that it limits; a task of every day says itself where its seconds went
_ALONE = ("mem_", "drive_", "probe_", "task_", "ladder", "gpu_", "frames_", "soft_", "heat_")
BY_DESIGN = tuple(phrase("test {k}", k=k) for k in _ALONE)


@dataclass(frozen=True)
class Limit:
    """One phase or test: length [s], shares by KEYS (sum 1), the limiter in words, what was not sampled."""

    name: str
    duration_s: float
    shares: dict[str, float]
    words: str
    blind: tuple[str, ...]

    @property
    def limiter(self) -> str:
        return max(self.shares, key=lambda k: self.shares[k])


FIRST = ("test own_task", "test start_up", "load")


def limits_of(run: Run, threads: int) -> tuple[Limit, ...]:
    """One entry for each kind of phase or test of a run, stretches of one name together, the owner's task first."""
    found: dict[str, list[Trace]] = {}
    for session in run.sessions:
        for phase in session.trace.phases:
            if (
                phase.name not in SKIPPED
                and not phase.name.startswith(BY_DESIGN)
                and phase.end_s - phase.start_s >= SHORT_S
            ):
                found.setdefault(phase.name, []).append(_cut(session.trace, phase))
    top = top_clock_mhz(run)
    out = (_limit(name, parts, threads, top) for name, parts in found.items())
    whole = [x for x in out if x is not None]
    return tuple(sorted(whole, key=lambda x: FIRST.index(x.name) if x.name in FIRST else len(FIRST)))


def _cut(trace: Trace, phase: Phase) -> Trace:
    return trace.cut(phase.start_s + 1.0, phase.end_s)


def top_clock_mhz(run: Run) -> float:
    """Highest clock held for three samples with all threads busy; one thread alone may well run faster by design."""
    found = []
    for session in run.sessions:
        clock, util = session.trace.values("clock_mhz"), session.trace.values("util_frac")
        if clock is None or util is None or not np.isfinite(clock).any():
            continue
        busy = np.nan_to_num(util) >= ALL_BUSY
        if busy.sum() > 3:
            found.append(float(smoothed(filled(clock), 3)[busy].max()))
    return max(found, default=float("nan"))


def highest_clock_mhz(run: Run) -> float | None:
    """Highest clock held for three samples at any load [MHz]; None without a clock."""
    clocks = [c for s in run.sessions if (c := s.trace.values("clock_mhz")) is not None and np.isfinite(c).sum() > 3]
    return max((float(smoothed(filled(c), 3).max()) for c in clocks), default=None)


def _limit(name: str, parts: list[Trace], threads: int, top_mhz: float) -> Limit | None:
    parts = [p for p in parts if p.time_s.size >= 2]
    if not parts or all(p.values("util_frac") is None for p in parts):
        return None
    columns = [_shared_out(p, threads, top_mhz) for p in parts if p.values("util_frac") is not None]
    table = np.concatenate(columns)
    shares = {k: float(v) for k, v in zip(KEYS, table.mean(axis=0), strict=True)}
    names = {"io_stall_frac": "waiting for storage", "gpu_util_frac": "graphics", "clock_mhz": "clock"}
    blind = tuple(words for key, words in names.items() if all(p.values(key) is None for p in parts))
    length = sum(float(p.time_s[-1] - p.time_s[0]) for p in parts)
    return Limit(name, length, shares, _words(shares, blind), blind)


def _shared_out(trace: Trace, threads: int, top_mhz: float) -> FloatArray:
    """Shares of each sample, shape (n_samples, len(KEYS))."""
    n = trace.time_s.size
    util = _series(trace, "util_frac", 0.0)
    stall = np.clip(_series(trace, "io_stall_frac", 0.0), 0.0, 1.0)
    full = _series(trace, "memory_used_frac", 0.0) > MEMORY_FULL
    clock = np.clip(_series(trace, "clock_mhz", top_mhz) / top_mhz, 0.0, 1.0) if np.isfinite(top_mhz) else np.ones(n)
    graphics = _series(trace, "gpu_util_frac", 0.0) > GRAPHICS_BUSY
    left = 1.0 - stall
    running = np.clip(util / np.maximum(left, 0.05), 0.0, 1.0)  # utilisation counts waiting time as idle
    busy = running >= ALL_BUSY
    seen = ~busy & graphics
    one = np.where(busy | seen, 0.0, np.clip(running * threads, 0.0, 1.0))
    out = np.zeros((n, len(KEYS)))
    out[:, 0] = left * busy * clock
    out[:, 1] = left * busy * (1.0 - clock)
    out[:, 2] = left * one
    out[:, 3], out[:, 4] = stall * full, stall * ~full
    out[:, 5] = left * seen
    out[:, 6] = np.clip(1.0 - out[:, :6].sum(axis=1), 0.0, 1.0)
    return out


def _series(trace: Trace, key: str, missing: float) -> FloatArray:
    values = trace.values(key)
    return np.full(trace.time_s.size, missing) if values is None else np.where(np.isfinite(values), values, missing)


def _words(shares: dict[str, float], blind: tuple[str, ...]) -> str:
    first = max(shares, key=lambda k: shares[k])
    whole = {
        "processor": "the processor limits, with all its threads",
        "held": "the processor limits, at a lowered clock",
        "thread": "one thread limits: more of them would not help",
        "paging": "memory limits: the task waits for paging",
        "storage": "the drive limits",
        "graphics": "the graphics limits while the processor waits",
        "free": "nothing of the machine limits: a person, the network or a frame cap",
    }[first]
    if first == "free" and "graphics" in blind:
        whole += "; graphics was not sampled"
    beside = {"held": "is lost to a lowered clock", "paging": "is paging", "storage": "is waiting for the drive",
              "graphics": "is waiting for the graphics"}  # fmt: skip
    for key, words in beside.items():
        if key != first and shares[key] > 0.05:
            whole += phrase("; {shares:.0f} % {words}", shares=100 * shares[key], words=words)
    return whole
