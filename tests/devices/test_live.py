"""The machine that the tests run on, measured for real: workloads, verification, background load, safety."""

from __future__ import annotations

import math
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from brachium.app.bench.runner import Runner
from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.run import PhaseStep, Protocol, Run
from brachium.core.measure.workloads import QUICK
from brachium.devices.live.bench import LiveBench
from brachium.devices.live.busy_programs import LEAST_SHARE, BusyPrograms
from brachium.devices.live.clock import LiveClock
from brachium.devices.live.workloads import COMMAND, LiveWorkload, SustainedLoad, WorkloadPlan, live_workload
from brachium.devices.workloads import drive, processor
from brachium_probe import kernels
from brachium_probe.children import ChildGroup, ChildSpec
from brachium_probe.own_folder import OwnFolder, sweep
from brachium_probe.tree import Tree
from tests.support.system_tree import laptop

MIB = 1 << 20
BRIEF = replace(
    QUICK, phases=(PhaseStep("idle", 2.0), PhaseStep("load", 1.5), PhaseStep("cool-down", 1.0)), repeats=1,
    test_s=0.3, memory_test_s=0.2, memory_test_bytes=16 * MIB, drive_bytes=16 * MIB,
    tests=("sustained", "cpu_single", "drive_seq"),
)  # fmt: skip


def wait(ready: Callable[[], bool], limit_s: float = 300.0) -> None:
    """The limit only ends a test that hangs."""
    end = time.monotonic() + limit_s
    while not ready():
        assert time.monotonic() < end, "waited in vain"
        time.sleep(0.02)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / "drive").mkdir()
    return tmp_path / "drive"


def plan(own: OwnFolder | None) -> WorkloadPlan:
    return WorkloadPlan(0.3, 0.2, 16 * MIB, 16 * MIB, own.where() if own is not None else None)


def finish(workload: LiveWorkload) -> LiveWorkload:
    workload.start()
    wait(workload.done)
    return workload


def test_the_processor_checksum_is_what_plain_arithmetic_gives() -> None:
    """Independent of NumPy and of any vector unit: Python integers and the C library's square root, every 64th word."""
    mask = (1 << 64) - 1
    words, floats = [], []
    for element in range(processor.ELEMENTS):
        if element % 64:
            continue
        x, f = ((element + 1) * 0x9E3779B97F4A7C15) & mask, 0.5
        for _ in range(processor.ROUNDS):
            x ^= (x << 13) & mask
            x ^= x >> 7
            x ^= (x << 17) & mask
            f = f * 0.999 + (x >> 11) * 2.0**-53
            f = math.sqrt(f * f + 1.0)
        words.append(x)
        floats.append(f)
    mixed = processor.mixed()
    assert mixed[0][::64].tolist() == words and mixed[1][::64].tolist() == floats
    assert processor.unit() == processor.CHECKSUM


def test_the_probes_digest_is_stable() -> None:
    assert kernels.unit() == kernels.DIGEST


@pytest.mark.parametrize(
    ("key", "low", "high"),
    [("cpu_single", 1.0, 1e5), ("cpu_all", 1.0, 1e6), ("mem_bandwidth", 0.05, 5e3), ("mem_gather", 0.05, 1e5)],
)
def test_every_workload_gives_a_believable_score_and_no_finding(key: str, low: float, high: float) -> None:
    done = finish(live_workload(plan(None), key, lambda _: None))
    assert done.problem() == "" and low < done.result() < high
    done.stop()


def test_drive_tests_read_what_was_written_and_only_in_their_folder(folder: Path) -> None:
    own = OwnFolder(str(folder))
    made = finish(live_workload(plan(own), "drive_layout", lambda _: None))
    assert made.problem() == "" and [p.name for p in folder.iterdir()] == [own.name]
    content = (folder / own.name / own.file).read_bytes()
    assert len(content) == 16 * MIB
    for block in (0, 1, 1777, 4095):
        assert int.from_bytes(content[block * 4096 : block * 4096 + 8], "little") == drive.block_word(block)
    assert len({content[k * 4096 : (k + 1) * 4096] for k in range(4096)}) == 4096, "no two blocks are alike"
    for key in ("drive_seq", "drive_rand_q1", "drive_rand_q32"):
        done = finish(live_workload(plan(own), key, lambda _: None))
        assert done.problem() == "" and done.result() > 1.0, key
    own.close()
    assert list(folder.iterdir()) == []


