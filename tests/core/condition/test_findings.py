"""Findings: what they add, what stops a job, that every kind of machine can carry them; tests fitted to the kind."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.condition.findings import KINDS, Finding, Severity, added_minutes, stopping
from brachium.core.condition.trials import tests_for as functional_tests
from brachium.core.condition.zones import ZONES, zone_title
from brachium.core.figures.base.drawing import Dot
from brachium.core.figures.board.finding_pins import PIN_R
from brachium.core.figures.board.fit_board import BoardState
from brachium.core.figures.board.machine_figure import machine_figure, outside_zones, strip_height, zone_of
from brachium.core.fit.verdict import Level
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_part import MemoryGeneration
from brachium.core.machine.typical_places import with_typical_places
from brachium.core.record.job import STAGES, DataSafe, DataState, LatchLift, Stage
from brachium.core.stage.latches import Progress, latches
from brachium.core.stage.next_action import next_action
from brachium.demo.newsroom import newsroom_job


def test_minutes_follow_severity_and_add_up() -> None:
    felt = [Finding("felt", "vents", s) for s in Severity]
    assert added_minutes(felt[:1]) * 2 == added_minutes(felt[1:2]) == added_minutes(felt[2:]) / 2 == 15.0
    assert added_minutes((*felt, Finding("cell", "battery"))) == 15.0 * 3.5
    assert added_minutes((Finding("something newer", "vents"),)) == 0.0, "an unknown kind means nothing more"


@pytest.mark.parametrize("kind", [k for k in KINDS if k.stops], ids=lambda k: k.id)
def test_what_can_hurt_somebody_shuts_every_latch_and_no_reason_lifts_it(kind: object) -> None:
    job = newsroom_job()
    lifted = tuple(LatchLift(s, "the owner insists on it", "today") for s in STAGES[1:])
    job = replace(job, data_safe=DataSafe(DataState.BACKED_UP), lifts=lifted,
                  findings=(*job.findings, Finding(kind.id, "battery")))  # type: ignore[attr-defined] # fmt: skip
    shut = latches(job, Progress(True, True, Level.FITS, 0, 3))
    assert set(shut) == set(STAGES[1:]) and not any(latch.open for latch in shut.values())
    assert all(kind.caution.rstrip(".") in latch.missing for latch in shut.values())  # type: ignore[attr-defined]
    assert shut[Stage.WORK].remedy is Stage.TAKE_IN
    assert next_action(job, Progress(True, True), 30.0, None).command == "condition.show"
    gone = replace(job, findings=job.findings[:-1])
    assert stopping(gone.findings) is None and latches(gone, Progress(True, True, Level.FITS, 0, 3))[Stage.PROVE].open


def test_dangerous_kinds_carry_their_caution_and_refer_to_licensed_people() -> None:
    for kind in KINDS:
        if kind.stops:
            assert "licensed people" in kind.caution, kind.id
        if kind.id in ("dust", "felt", "hair", "insects", "tar"):
            assert "mask" in kind.caution


@pytest.mark.parametrize("kind", list(MachineKind))
def test_every_kind_of_machine_has_a_drawing_zones_and_tests(kind: MachineKind) -> None:
    zones = ZONES[kind.build]
    assert len({z.id for z in zones}) == len(zones) >= 6
    machine = with_typical_places(Machine(kind=kind), MemoryGeneration.DDR4)
    findings = [Finding("dust", zones[0].id, Severity.BAD), Finding("cable", zones[0].id), Finding("cell", zones[1].id)]
    state = BoardState(machine, machine.configuration(), {})
    drawing = machine_figure(state, findings, "", 460.0, 300.0 + strip_height(machine, 460.0))
    outside = [f"zone:{z.id}" for z in outside_zones(machine)]
    shown = {r.id: r for r in drawing.regions}
    assert outside and set(outside) <= set(shown)
    pins = [i for i in drawing.items if isinstance(i, Dot) and i.r == PIN_R]
    assert len(pins) == 3 and len({(round(p.x), round(p.y)) for p in pins}) == 3, "no pin hides another"
    assert all(0 <= p.x <= 460 and 0 <= p.y <= drawing.height for p in pins)
    assert {zone_of(machine, place) for place in shown} <= {z.id for z in zones}, "whatever is chosen has a zone"
    first = shown[outside[0]]
    if zones[0].id == outside[0].removeprefix("zone:"):
        assert first.label.endswith("loose dust, loose or unplugged cable")
    assert len({t.id for t in functional_tests(kind)}) == len(functional_tests(kind)) >= 8


def test_severities_are_said_from_slight_to_bad_and_an_unknown_zone_by_its_id() -> None:
    assert [s.words for s in Severity] == ["slight", "clear", "bad"]
    assert zone_title(MachineKind.LAPTOP, ZONES[MachineKind.LAPTOP][1].id) == ZONES[MachineKind.LAPTOP][1].title
    assert zone_title(MachineKind.LAPTOP, "attic") == "attic"
