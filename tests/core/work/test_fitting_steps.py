"""Steps fit the thing in hand: form, fastening, kind of machine; every plan of every kind keeps its layers in order."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_part import MemoryForm
from brachium.core.machine.parts import BayForm, Drive
from brachium.core.plan.bench_services import BENCH_SERVICES
from brachium.core.plan.candidates import Candidate, candidates
from brachium.core.work.step import Mode, Step
from brachium.core.work.steps import steps_for
from tests.core.choose.test_new_processor import candidate
from tests.core.fit.bench_machines import BOARD, CHIP, COOLER, D3, LAPTOP, NVME, PATA, SSD, TOWER

CLEAN, PASTE, VOLTAGE = candidates(TOWER, BENCH_SERVICES)
DISK = replace(SSD, name="disk", form=BayForm.IN_3_5, height_mm=26.1, rotational=True)


def made(machine: Machine, *chosen: Candidate) -> tuple[Step, ...]:
    return steps_for(machine, chosen, ())


def step(machine: Machine, chosen: Candidate, step_id: str) -> Step:
    return next(s for s in made(machine, chosen) if s.id == step_id)


def test_a_module_goes_in_by_the_way_of_its_form() -> None:
    assert "straight down" in step(TOWER, candidate(D3, TOWER.slots[1].id), "memory").detail
    flat = candidate(replace(D3, form=MemoryForm.SO_DIMM), LAPTOP.slots[0].id)
    assert "at a slant" in step(LAPTOP, flat, "memory").detail
    rambus = candidate(replace(D3, form=MemoryForm.RIMM), TOWER.slots[1].id)
    assert "filler in every slot that stays empty" in step(TOWER, rambus, "memory").detail


def bay(machine: Machine, form: BayForm, drive: Drive | None = None) -> Machine:
    first = replace(machine.bays[0], form=form)
    bare = replace(machine, bays=(first,)).with_part(first.id, None)
    return bare if drive is None else bare.with_part(first.id, drive)


@pytest.mark.parametrize(
    ("place", "drive", "says", "never"),
    [
        (BayForm.IN_2_5, SSD, "M3 fine", "6-32"),
        (BayForm.IN_3_5, DISK, "6-32 coarse", "M3 fine"),
        (BayForm.IN_3_5, SSD, "its bracket. M3 fine", "Caddy"),
        (BayForm.M2, NVME, "standoff of its length", "M3"),
        (BayForm.IN_3_5, PATA, "Jumper", "M3 fine"),
    ],
)
def test_a_drive_has_the_screws_of_its_form(place: BayForm, drive: Drive, says: str, never: str) -> None:
    machine = bay(TOWER, place)
    words = step(machine, candidate(drive, machine.bays[0].id), "drive").detail
    assert says in words and never not in words


def test_what_held_the_old_drive_moves_over_where_there_is_one() -> None:
    new = candidate(SSD, TOWER.bays[0].id)
    assert "move over" not in step(bay(TOWER, BayForm.IN_2_5), new, "drive").detail
    assert "Caddy, rails and bumpers" in step(bay(TOWER, BayForm.IN_2_5, SSD), new, "drive").detail


def test_a_processor_comes_out_by_what_holds_it() -> None:
    new = candidate(CHIP, "socket")
    screw = replace(
        TOWER, platform=replace(TOWER.platform, build=replace(TOWER.platform.build, processor_lock="screw lock"))
    )
    assert "slot driver" in step(screw, new, "processor").detail
    assert "lever or lock" in step(TOWER, new, "processor").detail, "nobody recorded which"
    assert "pins and contacts" in step(TOWER, new, "processor").detail


def test_a_tower_is_cleaned_with_its_heatsink_on_and_a_laptop_is_not() -> None:
    ids = [s.id for s in made(TOWER, CLEAN)]
    assert "clean" in ids and "cooler-off" not in ids and "paste" not in ids
    assert "heatsink stays on" in step(TOWER, CLEAN, "clean").detail
    both = made(TOWER, CLEAN, PASTE)
    done = [s.id for s in both]
    assert done.index("cooler-off") < done.index("clean") < done.index("paste"), "asked for paste, it comes off"
    assert "stays on" not in both[done.index("clean")].detail
    new = next(s for s in made(TOWER, CLEAN, candidate(COOLER, "cooler")) if s.id == "clean")
    assert new.title == "Clean vents, filters and case fans", "the old fins do not come back"
    assert "cooler-off" in [s.id for s in made(LAPTOP, CLEAN)]
    unsaid = replace(TOWER, kind=MachineKind.NOT_KNOWN)
    assert "stays on" not in step(unsaid, CLEAN, "clean").detail, "nobody said that it is one"


@pytest.mark.parametrize(("bare", "says", "never"), [
    (True, "cover the whole bare die", "a pea"), (False, "a pea in the middle", "bare die"),
    (None, "Where it has a spreader, a pea", "nothing"),
])  # fmt: skip
def test_paste_goes_on_by_the_contact(bare: bool | None, says: str, never: str) -> None:
    contacts = replace(TOWER.platform.contacts, bare_die=bare)
    machine = replace(TOWER, platform=replace(TOWER.platform, contacts=contacts))
    words = step(machine, PASTE, "paste").detail
    assert says in words and never not in words
    assert "broke the old bond" in step(LAPTOP, CLEAN, "paste").detail


def test_a_new_cooler_is_one_step_with_its_paste() -> None:
    steps = made(TOWER, candidate(COOLER, "cooler"))
    ids = [s.id for s in steps]
    assert "cooler" not in ids and ids.count("paste") == 1
    fitted = steps[ids.index("paste")]
    assert fitted.title == "Fit new cooler, fresh paste" and "back plate" in fitted.detail
    assert fitted.layer == "+cooler" and ids.index("cooler-off") < ids.index("paste")
    old = step(TOWER, PASTE, "paste")
    assert old.title == "Renew the paste and refit the cooler" and old.attended_min < fitted.attended_min


def test_a_lowered_voltage_is_set_after_the_memory_test_and_opens_nothing() -> None:
    steps = made(LAPTOP, VOLTAGE)
    assert all(s.mode is not Mode.OPEN for s in steps) and steps[-1].id == "voltage"
    assert [s.id for s in made(LAPTOP, VOLTAGE, PASTE)][-2:] == ["memory-test", "voltage"]


def test_what_a_firmware_forgets_is_noted_before_and_set_after() -> None:
    own = replace(TOWER.platform.settings, start_order="disk first", secure_start=False)
    machine = replace(TOWER, platform=replace(TOWER.platform, settings=own))
    steps = made(machine, candidate(CHIP, "socket"))
    ids = [s.id for s in steps]
    assert ids.index("settings-noted") < ids.index("power-off") < ids.index("first-start") < ids.index("settings")
    words = steps[ids.index("settings")].detail
    assert "start order disk first" in words and "secure boot off" in words and "virtualisation" not in words
    assert "By the photographs." in step(TOWER, candidate(CHIP, "socket"), "settings").detail or "start mode" in words
    assert "settings-noted" not in [s.id for s in made(machine, candidate(SSD, TOWER.bays[0].id))]


def test_a_board_is_looked_at_before_the_old_system_starts_on_it() -> None:
    ids = [s.id for s in made(TOWER, candidate(BOARD, "board"))]
    assert ids.index("close") < ids.index("board-firmware") < ids.index("first-start") < ids.index("board-drivers")
    words = step(TOWER, candidate(BOARD, "board"), "board").detail
    assert all(w in words for w in ("standoffs", "back plate", "Carried over", "processor", "memory"))
    back = step(TOWER, candidate(BOARD, "board"), "board-out-on").detail
    assert all(w in back for w in ("front-panel plugs", "Shield", "standoff"))


def test_what_goes_onto_a_new_board_is_fitted_while_it_lies_outside() -> None:
    steps = made(TOWER, candidate(BOARD, "board"), candidate(CHIP, "socket"), candidate(D3, TOWER.slots[0].id))
    ids = [s.id for s in steps]
    order = ["board-out-off", "cooler-off", "board", "processor", "paste", "memory", "board-out-on"]
    assert [i for i in ids if i in order] == order
    words = steps[ids.index("board")].detail
    assert "Carried over, none by force: cooler with its back plate." in words and "Processor, memory: new" in words
    assert "lift the old one" not in steps[ids.index("processor")].detail