@pytest.mark.parametrize("key", ["drive_seq", "drive_rand_q1"])
def test_a_block_that_reads_back_wrong_is_a_finding(folder: Path, key: str) -> None:
    own = OwnFolder(str(folder))
    (folder / own.name / own.file).write_bytes(bytes(16 * MIB))
    done = finish(live_workload(plan(own), key, lambda _: None))
    assert "wrong checksums under load: memory or processor is not stable" in done.problem()


def test_a_test_that_cannot_run_says_why(folder: Path) -> None:
    done = finish(live_workload(plan(OwnFolder(str(folder))), "drive_seq", lambda _: None))
    assert "No such file" in done.problem() and math.isnan(done.result())
    huge = replace(plan(None), memory_test_bytes=1 << 56)
    done = finish(live_workload(huge, "mem_test", lambda _: None))
    assert "not enough free memory" in done.problem()


@pytest.mark.parametrize("link", [os.symlink, os.link])
def test_nothing_is_written_through_a_link(folder: Path, link: Callable[[Path, Path], None]) -> None:
    """Links under the name of the test file, or in place of its folder, lead nowhere."""
    precious = folder / "letters.txt"
    precious.write_bytes(b"twenty bytes of text")
    own = OwnFolder(str(folder))
    link(precious, folder / own.name / own.file)
    done = finish(live_workload(plan(own), "drive_layout", lambda _: None))
    assert "exists" in done.problem()
    (folder / own.name / own.file).unlink()
    elsewhere = folder / "elsewhere"
    elsewhere.mkdir()
    (folder / own.name).rename(folder / "aside")
    (folder / own.name).symlink_to(elsewhere)
    assert finish(live_workload(plan(own), "drive_layout", lambda _: None)).problem() != ""
    (folder / own.name).unlink()
    (folder / own.name).mkdir()
    assert "exchanged" in finish(live_workload(plan(own), "drive_layout", lambda _: None)).problem()
    assert precious.read_bytes() == b"twenty bytes of text" and list(elsewhere.iterdir()) == []


def test_what_a_killed_run_left_is_removed_and_nothing_else(folder: Path) -> None:
    left, held = OwnFolder(str(folder)), OwnFolder(str(folder))
    (folder / left.name / left.file).write_bytes(b"x" * 99)
    os.close(left._fd)  # as the system does for a killed program
    foreign = folder / "brachium-test-0123456789abcdef"
    foreign.mkdir()
    (foreign / "photos.zip").write_bytes(b"kept")
    target = folder / "target"
    target.mkdir()
    (target / "0123456789abcdef.bin").write_bytes(b"kept")
    (folder / "brachium-test-fedcba9876543210").symlink_to(target)
    assert sweep(str(folder)) == [left.name]
    assert (foreign / "photos.zip").read_bytes() == b"kept" == (target / "0123456789abcdef.bin").read_bytes()
    assert (folder / held.name).is_dir(), "a run in progress keeps its folder"
    bench = LiveBench(BRIEF, folder, 22.0)
    bench.workload("drive_layout")
    assert len([p for p in folder.glob("brachium-test-*") if p.is_dir() and not p.is_symlink()]) == 3
    bench.close()
    held.close()
    assert {p.name for p in folder.iterdir()} == {foreign.name, "target", "brachium-test-fedcba9876543210"}


