"""The workloads of the machine that the program stands on, each done by child processes."""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from brachium.core.measure.feel_tests import EVERYDAY, GRAPHICS, LADDER
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, COMPILED_S
from brachium.devices.live.child_command import COMMAND
from brachium.devices.live.compiled import compiled_specs
from brachium.devices.live.everyday import TASK_S, everyday_spec
from brachium.devices.live.graphics import graphics_spec
from brachium_probe.children import ChildGroup, ChildSpec

MIB = 1 << 20
GIB = 1 << 30
BANDWIDTH_BYTES = 96 * MIB
GATHER_BYTES = 128 * MIB
RANDOM_PROCESSES = 4
START_S = 1.5


@dataclass(frozen=True)
class WorkloadPlan:
    """Sizes and lengths. `where` is the drive tests' own file (own_folder.py), None leaves them out. Sizes in bytes."""

    test_s: float
    memory_test_s: float
    memory_test_bytes: int
    drive_bytes: int
    where: Mapping[str, object] | None = None
    processors: tuple[int, ...] = ()

    @property
    def cpus(self) -> tuple[int, ...]:
        return self.processors or tuple(sorted(os.sched_getaffinity(0)))


class LiveWorkload:
    """One test: a group of children whose results are added up and scaled to the test's unit."""

    def __init__(
        self, specs: Sequence[ChildSpec], expected_s: float, per_unit: float, started: Callable[[list[int]], None],
    ) -> None:  # fmt: skip
        self._specs, self._expected_s, self._per_unit, self._started = tuple(specs), expected_s, per_unit, started
        self._group = ChildGroup(self._specs, COMMAND)

    def start(self) -> None:
        self._group = ChildGroup(self._specs, COMMAND)
        self._group.start()
        self._started(self._group.pids())

    def done(self) -> bool:
        return self._group.done()

    def result(self) -> float:
        results = self._group.results()
        return sum(results) / self._per_unit if results else float("nan")

    def curve(self) -> tuple[tuple[float, float], ...]:
        told = self._group.last_facts()
        points = told[0].get("curve") if len(told) == 1 else None
        return tuple((float(x), float(y)) for x, y in points) if isinstance(points, list) else ()

    def parts(self) -> tuple[tuple[str, float], ...]:
        told = self._group.last_facts()
        named = told[0].get("parts") if len(told) == 1 else None
        return tuple((str(n), float(v)) for n, v in named.items()) if isinstance(named, dict) else ()

    def problem(self) -> str:
        wrong = self._group.wrong()
        if wrong:
            return f"{wrong} wrong checksums under load: memory or processor is not stable"
        return self._group.problem()

    def stop(self) -> None:
        self._group.kill()
        self._started([])

    def expected_s(self) -> float:
        return self._expected_s


class SustainedLoad:
    """All processors busy until stopped; the score is the mean rate over the second half."""

    def __init__(self, plan: WorkloadPlan, started: Callable[[list[int]], None]) -> None:
        self._plan, self._started = plan, started
        self._group = ChildGroup((), COMMAND)

    def start(self) -> None:
        self._group = ChildGroup(processor_specs(self._plan, 0.0), COMMAND)
        self._group.start()
        self._started(self._group.pids())

    def stop(self) -> None:
        self._group.kill()
        self._started([])

    def score(self) -> float:
        """Work rate summed over the processors [units/s]; NaN where a child said too little."""
        total = 0.0
        for lines in self._group.progress():
            elapsed = np.array([line["elapsed_s"] for line in lines], dtype=np.float64)
            units = np.array([line["units"] for line in lines], dtype=np.float64)
            if elapsed.size < 4:
                return float("nan")
            first = int(np.searchsorted(elapsed, 0.5 * elapsed[-1]))
            first = min(first, elapsed.size - 2)
            total += float((units[-1] - units[first]) / (elapsed[-1] - elapsed[first]))
        return total if total > 0 else float("nan")

    def problem(self) -> str:
        wrong = self._group.wrong()
        return f"{wrong} wrong checksums under sustained load" if wrong else ""


def processor_specs(plan: WorkloadPlan, duration_s: float) -> tuple[ChildSpec, ...]:
    """One child on each processor."""
    return tuple(ChildSpec("processor", {"duration_s": duration_s, "cpu": cpu}) for cpu in plan.cpus)


def live_workload(plan: WorkloadPlan, key: str, started: Callable[[list[int]], None]) -> LiveWorkload:
    """The workload of a test or check. Raises KeyError for one that this machine does not offer."""
    several = min(len(plan.cpus), 4)
    timed: dict[str, object] = {"duration_s": plan.test_s}

    def make(specs: Sequence[ChildSpec], per_unit: float, expected_s: float = plan.test_s + START_S) -> LiveWorkload:
        return LiveWorkload(specs, expected_s, per_unit, started)

    if key == "cpu_all":
        return make(processor_specs(plan, plan.test_s), 1.0)
    if key == "cpu_single":
        return make([ChildSpec("processor", timed)], 1.0)
    if key == "mem_bandwidth":
        return make([ChildSpec("bandwidth", {**timed, "size_bytes": BANDWIDTH_BYTES})] * several, 1e9)
    if key == "mem_gather":
        return make([ChildSpec("gather", {**timed, "size_bytes": GATHER_BYTES})], 1e6)
    if key in (*COMPILED, *COMPILED_DRIVE):
        specs, per_unit = compiled_specs(plan.cpus, key, min(plan.test_s, COMPILED_S), plan.where)
        return make(specs, per_unit, min(plan.test_s, COMPILED_S) + START_S)
    if key in (*EVERYDAY, LADDER):
        return make([everyday_spec(key, plan.where)], 1.0, TASK_S[key])
    if key in GRAPHICS:
        spec, per_unit, length_s = graphics_spec(key, plan.test_s)
        return make([spec], per_unit, length_s + START_S)
    if key == "mem_test":
        share = plan.memory_test_bytes // several // 8 * 8
        patterns = ChildSpec("memory-test", {"duration_s": plan.memory_test_s, "size_bytes": share})
        return make([patterns] * several, 1.0, plan.memory_test_s + START_S)
    return make(_drive_specs(plan, key, timed), 1e6 if key in ("drive_seq", "drive_layout") else 1.0,
                _drive_s(plan, key))  # fmt: skip


def _drive_specs(plan: WorkloadPlan, key: str, timed: dict[str, object]) -> list[ChildSpec]:
    if plan.where is None:
        raise KeyError(key)
    where = plan.where
    if key == "drive_layout":
        return [ChildSpec("layout", {**where, "size_bytes": plan.drive_bytes})]
    if key == "drive_seq":
        return [ChildSpec("sequential", {**where, **timed})]
    if key == "drive_rand_q1":
        return [ChildSpec("random", {**where, **timed, "depth": 1, "seed": 1})]
    if key == "drive_rand_q32":
        depth = 32 // RANDOM_PROCESSES
        return [ChildSpec("random", {**where, **timed, "depth": depth, "seed": 2 + k}) for k in range(RANDOM_PROCESSES)]
    raise KeyError(key)


def _drive_s(plan: WorkloadPlan, key: str) -> float:
    return plan.drive_bytes / 150e6 + START_S if key == "drive_layout" else plan.test_s + START_S
