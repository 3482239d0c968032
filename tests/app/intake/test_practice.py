"""Practice machines: the same seed hides the same cause, checks answer by physics, and the ranking finds it."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import pytest

from brachium.app.bench.runner import Runner
from brachium.app.intake.practice import (
    PROTOCOL,
    efficient_path,
    made_check,
    mark_practice,
    practice_job,
    practice_machine_behind,
    seed_with,
)
from brachium.app.view.cause_record import assessment_of, no_start
from brachium.core.cause.checks import BY_ID as BY_CHECK
from brachium.core.cause.checks import on_kind
from brachium.core.cause.kinds import BY_ID
from brachium.core.condition.trials import TrialOutcome
from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.measure.run import Run
from brachium.core.record.job import Job
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.practice_machine import make_practice_machine

SOME = range(300, 324)


def measured(seed: int) -> tuple[Job, Run, BeforeFigures]:
    job = practice_job(seed)
    run = Runner(SimulatedBench(practice_machine_behind(job).spec), PROTOCOL).execute("r", "as taken in", "")
    return job, run, figures_of(run, job.machine.processor.limit_c)


@pytest.fixture(scope="module")
def machines() -> list[tuple[Job, Run, BeforeFigures]]:
    return [measured(seed) for seed in SOME]


def test_the_same_seed_hides_the_same_cause_and_seeds_differ() -> None:
    assert make_practice_machine(7) == make_practice_machine(7) and practice_job(7) == practice_job(7)
    kinds = Counter(make_practice_machine(seed).cause for seed in range(400))
    assert len(kinds) >= 21 and 30 < kinds[""] < 90, "every cause comes up, one machine in seven is well"
    assert all(
        make_practice_machine(s).cause != "cable"
        for s in range(200)
        if make_practice_machine(s).machine.kind == "laptop"
    )


def test_any_cause_can_be_set_up() -> None:
    for cause in ("", *BY_ID):
        seed = seed_with(cause, 3)
        assert seed > 3 and make_practice_machine(seed).cause == cause
    assert seed_with(None, 3) == 4


def test_nothing_of_the_record_names_the_cause() -> None:
    job = practice_job(5)
    said = " ".join([job.id, job.name, job.goal, job.machine.identity.model, *job.condition])
    assert not any(cause in said for cause in BY_ID)


def test_after_three_checks_the_cause_is_in_front(machines: list[tuple[Job, Run, BeforeFigures]]) -> None:
    right = 0
    for job, run, figures in machines:
        for _ in range(3):
            following = assessment_of(job, run, figures).next
            if following is not None:
                job = made_check(job, following.check.id, "")
        assessment = assessment_of(job, run, figures)
        truth = practice_machine_behind(job).cause
        right += not assessment.called if not truth else assessment.ranked[0].kind.group == BY_ID[truth].group
    assert right >= 0.85 * len(machines), f"{right} of {len(machines)}; the benchmark has the whole table"


def test_a_check_always_answers_alike_and_is_paid_once(machines: list[tuple[Job, Run, BeforeFigures]]) -> None:
    job = machines[0][0]
    once = made_check(job, "look_fins", "10:00")
    twice = made_check(once, "look_fins", "10:05")
    assert len(twice.checks) == 1 and twice.checks[0].answer == once.checks[0].answer and twice.checks[0].minutes == 2


def test_naming_is_judged_and_the_efficient_path_shown(machines: list[tuple[Job, Run, BeforeFigures]]) -> None:
    for job, run, figures in machines:
        truth = practice_machine_behind(job).cause or "well"
        paid = made_check(made_check(job, "repaste", ""), "long_memory_test", "")
        good = mark_practice(replace(paid, named_cause=truth), run, figures)
        wrong = mark_practice(replace(paid, named_cause="cap" if truth != "cap" else "well"), run, figures)
        kind = job.machine.kind
        paid_min = sum(on_kind(BY_CHECK[c], kind).attended_min for c in ("repaste", "long_memory_test"))
        assert good.named_it and not wrong.named_it and good.minutes == paid_min
        assert paid_min == (23.0 if kind == "tower" else 37.0), "a tower opens sooner"
        assert good.truth_title == (BY_ID[truth].title if truth != "well" else "Nothing was wrong with it")
    assert all(len(efficient_path(*m)) <= 6 for m in machines)
    assert sum(sum(c.minutes for c in efficient_path(*m)) for m in machines) / len(machines) < 30.0


def test_a_practice_machine_that_restarts_has_no_path_of_its_own() -> None:
    """Its checks are answered by the simulated machine, which knows none of that path."""
    job = next(j for j in map(practice_job, range(1, 900)) if any(
        t.id in ("stays", "system") and t.outcome is TrialOutcome.FAILS for t in j.tried))  # fmt: skip
    assert not no_start(job) and no_start(replace(job, simulated_as=""))
