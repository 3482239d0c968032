"""Where parts are offered: places in the board's order, dead ones never, what leaves with an old board."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.base.units import GIB
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Fitted, Machine, ModuleSlot
from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.plan.candidates import Candidate, CatalogueItem, Group, candidates

OLD = MemoryModule("old", MemoryForm.DIMM, MemoryGeneration.DDR3, 2 * GIB)
SLOTS = tuple(ModuleSlot(f"s{k}", f"Place {k}", MemoryForm.DIMM, MemoryGeneration.DDR3, k % 2) for k in range(4))
TOWER = Machine(MachineKind.TOWER, slots=SLOTS, fitted=(Fitted("s0", OLD), Fitted("s3", OLD)))


def item(count: int, generation: MemoryGeneration = MemoryGeneration.DDR3) -> CatalogueItem:
    module = MemoryModule("m", MemoryForm.DIMM, generation, 8 * GIB)
    return CatalogueItem("m", Group.MEMORY, "m", Decimal(10), count, module)


def offered(machine: Machine, what: CatalogueItem) -> Candidate | None:
    return next(iter(candidates(machine, (what,))), None)


def moves(machine: Machine, what: CatalogueItem) -> list[tuple[str, bool]]:
    found = offered(machine, what)
    return [(a.place_id, a.part is not None) for a in found.assignments] if found is not None else []


def test_one_module_goes_into_the_first_free_place_of_the_boards_order() -> None:
    assert moves(TOWER, item(1)) == [("s1", True)]
    ordered = replace(TOWER, memory=replace(TOWER.memory, fill_first=("s2", "s1")))
    assert moves(ordered, item(1)) == [("s2", True)]
    assert moves(replace(ordered, bad_places=("s2",)), item(1)) == [("s1", True)], "never a place proven dead"
    assert moves(replace(TOWER, bad_parts=("s0",)), item(1)) == [("s0", True)], "a faulty module makes room"
    assert moves(TOWER, item(5)) == []


def test_with_another_board_the_old_modules_leave_and_free_places_stay_untouched() -> None:
    other = item(2, MemoryGeneration.DDR4)
    assert moves(TOWER, other) == [("s0", True), ("s1", True), ("s3", False)], "place 2 held nothing"
    dead = replace(TOWER, bad_places=("s0",))
    assert moves(dead, other) == [("s1", True), ("s2", True), ("s3", False)], "the dead place comes last and alone"
    assert moves(TOWER, item(5, MemoryGeneration.DDR4)) == []
