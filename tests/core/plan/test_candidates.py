"""Where parts are offered: places in the board's order, dead ones never, what leaves with an old board."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.base.units import GIB
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.machine.drive_part import DriveInterface
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Fitted, Machine, ModuleSlot
from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.plan.candidates import Candidate, CatalogueItem, Group, candidates, planned
from tests.core.fit.bench_machines import AROUND, CARD, CHIP, NVME
from tests.core.fit.bench_machines import TOWER as BENCH

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
    assert moves(dead, other) == [("s1", True), ("s2", True), ("s3", False)], "the dead slot comes last and alone"
    assert moves(TOWER, item(5, MemoryGeneration.DDR4)) == []


def test_a_processor_is_offered_wherever_it_may_sit_in_a_socket() -> None:
    chip = CatalogueItem("c", Group.PROCESSOR, "c", Decimal(40), 1, CHIP)
    for kind in (MachineKind.LAPTOP, MachineKind.TOWER, MachineKind.ALL_IN_ONE):
        for soldered, there in ((False, True), (None, True), (True, False)):
            board = replace(TOWER.platform.board, soldered=soldered)
            machine = replace(TOWER, kind=kind, platform=replace(TOWER.platform, board=board))
            assert bool(candidates(machine, (chip,))) is there, (kind, soldered)


def test_a_drive_on_a_card_is_offered_at_free_places_for_cards_and_judged_by_their_lanes() -> None:
    drive, card = replace(NVME, name="drive"), replace(CARD, name="carrier", lanes=4, carries=DriveInterface.NVME,
                                                       carries_lengths_mm=(80,), power_w=8.0, plugs=())  # fmt: skip
    items = (CatalogueItem("d", Group.DRIVE, "Drive", Decimal(30), 1, drive),
             CatalogueItem("k", Group.CARD, "Carrier", Decimal(9), 1, card))  # fmt: skip
    found = {c.id: c for c in candidates(BENCH, items) if "+" in c.id}
    assert set(found) == {"d+k@card-1", "d+k@card-2"} and found["d+k@card-1"].price == Decimal(39)
    config = planned(BENCH, (found["d+k@card-2"],))
    link = next(v for v in evaluate(ALL_RULES, BENCH, config, AROUND) if v.rule == "STO-LINK" and "m2" in v.places[0])
    assert "1740 MB/s" in link.sentence, "gen 2 on four lanes"
    taken = BENCH.with_part("card-1", CARD)
    assert {c.id for c in candidates(taken, items) if "+" in c.id} == {"d+k@card-2"}
