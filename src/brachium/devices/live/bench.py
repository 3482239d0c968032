"""The machine that the program stands on, behind the same interface as the simulated one."""

from __future__ import annotations

import contextlib
import shutil
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path

from brachium.core.base.problems import ExpectedProblem, from_os_error
from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.feel_tests import EVERYDAY, HEAT, LADDER
from brachium.core.measure.run import Protocol
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, COUNTED
from brachium.devices.live.busy_programs import BusyPrograms
from brachium.devices.live.clock import LiveClock
from brachium.devices.live.compiled import compiled_here
from brachium.devices.live.everyday import ROOM_BYTES
from brachium.devices.live.graphics import graphics_here
from brachium.devices.live.workloads import GIB, LiveWorkload, SustainedLoad, WorkloadPlan, live_workload
from brachium.devices.protocols import ChannelInfo, Missing
from brachium.devices.workloads.drive import IN_MEMORY
from brachium_probe import facts, startup
from brachium_probe.counters import memory_total_bytes, memory_used_frac
from brachium_probe.graphics import GraphicsSensors
from brachium_probe.own_folder import OwnFolder, sweep
from brachium_probe.sampler import SystemSampler
from brachium_probe.tree import Tree

DRIVE_TESTS = ("drive_seq", "drive_rand_q1", "drive_rand_q32")
PROCESSOR_TESTS = ("sustained", "cpu_all", "cpu_single", "mem_bandwidth", "mem_gather")
MEMORY_SHARE = 0.5
ROOM_LEFT = 0.10


class LiveBench:
    """Measures this machine. `folder` is where drive tests may write; without one they are left out.

    Raises ExpectedProblem where the folder cannot serve.
    """

    def __init__(
        self, protocol: Protocol, folder: Path | None = None, room_c: float | None = None,
        limit_c: float | None = None, tree: Tree | None = None,
    ) -> None:  # fmt: skip
        self.tree = tree or Tree()
        self._room_c, self._folder = room_c, folder
        self._own: OwnFolder | None = None
        if folder is not None:
            _check_folder(folder, protocol.drive_bytes)
        disk = facts.disk_of(str(folder), self.tree) if folder is not None else ""
        self.clock = LiveClock()
        self.sampler = LiveSampler(SystemSampler(self.tree, limit_c, disk), self.clock)
        self._plan = WorkloadPlan(
            protocol.test_s, protocol.memory_test_s, self._memory_bytes(protocol), protocol.drive_bytes
        )
        self._load = SustainedLoad(self._plan, self.sampler.set_own)
        self._running: LiveWorkload | None = None
        self._busy, self._looked_s = BusyPrograms(self.tree), self.clock.now_s()

    def restart(self) -> None:
        """A restart is the user's: every run on this machine is one session."""

    def boot_id(self) -> str:
        return facts.boot_id(self.tree)

    def signature(self) -> str:
        return facts.machine_name(self.tree)

    def opening(self) -> tuple[str, ...]:
        return ("mem_test",) if self._folder is None else ("mem_test", "drive_layout")

    def offers(self) -> tuple[str, ...]:
        return offers_here(self._folder is not None, self.tree)

    def counted_start(self) -> tuple[float, str]:
        value, why = startup.start_up(self.tree)
        return (float("nan") if value is None else value), why

    def missing(self) -> tuple[Missing, ...]:
        return _missing(self.sampler.inner, self._folder is not None, self.tree)

    def workload(self, key: str) -> LiveWorkload:
        """Raises EnvironmentProblem where the drive tests' own folder cannot be made."""
        if key == "drive_layout":
            self._make_own()
        return live_workload(self._plan, key, self.sampler.set_own)

    def set_load(self, busy: bool) -> None:
        if busy:
            self._load.start()
        else:
            self._load.stop()

    def sustained_score(self) -> float:
        return self._load.score()

    def load_problem(self) -> str:
        return self._load.problem()

    def alarm(self) -> str:
        return self.sampler.inner.over_limit

    def busy_programs(self) -> tuple[str, ...]:
        now = self.clock.now_s()
        found = self._busy.look(now - self._looked_s, self.sampler.inner.own_pids)
        self._looked_s = now
        return tuple(f"{name} ({percent(share)} of a core)" for name, share in found)

    def conditions(self) -> Conditions:
        found = facts.conditions(self.tree, self._room_c, str(self._folder or ""))
        return replace(Conditions(**found), graphics_driver=graphics_here().words)  # type: ignore[arg-type]

    def _make_own(self) -> None:
        """The folder that the test file lies in, made anew with the file."""
        if self._own is not None:
            self._own.close()
        try:
            self._own = OwnFolder(str(self._folder))
        except OSError as error:
            raise from_os_error(error, str(self._folder), "Nothing was written there.") from error
        self._plan = replace(self._plan, where=self._own.where())

    def close(self) -> None:
        self._load.stop()
        if self._own is not None:
            self._own.close()

    def _memory_bytes(self, protocol: Protocol) -> int:
        """How much the memory test takes: half of what is free, and no more than the protocol says."""
        total, used = memory_total_bytes(self.tree), memory_used_frac(self.tree)
        free = (total or GIB) * (1.0 - (used if used is not None else 0.5))
        return int(min(MEMORY_SHARE * free, protocol.memory_test_bytes))