def test_the_memory_test_finds_a_word_that_does_not_keep_its_value(monkeypatch: pytest.MonkeyPatch) -> None:
    from brachium.devices.workloads import memory

    said: list[dict[str, object]] = []
    monkeypatch.setattr(memory, "wait_for_go", lambda: None)
    monkeypatch.setattr(memory, "say", lambda **facts: said.append(facts))
    memory.run_test(1e-6, 1 * MIB)
    assert said[-1]["result"] == 0.0 and said[-1]["passes"] == 1 and said[-1]["tested_bytes"] == MIB
    find = memory.np.flatnonzero
    monkeypatch.setattr(memory.np, "flatnonzero", lambda wrong: find(wrong | (memory.np.arange(wrong.size) == 5)))
    memory.run_test(1e-6, 1 * MIB)
    assert said[-1]["result"] == len(memory.PATTERNS) + 2 and said[-1]["first_wrong"] == 40


def test_the_sustained_load_is_scored_over_its_second_half_and_ends_at_once() -> None:
    pids: list[list[int]] = []
    load = SustainedLoad(plan(None), pids.append)
    load.start()
    wait(lambda: load.score() == load.score())  # not NaN: every processor said enough of its work
    load.stop()
    assert load.score() > 1.0 and load.problem() == ""
    assert len(pids[0]) == len(os.sched_getaffinity(0)) and pids[-1] == []
    assert not any(Path(f"/proc/{pid}").exists() for pid in pids[0])


def test_children_end_with_a_killed_program() -> None:
    script = (
        "import sys, time; from brachium_probe.children import *; from brachium.devices.live.workloads import COMMAND\n"
        "g = ChildGroup([ChildSpec('processor', {'duration_s': 0.0})], COMMAND); g.start()\n"
        "while not g.progress()[0]: time.sleep(0.05)\n"
        "print(g.pids()[0], flush=True); time.sleep(60)"
    )
    program = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True)
    assert program.stdout is not None
    child = int(program.stdout.readline())
    program.send_signal(signal.SIGKILL)
    program.wait()
    program.stdout.close()
    wait(lambda: not Path(f"/proc/{child}").exists() or " Z " in Path(f"/proc/{child}/stat").read_text())


def test_a_crashed_child_is_a_problem_not_a_hang() -> None:
    group = ChildGroup([ChildSpec("processor", {"duration_s": 0.0})], COMMAND)
    group.start()
    wait(lambda: bool(group.progress()[0]))
    os.kill(group.pids()[0], signal.SIGSEGV)
    wait(group.done)
    assert "ended with code -11" in group.problem()
    group.kill()


class WorkingClock(LiveClock):
    """Stands still while a load that runs has not done enough to be scored, however busy the machine is otherwise, and
    makes eight parts of ten of every wait without any workload short."""

    def __init__(self, bench: LiveBench) -> None:
        super().__init__()
        self._bench, self._ahead_s = bench, 0.0

    def now_s(self) -> float:
        return super().now_s() + self._ahead_s

    def sleep(self, duration_s: float) -> None:
        short = 0.0 if self._bench.sampler.inner.own_pids else 0.8 * duration_s
        before = super().now_s()
        super().sleep(duration_s - short)
        self._ahead_s += short
        if self._bench._load._group.pids() and math.isnan(self._bench.sustained_score()) and self._ahead_s > -300.0:
            self._ahead_s -= super().now_s() - before


def run_here(protocol: Protocol, folder: Path | None = None, tree: Tree | None = None) -> tuple[Run, Runner]:
    bench = LiveBench(protocol, folder, 22.0, None, tree)
    bench.clock = bench.sampler._clock = WorkingClock(bench)
    runner = Runner(bench, protocol)
    return runner.execute("here", "as taken in", "2026-11-24 10:00"), runner


def test_a_whole_run_on_this_machine(folder: Path) -> None:
    run, _ = run_here(replace(BRIEF, sessions=1), folder)
    assert run.complete and list(folder.iterdir()) == [], "the test file is taken away again"
    assert [(c.key, c.passed) for c in run.checks if c.key != "host"] == [("mem_test", True), ("drive_layout", True)]
    measured = {r.test: r.value for r in run.sessions[0].repeats}
    assert set(measured) == {"sustained", "cpu_single", "drive_seq"} and all(v > 0 for v in measured.values())
    assert run.conditions.room_c == 22.0 and 0.0 < (run.conditions.free_space_frac or 0.0) < 1.0
    assert run.machine.endswith("GiB") and run.sessions[0].boot_id
    assert any("owner's task" in note for note in run.notes)
    trace = run.sessions[0].trace
    load = trace.phase("load")
    util = trace.values("util_frac")
    assert load is not None and util is not None
    inside = (trace.time_s > load.start_s + 1.2) & (trace.time_s < load.end_s)
    beside = trace.values("background_frac")
    assert beside is not None
    own = (util - beside)[inside]  # however busy the machine is otherwise
    assert np.nanmedian(own) > 0.05, "the test itself is not background"


