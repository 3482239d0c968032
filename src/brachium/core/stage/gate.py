"""One gate for every way a record can be moved on: key, menu, Next, command line, undo and redo all ask here.

Before a stage comes first, then the gate of the step itself. Nothing here is lifted by asking another way.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.record.job import Job, Stage
from brachium.core.stage.latches import Progress, latches
from brachium.core.work.gates import gate_problem
from brachium.core.work.step import Step


@dataclass(frozen=True)
class GateGround:
    """What a gate is judged on beside the record: the plan's steps, and what the job has to show."""

    steps: Sequence[Step]
    progress: Progress


def stage_problem(job: Job, stage: Stage, progress: Progress) -> str:
    """Why nothing of a stage may be done yet; empty where its latch is open."""
    latch = latches(job, progress).get(stage)
    return (
        "" if latch is None or latch.open else say(latch.missing).partition(". ")[0]
    )  # the whole caution is on its page


def tick_problem(job: Job, step_id: str, ground: GateGround) -> str:
    """Why a step may not be ticked now; empty where it may."""
    shut = stage_problem(job, Stage.WORK, ground.progress)
    if shut:
        return phrase("Work is not open: {shut}", shut=shut)
    step = next((s for s in ground.steps if s.id == step_id), None)
    if step is None:
        return "the steps are being made anew"
    return gate_problem(step, ground.steps, job, ground.progress.has_before)


def change_problem(before: Job, after: Job, ground: GateGround | None) -> str:
    """Why a record may not become another one; empty where it may.

    Every tick that is new is asked for in its turn, and so is a hand-over. None as ground: nothing was worked out yet.
    """
    old = {d.step_id for d in before.steps_done}
    fresh = [d for d in after.steps_done if d.step_id not in old]
    handed = bool(after.handed_over) and not before.handed_over
    if not fresh and not handed:
        return ""
    if ground is None:
        return "the record is still being worked out"
    so_far = [d for d in after.steps_done if d.step_id in old]
    for entry in fresh:
        problem = tick_problem(replace(after, steps_done=tuple(so_far)), entry.step_id, ground)
        if problem:
            return problem
        so_far.append(entry)
    return _hand_over_problem(after, ground) if handed else ""


def _hand_over_problem(job: Job, ground: GateGround) -> str:
    done = {d.step_id for d in job.steps_done}
    left = sum(s.id not in done for s in ground.steps)
    shut = stage_problem(job, Stage.HAND_OVER, replace(ground.progress, steps_open=left))
    return phrase("Hand over is not open: {shut}", shut=shut) if shut else ""
