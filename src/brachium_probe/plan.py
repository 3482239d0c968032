"""The probe's quick protocol: phases, tests and sizes, and the head of its run file."""

from __future__ import annotations

import os
from typing import Dict, List, Tuple

from brachium_probe import PROBE_VERSION, facts
from brachium_probe.children import ChildSpec
from brachium_probe.startup import start_up
from brachium_probe.tree import Tree

MIB = 1 << 20
RANDOM_PROCESSES = 4
COUNTED = "probe_start_counted"


class Test:
    """One test: key, title, unit, what it does, its children, and what their summed results are divided by."""

    def __init__(
        self, key: str, title: str, unit: str, about: str, specs: List[ChildSpec], per_unit: float, more: bool = True
    ) -> None:
        self.key, self.title, self.unit, self.about = key, title, unit, about
        self.specs, self.per_unit, self.higher_is_better = specs, per_unit, more

    def plain(self) -> Dict[str, object]:
        return {"key": self.key, "title": self.title, "unit": self.unit, "version": 1,
                "higher_is_better": self.higher_is_better, "about": self.about}  # fmt: skip


class ProbePlan:
    """Lengths [s] and sizes [bytes]. A rehearsal goes through all of it in half a minute and measures nothing."""

    def __init__(self, rehearsal: bool, folder: str) -> None:
        self.rehearsal, self.folder = rehearsal, folder
        self.name = "Probe rehearsal" if rehearsal else "Probe quick"
        lengths = (1.0, 2.0, 3.0, 1.0) if rehearsal else (15.0, 15.0, 60.0, 30.0)
        self.phases: List[Tuple[str, float]] = list(zip(("settle", "idle", "load", "cool-down"), lengths))
        self.test_s = 0.5 if rehearsal else 3.0
        self.repeats = 1 if rehearsal else 3
        self.memory_s = 1.0 if rehearsal else 10.0
        self.memory_bytes = (32 if rehearsal else 512) * MIB
        self.drive_bytes = (32 if rehearsal else 512) * MIB
        self.where: Dict[str, object] = {}  # the test file, once its folder is made
        self.cpus = sorted(os.sched_getaffinity(0))

    def load_specs(self) -> List[ChildSpec]:
        return [ChildSpec("processor", {"duration_s": 0.0, "cpu": cpu}) for cpu in self.cpus]

    def memory_test(self) -> List[ChildSpec]:
        several = min(len(self.cpus), 4)
        spec = ChildSpec("memory-test", {"duration_s": self.memory_s, "size_bytes": self.memory_bytes // several})
        return [spec] * several

    def layout(self) -> List[ChildSpec]:
        return [ChildSpec("layout", {**self.where, "size_bytes": self.drive_bytes})]

    def tests(self) -> List[Test]:
        """All tests in order; those of a drive only where a folder is named."""
        timed: Dict[str, object] = {"duration_s": self.test_s}
        several = min(len(self.cpus), 4)
        copy = ChildSpec("bandwidth", {**timed, "size_bytes": 64 * MIB})
        every = [ChildSpec("processor", {**timed, "cpu": cpu}) for cpu in self.cpus]
        out = [
            Test("probe_cpu_all", "All threads, short (probe)", "work/s", "hashing and sorting on all threads", every,
                 1.0),
            Test("probe_cpu_single", "Single thread (probe)", "work/s", "hashing and sorting on one thread",
                 [ChildSpec("processor", timed)], 1.0),
            Test("probe_mem_bandwidth", "Memory bandwidth (probe)", "GB/s", "large copies by several processes",
                 [copy] * several, 1e9),
        ]  # fmt: skip
        return out + self._drive_tests(timed) if self.folder else out

    def _drive_tests(self, timed: Dict[str, object]) -> List[Test]:
        where = {**timed, **self.where}
        deep = ChildSpec("scattered", {**where, "depth": 32 // RANDOM_PROCESSES})
        about = "a 512 MiB file with direct I/O"
        return [
            Test("probe_drive_seq", "Drive, sequential read (probe)", "MB/s", about,
                 [ChildSpec("sequential", where)], 1e6),
            Test("probe_drive_rand_q1", "Drive, random 4 KiB reads, one at a time (probe)", "reads/s",
                 f"depth 1 on {about}", [ChildSpec("scattered", {**where, "depth": 1})], 1.0),
            Test("probe_drive_rand_q32", "Drive, random 4 KiB, 32 at a time (probe)", "reads/s",
                 f"depth 32 on {about}", [deep] * RANDOM_PROCESSES, 1.0),
        ]  # fmt: skip

    def head(
        self, tree: Tree, run_id: str, configuration: str, taken_at: str, room_c: float | None
    ) -> Dict[str, object]:
        """What is known before the run begins, by the names of the run file."""
        load = Test("probe_sustained", "All threads, sustained (probe)", "work/s",
                    "mean work rate over the second half of the sustained load", [], 1.0)  # fmt: skip
        start = Test(COUNTED, "Start-up, as the machine counts it (probe)", "s",
                     "firmware, loader and system until its run level was reached", [], 1.0, False)  # fmt: skip
        tests = [load, *self.tests(), *([start] if start_up(tree)[0] is not None else [])]
        return {
            "id": run_id, "configuration": configuration,
            "protocol": {
                "name": self.name, "version": 1, "phases": [{"name": n, "duration_s": d} for n, d in self.phases],
                "tests": [t.key for t in tests], "repeats": self.repeats, "sessions": 1, "rate_hz": 1.0,
                "test_s": self.test_s, "memory_test_s": self.memory_s, "memory_test_bytes": self.memory_bytes,
                "drive_bytes": self.drive_bytes,
            },
            "conditions": facts.conditions(tree, room_c, self.folder), "tests": [t.plain() for t in tests],
            "sessions": [], "taken_at": taken_at, "origin": f"probe {PROBE_VERSION}", "complete": False,
            "machine": facts.machine_name(tree),
        }  # fmt: skip
