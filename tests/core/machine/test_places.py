"""Places added by hand: what is not known stays not known, and the fit rules say so."""

from __future__ import annotations

import pytest

from brachium.core.base.why import Origin
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.places import PLACE_KINDS, with_feed, with_place, without_place
from brachium.core.plan.candidates import candidates, planned
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue


@pytest.mark.parametrize("kind", PLACE_KINDS, ids=lambda k: k.id)
def test_every_kind_of_place_is_added_and_taken_away(kind: object) -> None:
    machine, place = with_place(MACHINE, kind.id)  # type: ignore[attr-defined]
    platform = machine.platform
    board = (platform.cards, platform.headers, platform.chips)
    ids = [p.id for places in (machine.slots, machine.bays, machine.leads, *board) for p in places]  # type: ignore[attr-defined]
    assert len(ids) == len(set(ids)) == len(MACHINE.slots) + len(MACHINE.bays) + 1
    assert machine.place_label(place) != place
    assert machine.origin("slots") is Origin.LABEL, "what was said of the other places stays"
    assert without_place(machine, place) == MACHINE
    fed, lead = with_place(machine, "lead-sata")
    assert with_feed(fed, lead, place).leads[-1].feeds == place
    assert not any(x.feeds for x in without_place(with_feed(fed, lead, place), place).leads)
    assert without_place(MACHINE, "slot-1").configuration().memory_bytes() == 0


def test_a_machine_made_by_hand_finds_its_parts_and_asks_for_the_missing_fact() -> None:
    machine = Machine(kind=MachineKind.LAPTOP)
    for kind in ("so-dimm-ddr3", "so-dimm-ddr3", "bay-2.5"):
        machine, _ = with_place(machine, kind)
    assert [s.channel for s in machine.slots] == [None, None], "their order tells no channel"
    assert [b.label for b in machine.bays] == ["Drive bay"]
    offered = {c.id: c for c in candidates(machine, demo_catalogue())}
    memory, drive = offered["mem-2x8-l"], next(c for k, c in offered.items() if k.startswith("ssd-480@"))
    verdicts = evaluate(ALL_RULES, machine, planned(machine, (memory, drive)))
    by_rule = {v.rule: v for v in verdicts}
    assert by_rule["MEM-FORM"].level is Level.FITS and by_rule["STO-IF"].level is Level.FITS
    unknown = [v for v in verdicts if v.level is Level.NOT_KNOWN]
    assert unknown and all(v.gap is not None and v.gap.how for v in unknown), "each says how to find out"


@pytest.mark.parametrize(("kind", "titles"), [
    ("dimm-ddr4", ["Memory slot 1", "Memory slot 2", "Memory slot 3"]),
    ("bay-2.5", ["Drive bay", "Drive bay 2", "Drive bay 3"]), ("bay-m2", ["M.2 slot", "M.2 slot 2", "M.2 slot 3"]),
    ("card-x16", ["Card slot 1", "Card slot 2", "Card slot 3"]), ("fan", ["Fan 1", "Fan 2", "Fan 3"]),
])  # fmt: skip
def test_added_places_are_numbered_by_their_kind(kind: str, titles: list[str]) -> None:
    machine = Machine(kind=MachineKind.TOWER)
    seen = []
    for _ in titles:
        machine, place = with_place(machine, kind)
        seen.append(machine.place_label(place))
    assert seen == titles
    machine, _ = with_place(with_place(machine, "lead-sata")[0], "lead-sata")
    assert [lead.label.rpartition(" ")[2] for lead in machine.leads] == ["1", "2"]
