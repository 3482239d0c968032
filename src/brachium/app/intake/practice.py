"""Practice machines: a hidden cause to be found; checks are ordered and paid in minutes, then a cause is named."""

from __future__ import annotations

from dataclasses import dataclass, replace
from zlib import crc32

import numpy as np

from brachium.app.view.cause_record import assessment_of, with_check
from brachium.core.base.text import phrase
from brachium.core.cause.checks import BY_ID, on_kind
from brachium.core.cause.kinds import BY_ID as KINDS
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.locks import Locks, LockState
from brachium.core.measure.run import PhaseStep, Protocol, Run
from brachium.core.record.checks import CheckDone
from brachium.core.record.job import PRACTICE_PREFIX, SIMULATED, DataSafe, DataState, Job, MeasureSetup
from brachium.devices.simulated.practice_answers import answer_of
from brachium.devices.simulated.practice_machine import (
    HEALTHY,
    PracticeMachine,
    make_practice_machine,
    practice_machine_of,
)

MOST_CHECKS = 6
WORTH_BITS_MIN = 0.02
PROTOCOL = Protocol(
    "Practice", 1,
    (PhaseStep("settle", 20.0), PhaseStep("idle", 60.0), PhaseStep("load", 480.0), PhaseStep("cool-down", 120.0)),
    ("sustained", "cpu_single", "mem_bandwidth", "drive_seq", "drive_rand_q1", "own_task"), 1, 1,
    cannot=("one session and one repeat prove no small gain; they are enough to look for a cause",),
)  # fmt: skip


def practice_job(seed: int, paired: bool = False) -> Job:
    """A machine with a hidden cause as it is taken in, `paired` with a second one; the same seed hides the same."""
    name = f"{PRACTICE_PREFIX}{seed}{'+' if paired else ''}"
    one = practice_machine_of(name)
    nothing = Locks(LockState.NONE, LockState.NONE, LockState.NONE, LockState.NONE)
    return Job(
        f"{PRACTICE_PREFIX}{seed}",
        phrase("Practice machine {seed}", seed=seed),
        one.machine,
        "find what holds it back",
        "video",
        findings=one.findings,
        tried=one.tried,
        data_safe=DataSafe(DataState.NOT_NEEDED, "practice"),
        bench=SIMULATED,
        simulated_as=name,
        setup=MeasureSetup("own", own=PROTOCOL),
        locks=nothing,
        scan=one.scan,
        health=one.health,
        own_results=one.own_results,
    )


def seed_with(cause: str | None, after: int) -> int:
    """The next seed whose machine has the cause ("" = well); the very next one where none is asked for."""
    seed = after + 1
    while cause is not None and make_practice_machine(seed).cause != cause:
        seed += 1
    return seed


def is_practice(job: Job) -> bool:
    return job.simulated_as.startswith(PRACTICE_PREFIX)


def practice_machine_behind(job: Job) -> PracticeMachine:
    """The simulated machine behind a practice job. Raises ValueError where the job is none."""
    return practice_machine_of(job.simulated_as)


def made_check(job: Job, check_id: str, when: str) -> Job:
    """The job after a check was made on its simulated machine; the answer is always the same one for that machine."""
    return with_check(job, _done(practice_machine_behind(job), check_id, when))


def _done(one: PracticeMachine, check_id: str, when: str) -> CheckDone:
    rng = np.random.default_rng([one.seed, crc32(check_id.encode())])
    check = BY_ID[check_id]
    taken = on_kind(check, one.machine.kind).attended_min
    return CheckDone(check_id, answer_of(one, check_id, rng), taken, when)


@dataclass(frozen=True)
class Marked:
    """How the practice went: the truth, whether it was named, minutes paid, and the efficient path with its minutes."""

    truth: str
    named_it: bool
    minutes: float
    path: tuple[CheckDone, ...]

    @property
    def truth_title(self) -> str:
        return KINDS[self.truth].title if self.truth else "Nothing was wrong with it"

    @property
    def path_minutes(self) -> float:
        return sum(c.minutes for c in self.path)


def mark_practice(job: Job, run: Run | None, figures: BeforeFigures | None) -> Marked:
    """Judge a practice job whose cause was named ("well" = nothing is wrong)."""
    one = practice_machine_behind(job)
    named = HEALTHY if job.named_cause == "well" else job.named_cause
    same = named == one.cause or (bool(named) and bool(one.cause) and KINDS[named].group == KINDS[one.cause].group)
    return Marked(one.cause, same, sum(c.minutes for c in job.checks), efficient_path(job, run, figures))


def efficient_path(job: Job, run: Run | None, figures: BeforeFigures | None) -> tuple[CheckDone, ...]:
    """Checks in the order of what they tell for a minute, until one cause is settled or nothing is worth its time."""
    one = practice_machine_behind(job)
    bare = replace(job, checks=())
    for _ in range(MOST_CHECKS):
        assessment = assessment_of(bare, run, figures)
        if assessment.ranked[0].settled or assessment.next is None or assessment.next.bits_per_minute < WORTH_BITS_MIN:
            break
        bare = with_check(bare, _done(one, assessment.next.check.id, ""))
    return bare.checks
