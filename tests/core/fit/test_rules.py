"""Fit rules case by case, and the engine's way with missing facts."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.base.units import GB, GIB
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level, Verdict, worst
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Lead, LeadKind, Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.parts import (
    BayForm,
    Drive,
    DriveInterface,
    MemoryForm,
    MemoryGeneration,
    MemoryModule,
    Part,
)
from brachium.core.plan.candidates import CatalogueItem, Group, candidates
from brachium.demo.newsroom import MACHINE

FOUR = MACHINE.fitted[0].part
MODULE = MemoryModule("m", MemoryForm.SO_DIMM, MemoryGeneration.DDR3, 4 * GIB, 1600, (1.35, 1.5))
SSD = Drive("s", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 480 * GB, False, 540, 540, 0.09)


def verdicts(changes: dict[str, Part | None], machine: Machine = MACHINE) -> dict[str, Verdict]:
    """The worst verdict of each rule on the machine with the changes."""
    config = machine.configuration().with_changes(changes)
    out: dict[str, Verdict] = {}
    for v in evaluate(ALL_RULES, machine, config):
        if v.rule not in out or v.level > out[v.rule].level:
            out[v.rule] = v
    return out


@pytest.mark.parametrize(
    ("changes", "rule", "level", "says"),
    [
        ({"slot-2": MODULE}, "MEM-CHAN", Level.FITS, "2 channels, 25.6 GB/s"),
        ({}, "MEM-CHAN", Level.LIMITED, "1 channel of 2, 12.8 GB/s"),
        ({"slot-2": replace(MODULE, size_bytes=8 * GIB)}, "MEM-CHAN", Level.LIMITED, "unequal channels, 21.3 GB/s"),
        ({"slot-2": replace(MODULE, form=MemoryForm.DIMM)}, "MEM-FORM", Level.REFUSED, "DIMM does not go"),
        ({"slot-2": replace(MODULE, generation=MemoryGeneration.DDR4)}, "MEM-GEN", Level.REFUSED, "takes DDR3"),
        ({"slot-2": replace(MODULE, volts=(1.5,))}, "MEM-VOLT", Level.REFUSED, "only 1.35 V"),
        ({"slot-2": replace(MODULE, volts=(1.35,))}, "MEM-VOLT", Level.FITS, "1.35 V"),
        ({"slot-2": replace(MODULE, size_bytes=16 * GIB)}, "MEM-SLOT", Level.REFUSED, "16 GiB is over its 8 GiB"),
        ({"slot-2": replace(MODULE, speed_mts=1866)}, "MEM-SPEED", Level.LIMITED, "runs at 1600, not 1866"),
        ({"slot-2": replace(MODULE, speed_mts=1333)}, "MEM-SPEED", Level.LIMITED, "runs at 1333, not 1600"),
        ({"bay-main": SSD}, "STO-LINK", Level.FITS, "540 MB/s within the link"),
        ({"bay-main": SSD}, "STO-BAY", Level.FITS, "7 mm in a bay for 9.5 mm"),
        ({"bay-main": replace(SSD, height_mm=12.5)}, "STO-BAY", Level.REFUSED, "the bay takes 9.5 mm"),
        ({"bay-main": replace(SSD, form=BayForm.IN_3_5)}, "STO-BAY", Level.REFUSED, "does not go into a 2.5 in bay"),
        ({"bay-main": replace(SSD, interface=DriveInterface.NVME)}, "STO-IF", Level.REFUSED, "port is SATA"),
        ({"bay-optical": SSD}, "STO-BAY", Level.NEEDS_FIRST, "needs a 9.5 mm caddy first"),
        ({"bay-optical": SSD}, "STO-LINK", Level.LIMITED, "limits it to 138 MB/s"),
    ],
)
def test_cases(changes: dict[str, Part | None], rule: str, level: Level, says: str) -> None:
    verdict = verdicts(changes)[rule]
    assert verdict.level is level
    assert says in verdict.sentence
    assert verdict.because.rule == rule and verdict.because.facts


_LEADS = (Lead("l1", "SATA power 1", LeadKind.SATA, "bay-main"), Lead("l2", "SATA power 2", LeadKind.SATA))
_OTHER = Lead("l3", "4-pin drive power 1", LeadKind.DRIVE_4)


@pytest.mark.parametrize(
    ("leads", "level", "says"),
    [
        (_LEADS, Level.FITS, "2 SATA power connectors for 2 drives"),
        (_LEADS[:1], Level.REFUSED, "no power connector is free: 2 drives, 1 SATA power connectors"),
        ((_LEADS[0], _OTHER), Level.NEEDS_FIRST, "adapter from a 4-pin drive connector"),
        ((_LEADS[0], replace(_OTHER, feeds="bay-main")), Level.REFUSED, "no power connector is free"),
        ((), Level.NOT_KNOWN, "number of SATA power connectors not known"),
    ],
)
def test_an_added_drive_needs_a_free_lead(leads: tuple[Lead, ...], level: Level, says: str) -> None:
    tower = replace(MACHINE, kind=MachineKind.TOWER, leads=leads)
    verdict = verdicts({"bay-optical": SSD}, tower)["STO-POWER"]
    assert verdict.level is level and says in verdict.sentence
    assert "STO-POWER" not in verdicts({"bay-main": SSD}, tower), "in the place of another it keeps that one's lead"
    assert "STO-POWER" not in verdicts({"bay-optical": SSD}, replace(tower, kind=MachineKind.LAPTOP))


@pytest.mark.parametrize(
    ("published", "controller", "level"),
    [(16, 32, Level.FITS), (8, 16, Level.NOT_KNOWN), (8, 8, Level.REFUSED)],
)
def test_total_above_the_published_maximum_is_not_known_but_above_the_controllers_refused(
    published: int, controller: int, level: Level
) -> None:
    memory = replace(MACHINE.memory, published_max_bytes=published * GIB, controller_max_bytes=controller * GIB)
    big = replace(MODULE, size_bytes=8 * GIB)
    assert verdicts({"slot-1": big, "slot-2": big}, replace(MACHINE, memory=memory))["MEM-TOTAL"].level is level


def test_peak_bandwidth_is_channels_times_eight_bytes_times_rate() -> None:
    one = MACHINE.configuration()
    assert bandwidth_mb_s(MACHINE, one) == 8 * 1600
    assert bandwidth_mb_s(MACHINE, one.with_changes({"slot-2": MODULE})) == 2 * 8 * 1600
    assert bandwidth_mb_s(MACHINE, one.with_changes({"slot-1": None})) is None


def test_a_missing_fact_that_does_not_matter_is_no_obstacle() -> None:
    blind = replace(MACHINE, memory=replace(MACHINE.memory, low_voltage_only=None))
    assert verdicts({"slot-2": MODULE}, blind)["MEM-VOLT"].level is Level.FITS
    missing = verdicts({"slot-2": replace(MODULE, volts=(1.5,))}, blind)["MEM-VOLT"]
    assert missing.level is Level.NOT_KNOWN
    assert missing.gap is not None and missing.gap.minutes <= 5 and "read the label" in missing.gap.how


def test_a_missing_bay_height_is_settled_where_every_height_would_do() -> None:
    bays = tuple(replace(b, max_height_mm=None) if b.id == "bay-main" else b for b in MACHINE.bays)
    blind = replace(MACHINE, bays=bays).with_part("bay-main", None)
    flat = verdicts({"bay-main": replace(SSD, height_mm=5.0)}, blind)["STO-BAY"]
    assert flat.level is Level.FITS and flat.because.notes[0].startswith("Not recorded: the height")
    assert verdicts({"bay-main": SSD}, blind)["STO-BAY"].level is Level.NOT_KNOWN


modules = st.builds(
    MemoryModule, st.just("m"), st.sampled_from(list(MemoryForm)), st.sampled_from(list(MemoryGeneration)),
    st.sampled_from([GIB * n for n in (1, 2, 4, 8, 16)]), st.sampled_from([1066, 1333, 1600, 1866]),
    st.sampled_from([(1.35,), (1.5,), (1.35, 1.5)]),
)  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(
    modules,
    st.sets(st.sampled_from(["low_voltage_only", "board_max_mts", "published_max_bytes", "controller_max_bytes"])),
)
def test_forgetting_facts_never_improves_a_verdict(module: MemoryModule, forgotten: set[str]) -> None:
    """A verdict with facts missing is the same as with them, or not known; never another answer."""
    full = verdicts({"slot-2": module})
    blind = replace(MACHINE, memory=replace(MACHINE.memory, **dict.fromkeys(forgotten)))
    for rule, verdict in verdicts({"slot-2": module}, blind).items():
        assert verdict.level in (full[rule].level, Level.NOT_KNOWN), rule


@settings(max_examples=40, deadline=None)
@given(modules)
def test_the_worst_rule_decides_and_order_of_places_does_not_matter(module: MemoryModule) -> None:
    here = evaluate(ALL_RULES, MACHINE, MACHINE.configuration().with_changes({"slot-2": module}))
    turned = replace(MACHINE, slots=MACHINE.slots[::-1])
    there = evaluate(ALL_RULES, turned, turned.configuration().with_changes({"slot-2": module}))
    assert worst(here) is worst(there)
    assert worst(here) is max(v.level for v in here)


def test_what_was_proven_faulty_is_refused_and_nothing_is_offered_there() -> None:
    dead = replace(MACHINE, bad_places=("slot-2",))
    assert verdicts({"slot-2": MODULE}, dead)["MEM-BAD"].sentence == "Memory slot 2 is dead"
    assert "MEM-BAD" not in verdicts({}, dead), "an empty dead slot harms nobody"
    broken = replace(MACHINE, bad_parts=("slot-1",))
    assert verdicts({}, broken)["MEM-BAD"].level is Level.REFUSED
    assert "MEM-BAD" not in verdicts({"slot-1": MODULE}, broken), "another module in its place is fine"
    items = (CatalogueItem("one", Group.MEMORY, "4 GiB", Decimal(9), part=MODULE),)
    places = {c.places for machine in (MACHINE, dead, broken) for c in candidates(machine, items)}
    assert places == {("slot-2",), ("slot-1",)}
    assert [c.places for c in candidates(dead, items)] == [("slot-1",)]
