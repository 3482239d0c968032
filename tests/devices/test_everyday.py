"""Everyday tasks, memory ladder and graphics: right, split by what they waited for, gone without a trace."""

from __future__ import annotations

import os
import resource
import shutil
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from brachium.core.measure.feel_tests import EVERYDAY, GRAPHICS, HEAT, LADDER, WHERE
from brachium.core.measure.knee import knee_of
from brachium.demo.newsroom import newsroom_job
from brachium.demo.simulation import Simulation
from brachium.devices.live import graphics as live_graphics
from brachium.devices.live.bench import missing_here, offers_here
from brachium.devices.live.child_command import COMMAND
from brachium.devices.live.everyday import STEPS, everyday_spec
from brachium.devices.live.graphics import GraphicsHere, graphics_here, graphics_spec
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.everyday import WORKING_GIB
from brachium.devices.simulated.machine import SimulatedSpec
from brachium.devices.workloads.memory_hold import Ballast, ControlGroup
from brachium.devices.workloads.where_time_went import split_of
from brachium_probe.children import ChildGroup, ChildSpec
from brachium_probe.own_folder import OwnFolder
from brachium_probe.tree import Tree

needs_drawing = pytest.mark.skipif(shutil.which("Xvfb") is None, reason="no Xvfb here: nothing can be drawn")
DISK = SimulatedDrive(True, 120.0, 55.0, 14.0, 280.0)
FLASH = SimulatedDrive(False, 500.0, 500.0, 0.12, 550.0)


@pytest.fixture
def own(tmp_path: Path) -> Iterator[OwnFolder]:
    folder = OwnFolder(str(tmp_path))
    yield folder
    folder.close()
    assert not list(tmp_path.iterdir()), "nothing is left"


def until_gone(pid: int) -> None:
    """What a killed test had started ends with it."""
    for _ in range(1500):
        try:
            if Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] == "Z":
                return
        except OSError:
            return
        time.sleep(0.02)
    raise AssertionError(f"process {pid} is still there")


def told(spec: ChildSpec) -> tuple[ChildGroup, dict[str, object]]:
    group = ChildGroup((spec,), COMMAND)
    group.start()
    while not group.done():
        time.sleep(0.02)
    return group, dict(group.last_facts()[0])


@pytest.mark.parametrize("task", ["task_database", "task_sheet"])
def test_a_task_checks_its_own_output_and_says_where_its_seconds_went(own: OwnFolder, task: str) -> None:
    group, facts = told(everyday_spec(task, own.where()))
    assert group.problem() == "" and group.wrong() == 0
    parts, whole = facts["parts"], facts["result"]
    assert isinstance(parts, dict) and isinstance(whole, float) and set(parts) == set(WHERE)
    assert sum(parts.values()) == pytest.approx(whole, rel=0.25), (
        "looked at a few hundred times only, on a busy machine"
    )
    assert parts["processor"] > 0.0 and not any(v < 0.0 for v in parts.values())


SPLIT = """
import os, sys, time
from brachium.devices.workloads.where_time_went import TimeSplit
split = TimeSplit(); split.start()
end = time.process_time() + 0.5
while time.process_time() < end: pass
time.sleep(0.5)
print(*split.stop()[1].values(), split.stop and time.process_time())
"""


def test_computing_and_sleeping_are_told_apart() -> None:
    done = subprocess.run([sys.executable, "-c", SPLIT], capture_output=True, text=True)
    processor, storage, paging, other, _ = (float(v) for v in done.stdout.split())
    assert processor == pytest.approx(0.5, abs=0.12) and other >= 0.4 and storage + paging < 0.1, done.stderr


def test_parts_are_shares_of_what_was_seen_and_the_kernels_account() -> None:
    parts = split_of(10.0, 4.0, {"run": 40, "storage": 30, "paging": 20, "other": 10})
    assert parts == {"processor": 4.0, "storage": 3.0, "paging": 2.0, "other": 1.0}
    crowded = split_of(10.0, 2.0, {"run": 50, "storage": 0, "paging": 0, "other": 50})
    assert crowded == {"processor": 2.0, "storage": 0.0, "paging": 0.0, "other": 8.0}, "ready to run is not running"
    several = split_of(10.0, 18.0, {"run": 90, "storage": 10, "paging": 0, "other": 0})
    assert several["processor"] == 9.0 and sum(several.values()) == 10.0, "two processors in one time"
    assert split_of(10.0, 4.0, {"run": 0, "storage": 0, "paging": 0, "other": 0}) == {}


