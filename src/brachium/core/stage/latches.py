"""Latches between the stages: what each still waits for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.core.base.text import lower_first, phrase, without_stop
from brachium.core.cause.start.assess import does_not_start
from brachium.core.condition.findings import Finding, kind_of, stopping
from brachium.core.fit.verdict import Level
from brachium.core.machine.locks import LockState
from brachium.core.record.job import IMPORTED, LOCAL, STAGES, DataState, Job, Stage


@dataclass(frozen=True)
class Progress:
    """What a job has to show beside its record: runs, the plan's worst verdict, open steps, what the plan touches.

    `unsettled` are verdicts that wait for a person's word; `after_refused` says why the after-run cannot be compared
    with the before-run at all; empty where it can.
    """

    has_before: bool = False
    has_after: bool = False
    plan_level: Level | None = None
    steps_open: int = 0
    steps_total: int = 0
    touched: frozenset[str] = frozenset()
    after_refused: str = ""
    unsettled: tuple[str, ...] = ()


@dataclass(frozen=True)
class Latch:
    """The latch in front of a stage. `missing` says what it waits for; `lifted` holds the written reason."""

    stage: Stage
    missing: str
    lifted: str
    remedy: Stage

    @property
    def open(self) -> bool:
        return not self.missing or bool(self.lifted)


def latches(job: Job, progress: Progress) -> Mapping[Stage, Latch]:
    """The latch in front of every stage but the first, which has none."""
    checks = {
        Stage.MEASURE: (_before_measuring(job), Stage.TAKE_IN),
        Stage.FIND_CAUSE: ("" if _begun(job, progress) else "there is no before-run", Stage.MEASURE),
        Stage.CHOOSE: (_before_choosing(job, progress), Stage.TAKE_IN),
        Stage.WORK: (_before_work(job, progress), _work_remedy(job, progress)),
        Stage.PROVE: (_before_proof(progress), Stage.WORK),
        Stage.HAND_OVER: (_before_hand_over(progress), Stage.PROVE),
    }
    stop = stopping(job.findings)
    lifted = {lift.stage: lift.reason for lift in job.lifts}
    out = {}
    for stage, (missing, remedy) in checks.items():
        if _imported(job) and (stage is Stage.MEASURE or progress.has_after):
            missing = ""
        if stage in (Stage.WORK, Stage.PROVE) and _worked_elsewhere(progress):
            missing = ""
        reason = lifted.get(stage, "")
        if stop is not None:  # nothing else counts, and no reason lifts it
            missing, remedy, reason = _stop_words(stop), Stage.TAKE_IN, ""
        out[stage] = Latch(stage, missing, reason, remedy)
    return out


def _stop_words(finding: Finding) -> str:
    kind = kind_of(finding)
    return phrase(
        "{kind}: {means}. {caution}", kind=lower_first(kind.title), means=kind.means, caution=without_stop(kind.caution)
    )


def _imported(job: Job) -> bool:
    """A record made of imported logs has nothing to take in, choose or do."""
    return job.bench == IMPORTED


def _before_measuring(job: Job) -> str:
    if not job.machine.identity.model:
        return "the machine's model is not recorded"
    if not job.machine.fitted and job.bench != LOCAL:
        return "nothing is recorded in the machine's slots"
    if job.data_safe.state is DataState.RESCUE:
        return "the machine is open to rescue the data: no load before it is out"
    if not job.data_safe.state.settled:
        return "the owner's data is not settled: a load test can finish off a failing drive"
    return ""


def _begun(job: Job, progress: Progress) -> bool:
    """A before-run, the recorded reason why there is none, or a machine that does not start."""
    return progress.has_before or job.before_skipped or does_not_start(job.tried, job.checks, job.no_before)


def _before_choosing(job: Job, progress: Progress) -> str:
    """Whether a part fits needs a place for it, and no measurement; gains are not known then."""
    machine = job.machine
    if _begun(job, progress) or machine.slots or machine.bays or machine.platform.cards:
        return ""
    return "no slot is recorded that a part could go into"


def _before_work(job: Job, progress: Progress) -> str:
    if job.data_safe.state is DataState.RESCUE:
        return "the machine is open only to rescue the data; settle it first"
    if not job.data_safe.state.settled:
        return "the owner's data is not settled; nothing is opened before that"
    if not _begun(job, progress):
        return "there is no before-run, and it cannot be taken afterwards"
    if not job.plan:
        return "nothing is chosen yet"
    if progress.plan_level is Level.REFUSED:
        return "the plan holds a part that does not fit"
    asked = lock_questions(job, progress)
    if asked:
        return phrase("{missing}", missing=asked[0].missing)
    if progress.unsettled:
        more = phrase(", and {count} more", count=len(progress.unsettled) - 1) if len(progress.unsettled) > 1 else ""
        return phrase(
            "the plan waits for a fact, or a reason to take it on: {unsettled}{more}",
            unsettled=progress.unsettled[0],
            more=more,
        )
    return ""


def _work_remedy(job: Job, progress: Progress) -> Stage:
    if not job.data_safe.state.settled:
        return Stage.TAKE_IN
    return Stage.CHOOSE if _begun(job, progress) else Stage.MEASURE


@dataclass(frozen=True)
class LockQuestion:
    """A lock that the planned changes touch and that is not known to be harmless."""

    key: str
    title: str
    missing: str


_TOUCHED_BY = {
    "encryption": ({"drive", "processor", "board", "firmware"}, "Disk encryption",
                   "the recovery key of an encrypted disk must be in hand before this plan is done"),
    "firmware_password": ({"drive", "processor", "board", "firmware"}, "Firmware password",
                          "the firmware must open for the start order"),
    "enrolment": ({"board", "processor"}, "Enrolment lock", "a former owner's enrolment may lock the machine"),
    "licence": ({"board"}, "Licence tied to the board", "the system's licence may be tied to the old board"),
}  # fmt: skip


def lock_questions(job: Job, progress: Progress) -> tuple[LockQuestion, ...]:
    """Locks to ask for now: those that the plan touches, unless they are absent or their key is in hand."""
    out = []
    for key, (kinds, title, missing) in _TOUCHED_BY.items():
        state = getattr(job.locks, key)
        if kinds & progress.touched and state in (LockState.NOT_ASKED, LockState.SHUT):
            word = "not asked yet" if state is LockState.NOT_ASKED else "there is no key"
            out.append(
                LockQuestion(
                    key,
                    title,
                    phrase("{title}, {word}: {missing}", title=lower_first(title), word=word, missing=missing),
                )
            )
    return tuple(out)


def _worked_elsewhere(progress: Progress) -> bool:
    """Whether before and after are there and no work was planned here: the figures speak all the same."""
    return progress.has_before and progress.has_after and progress.steps_total == 0


def _before_proof(progress: Progress) -> str:
    if progress.steps_total == 0:
        return "no work was planned"
    if progress.steps_open:
        return phrase(
            "{steps_open} of {steps_total} work steps are open",
            steps_open=progress.steps_open,
            steps_total=progress.steps_total,
        )
    return ""


def _before_hand_over(progress: Progress) -> str:
    if not progress.has_after:
        return "there is no after-run"
    return (
        phrase("the after-run proves nothing: {after_refused}", after_refused=progress.after_refused)
        if progress.after_refused
        else ""
    )


def furthest_stage(job: Job, progress: Progress) -> Stage:
    """The stage the job stands at: the last one whose latches are all open."""
    all_latches = latches(job, progress)
    current = STAGES[0]
    for stage in STAGES[1:]:
        if not all_latches[stage].open:
            break
        current = stage
    return current
