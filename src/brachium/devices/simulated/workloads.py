"""Simulated workloads: each result follows from clock, channels and drive as they are while it runs."""

from __future__ import annotations

from collections.abc import Callable

from brachium.core.measure.feel_tests import GRAPHICS, LADDER
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE
from brachium.devices.simulated.bandwidth import bandwidth_gb_s
from brachium.devices.simulated.compiled import CompiledWorkload, compiled_workload
from brachium.devices.simulated.everyday import NEEDS, EverydayTask, MemoryLadder
from brachium.devices.simulated.graphics import GraphicsTest
from brachium.devices.simulated.machine import SimulatedMachine
from brachium.devices.simulated.paging import miss_share

SMT_GAIN = 1.25
WORK_PER_THREAD = 12.0
FIRMWARE_S = 6.5
START_CPU_S = 8.0
START_READS = 7_000
START_MB = 900.0
SYSTEM_GIB = 0.9
MEMORY_TEST_S = 60.0


class TimedWorkload:
    """Runs for a fixed time; the result is a mean over it."""

    def __init__(
        self, machine: SimulatedMachine, duration_s: float, util: float, rate: Callable[[SimulatedMachine], float]
    ) -> None:
        self._machine, self._duration_s, self._util, self._rate = machine, duration_s, util, rate
        self._sum = self._elapsed_s = 0.0

    def start(self) -> None:
        self._sum = self._elapsed_s = 0.0
        self._machine.set_util(self._util)

    def tick(self, dt_s: float) -> None:
        self._sum += self._rate(self._machine) * dt_s
        self._elapsed_s += dt_s

    def done(self) -> bool:
        return self._elapsed_s >= self._duration_s - 1e-9

    def result(self) -> float:
        return self._sum / self._elapsed_s * self._machine.offset * self._machine.noise()

    def curve(self) -> tuple[tuple[float, float], ...]:
        return ()

    def parts(self) -> tuple[tuple[str, float], ...]:
        return ()

    def problem(self) -> str:
        return ""

    def stop(self) -> None:
        self._machine.rest()

    def expected_s(self) -> float:
        return self._duration_s


class MemoryTest(TimedWorkload):
    """Writes and reads patterns; the result is the number of memory errors, which is the machine's fault."""

    def __init__(self, machine: SimulatedMachine) -> None:
        super().__init__(machine, MEMORY_TEST_S, 0.5, lambda _: 0.0)

    def result(self) -> float:
        return float(self._machine.spec.bad_words)

    def problem(self) -> str:
        bad = self._machine.spec.bad_words
        return f"{bad} memory errors: memory or processor is not stable" if bad else ""


class DriveWorkload(TimedWorkload):
    """Reads in a file of 2 GiB; `depth` 0 = sequential."""

    def __init__(self, machine: SimulatedMachine, depth: int) -> None:
        drive = machine.spec.drive
        track = machine.track
        self._score = drive.sequential_mb_s(track) if depth == 0 else drive.random_reads_s(depth, 0.02, machine.rng)
        self._moving = self._score if depth == 0 else self._score * 4096 / 1e6
        super().__init__(machine, 12.0, 0.06, lambda _: self._score)

    def start(self) -> None:
        super().start()
        self._machine.disk_busy = 0.99
        self._machine.disk_mb_s = self._moving

    def result(self) -> float:
        return self._score * self._machine.drive_offset * self._machine.noise()


OUTSIDE_TURN_S = 8.0  # in which work and waiting for something outside take turns


