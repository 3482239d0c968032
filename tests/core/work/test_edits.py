"""The work plan edited by hand: whatever is edited, the order stays safe; a finished job teaches its model."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from brachium.core.record.job import Job, StepDone
from brachium.core.record.work.plan_edits import LeftOut, OwnMinutes, OwnStep, PlanEdits
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.edits import apply_edits, free_own_id, why_kept, why_not_swapped
from brachium.core.work.hazards import HAZARDS
from brachium.core.work.step import Mode, Step
from brachium.core.work.steps import steps_for
from brachium.core.work.template import Template, edits_of, learned_template, with_template
from brachium.core.work.whole_plan import work_of
from brachium.demo.newsroom import MACHINE, newsroom_job
from tests.core.work.test_steps import ALL, MACHINES, everything

PLAN = (ALL["mem-4-l"], ALL["ssd-480@bay-main"], ALL["svc-paste"])


def random_edits(steps: tuple[Step, ...], rng: np.random.Generator) -> PlanEdits:
    """Edits of every kind, sensible or not, also of steps that are not there."""
    ids = [*(s.id for s in steps), "gone"]
    pick = lambda: ids[int(rng.integers(len(ids)))]  # noqa: E731
    own = tuple(OwnStep(f"own-{k}", pick(), f"own {k}", unattended_min=float(k)) for k in range(int(rng.integers(4))))
    left = tuple(LeftOut(pick(), "not here") for _ in range(int(rng.integers(4))))
    minutes = tuple(OwnMinutes(pick(), float(rng.integers(1, 40))) for _ in range(2))
    first = tuple((pick(), pick()) for _ in range(int(rng.integers(12))))
    near = [(b.id, a.id) for a, b in pairwise(steps) if rng.random() < 0.4]
    return PlanEdits(own, left, minutes, (*first, *near))


@pytest.mark.parametrize("machine", MACHINES, ids=lambda m: m.identity.model)
def test_no_edit_makes_the_work_unsafe(machine) -> None:  # type: ignore[no-untyped-def]
    rng = np.random.default_rng(3)
    edited = 0
    for _ in range(60):
        chosen, needs = everything(machine, rng)
        steps = steps_for(machine, chosen, needs) if chosen else ()
        edits = random_edits(steps, rng)
        out = apply_edits(steps, edits, machine.kind)
        ids = [s.id for s in out]
        assert len(set(ids)) == len(ids)
        for k, step in enumerate(out):
            assert all(n in ids[:k] for n in step.needs), f"{step.id} before what it needs"
        off: list[str] = []
        for step in out:
            if step.layer.startswith("-"):
                off.append(step.layer[1:])
            elif step.layer.startswith("+"):
                assert off.pop() == step.layer[1:]
            assert bool(off) <= (step.mode is Mode.OPEN), f"{step.id} with the machine open"
            for hazard in HAZARDS:
                due = bool(hazard.tags & step.tags) and (not hazard.kinds or machine.kind in hazard.kinds)
                assert (hazard.words in step.cautions) is due
        kept = {s.id for s in steps if why_kept(s)}
        assert kept <= set(ids), "what keeps the work safe is still there"
        edited += ids != [s.id for s in steps]
    assert edited > 20


def test_steps_are_left_out_timed_added_and_moved() -> None:
    steps = steps_for(MACHINE, PLAN, ())
    edits = PlanEdits(
        (OwnStep("own-1", "drive", "New felt under the fan", attended_min=4.0),), (LeftOut("memory-test", "at home"),),
        (OwnMinutes("open", 11.0),), (("drive", "memory"),),
    )  # fmt: skip
    ids = [s.id for s in apply_edits(steps, edits, MACHINE.kind)]
    assert "memory-test" not in ids and ids.index("drive") < ids.index("memory")
    assert ids.index("own-1") in (ids.index("drive") + 1, ids.index("memory") + 1)
    by_id = {s.id: s for s in apply_edits(steps, edits, MACHINE.kind)}
    assert by_id["open"].attended_min == 11.0 and by_id["own-1"].mode is Mode.OPEN
    assert "own-1" in by_id["look"].needs and by_id["own-1"].cautions, "closing waits for it; the machine is open"
    assert free_own_id(edits) == "own-2" and edits.count == 4
    opened, cooler = by_id["open"], by_id["cooler-off"]
    assert "needs" in why_not_swapped(opened, cooler) and why_kept(opened) == "what comes off goes back"
    assert "opened once more" in why_not_swapped(by_id["clone"], by_id["power-off"])


def finished(job: Job, name: str, minutes: float, note: str) -> tuple[Job, tuple[Step, ...]]:
    steps = work_of(job, PLAN, ())
    done = tuple(StepDone(s.id, "now", minutes, note if s.id == "open" else "") for s in steps)
    return replace(job, id=name, name=name, steps_done=done, screws=(ScrewGroup("cover", 9, back=9),)), steps


def test_a_finished_job_teaches_its_model_and_a_later_one_begins_with_it() -> None:
    own = OwnStep("own-1", "drive", "New felt")
    first, steps = finished(newsroom_job(), "first", 4.0, "two clips hidden")
    first = replace(first, plan_edits=PlanEdits((own,)))
    template = learned_template(first, work_of(first, PLAN, ()), None, "2026-11-25")
    assert template is None, "the own step was not ticked: the job is not finished"
    first = replace(first, steps_done=(*first.steps_done, StepDone("own-1", "now", 3.0)))
    template = learned_template(first, work_of(first, PLAN, ()), None, "2026-11-25")
    assert isinstance(template, Template) and "9 screws" in template.words and "1 note," in template.words
    for k in range(7):  # of many the last five count
        job, again = finished(newsroom_job(), f"job{k}", 10.0 + k, "")
        template = learned_template(job, again, template, "2026-11-26")
        assert template is not None
    times = {m.step_id: m.attended_min for m in edits_of(template).minutes}
    assert times["open"] == 14.0, "median of the last five"
    fresh = with_template(newsroom_job(), template)
    assert fresh.plan_edits.learned_from == "job6" and fresh.screws == (ScrewGroup("cover", 9),)
    assert [h.words for h in fresh.plan_edits.hints] == ["two clips hidden"], "hints outlive jobs that add none"
    assert {s.id: s.attended_min for s in work_of(fresh, PLAN, ())}["open"] == 14.0
    nameless = replace(first, machine=replace(first.machine, identity=replace(first.machine.identity, model="")))
    assert learned_template(nameless, steps, None, "") is None
