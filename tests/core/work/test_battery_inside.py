"""A battery under the cover is unplugged there, the first thing; only one that comes out from outside comes before."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, candidates
from brachium.core.work.step import Step
from brachium.core.work.steps import steps_for
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue

ALL = {c.id: c for c in candidates(MACHINE, demo_catalogue())}
PLANS = (("svc-clean", "svc-paste"), ("mem-4-l",), ("ssd-480@bay-main",), ("mem-4-l", "ssd-480@bay-main", "svc-paste"))


def laptop(inside: bool | None, board_out: bool = False, kind: MachineKind = MachineKind.LAPTOP) -> Machine:
    platform = MACHINE.platform
    return replace(MACHINE, kind=kind, platform=replace(
        platform, power=replace(platform.power, battery_inside=inside),
        contacts=replace(platform.contacts, board_out=board_out),
    ))  # fmt: skip


def plan(ids: tuple[str, ...]) -> tuple[Candidate, ...]:
    return tuple(ALL[i] for i in ids)


def steps(machine: Machine, ids: tuple[str, ...]) -> dict[str, tuple[int, Step]]:
    return {s.id: (k, s) for k, s in enumerate(steps_for(machine, plan(ids), ("new CMOS battery",)))}


@pytest.mark.parametrize("kind", [MachineKind.LAPTOP, MachineKind.HANDHELD])
@pytest.mark.parametrize("board_out", [False, True])
@pytest.mark.parametrize("inside", [True, None])
@pytest.mark.parametrize("ids", PLANS)
def test_what_sits_inside_is_unplugged_right_after_the_cover(
    ids: tuple[str, ...], inside: bool | None, board_out: bool, kind: MachineKind
) -> None:
    found = steps(laptop(inside, board_out, kind), ids)
    at, step = found["battery-off"]
    assert at == found["open"][0] + 1, "the first act after the cover"
    assert "power button for 10 s" in step.detail, "then the charge is let go"
    assert "power button" not in found["power-off"][1].detail, "with the battery plugged in it would start"
    assert ("comes out from outside" in found["power-off"][1].detail) is (inside is None)
    for step_id, (k, other) in found.items():
        if found["battery-off"][0] < k < found["battery-on"][0]:
            assert "battery-off" in other.needs, step_id
    assert found["battery-on"][0] < found["look"][0] < found["close"][0]
    assert "battery in" not in found["close"][1].detail or inside is None


@pytest.mark.parametrize("ids", PLANS)
def test_what_comes_out_from_outside_comes_out_before_the_cover(ids: tuple[str, ...]) -> None:
    found = steps(laptop(False), ids)
    assert "battery-off" not in found
    assert "battery out, hold the power button" in found["power-off"][1].detail
    assert found["power-off"][0] < found["open"][0]


def test_a_machine_without_a_battery_unplugs_from_the_mains() -> None:
    found = steps(laptop(None, kind=MachineKind.TOWER), ("mem-4-l",))
    assert "battery-off" not in found and "mains plug out" in found["power-off"][1].detail