class WorkToDo(TimedWorkload):
    """Ends when its work is done; the result is the time it took [s]. Processor, storage and what is waited for outside
    take turns."""

    def __init__(
        self, machine: SimulatedMachine, cpu_s: float, storage_s: float, util: float, fixed_s: float,
        outside_s: float = 0.0,
    ) -> None:  # fmt: skip
        super().__init__(machine, 0.0, util, lambda _: 0.0)
        self._cpu_s, self._storage_s, self._fixed_s, self._outside_s = cpu_s, storage_s, fixed_s, outside_s
        self._left_s = cpu_s

    def start(self) -> None:
        machine = self._machine
        total = self._cpu_s / max(machine.clock_ratio, 0.5) + self._storage_s + self._outside_s
        self._left_s, self._elapsed_s = self._cpu_s, 0.0
        self._stall = self._storage_s / total if total else 0.0
        self._outside = self._outside_s / total if total else 0.0
        self._stall /= max(1.0 - self._outside, 1e-9)  # of the time in which it works
        machine.set_util(self._util * (1.0 - self._stall) + 0.03)
        machine.io_stall = self._stall
        machine.gpu_util = max(machine.spec.task.graphics, 0.02)
        machine.disk_busy = min(self._stall * 1.05 + 0.02, 1.0)
        machine.disk_mb_s = 0.45 if machine.spec.drive.rotational else 38.0 * self._stall
        machine.memory_used = min((machine.spec.task.working_set_gib + SYSTEM_GIB) / machine.spec.memory_gib, 0.985)

    def tick(self, dt_s: float) -> None:
        if self._left_s <= 0.0:
            return
        self._elapsed_s += dt_s
        waits = self._elapsed_s % OUTSIDE_TURN_S < self._outside * OUTSIDE_TURN_S
        if self._outside:
            self._machine.set_util(0.02 if waits else self._util * (1.0 - self._stall) + 0.03)
        if not waits:
            self._left_s -= dt_s * (1.0 - self._stall) * self._machine.clock_ratio

    def done(self) -> bool:
        return self._left_s <= 0.0

    def result(self) -> float:
        return (self._elapsed_s + self._fixed_s) / self._machine.offset * self._machine.noise()

    def expected_s(self) -> float:
        return self._cpu_s + self._storage_s + self._outside_s


SimulatedWorkload = TimedWorkload | CompiledWorkload | EverydayTask | MemoryLadder | GraphicsTest


def build_workload(machine: SimulatedMachine, key: str) -> SimulatedWorkload:
    """The workload of that key on this machine; raises KeyError for an unknown one."""
    if key in NEEDS:
        return EverydayTask(machine, key)
    if key == LADDER:
        return MemoryLadder(machine)
    if key in GRAPHICS:
        return GraphicsTest(machine, key)
    if key in (*COMPILED, *COMPILED_DRIVE):
        return compiled_workload(machine, key)
    spec = machine.spec
    work = WORK_PER_THREAD
    builders: dict[str, Callable[[], TimedWorkload]] = {
        "mem_test": lambda: MemoryTest(machine),
        "cpu_single": lambda: TimedWorkload(machine, 12.0, 1.35 / spec.threads, lambda m: work * m.clock_ratio),
        "cpu_all": lambda: TimedWorkload(
            machine, 12.0, 1.0, lambda m: work * spec.threads / 2 * SMT_GAIN * m.clock_ratio
        ),
        "mem_bandwidth": lambda: TimedWorkload(machine, 10.0, 0.55, bandwidth_gb_s),
        "drive_seq": lambda: DriveWorkload(machine, 0),
        "drive_rand_q1": lambda: DriveWorkload(machine, 1),
        "drive_rand_q32": lambda: DriveWorkload(machine, 32),
        "start_up": lambda: _start_up(machine),
        "own_task": lambda: _own_task(machine),
    }
    return builders[key]()


def _start_up(machine: SimulatedMachine) -> WorkToDo:
    drive = machine.spec.drive
    reads_s = START_READS / drive.random_reads_s(4, 0.25, machine.rng)
    moved_s = START_MB / drive.sequential_mb_s(0.4)
    return WorkToDo(machine, START_CPU_S, (reads_s + moved_s) / machine.drive_offset, 0.35, FIRMWARE_S)


def _own_task(machine: SimulatedMachine) -> WorkToDo:
    task = machine.spec.task
    share = miss_share(machine.spec.memory_gib - SYSTEM_GIB, task.working_set_gib)
    reads_s = (task.touches * share + task.reads) / machine.spec.drive.random_reads_s(2, 0.3, machine.rng)
    util = 0.8 * (1.0 - 0.7 * task.graphics)
    return WorkToDo(machine, task.cpu_s, reads_s / machine.drive_offset, util, 0.0, task.waits_s)


def sustained_rate(machine: SimulatedMachine) -> float:
    """Work rate of the sustained load at the present clock [work/s]."""
    return WORK_PER_THREAD * machine.spec.threads / 2 * SMT_GAIN * machine.clock_ratio
