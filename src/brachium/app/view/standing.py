"""Standing: how far the job is, what each stage waits for, and what to do next."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.app.bench.run_roles import AFTER, BEFORE
from brachium.app.view.causes import Causes
from brachium.app.view.measured import Measured
from brachium.app.view.plan_in_hand import PlanInHand
from brachium.app.view.proof import Proof
from brachium.app.view.work import Work
from brachium.core.fit.verdict import worst
from brachium.core.record.job import Job, Stage
from brachium.core.stage.latches import Latch, Progress, furthest_stage, latches
from brachium.core.stage.next_action import NextAction, StartCheck, next_action


@dataclass(frozen=True)
class Standing:
    """`stage` is the furthest that is open, `next` the one next best action."""

    progress: Progress
    latches: Mapping[Stage, Latch]
    stage: Stage
    next: NextAction


def standing_of(
    job: Job, measured: Measured, causes: Causes, plan: PlanInHand, work: Work, proof: Proof
) -> Standing:  # fmt: skip
    """What track, rail and Next show."""
    progress = _progress(job, measured, plan, work, proof)
    before = latches(job, progress)
    shut = "" if before[Stage.WORK].open else before[Stage.WORK].missing
    step = (work.upcoming.title, work.upcoming.attended_min) if work.upcoming is not None else None
    action = next_action(job, progress, measured.run_minutes, step, shut, _start_check(causes))
    return Standing(progress, before, furthest_stage(job, progress), action)


def _start_check(causes: Causes) -> StartCheck | None:
    """The next check of a machine that does not start; None where it is found, or starts."""
    if not causes.no_start or causes.start.ranked[0].settled or causes.start.next is None:
        return None
    check = causes.start.next.check
    return StartCheck(check.title, check.attended_min, check.opens)


def _progress(job: Job, measured: Measured, plan: PlanInHand, work: Work, proof: Proof) -> Progress:
    return Progress(
        measured.before is not None or job.has_typed(BEFORE), measured.after is not None or job.has_typed(AFTER),
        worst(plan.verdicts) if plan.chosen else None,
        work.left, len(work.steps), frozenset(c.group.value for c in plan.chosen),
        proof.comparison.refusal if proof.comparison is not None else "", tuple(v.sentence for v in plan.unsettled),
    )  # fmt: skip
