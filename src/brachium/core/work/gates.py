"""Gates of work steps: may this step be ticked now, and if not, why."""

from __future__ import annotations

from brachium.core.job.job import Job
from brachium.core.work.step import Gate, Step


def gate_problem(step: Step, steps: tuple[Step, ...], job: Job, has_before: bool) -> str:
    """Why a step may not be ticked yet; empty where it may. A step without a gate is always open."""
    done = {entry.step_id for entry in job.steps_done}
    match step.gate:
        case Gate.DATA_SAFE:
            return "" if job.data_safe.state.settled else "the owner's data is not settled"
        case Gate.BEFORE_RUN:
            return (
                ""
                if has_before or job.no_before or _lifted(job)
                else "there is no before-run, and it cannot be taken afterwards"
            )
        case Gate.OPENED:
            missing = [s.title for s in steps if s.id in ("power-off", "open") and s.id not in done]
            return f"first: {missing[0]}" if missing else ""
        case Gate.ALL_BEFORE:
            earlier = steps[: [s.id for s in steps].index(step.id)]
            missing = [s.title for s in earlier if s.id not in done]
            return f"first: {missing[0]}" if missing else ""
        case None:
            return ""


def _lifted(job: Job) -> bool:
    """Whether the latch before Work was lifted with a reason."""
    return any(lift.stage == "Work" for lift in job.lifts)
