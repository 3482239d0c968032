"""Readings of a system tree: right values, counters over their wrap, traps of real machines, what is missing."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from brachium_probe.counters import EnergyCounter, disk_times, throttle_count
from brachium_probe.facts import conditions, machine_name
from brachium_probe.sampler import SystemSampler
from brachium_probe.sensors import find_temperatures, limits_c, main_temperature
from brachium_probe.tree import Tree
from tests.support.system_tree import SystemTree, laptop


@pytest.fixture
def tree(tmp_path: Path) -> SystemTree:
    return laptop(tmp_path)


def test_everything_is_read_in_its_unit(tree: SystemTree) -> None:
    for name, kind, scope in (("hid-mouse", "Battery", "Device"), ("BAT0", "Battery", "System")):
        tree.put(f"/sys/class/power_supply/{name}/type", kind)
        tree.put(f"/sys/class/power_supply/{name}/scope", scope)
        tree.put(f"/sys/class/power_supply/{name}/capacity", 12 if scope == "Device" else 87)
    sampler = SystemSampler(Tree(str(tree.root)))
    sampler.sample(10.0)
    tree.energy(31_000_000)
    tree.processor(1000 + 120, 200 + 20, 50_000 + 200, iowait=40, steal=20)
    tree.disk(1000 + 1500, read=20_000, written=1000)
    tree.pressure(1_000_000 + 500_000, 400_000 + 100_000)
    found = sampler.sample(12.0)
    assert found["temp_c"] == 63.0 and found["temp_c/nvme-composite"] == 41.85 and found["temp_c/coretemp-core-0"] == 61
    assert found["fan_rpm"] == 2450 and found["clock_mhz"] == pytest.approx(2150.0)
    assert found["power_w"] == pytest.approx(15.0), "30 J in 2 s"
    assert found["throttle_count"] == 2 + 3 + 7, "each core once, the package once"
    assert found["util_frac"] == pytest.approx(140 / 400), "waiting and stolen time are not work"
    assert found["steal_frac"] == pytest.approx(20 / 400)
    assert found["memory_used_frac"] == pytest.approx(0.25) and found["battery_frac"] == 0.87
    assert found["disk_busy_frac"] == pytest.approx(0.75) and found["disk_mb_s"] == pytest.approx(21_000 * 512 / 2e6)
    assert found["io_stall_frac"] == pytest.approx(0.05) and found["cpu_stall_frac"] == pytest.approx(0.25)
    assert {c.key for c in sampler.channels()} == set(found), "no channel without values, no value without a channel"


def test_user_time_of_other_programs_is_background(tree: SystemTree, monkeypatch: pytest.MonkeyPatch) -> None:
    spent = {"own": 3.0}
    monkeypatch.setattr("brachium_probe.counters.user_time_s", lambda _: spent["own"])
    sampler = SystemSampler(Tree(str(tree.root)))
    sampler.sample(0.0)
    spent["own"] += 1.0
    tree.processor(1000 + 150, 200 + 50, 50_000 + 200)
    found = sampler.sample(1.0)
    assert found["background_frac"] == pytest.approx((1.5 - 1.0) / 4.0)


def test_energy_runs_over_its_wrap(tree: SystemTree) -> None:
    top = 262_143_328_850
    tree.energy(top - 5_000_000)
    counter = EnergyCounter(Tree(str(tree.root)))
    assert counter.read_j() == 0.0
    tree.energy(7_000_000)
    assert counter.read_j() == pytest.approx(12.0)
    assert len(counter.zones) == 1, "the cores lie inside the package"


def test_absurd_values_and_placeholder_limits_count_as_absent(tree: SystemTree) -> None:
    system = Tree(str(tree.root))
    found = find_temperatures(system)
    assert "boardchip AUXTIN" not in [t.title for t in found]
    main = main_temperature(found)
    assert main is not None and main.title == "coretemp Package id 0", "not the first in the list, nor hwmon0"
    limits = {Path(name).parent.name: limit for name, limit in limits_c(found, 3.0).items()}
    assert limits == {"hwmon3": 97.0, "hwmon4": pytest.approx(81.85)}, "each sensor is held to its own chip's limit"


@pytest.mark.parametrize(
    ("milli_c", "limit_c", "stops"),
    [(96_900, None, False), (97_000, None, True), (88_000, 85.0, True), (84_000, 85.0, False)],
)
def test_a_load_is_stopped_below_the_critical_value_or_at_the_owners_limit(
    tree: SystemTree, milli_c: int, limit_c: float | None, stops: bool
) -> None:
    sampler = SystemSampler(Tree(str(tree.root)), limit_c)
    tree.sensor(3, "coretemp", "Package id 0", milli_c, 100_000, 1)
    sampler.sample(1.0)
    assert bool(sampler.over_limit) is stops
    if stops:
        assert "coretemp Package id 0" in sampler.over_limit and "limit" in sampler.over_limit


def test_a_hot_drive_stops_the_load_too(tree: SystemTree) -> None:
    sampler = SystemSampler(Tree(str(tree.root)), limit_c=95.0)
    tree.sensor(4, "nvme", "Composite", 82_000, 84_850)
    sampler.sample(1.0)
    assert "nvme Composite read 82.0" in sampler.over_limit, "the owner's limit is the processor's, not the drive's"


def test_what_is_missing_is_named_with_its_remedy(tmp_path: Path) -> None:
    bare = SystemTree(tmp_path)
    bare.processor(1, 1, 100)
    sampler = SystemSampler(Tree(str(tmp_path)))
    missing = dict(sampler.missing())
    assert set(missing) == {"chip temperature", "power", "fan speed", "clock", "throttle counters", "pressure stalls"}
    assert "no heat figures" in missing["chip temperature"] and "psi=1" in missing["pressure stalls"]
    assert {c.key for c in sampler.channels()} == {"util_frac", "steal_frac", "background_frac"}


@pytest.mark.skipif(os.geteuid() != 0, reason="needs to give up rights")
def test_without_rights_the_energy_counter_says_what_root_would_add(tree: SystemTree) -> None:
    (tree.root / "sys/class/powercap/intel-rapl:0/energy_uj").chmod(0o000)
    for folder in (tree.root, *tree.root.parents):
        if folder.stat().st_uid == 0 and str(folder) != "/" and folder.stat().st_mode & 0o005 != 0o005:
            folder.chmod(0o755)
    os.seteuid(65534)
    try:
        sampler = SystemSampler(Tree(str(tree.root)))
        missing = dict(sampler.missing())
    finally:
        os.seteuid(0)
    assert "start as root" in missing["power"] and "temp_c" in {c.key for c in sampler.channels()}


def test_drives_are_read_whatever_the_number_of_columns(tree: SystemTree) -> None:
    tree.disk(2500, read=8)
    times = disk_times(Tree(str(tree.root)))
    assert times["sda"].busy_s == 2.5 and times["sda"].moved_bytes == 8 * 512 and set(times) == {"sda", "sdb"}
    sampler = SystemSampler(Tree(str(tree.root)), watched_disk="sdb")
    sampler.sample(0.0)
    tree.disk(9000)
    assert sampler.sample(1.0)["disk_busy_frac"] == 0.0, "only the drive under test counts"


def test_a_counter_that_falls_back_gives_no_value(tree: SystemTree) -> None:
    sampler = SystemSampler(Tree(str(tree.root)), watched_disk="sda")
    sampler.sample(0.0)
    tree.disk(10)
    tree.processor(10, 10, 100)
    found = sampler.sample(1.0)
    assert "disk_busy_frac" not in found and "util_frac" not in found and "temp_c" in found
    assert throttle_count(Tree(str(tree.root))) == 12.0


def test_conditions_and_signature_come_from_the_tree(tree: SystemTree) -> None:
    tree.put("/sys/class/power_supply/AC/type", "Mains")
    tree.put("/sys/class/power_supply/AC/online", 1)
    tree.put("/sys/class/power_supply/BAT0/type", "Battery")
    tree.put("/sys/class/power_supply/BAT0/present", 0)
    tree.put("/sys/class/power_supply/mouse/type", "Battery")
    tree.put("/sys/class/power_supply/mouse/scope", "Device")
    tree.put("/sys/class/power_supply/mouse/present", 1)
    system = Tree(str(tree.root))
    found = conditions(system, 22.5, "")
    assert found["mains"] is True and found["battery_fitted"] is False, "a mouse's cell is not the machine's battery"
    assert found["boot_medium"] == "live system" and found["system"] == "Linux on a stick, kernel 6.1.0"
    assert found["room_c"] == 22.5 and found["free_space_frac"] is None
    assert machine_name(system) == "Kestrion M4-35, 4 threads, 7.6 GiB"
