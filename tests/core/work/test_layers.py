"""Layers and preconditions as steps: what lies under what, and how each precondition is met."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.plan.candidates import Group
from brachium.core.work.hazards import HAZARDS, Tag, hazards_at
from brachium.core.work.layers import BOARD_LAYER, CAGE, COOLER_LAYER, COVER, STAND, closure, layers_of, reach
from brachium.core.work.step import Gate, Mode
from brachium.core.work.step_kinds.preconditions import precondition_step
from brachium.core.work.steps import steps_for
from brachium.demo.newsroom import MACHINE
from tests.core.choose.test_new_processor import candidate
from tests.core.fit.bench_machines import BOARD, CHIP, D3, FAN, TOWER


@pytest.mark.parametrize("kind", list(MachineKind))
def test_what_comes_off_lies_open_by_then(kind: MachineKind) -> None:
    machine = replace(MACHINE, kind=kind)
    layers = layers_of(machine)
    for group in Group:
        off = closure(layers, reach(machine, group))
        for k, layer in enumerate(off):
            assert set(layers[layer].under) <= set(off[:k]), (group, layer)
        from_outside = (Group.ADAPTER, Group.VOLTAGE, *((Group.BATTERY,) if kind in PORTABLE else ()))
        assert (COVER in off) is (group not in from_outside), "this machine's battery comes out from outside"


def test_the_ways_in_are_those_of_the_kind() -> None:
    small, laptop = replace(MACHINE, kind=MachineKind.SMALL_DESKTOP), MACHINE
    assert closure(layers_of(small), reach(small, Group.MEMORY)) == (COVER, CAGE)
    assert closure(layers_of(laptop), reach(laptop, Group.PASTE)) == (COVER, COOLER_LAYER)
    screen = replace(MACHINE, kind=MachineKind.ALL_IN_ONE)
    assert closure(layers_of(screen), reach(screen, Group.MEMORY)) == (STAND, COVER)
    contacts = replace(MACHINE.platform.contacts, board_out=True)
    deep = replace(MACHINE, platform=replace(MACHINE.platform, contacts=contacts))
    assert set(closure(layers_of(deep), reach(deep, Group.CLEANING))) == {COVER, COOLER_LAYER, BOARD_LAYER}


@pytest.mark.parametrize(
    ("need", "mode", "title", "gate"),
    [
        ("firmware 2.14, by way of 2.10", Mode.RUNNING, "Update to firmware 2.14, by way of 2.10", None),
        ("firmware password settled", Mode.RUNNING, "Settle the firmware password", None),
        ("cache pair dissolved by its own tool", Mode.RUNNING, "Dissolve the cache pair", Gate.DATA_SAFE),
        ("image of the failing drive", Mode.BENCH, "Take an image of the failing drive", None),
        ("new CMOS battery", Mode.OPEN, "Put a new CMOS battery in", None),
        ("new data cable", Mode.OPEN, "Change the data cable", None),
        ("9.5 mm caddy", Mode.BENCH, "Get: 9.5 mm caddy", None),
        ("data thinned out or moved", Mode.RUNNING, "Thin the data out or move it", Gate.DATA_SAFE),
    ],
)
def test_each_precondition_is_met_in_its_own_way(need: str, mode: Mode, title: str, gate: Gate | None) -> None:
    step = precondition_step(3, need)
    assert (step.id, step.mode, step.title, step.gate) == ("first-3", mode, title, gate)


def test_a_firmware_update_and_a_dissolved_pair_cannot_be_taken_back() -> None:
    assert precondition_step(0, "firmware 2.0").no_return and precondition_step(0, "cache pair dissolved").no_return
    assert not precondition_step(0, "new CMOS battery").no_return


def test_a_weak_cell_costs_a_second_opening_and_the_cooler_comes_off_once() -> None:
    chosen = (candidate(CHIP, "socket"), candidate(FAN, "fan-1"), candidate(D3, "slot-2"))
    steps = steps_for(TOWER, chosen, ("new CMOS battery", "firmware 2.0"))
    ids = [s.id for s in steps]
    assert [i for i in ids if i.startswith("power-off")] == ["power-off", "power-off-2"]
    assert ids[0] == "settings-noted", "a new cell and an update forget them"
    assert (
        ids.index("first-0") < ids.index("close") < ids.index("start-1") < ids.index("first-1") < ids.index("processor")
    )
    assert sum(i.startswith("cooler-off") for i in ids) == 1 and ids[-2:] == ["memory-test", "load-test"]
    one = [s.id for s in steps_for(TOWER, chosen, ("firmware 2.0",))]
    assert sum(i.startswith("power-off") for i in one) == 1 and one[:2] == ["settings-noted", "first-0"]


def test_a_new_board_takes_everything_out_and_puts_it_back_in_turn() -> None:
    steps = steps_for(TOWER, (candidate(BOARD, "board"), candidate(CHIP, "socket")), ())
    layers = [s.layer for s in steps if s.layer]
    assert layers[: len(layers) // 2] == [f"-{x[1:]}" for x in reversed(layers[len(layers) // 2 :])]
    ids = [s.id for s in steps]
    assert ids.index("board-out-off") < ids.index("board") < ids.index("processor") < ids.index("paste")


def test_the_hazard_table_is_whole_and_speaks_for_the_right_machines() -> None:
    assert len({h.id for h in HAZARDS}) == len(HAZARDS) and all(h.words.endswith(".") and h.tags for h in HAZARDS)
    assert {t for h in HAZARDS for t in h.tags} | {Tag.START, Tag.IMAGE} == set(Tag)
    laptop = {h.id for h in hazards_at(frozenset({Tag.UNPLUG}), MachineKind.LAPTOP)}
    tower = {h.id for h in hazards_at(frozenset({Tag.UNPLUG}), MachineKind.TOWER)}
    assert laptop == {"mains", "lithium"} and tower == {"mains-standing"}
    assert hazards_at(frozenset(), MachineKind.TOWER) == ()