def test_the_length_of_the_start_is_a_result_of_the_session_once(tmp_path: Path) -> None:
    tree = laptop(tmp_path)
    tree.started(5.2, 17.45)
    run, _ = run_here(replace(BRIEF, tests=("sustained",), repeats=2), None, Tree(str(tree.root)))
    assert run.results("start_counted")[0].tolist() == pytest.approx([22.65])
    spec = run.test("start_counted")
    assert spec is not None and not spec.higher_is_better and spec.unit == "s"
    assert not any("start-up" in note for note in run.notes)


@pytest.fixture
def burner() -> Iterator[None]:
    process = subprocess.Popen([sys.executable, "-c", "while True: pass"])
    yield
    process.kill()
    process.wait()


def test_a_busy_program_is_named_with_its_share(burner: None) -> None:
    busy = BusyPrograms(Tree())
    assert busy.look(1.0, []) == [], "the first look has nothing to compare with"
    time.sleep(0.5)
    name, share = busy.look(0.5, [])[0]
    assert name.startswith("python") and share > LEAST_SHARE


def test_a_second_load_beside_the_run_is_flagged_and_its_repeats_do_not_count(burner: None) -> None:
    run, _ = run_here(replace(BRIEF, tests=("sustained", "cpu_single")))
    assert run.results("cpu_single") == () and run.results("sustained") == ()
    reasons = {r.reason for r in run.sessions[0].repeats}
    assert all("background load" in reason for reason in reasons) and reasons


def test_a_hot_sensor_stops_the_load_at_once_and_nothing_burns_on(tmp_path: Path) -> None:
    tree = laptop(tmp_path)
    bench = LiveBench(BRIEF, None, 22.0, None, Tree(str(tree.root)))
    pids: list[int] = []
    started = bench.sampler.set_own

    def note(found: list[int]) -> None:
        started(found)
        if bench.sampler.inner.own_pids and runner.recorder.snapshot().progress.phase == "idle":
            pids.extend(found)
            tree.sensor(3, "coretemp", "Package id 0", 97_500, 100_000, 1)

    bench._load._started = note
    runner = Runner(bench, replace(BRIEF, phases=(PhaseStep("idle", 1.0), PhaseStep("load", 60.0))))
    run = runner.execute("hot", "as taken in", "today")
    phase = run.sessions[0].trace.phase("load")
    assert not run.complete and pids and (phase is None or phase.end_s - phase.start_s < 50.0), "long before its minute"
    assert run.notes[0].startswith("stopped: coretemp Package id 0 read 97.5 °C, the limit is 97.0 °C")
    assert not any(Path(f"/proc/{pid}").exists() for pid in pids)
    assert run.sessions[0].trace.values("temp_c") is not None


@pytest.mark.parametrize(
    ("made", "says"),
    [(lambda p: p / "none", "there is no such folder"), (lambda p: Path("/dev/shm"), "lies in memory (tmpfs)")],
)
def test_a_folder_that_cannot_serve_is_refused_before_the_run(
    tmp_path: Path, made: Callable[[Path], Path], says: str
) -> None:
    with pytest.raises(ExpectedProblem) as caught:
        LiveBench(BRIEF, made(tmp_path))
    assert says in caught.value.text


def test_a_full_drive_is_told_before_the_run(tmp_path: Path) -> None:
    with pytest.raises(ExpectedProblem, match="MB are needed for the test file"):
        LiveBench(replace(BRIEF, drive_bytes=1 << 60), tmp_path)
