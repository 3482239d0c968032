"""Work steps: whatever is planned, the order keeps people, data and parts safe."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.choose.catalogue import candidates
from brachium.core.job.job import DataSafe, DataState, LatchLift, Stage, StepDone
from brachium.core.work.gates import gate_problem
from brachium.core.work.step import Step
from brachium.core.work.steps import steps_for
from brachium.demo.newsroom import MACHINE, newsroom_job
from brachium.demo.shop import demo_catalogue

ALL = {c.id: c for c in candidates(MACHINE, demo_catalogue())}
plans = st.tuples(
    st.sampled_from([None, "mem-4-l", "mem-2x8-l"]), st.sampled_from([None, "ssd-480@bay-main", "ssd-240@bay-optical"]),
    st.sampled_from([None, "svc-clean"]), st.sampled_from([None, "svc-paste"]),
).map(lambda p: tuple(ALL[i] for i in p if i)).filter(bool)  # fmt: skip


def place(steps: tuple[Step, ...], step_id: str) -> int:
    return [s.id for s in steps].index(step_id)


@given(plans)
def test_order_holds_for_every_plan(plan: tuple) -> None:
    steps = steps_for(MACHINE, plan, ("caddy",))
    ids = [s.id for s in steps]
    assert len(set(ids)) == len(ids)
    assert ids[0] == "first-0", "preconditions come first"
    assert place(steps, "power-off") < place(steps, "open") < place(steps, "close") < place(steps, "first-start")
    for inside in ("drive", "cooler-off", "clean", "paste", "memory", "look"):
        if inside in ids:
            assert place(steps, "open") < place(steps, inside) < place(steps, "close"), inside
    if "clone" in ids:
        assert place(steps, "clone") < place(steps, "power-off") and steps[place(steps, "clone")].gate
    assert ids[-1] == "memory-test", "memory is tested before anything is measured"
    seen = steps[place(steps, "first-start")].detail
    sizes = {"ssd-480@bay-main": "(480 GB reads as 447 GiB)", "ssd-240@bay-optical": "(240 GB reads as 224 GiB)"}
    for candidate, text in sizes.items():
        assert (text in seen) == any(c.id == candidate for c in plan)


@given(plans)
def test_a_lifted_cooler_always_gets_new_paste_and_marks_the_point_of_no_return(plan: tuple) -> None:
    steps = steps_for(MACHINE, plan, ())
    ids = [s.id for s in steps]
    assert ("cooler-off" in ids) == any(c.services for c in plan)
    assert ("cooler-off" in ids) == ("paste" in ids)
    assert [s.id for s in steps if s.no_return] == (["cooler-off"] if "cooler-off" in ids else [])


def test_gates_open_one_after_the_other() -> None:
    plan = tuple(ALL[i] for i in ("mem-4-l", "ssd-480@bay-main", "svc-clean", "svc-paste"))
    steps = steps_for(MACHINE, plan, ())
    by_id = {s.id: s for s in steps}
    job = newsroom_job()
    assert "not settled" in gate_problem(by_id["clone"], steps, job, True)
    job = replace(job, data_safe=DataSafe(DataState.NOT_NEEDED))
    assert gate_problem(by_id["clone"], steps, job, True) == ""
    assert "no before-run" in gate_problem(by_id["power-off"], steps, job, False)
    reason = LatchLift(Stage.WORK, "machine does not start", "today")
    assert gate_problem(by_id["power-off"], steps, replace(job, lifts=(reason,)), False) == ""
    assert gate_problem(by_id["memory"], steps, job, True) == "first: Shut down, unplug, discharge"
    for step in steps:
        assert gate_problem(step, steps, job, True) == "", step.id
        job = replace(job, steps_done=(*job.steps_done, StepDone(step.id, "now", 1.0)))
    forgotten = replace(job, steps_done=tuple(d for d in job.steps_done if d.step_id not in ("drive", "close")))
    assert gate_problem(by_id["close"], steps, forgotten, True) == "first: Fit the 480 GB SATA SSD"


@pytest.mark.parametrize(
    ("step", "words"),
    [("power-off", "remove the battery"), ("power-off", "swollen"), ("open", "anti-static"), ("clean", "mask"),
     ("paste", "alcohol burns"), ("cooler-off", "edges cut")],
)  # fmt: skip
def test_cautions_stand_at_the_step_where_they_matter(step: str, words: str) -> None:
    steps = steps_for(MACHINE, (ALL["svc-clean"], ALL["svc-paste"]), ())
    assert any(words in c for c in steps[place(steps, step)].cautions)
