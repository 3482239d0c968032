"""Gates of work steps: may this step be ticked now, and if not, why. A lifted gate needs a reason, which stays."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import lower_first, phrase
from brachium.core.record.job import Job
from brachium.core.work.last_chance import open_items
from brachium.core.work.screws import all_open
from brachium.core.work.step import Gate, Step


def gate_problem(step: Step, steps: Sequence[Step], job: Job, has_before: bool) -> str:
    """Why a step may not be ticked yet; empty where it may, or where its gate was lifted with a reason."""
    if any(lift.step_id == step.id for lift in job.gate_lifts):
        return ""
    missing = first_missing(step, steps, job)
    if missing is not None:
        return phrase("first: {missing}", missing=missing.title)
    words = _open_screws(step, steps, job)
    if words:
        return phrase("screws: {words}", words=words)
    if step.id.startswith("erase") and len(job.erasures) < _number(step.id):
        return "the erasure has no record yet: Drives…"
    return _own_gate(step, steps, job, has_before)


def _open_screws(step: Step, steps: Sequence[Step], job: Job) -> str:
    """Screws of layers that went back before the machine is closed or started, and are not accounted for."""
    if not step.id.startswith(("close", "first-start", "start")):
        return ""
    earlier = _before(step, steps)
    return all_open(job.screws, [s.layer[1:] for s in steps if s.layer.startswith("+") and s.id in earlier])


def _own_gate(step: Step, steps: Sequence[Step], job: Job, has_before: bool) -> str:
    match step.gate:
        case Gate.DATA_SAFE:
            return "" if job.data_safe.state.settled else "the owner's data is not settled"
        case Gate.LAST_CHANCE:
            if not (has_before or job.before_skipped):
                return "there is no before-run, and it cannot be taken afterwards"
            left = open_items(job, has_before, [s.id for s in steps])
            return phrase("before you open it: {title}", title=lower_first(left[0].title)) if left else ""
        case None:
            return ""


def _number(step_id: str) -> int:
    """Which of several like steps this is: erase is the first, erase-2 the second; each drive has its own record."""
    tail = step_id.rpartition("-")[2]
    return int(tail) if tail.isdigit() else 1


def _before(step: Step, steps: Sequence[Step]) -> set[str]:
    """Steps up to this one; closing counts its own layer only once it is ticked."""
    at = [s.id for s in steps].index(step.id)
    return {s.id for s in steps[:at]}


def first_missing(step: Step, steps: Sequence[Step], job: Job) -> Step | None:
    """The earliest step that has to be done before and is not."""
    by_id = {s.id: s for s in steps}
    done = {entry.step_id for entry in job.steps_done}
    wanted, left = set[str](), list(step.needs)
    while left:
        step_id = left.pop()
        if step_id not in wanted and step_id in by_id:
            wanted.add(step_id)
            left += by_id[step_id].needs
    return next((s for s in steps if s.id in wanted and s.id not in done), None)