def test_a_killed_task_leaves_nothing_behind(own: OwnFolder, tmp_path: Path) -> None:
    group = ChildGroup((everyday_spec("task_together", own.where()),), COMMAND)
    group.start()
    while not list(tmp_path.glob("*/work-*/one")):
        time.sleep(0.02)
    (pid,) = group.pids()
    while len(below := Path(f"/proc/{pid}/task/{pid}/children").read_text().split()) < 3:
        time.sleep(0.02)
    group.kill()
    assert not Path(f"/proc/{pid}").exists() and list(tmp_path.glob("*/work-*")), "its folder is the run's to remove"
    for one in below:
        until_gone(int(one))
    outside = tmp_path.parent / "outside"
    outside.mkdir()
    (outside / "kept").write_text("kept")
    next(iter(tmp_path.glob("*/work-*"))).joinpath("link").symlink_to(outside)
    own.close()
    assert (outside / "kept").read_text() == "kept", "a link is removed, never followed"
    (outside / "kept").unlink()
    outside.rmdir()


def test_a_full_drive_is_said_in_words(own: OwnFolder, tmp_path: Path) -> None:
    soft, hard = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (1 << 20, hard))
    try:
        group, _ = told(everyday_spec("task_compress", own.where()))
        ladder, _ = told(everyday_spec(LADDER, own.where()))
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, (soft, hard))
    assert "File too large" in group.problem() and "File too large" in ladder.problem()
    assert not list(tmp_path.glob("*/work-*"))


def test_without_a_folder_they_are_left_out_and_that_is_said() -> None:
    assert not {*EVERYDAY, LADDER} & set(offers_here(False)) and {*EVERYDAY, LADDER} <= set(offers_here(True))
    assert any(m.what == "everyday tasks" and "folder" in m.why for m in missing_here(False))
    with pytest.raises(KeyError):
        everyday_spec("task_files", None)


def test_an_exchanged_folder_is_not_written_to(own: OwnFolder, tmp_path: Path) -> None:
    where = own.where()
    group, _ = told(everyday_spec("task_database", {**where, "inode": 1}))
    assert "exchanged" in group.problem()


# -- the simulated machine


def simulated(drive: SimulatedDrive, memory_gib: float = 8.0, seed: int = 1) -> SimulatedBench:
    job = newsroom_job()
    from brachium.demo.machines import simulation_of

    simulation = simulation_of(job)
    assert isinstance(simulation, Simulation)
    spec: SimulatedSpec = simulation.spec(job.machine.configuration(), frozenset(), False)
    return SimulatedBench(replace(spec, drive=drive, memory_gib=memory_gib, seed=seed))


def run(bench: SimulatedBench, key: str) -> tuple[float, dict[str, float], tuple[tuple[float, float], ...]]:
    workload = bench.workload(key)
    workload.start()
    while not workload.done():
        bench.clock.sleep(0.25)
    out = workload.result(), dict(workload.parts()), workload.curve()
    workload.stop()
    return out


@pytest.mark.parametrize("drive", [DISK, FLASH], ids=["disk", "flash"])
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_simulated_parts_add_up_to_the_whole(drive: SimulatedDrive, seed: int) -> None:
    for memory in (1.5, 8.0):
        bench = simulated(drive, memory, seed)
        for key in EVERYDAY:
            whole, parts, _ = run(bench, key)
            assert sum(parts[k] for k in WHERE) == pytest.approx(whole, rel=0.03), key
            short = memory < 2.0 and key == "task_together"
            assert (parts["paging"] > 0.05 * whole) == short, "only what does not fit is paged"


def test_a_disk_is_felt_in_cold_starts_and_saves_and_not_in_warm_ones() -> None:
    disk, flash = simulated(DISK), simulated(FLASH)
    for key, felt in (("task_start_cold", True), ("task_database", True), ("task_start_warm", False)):
        ratio = run(disk, key)[0] / run(flash, key)[0]
        assert (ratio > 3.0) == felt and ratio > 0.9, (key, ratio)


@pytest.mark.parametrize("drive", [DISK, FLASH], ids=["disk", "flash"])
def test_the_ladders_knee_is_within_a_step_of_the_truth(drive: SimulatedDrive) -> None:
    for seed in range(1, 6):
        _, parts, curve = run(simulated(drive, seed=seed), LADDER)
        knee = knee_of(curve)
        sizes = sorted(x for x, _ in curve)
        assert knee is not None and parts["working_set"] == WORKING_GIB * 2**30 and len(curve) == len(STEPS)
        assert abs(sizes.index(knee.enough) - sizes.index(parts["working_set"])) <= 1


