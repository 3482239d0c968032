"""Which differing condition takes out which results."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.measure.conditions import Conditions, condition_differences
from brachium.core.measure.run import Run
from brachium.core.measure.statistics import Word
from brachium.core.prove.comparison import compare_runs

BASE = Conditions(
    room_c=23.0, boot_medium="installed system", mains=True, battery_fitted=True, power_profile="balanced",
    fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="1.18", free_space_frac=0.4,
)  # fmt: skip


@pytest.mark.parametrize(
    ("change", "name", "excludes"),
    [
        ({"room_c": None}, "room", ("heat",)),
        ({"room_c": 30.0}, "room", ()),
        ({"boot_medium": "live stick"}, "boot medium", ("*",)),
        ({"mains": False}, "mains", ("*", "heat")),
        ({"battery_fitted": False}, "battery", ("*",)),
        ({"power_profile": "saver"}, "power profile", ("*",)),
        ({"fan_mode": "full"}, "fan mode", ()),
        ({"panel_on": False}, "panel or lid", ("heat",)),
        ({"system": "Linux 6.12"}, "system", ()),
        ({"free_space_frac": 0.08}, "free space", ()),
    ],
)
def test_one_difference(change: dict[str, object], name: str, excludes: tuple[str, ...]) -> None:
    found = condition_differences(BASE, replace(BASE, **change))  # type: ignore[arg-type]
    assert [(d.name, d.excludes) for d in found] == [(name, excludes)]


def test_room_on_a_drive_is_judged_from_fifteen_percent_on() -> None:
    for share, says in ((0.15, "room enough"), (0.149, "under 15 %")):
        (found,) = condition_differences(BASE, replace(BASE, free_space_frac=share))
        assert says in found.text
    assert condition_differences(BASE, replace(BASE, free_space_frac=0.21)) == (), "under a fifth apart, both with room"


def test_agreeing_or_unrecorded_conditions_are_no_difference() -> None:
    assert condition_differences(BASE, replace(BASE, room_c=23.5)) == ()
    assert condition_differences(replace(BASE, system=""), replace(BASE, system="")) == ()


def test_what_one_side_states_alone_is_never_the_same_and_takes_nothing_out() -> None:
    found = condition_differences(BASE, replace(BASE, system="", mains=None))
    assert {d.name for d in found} == {"mains", "system"}
    assert all(d.one_sided and d.excludes == () and not d.hangs("start_up") for d in found)


@pytest.mark.parametrize(
    ("change", "hangs", "free"),
    [
        (
            {"firmware": "2.0"},
            ("start_up", "mem_gather", "own:start-1", "probe_mem_gather"),
            ("cpu_single", "drive_seq"),
        ),
        ({"graphics_driver": "25"}, ("own:frames-1", "own:low1-2"), ("own:noise-1", "sustained")),
        (
            {"memory_profile": "rated profile"},
            ("mem_bandwidth", "sustained", "own:frames-1"),
            ("drive_seq", "cpu_single"),
        ),
        ({"encryption": True}, ("drive_rand_q1", "start_up", "own:task-1"), ("cpu_all", "own:frames-1")),
        ({"charge": "charging"}, ("sustained", "own:frames-1"), ("drive_seq", "cpu_single")),
        ({"charge_frac": 0.12}, ("sustained",), ("drive_seq",)),
        ({"fan_mode": "full speed"}, ("own:noise-1",), ("sustained", "start_up")),
    ],
)
def test_a_result_that_hangs_on_a_condition_is_marked_and_no_other(
    change: dict[str, object], hangs: tuple[str, ...], free: tuple[str, ...]
) -> None:
    full = replace(BASE, firmware="1.0", graphics_driver="24", memory_profile="standard", encryption=False,
                   charge="not charging", charge_frac=0.9, fan_mode="automatic")  # fmt: skip
    (found,) = condition_differences(full, replace(full, **change))  # type: ignore[arg-type]
    assert all(found.hangs(t) for t in hangs) and not any(found.hangs(t) for t in free)
    assert found.excludes == () and condition_differences(full, replace(full, charge_frac=0.6)) == ()
    (own,) = condition_differences(full, replace(full, **change), frozenset({found.name}))  # type: ignore[arg-type]
    assert own.text == "the work itself" and own.marks == ()


@pytest.mark.parametrize(
    "change",
    [
        {"adapter_w": 45.0},
        {"power_limit": "undervolted"},
        {"boost": False},
        {"power_profile": "power saving"},
    ],
)
def test_what_limits_power_forbids_the_tests_and_leaves_resistances(change: dict[str, object]) -> None:
    full = replace(BASE, adapter_w=90.0, power_limit="as delivered", boost=True, power_profile="balanced")
    (found,) = condition_differences(full, replace(full, **change))  # type: ignore[arg-type]
    assert found.excludes == ("*",)


def test_a_difference_takes_out_its_results_and_no_others(runs: tuple[Run, Run]) -> None:
    before, after = runs
    stick = replace(after, conditions=replace(after.conditions, boot_medium="live stick"))
    found = compare_runs(before, stick, 95.0)
    assert all(g.result is None and "boot medium" in g.excluded for g in found.gains)
    assert found.heat.paste is not None, "the heat path stays comparable"
    lid = replace(after, conditions=replace(after.conditions, panel_on=False))
    found = compare_runs(before, lid, 95.0)
    assert found.heat.paste is None and "panel" in found.heat.refusal
    assert all(g.result is not None for g in found.gains)


def test_another_version_of_a_workload_is_not_compared(runs: tuple[Run, Run]) -> None:
    before, after = runs
    newer = tuple(replace(t, version=2) if t.key == "cpu_all" else t for t in after.tests)
    found = compare_runs(before, replace(after, tests=newer), 95.0)
    gain = found.gain("cpu_all")
    assert gain is not None and gain.result is None and "version" in gain.excluded
    assert sum(g.result is None for g in found.gains) == 1


def test_null_runs_of_the_same_machine_claim_nothing(runs: tuple[Run, Run]) -> None:
    before, _ = runs
    found = compare_runs(before, before, 95.0)
    assert {g.judgement.word for g in found.gains} <= {Word.SAME, Word.CANNOT_TELL}
    assert found.differences == ()


def test_the_demo_job_proves_what_was_changed(runs: tuple[Run, Run]) -> None:
    found = compare_runs(*runs, 95.0)
    words = {g.test.key: g.judgement.word for g in found.gains}
    better = {"sustained", "mem_bandwidth", "drive_seq", "drive_rand_q1", "drive_rand_q32", "start_up", "own_task"}
    better |= {"mem_copy", "drive_stream", "drive_q1", "drive_flush"}  # the second channel and the other drive
    better |= {"task_compress", "task_together"}  # which write what they made
    assert {k for k, w in words.items() if w is Word.BETTER} == better
    assert words["cpu_single"] is not Word.WORSE
    bandwidth = found.gain("mem_bandwidth")
    assert bandwidth is not None and bandwidth.result is not None and 1.5 < bandwidth.result.ratio < 2.0
