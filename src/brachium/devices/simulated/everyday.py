"""Everyday tasks and the memory ladder of a simulated machine: by clock, drive and memory as they are while they run.

Like the compiled tests they draw their scatter from numbers of their own. The parts of a task scatter each by itself,
as measured ones do, so that they add up to the whole nearly and not exactly.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from zlib import crc32

import numpy as np

from brachium.core.measure.feel_tests import LADDER
from brachium.devices.simulated.machine import SimulatedMachine
from brachium.devices.simulated.paging import miss_share

SYSTEM_GIB = 0.9
SMT_GAIN = 1.25
PART_SPREAD = 0.004
FLUSH_COST_MS, FLUSH_TIMES = 0.25, 4.0  # flash programs slower than it reads
WORKING_GIB, STEPS = 0.25, (1.5, 1.2, 1.0, 0.85, 0.7, 0.5, 0.35)  # of the ladder, steps as shares of its working set
PIECES, PIECE_S = 60_000, 8e-6  # touches of the ladder's task, and what one costs in memory
LATE_FROM = 0.7  # share of the threads that other tasks take, from which on pictures come late
PICTURES_S = 25.0


@dataclass(frozen=True)
class TaskNeeds:
    """What a task takes: processor seconds at full clock, threads it can use, small requests, megabytes in order,
    flushes, memory [GiB]; `idle_s` it waits for nothing of the machine."""

    cpu_s: float
    threads: int = 1
    reads: float = 0.0
    mb: float = 0.0
    flushes: float = 0.0
    memory_gib: float = 0.2
    idle_s: float = 0.02


NEEDS: Mapping[str, TaskNeeds] = {
    "task_start_cold": TaskNeeds(1.5, reads=1800, mb=140, memory_gib=0.4),
    "task_start_warm": TaskNeeds(1.4, memory_gib=0.4),
    "task_files": TaskNeeds(2.4, reads=5200, mb=80, flushes=4, idle_s=0.05),
    "task_database": TaskNeeds(0.6, flushes=2000),
    "task_compress": TaskNeeds(4.2, mb=60, flushes=2),
    "task_photos": TaskNeeds(2.6, mb=18, memory_gib=0.5),
    "task_sheet": TaskNeeds(3.4, mb=4, memory_gib=0.6),
    "task_together": TaskNeeds(13.0, threads=4, mb=82, flushes=2, memory_gib=1.6),
}


def flush_rate(machine: SimulatedMachine) -> float:
    """Writes a second that wait for the drive: one turn of a disk, or a flash program with its cost."""
    drive = machine.spec.drive
    if drive.rotational:
        return drive.rpm / 60.0 * drive.small_factor
    return 1000.0 / (FLUSH_TIMES * drive.latency_ms + FLUSH_COST_MS) * drive.small_factor


def own_numbers(machine: SimulatedMachine, key: str) -> np.random.Generator:
    """Numbers of the machine, the session, the test and the moment."""
    seed = [machine.spec.seed, machine.session, crc32(key.encode()), round(machine.time_s * 10)]
    return np.random.default_rng(seed)


class EverydayTask:
    """Ends when its work is done; the result is the seconds it took, and where they went."""

    def __init__(self, machine: SimulatedMachine, key: str) -> None:
        self._machine, self._key, self._needs = machine, key, NEEDS[key]
        self._elapsed_s = self._left_s = 0.0
        self._storage_s = self._paging_s = self._waits = 0.0

    def start(self) -> None:
        machine, needs = self._machine, self._needs
        rng = np.random.default_rng([machine.spec.seed, crc32(self._key.encode())])
        drive = machine.spec.drive
        rate = drive.random_reads_s(2, 0.05, rng)
        storage = (
            needs.reads / rate + needs.mb / drive.sequential_mb_s(machine.track) + needs.flushes / flush_rate(machine)
        )
        free = machine.spec.memory_gib - SYSTEM_GIB
        missed = miss_share(free, needs.memory_gib) if free < needs.memory_gib else 0.0
        self._storage_s = storage / machine.drive_offset
        self._paging_s = missed * needs.memory_gib * 9_000.0 / rate / machine.drive_offset
        self._elapsed_s, self._left_s = 0.0, needs.cpu_s / self._gain()
        waiting = self._storage_s + self._paging_s + needs.idle_s
        self._waits = waiting / (waiting + self._left_s / max(machine.clock_ratio, 0.5))
        machine.set_util(min(needs.threads, machine.spec.threads) / machine.spec.threads * (1.0 - self._waits) + 0.02)
        machine.io_stall = min(self._waits, 0.99)
        machine.disk_busy = min(1.05 * self._waits + 0.02, 1.0)
        machine.memory_used = min((needs.memory_gib + SYSTEM_GIB) / machine.spec.memory_gib, 0.985)

    def _gain(self) -> float:
        """How much faster than one thread it is here: threads above the cores bring a part."""
        used = min(self._needs.threads, self._machine.spec.threads)
        cores = max(self._machine.spec.threads / 2.0, 1.0)
        return min(used, cores) + (SMT_GAIN - 1.0) * max(used - cores, 0.0)

    def tick(self, dt_s: float) -> None:
        if self._left_s > 0.0:
            self._elapsed_s += dt_s
            self._left_s -= dt_s * (1.0 - self._waits) * self._machine.clock_ratio

    def done(self) -> bool:
        return self._left_s <= 0.0

    def _noise(self) -> float:
        machine = self._machine
        return float(np.exp(own_numbers(machine, self._key).normal(0.0, machine.spec.repeat_spread))) / machine.offset

    def result(self) -> float:
        return self._elapsed_s * self._noise()

    def curve(self) -> tuple[tuple[float, float], ...]:
        return ()

    def parts(self) -> tuple[tuple[str, float], ...]:
        """Seconds by where they went; pictures that came late where a video ran beside."""
        whole, rng = self.result(), own_numbers(self._machine, f"{self._key} parts")
        waiting = whole * self._waits
        total = self._storage_s + self._paging_s + self._needs.idle_s
        plain = {
            "processor": whole - waiting, "storage": waiting * self._storage_s / total,
            "paging": waiting * self._paging_s / total, "other": waiting * self._needs.idle_s / total,
        }  # fmt: skip
        out = tuple((k, float(v * np.exp(rng.normal(0.0, PART_SPREAD)))) for k, v in plain.items())
        return out if self._key != "task_together" else (*out, *self._pictures(whole))

    def _pictures(self, whole_s: float) -> tuple[tuple[str, float], ...]:
        """A picture comes late where the others leave it no thread, or all wait for paging."""
        pictures = PICTURES_S * whole_s
        taken = min(self._needs.threads, self._machine.spec.threads) / self._machine.spec.threads
        crowded = max(taken - LATE_FROM, 0.0) / (1.0 - LATE_FROM) * (2.0 - self._machine.clock_ratio)
        late = pictures * min(0.12 * crowded + 0.5 * self._paging_s / max(whole_s, 1e-9), 1.0)
        return ("late_pictures", float(round(late))), ("pictures", float(round(pictures)))

    def problem(self) -> str:
        return ""

    def stop(self) -> None:
        self._machine.rest()

    def expected_s(self) -> float:
        return self._needs.cpu_s / self._gain() + 4.0


class MemoryLadder:
    """The ladder's task at every step of memory; seconds by memory [byte]."""

    def __init__(self, machine: SimulatedMachine) -> None:
        self._machine = machine
        self._curve: tuple[tuple[float, float], ...] = ()
        self._elapsed_s = self._length_s = 0.0

    def start(self) -> None:
        machine = self._machine
        rng = own_numbers(machine, LADDER)
        rate = machine.spec.drive.random_reads_s(1, 0.05, rng) * machine.drive_offset
        points = []
        for step in STEPS:
            missed = miss_share(step * WORKING_GIB, WORKING_GIB)
            seconds = PIECES * (PIECE_S / machine.clock_ratio + missed / rate)
            scatter = float(np.exp(rng.normal(0.0, 2.0 * machine.spec.repeat_spread))) / machine.offset
            points.append((step * WORKING_GIB * 2**30, seconds * scatter))
        self._curve, self._elapsed_s = tuple(points), 0.0
        self._length_s = min(sum(t for _, t in points), 12.0 * len(points))
        machine.set_util(1.0 / machine.spec.threads)
        machine.disk_busy, machine.io_stall = 0.6, 0.4

    def tick(self, dt_s: float) -> None:
        self._elapsed_s += dt_s

    def done(self) -> bool:
        return self._elapsed_s >= self._length_s

    def result(self) -> float:
        return self._curve[0][1]

    def curve(self) -> tuple[tuple[float, float], ...]:
        return self._curve

    def parts(self) -> tuple[tuple[str, float], ...]:
        return (("working_set", WORKING_GIB * 2**30),)

    def problem(self) -> str:
        return ""

    def stop(self) -> None:
        self._machine.rest()

    def expected_s(self) -> float:
        return 30.0