def test_a_simulated_chip_draws_and_its_slowest_frames_stand_beside() -> None:
    bench = simulated(FLASH)
    assert not set(HEAT) & set(bench.offers()), "no graphics chip of its own is on its plate"
    for key in (k for k in GRAPHICS if k not in (*HEAT, "soft_scene")):
        rate, parts, curve = run(bench, key)
        assert rate > 0.0 and bool(curve) == (key == "gpu_memory")
        if key.startswith("frames_"):
            assert parts["slowest_01"] < parts["slowest_1"] < rate and parts["stutters"] > 0
    rates = [y for _, y in run(bench, "gpu_memory")[2]]
    assert rates == sorted(rates, reverse=True) and rates[0] > 2.0 * rates[-1], "it falls where the memory ends"


# -- memory held


def test_a_control_group_holds_a_process_to_its_memory() -> None:
    try:
        group = ControlGroup()
    except OSError:
        pytest.skip("no right to make a control group here")
    pid = os.fork()
    if pid == 0:
        try:
            group.hold(32 << 20)
            block = bytearray(256 << 20)
            os._exit(int(len(block) > 0) + 1)
        finally:
            os._exit(0)
    _, status = os.waitpid(pid, 0)
    group.close()
    assert os.WIFSIGNALED(status), "it asked for more than it may have"


def test_ballast_gives_up_before_the_machine_pages_itself_to_death(tmp_path: Path) -> None:
    (tmp_path / "proc/pressure").mkdir(parents=True)
    (tmp_path / "proc/meminfo").write_text("MemTotal: 4000000 kB\nMemAvailable: 3000000 kB\n")
    (tmp_path / "proc/pressure/memory").write_text("full avg10=12.00 avg60=1.00 avg300=0.00 total=9\n")
    held = Ballast(Tree(str(tmp_path)))
    assert held.hold(1 << 20) is False, "everything waits for memory already"
    (tmp_path / "proc/meminfo").write_text("MemTotal: 4000000 kB\nMemAvailable: 100000 kB\n")
    (tmp_path / "proc/pressure/memory").write_text("full avg10=0.00 avg60=1.00 avg300=0.00 total=9\n")
    assert held.hold(1 << 20) is True, "nothing needs to be taken"
    (tmp_path / "proc/pressure/memory").unlink()
    assert held.hold(1 << 20) is False, "how safe it is is not told"
    (tmp_path / "proc/meminfo").write_text("MemTotal: 4000000 kB\n")
    assert held.hold(1 << 20) is False
    held.close()


# -- graphics of this machine


def test_what_draws_decides_which_tests_there_are(monkeypatch: pytest.MonkeyPatch) -> None:
    chip, soft = GraphicsHere("Chip", "4.6"), GraphicsHere("llvmpipe", "4.5", True)
    assert "soft_scene" not in chip.tests() and soft.tests() == ("soft_scene",), (
        "a program is never compared with a chip"
    )
    assert "drawn by the processor" in soft.words and "drawn by" not in chip.words
    monkeypatch.setenv("PATH", "")
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    graphics_here.cache_clear()
    assert graphics_here().tests() == () and "no display" in graphics_here().why_not
    assert any(m.what == "graphics" for m in missing_here(True))
    graphics_here.cache_clear()
    monkeypatch.setattr(live_graphics, "LOOK_S", 0.0)
    assert "no answer" in graphics_here().why_not
    graphics_here.cache_clear()


PICTURE = """
from brachium.devices.workloads.graphics import scenes
from brachium.devices.workloads.graphics.screen import Screen
stage = scenes.Stage(Screen(), 640, 360)
right = scenes.difference(stage)
scenes.REFERENCE_FRAME += 60
print(right, scenes.difference(stage), scenes.TOLERANCE)
"""


@needs_drawing
def test_the_drawn_picture_is_the_stored_one_and_another_is_noticed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("DISPLAY", raising=False)
    done = subprocess.run([sys.executable, "-c", PICTURE], capture_output=True, text=True)
    right, wrong, tolerance = (float(v) for v in done.stdout.split()[:3])
    assert right < tolerance < wrong, done.stderr


@needs_drawing
def test_work_is_drawn_and_a_killed_test_leaves_no_display_behind(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("DISPLAY", raising=False)
    spec, per_unit, _ = graphics_spec("gpu_geometry", 0.2)
    group, facts = told(spec)
    result = facts["result"]
    assert isinstance(result, float) and 0.0 < result / per_unit < 1e5, group.problem()
    killed = ChildGroup((graphics_spec("frames_720", 12.0)[0],), COMMAND)
    killed.start()
    (pid,) = killed.pids()
    while not (below := Path(f"/proc/{pid}/task/{pid}/children").read_text().split()):
        time.sleep(0.02)
    killed.kill()
    until_gone(int(below[0]))
