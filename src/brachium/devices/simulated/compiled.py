"""The compiled tests of a simulated machine: latency by its caches, streams by its channels, requests by its drive.

Their scatter is drawn from numbers of their own, so that a machine gives the same results in every other test whether
or not these are measured too.
"""

from __future__ import annotations

from collections.abc import Callable
from zlib import crc32

import numpy as np

from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, COMPILED_S
from brachium.devices.simulated.bandwidth import bandwidth_gb_s
from brachium.devices.simulated.everyday import flush_rate, own_numbers
from brachium.devices.simulated.machine import SimulatedMachine

KIB, MIB = 1 << 10, 1 << 20
CACHES: tuple[tuple[int, float], ...] = ((32 * KIB, 4.0), (256 * KIB, 13.0))  # size [byte], cycles of a load
LAST_PER_THREAD, LAST_CYCLES = 1024 * KIB, 40.0
MEMORY_NS = 84.0
BEYOND = 4
SMT_GAIN = 1.25
ROUNDS = {"cpu_integer": 15_000.0, "cpu_branch": 5_000.0, "cpu_float": 2_400.0, "cpu_hash": 9_000.0}  # of a thread
READ_GAIN, WRITE_SHARE = 1.08, 0.62  # of what copies move: reads need no room made, writes fetch what they overwrite
MIXED_SHARE = 0.82


class CompiledWorkload:
    """Runs for a few seconds; `rate` is its result at the present clock, `curve` what else it measures."""

    def __init__(
        self, machine: SimulatedMachine, key: str, util: float, rate: Callable[[SimulatedMachine], float],
        of_drive: bool = False, curve: Callable[[SimulatedMachine], tuple[tuple[float, float], ...]] = lambda _: (),
    ) -> None:  # fmt: skip
        self._machine, self._key, self._util, self._rate, self._of_drive = machine, key, util, rate, of_drive
        self._curve_of = curve
        self._sum = self._elapsed_s = 0.0

    def start(self) -> None:
        self._sum = self._elapsed_s = 0.0
        self._machine.set_util(self._util)
        if self._of_drive:
            self._machine.disk_busy = 0.97

    def tick(self, dt_s: float) -> None:
        self._sum += self._rate(self._machine) * dt_s
        self._elapsed_s += dt_s

    def done(self) -> bool:
        return self._elapsed_s >= COMPILED_S - 1e-9

    def result(self) -> float:
        machine = self._machine
        offset = machine.drive_offset if self._of_drive else machine.offset
        whole = (
            self._sum
            / self._elapsed_s
            * float(np.exp(own_numbers(machine, self._key).normal(0.0, machine.spec.repeat_spread)))
        )
        return whole / offset if self._key == "mem_latency" else whole * offset

    def curve(self) -> tuple[tuple[float, float], ...]:
        return self._curve_of(self._machine)

    def parts(self) -> tuple[tuple[str, float], ...]:
        return ()

    def problem(self) -> str:
        return ""

    def stop(self) -> None:
        self._machine.rest()

    def expected_s(self) -> float:
        return COMPILED_S


def compiled_workload(machine: SimulatedMachine, key: str) -> CompiledWorkload:
    """The compiled test of that key; raises KeyError for an unknown one."""
    if key == "mem_latency":
        largest = working_sets(machine)[-1]
        curve = lambda m: tuple((float(s), latency_ns(m, s)) for s in working_sets(m))  # noqa: E731
        one = 1.2 / machine.spec.threads
        return CompiledWorkload(machine, key, one, lambda m: latency_ns(m, largest), curve=curve)
    if key in COMPILED:
        return CompiledWorkload(machine, key, 1.0 if key in ROUNDS else 0.55, lambda m: _processor(m, key))
    if key in COMPILED_DRIVE:
        rate = _drive(machine, key)
        return CompiledWorkload(machine, key, 0.06, lambda _: rate, of_drive=True)
    raise KeyError(key)


def working_sets(machine: SimulatedMachine) -> tuple[int, ...]:
    """Doubled from 4 KiB to four times the last cache."""
    most = BEYOND * LAST_PER_THREAD * machine.spec.threads
    out = [4 * KIB]
    while out[-1] < most:
        out.append(2 * out[-1])
    return tuple(out)


def latency_ns(machine: SimulatedMachine, size: int) -> float:
    """Of one dependent load from a working set: each level serves the share of it that fits there and no further in."""
    mhz = machine.state.clock_mhz
    levels = [(s, 1000.0 * cycles / mhz) for s, cycles in CACHES]
    levels.append((LAST_PER_THREAD * machine.spec.threads, 1000.0 * LAST_CYCLES / mhz))
    inner = total = 0.0
    for reach, each in levels:
        share = min(1.0, reach / size)
        total += max(share - inner, 0.0) * each
        inner = max(inner, share)
    return total + (1.0 - inner) * MEMORY_NS


def _processor(machine: SimulatedMachine, key: str) -> float:
    if key in ROUNDS:
        return ROUNDS[key] * machine.spec.threads / 2 * SMT_GAIN * machine.clock_ratio
    copied = bandwidth_gb_s(machine)
    return {"mem_read": READ_GAIN * copied, "mem_write": WRITE_SHARE * copied, "mem_copy": copied}[key]


def _drive(machine: SimulatedMachine, key: str) -> float:
    drive = machine.spec.drive
    rng = np.random.default_rng([machine.spec.seed, crc32(key.encode())])
    if key == "drive_stream":
        return drive.sequential_mb_s(machine.track)
    if key == "drive_flush":
        return flush_rate(machine)
    depth = {"drive_q1": 1, "drive_q32": 32}.get(key, 4)
    share = MIXED_SHARE if key == "drive_mixed" else 1.0
    return share * drive.random_reads_s(depth, 0.02, rng)
