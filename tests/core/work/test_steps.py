"""Work steps: whatever is planned, the order keeps people, data and parts safe."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, Group, candidates
from brachium.core.record.job import DataSafe, DataState, GateLift, LatchLift, Stage, StepDone
from brachium.core.work.gates import gate_problem
from brachium.core.work.hazards import HAZARDS, Hazard
from brachium.core.work.last_chance import last_chances, open_items
from brachium.core.work.step import Mode, Step
from brachium.core.work.steps import steps_for
from brachium.demo.machines import OTHERS
from brachium.demo.newsroom import MACHINE, newsroom_job
from brachium.demo.shop import demo_catalogue

MACHINES = (MACHINE, *(make().machine for make in OTHERS))
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
    assert ids[-2:] == ["memory-test", "load-test"], "memory is tested before anything is measured"
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
    job = replace(
        job, data_safe=DataSafe(DataState.NOT_NEEDED), last_chance=(("task", "waived"), ("counters", "waived"))
    )
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
    [("power-off", "Adapter off before any cover"), ("power-off", "swollen"), ("open", "anti-static"), 
     ("clean", "mask"),
     ("paste", "alcohol burns"), ("cooler-off", "edges cut")],
)  # fmt: skip
def test_cautions_stand_at_the_step_where_they_matter(step: str, words: str) -> None:
    steps = steps_for(MACHINE, (ALL["svc-clean"], ALL["svc-paste"]), ())
    assert any(words in c for c in steps[place(steps, step)].cautions)


# -- whatever is planned on whatever machine


def everything(machine: Machine, rng: np.random.Generator) -> tuple[tuple[Candidate, ...], tuple[str, ...]]:
    """A random plan on a machine: at most one of each kind, fitting or not, and some preconditions."""
    by_group: dict[Group, list[Candidate]] = {}
    for c in candidates(machine, demo_catalogue()):
        by_group.setdefault(c.group, []).append(c)
    chosen = tuple(
        some[int(rng.integers(len(some)))] for some in by_group.values() if rng.random() < 0.45
    )  # fmt: skip
    needs = ("new CMOS battery", "firmware 2.14, by way of 2.10", "9.5 mm caddy",
             "cache pair dissolved by its own tool", "image of the failing drive",
             "AHCI driver enabled in the system, then the mode changed")  # fmt: skip
    return chosen, tuple(n for n in needs if rng.random() < 0.4)


@pytest.mark.parametrize("machine", MACHINES, ids=lambda m: m.identity.model)
def test_no_plan_breaks_a_precondition_and_nothing_comes_off_twice(machine: Machine) -> None:
    rng = np.random.default_rng(11)
    for _ in range(40):
        chosen, needs = everything(machine, rng)
        if not chosen:
            continue
        steps = steps_for(machine, chosen, needs)
        ids = [s.id for s in steps]
        assert len(set(ids)) == len(ids)
        for k, step in enumerate(steps):
            assert all(ids.index(n) < k for n in step.needs), step.id
        off: list[str] = []
        stretches = 0
        for step in steps:
            stretches += step.id.startswith("power-off")
            if step.layer.startswith("-"):
                assert step.layer[1:] not in off, "it is off already"
                off.append(step.layer[1:])
            elif step.layer.startswith("+"):
                assert off.pop() == step.layer[1:], "last off, first back"
            if step.mode is not Mode.OPEN:
                assert not off, f"{step.id} with the machine open"
        assert not off, "everything goes back"
        deep = [s.layer for s in steps if s.layer.startswith("-") and s.layer not in ("-cover", "-stand", "-battery")]
        assert len(deep) == len(set(deep)), "no part comes off twice"
        cell_first = "new CMOS battery" in needs and any(n.startswith("firmware") for n in needs)
        inside = any(c.group is not Group.ADAPTER for c in chosen) or "new CMOS battery" in needs
        new_board = any(c.group is Group.BOARD for c in chosen)  # its firmware is seen to beside the machine
        late = any(c.group is Group.PROCESSOR for c in chosen) and cell_first and not new_board
        assert stretches == (2 if late else 1 if inside else 0)
        if any(n.startswith("firmware") for n in needs) and "processor" in ids:
            assert ids.index(f"first-{[n.startswith('firmware') for n in needs].index(True)}") < ids.index("processor")
        if "clone" in ids and "cache pair dissolved by its own tool" in needs:
            assert ids.index(f"first-{needs.index('cache pair dissolved by its own tool')}") < ids.index("clone")
        groups = {c.group for c in chosen}
        back = ["settings"] if "settings-noted" in ids else []
        new = groups & {Group.BOARD}
        cards = not new and groups & {Group.CARD, Group.RADIO}
        loaded = groups - {Group.ADAPTER, Group.RADIO}
        closing = [*(["board-firmware"] if new else []), "first-start", *back, "memory-test",
                   *(["board-drivers"] if new else []), *(["card-drivers"] if cards else []),
                   *(["load-test"] if loaded else [])]  # fmt: skip
        assert [i for i in ids if i in closing] == closing
        assert back or not groups & {Group.PROCESSOR, Group.BOARD}, "they forget what is set"


@pytest.mark.parametrize("hazard", HAZARDS, ids=lambda h: h.id)
def test_each_hazard_stands_at_each_step_where_it_can_occur(hazard: Hazard) -> None:
    rng = np.random.default_rng(5)
    seen = 0
    for machine in MACHINES:
        for _ in range(16):
            chosen, needs = everything(machine, rng)
            for step in steps_for(machine, chosen, needs) if chosen else ():
                due = bool(hazard.tags & step.tags) and (not hazard.kinds or machine.kind in hazard.kinds)
                assert (hazard.words in step.cautions) is due and len(step.signs) == len(step.cautions)
                seen += due
    of_other_plans = ("erase", "mains-adapter", "screen", "glass-lifted", "heavy-part", "adhesive")  # in other builds
    assert seen or hazard.id in of_other_plans, "it occurs somewhere"


def test_no_step_asks_for_work_that_belongs_to_licensed_people() -> None:
    rng = np.random.default_rng(6)
    forbidden = ("open the power supply", "re-wire", "solder", "refrigerant", "repack", "bridge the")
    for machine in MACHINES:
        for _ in range(14):
            chosen, needs = everything(machine, rng)
            for step in steps_for(machine, chosen, needs) if chosen else ():
                assert not any(word in f"{step.title} {step.detail}".lower() for word in forbidden), step.id


def test_the_last_chance_shuts_the_first_screw_until_each_item_has_its_word() -> None:
    job = replace(newsroom_job(), plan=("ssd-480@bay-main",), data_safe=DataSafe(DataState.NOT_NEEDED))
    steps = steps_for(job.machine, (ALL["ssd-480@bay-main"],), ())
    ids = [s.id for s in steps]
    assert "firmware" not in [c.item.id for c in last_chances(job, True, ids)], "no processor is changed"
    names = [c.item.id for c in last_chances(job, True, ids)]
    assert {"run", "backup", "condition", "counters"} <= set(names)
    left = [c.item.id for c in open_items(job, True, ids)]
    assert left == [i for i in names if i in left] and "run" not in left and "counters" in left
    waived = replace(job, last_chance=tuple((i, "waived") for i in left))
    assert open_items(waived, True, ids) == () and [c.state for c in last_chances(waived, True, ids)].count(
        "waived"
    ) == len(left)
    off = next(s for s in steps if s.id == "power-off")
    ready = replace(job, steps_done=(StepDone("clone", "now", 1.0),))
    assert gate_problem(off, steps, ready, True).startswith("before you open it: ")
    assert gate_problem(off, steps, replace(ready, last_chance=waived.last_chance), True) == ""
    lifted = replace(ready, gate_lifts=(GateLift("power-off", "owner waits", "now"),))
    assert gate_problem(off, steps, lifted, True) == "", "a lifted gate has its reason"


def test_cleaning_stands_among_the_steps_where_it_is_planned_and_only_there() -> None:
    clean = ALL["svc-clean"]
    memory = next(c for c in ALL.values() if c.group is Group.MEMORY)
    with_it = [s.id for s in steps_for(MACHINES[0], (clean, memory), ())]
    without = [s.id for s in steps_for(MACHINES[0], (memory,), ())]
    assert with_it.count("clean") == 1 and "clean" not in without
    opened = next(k for k, i in enumerate(with_it) if i.startswith("open"))
    assert opened < with_it.index("clean") < next(k for k, i in enumerate(with_it) if i.startswith("look"))