def offers_here(with_folder: bool, tree: Tree | None = None) -> tuple[str, ...]:
    """Tests that the program can do on the machine it stands on."""
    counted = (COUNTED,) if startup.start_up(tree or Tree())[0] is not None else ()
    compiled = (*COMPILED, *(COMPILED_DRIVE if with_folder else ())) if compiled_here() else ()
    in_folder = (*DRIVE_TESTS, *EVERYDAY, LADDER) if with_folder else ()
    felt = {"gpu_temp_c", "gpu_power_w"} <= set(GraphicsSensors(tree or Tree()).read())
    drawn = tuple(k for k in graphics_here().tests() if felt or k not in HEAT)
    return (*PROCESSOR_TESTS, *in_folder, *compiled, *drawn, *counted)


def missing_here(with_folder: bool) -> tuple[Missing, ...]:
    """What cannot be sampled or tested on the machine that the program stands on."""
    return _missing(SystemSampler(Tree()), with_folder, Tree())


def _missing(sampler: SystemSampler, with_folder: bool, tree: Tree) -> tuple[Missing, ...]:
    out = [Missing(what, why) for what, why in sampler.missing()]
    if not with_folder:
        out.append(Missing("drive tests", "no folder is named for them; name one on the drive in question"))
        out.append(Missing("everyday tasks", "no folder is named for them; name one on the drive in question"))
    if not compiled_here():
        out.append(
            Missing(
                "compiled tests", phrase("the compiled kernels are not built; run set-up on a system with a C compiler")
            )
        )
    if graphics_here().why_not:
        out.append(Missing("graphics", graphics_here().why_not))
    value, why = startup.start_up(tree)
    if value is None:
        out.append(Missing("start-up", why))
    out.append(Missing("the owner's task", "it cannot be timed from inside; time it by hand"))
    return tuple(out)


class LiveSampler:
    """The system's sensors on the bench's clock."""

    def __init__(self, inner: SystemSampler, clock: LiveClock) -> None:
        self.inner, self._clock = inner, clock

    def channels(self) -> tuple[ChannelInfo, ...]:
        return tuple(ChannelInfo(c.key, c.unit, c.source) for c in self.inner.channels())

    def sample(self) -> Mapping[str, float]:
        return self.inner.sample(self._clock.now_s())

    def set_own(self, pids: list[int]) -> None:
        """Which processes are the test itself."""
        self.inner.own_pids = pids


def _check_folder(folder: Path, size_bytes: int) -> None:
    if not folder.is_dir():
        raise ExpectedProblem("there is no such folder", str(folder), "Name a folder on the drive to be tested.")
    kind, _ = facts.mount_of(str(folder))
    if kind in IN_MEMORY:
        raise ExpectedProblem(phrase("this folder lies in memory ({kind}), not on a drive", kind=kind), str(folder),
                              "Name a folder on the drive to be tested.")  # fmt: skip
    with contextlib.suppress(OSError):
        sweep(str(folder))  # what a killed run left counts as free
    usage = shutil.disk_usage(folder)
    if usage.free - size_bytes - ROOM_BYTES < ROOM_LEFT * size_bytes:
        raise ExpectedProblem(
            phrase(
                "{size_bytes:.0f} MB are needed for the test files, {free:.0f} MB are free",
                size_bytes=(size_bytes + ROOM_BYTES) / 1000000.0,
                free=usage.free / 1000000.0,
            ),
            str(folder),
            "Free some space.",
        )
    try:
        OwnFolder(str(folder)).close()
    except OSError as error:
        raise from_os_error(error, str(folder)) from error
