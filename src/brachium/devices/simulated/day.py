"""A day of an owner in numbers: stretches of work of several kinds, actions in them, what each second was spent on.

Every action takes its turn: thinking, one thread, all threads, reads, paging, network, graphics; how long each of them
lasts follows from the machine's clock, threads, drive and memory. The true seconds are kept beside what a watch would
have seen of them, which is blurred: programs beside, incomplete use of threads, swap that nobody asks for again, a
person who goes away.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.paging import miss_share

ROW_S = 15.0
KINDS = ("person", "thread", "processor", "storage", "paging", "network", "graphics")
FEEDS = 0.1  # of a thread that is seen beside graphics though it only feeds it
DOES_READ_MB = 0.12  # of an average small request with what is read ahead


@dataclass(frozen=True)
class KindOfWork:
    """One action of a kind of work, medians: seconds of thinking, of one thread and of all threads' work at full clock,
    small reads, megabytes in order, touches that may miss, megabytes of network, seconds of graphics; working set."""

    think_s: float
    thread_s: float
    all_s: float
    reads: float
    mb: float
    touches: float
    network_mb: float
    graphics_s: float
    working_gib: float


@dataclass(frozen=True)
class DayMachine:
    """What decides how long things take: threads, clock share, memory, drive, its link to the world [MB/s]."""

    threads: int
    memory_gib: float
    drive: SimulatedDrive
    clock_share: float = 1.0
    system_gib: float = 0.9
    link_mb_s: float = 8.0
    graphics_speed: float = 1.0


@dataclass(frozen=True)
class DayOwner:
    """Kinds of work with how much of the day each takes, hours at the machine, how programs beside behave."""

    work: tuple[tuple[KindOfWork, float], ...]
    hours: float = 7.0
    start_h: float = 8.5
    spread: float = 0.7  # of an action, log-normal
    overlap: float = 0.1  # share of the reading that goes on beside computing
    beside_cores: float = 0.04
    cold_gib: float = 0.3  # swapped out and never asked for again, where memory is short
    away: float = 0.15  # share of the hours in which nobody is there


@dataclass(frozen=True)
class SimulatedDay:
    """Rows as a watch keeps them, columns by channel; the truth: seconds by KINDS, largest working set, overlap."""

    time_s: FloatArray
    columns: dict[str, FloatArray] = field(repr=False)
    truth_s: dict[str, float]
    working_gib: float
    actions: float
    active_s: float

    @property
    def shares(self) -> dict[str, float]:
        """Of the time in which somebody was there."""
        whole = sum(self.truth_s.values())
        return {k: v / whole for k, v in self.truth_s.items()}


def simulate_day(owner: DayOwner, machine: DayMachine, seed: int) -> SimulatedDay:
    """One day. The same owner, machine and seed give the same day."""
    rng = np.random.default_rng([seed, 77])
    count = int(owner.hours * 3600.0 / ROW_S)
    spent = np.zeros((count, len(KINDS)))
    need = np.full(count, 0.25)
    there = np.zeros(count, dtype=bool)
    at, done, end = 0.0, 0.0, count * ROW_S
    latency = _latencies(machine, rng)
    while at < end:
        kind = owner.work[int(rng.choice(len(owner.work), p=_weights(owner)))][0]
        until = min(at + rng.uniform(300.0, 1800.0), end)
        working = kind.working_gib * float(rng.lognormal(0.0, 0.08))
        first = at
        while at < until:
            at = _action(kind, working, owner, machine, latency, rng, spent, at, end)
            done += 1.0
        last = min(int(at / ROW_S) + 1, count)
        need[int(first / ROW_S) : last] = working
        there[int(first / ROW_S) : last] = True
        if rng.random() < owner.away * 2.0:
            at += float(rng.exponential(0.5 * 1050.0))
    spent[there] *= (ROW_S / np.maximum(spent[there].sum(axis=1), 1e-9))[:, None]
    spent[~there] = 0.0
    truth = {k: float(spent[:, i].sum()) for i, k in enumerate(KINDS)}
    columns = _seen(owner, machine, spent, need, there, rng)
    time_s = np.asarray((np.arange(count) + 1.0) * ROW_S, dtype=np.float64)
    return SimulatedDay(time_s, columns, truth, float(need[there].max()), done, float(there.sum() * ROW_S))


def _weights(owner: DayOwner) -> FloatArray:
    share = np.array([w for _, w in owner.work], dtype=np.float64)
    return np.asarray(share / share.sum())


def _latencies(machine: DayMachine, rng: np.random.Generator) -> tuple[float, float]:
    """(seconds of a small read, of a megabyte in order)."""
    return 1.0 / machine.drive.random_reads_s(2, 0.3, rng), 1.0 / machine.drive.sequential_mb_s(0.3)


def _action(
    kind: KindOfWork, working: float, owner: DayOwner, machine: DayMachine, latency: tuple[float, float],
    rng: np.random.Generator, spent: FloatArray, at: float, end: float,
) -> float:  # fmt: skip
    """One action entered into the rows from `at` on; returns when it is over."""
    scale = rng.lognormal(0.0, owner.spread, 8)
    thread = kind.thread_s * scale[1] / machine.clock_share
    everything = kind.all_s * scale[2] / machine.clock_share * 8.0 / machine.threads
    reading = kind.reads * scale[3] * latency[0] + kind.mb * scale[4] * latency[1]
    reading = max(reading - owner.overlap * (thread + everything), 0.25 * reading)
    missed = miss_share(machine.memory_gib - machine.system_gib, working)
    paging = kind.touches * scale[5] * missed * latency[0]
    parts = {
        "person": kind.think_s * scale[0], "thread": thread, "processor": everything, "storage": reading,
        "paging": paging, "network": kind.network_mb * scale[6] / machine.link_mb_s,
        "graphics": kind.graphics_s * scale[7] / machine.graphics_speed,
    }  # fmt: skip
    for name in rng.permutation(np.array(KINDS)):
        left = parts[str(name)]
        column = KINDS.index(str(name))
        while left > 1e-9 and at < end:
            row = min(int(at / ROW_S), spent.shape[0] - 1)
            step = min(left, (row + 1) * ROW_S - at + 1e-9)
            spent[row, column] += step
            at, left = at + step, left - step
    return at


def _seen(
    owner: DayOwner, machine: DayMachine, spent: FloatArray, need: FloatArray, there: np.ndarray,
    rng: np.random.Generator,
) -> dict[str, FloatArray]:  # fmt: skip
    """What a watch sees of it."""
    n = spent.shape[0]
    part = {k: spent[:, i] / ROW_S for i, k in enumerate(KINDS)}

    def blurred(values: FloatArray, spread: float) -> FloatArray:
        return np.clip(values * rng.lognormal(0.0, spread, n), 0.0, 1.0)

    whole = rng.uniform(0.75, 1.0, n)  # how much of the threads such a stretch keeps busy
    beside = owner.beside_cores * rng.lognormal(0.0, 0.6, n)
    together = part["processor"] * whole
    cores = part["thread"] + together * machine.threads + (1.0 - whole) * part["processor"] + beside
    alone = part["thread"] + np.minimum(beside, 1.0) + 0.5 * (1.0 - whole) * part["processor"]
    alone = alone + FEEDS * part["graphics"]
    memory_full = rng.uniform(0.85, 1.0, n)
    free = machine.memory_gib - machine.system_gib
    used = machine.system_gib + np.minimum(need * rng.normal(1.0, 0.03, n), free)
    short = np.maximum(need - free, 0.0)
    cold = owner.cold_gib * (short.max() > 0.0)
    small = 1.0 / machine.drive.random_reads_s(2, 0.3, np.random.default_rng(1))
    rate = {"storage": DOES_READ_MB / max(small, 1e-5), "paging": 0.016 / max(small, 1e-5)}
    reading = np.minimum(part["storage"] + part["paging"] + owner.overlap * part["thread"], 1.0)
    network = part["network"] * machine.link_mb_s * rng.lognormal(0.0, 0.1, n) + rng.exponential(0.004, n)
    fastest = np.minimum(machine.link_mb_s, network * ROW_S) * rng.uniform(0.85, 1.0, n)
    moved = part["storage"] * min(rate["storage"], machine.drive.sequential_mb_s(0.3)) + part["paging"] * rate["paging"]
    hours = owner.start_h + (np.arange(n) + 1.0) * ROW_S / 3600.0
    return {
        "clock_h": hours % 24.0, "cores_busy": np.minimum(cores, machine.threads),
        "one_thread_frac": np.clip(alone, 0, 1),
        "all_threads_frac": np.clip(together, 0.0, 1.0),
        "io_stall_frac": blurred(part["storage"] + part["paging"], 0.05),
        "memory_stall_frac": blurred(part["paging"] * memory_full, 0.05),
        "memory_gib": np.minimum(used, machine.memory_gib), "memory_total_gib": np.full(n, machine.memory_gib),
        "swap_gib": np.where(there, short * rng.normal(1.0, 0.04, n), 0.0) + cold,
        "disk_busy_frac": blurred(reading, 0.05),
        "disk_mb_s": moved * rng.lognormal(0.0, 0.2, n) + 0.02,
        "network_mb_s": network, "network_peak_mb_s": np.maximum(fastest, network),
        "clock_mhz": 3400.0 * machine.clock_share * rng.normal(1.0, 0.01, n),
        "temp_c": 42.0 + 38.0 * np.minimum(cores / machine.threads, 1.0) + rng.normal(0.0, 1.5, n),
        "gpu_util_frac": blurred(part["graphics"] * 0.97 + 0.01, 0.05),
    }  # fmt: skip


OFFICE = KindOfWork(9.0, 1.3, 0.12, 190.0, 6.0, 2600.0, 1.2, 0.05, 2.4)
BROWSING = KindOfWork(14.0, 1.6, 0.25, 60.0, 2.0, 4200.0, 7.0, 0.4, 3.1)
PICTURES = KindOfWork(11.0, 1.9, 2.6, 90.0, 70.0, 5200.0, 0.3, 0.5, 4.6)
BUILDING = KindOfWork(16.0, 2.2, 9.0, 700.0, 20.0, 3000.0, 0.2, 0.0, 3.4)
PLAYING = KindOfWork(2.0, 3.0, 1.2, 120.0, 30.0, 1500.0, 1.5, 14.0, 4.0)
FETCHING = KindOfWork(6.0, 0.4, 0.05, 150.0, 180.0, 600.0, 40.0, 0.0, 1.6)
