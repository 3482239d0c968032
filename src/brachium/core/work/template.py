"""What a finished job teaches about its model: own steps, real minutes, what went differently, where the screws sat."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from statistics import median

from brachium.core.base.text import joined, many, phrase
from brachium.core.machine.machine import Machine
from brachium.core.record.job import Job
from brachium.core.record.work.plan_edits import Hint, OwnMinutes, PlanEdits
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.step import Step

LEAST_MIN, MOST_JOBS = 0.5, 5


@dataclass(frozen=True)
class Timed:
    """Minutes that a step took on one job: attended, by itself."""

    step_id: str
    job_id: str
    attended_min: float
    unattended_min: float


@dataclass(frozen=True)
class Template:
    """Of one model: the edits of the last job, minutes of the last few, hints, the screw tray."""

    model: str
    learned_from: str
    when: str
    edits: PlanEdits = field(default_factory=PlanEdits)
    times: tuple[Timed, ...] = ()
    screws: tuple[ScrewGroup, ...] = ()

    @property
    def words(self) -> str:
        """What it holds, in a line."""
        edits = edits_of(self)
        parts = [
            many(len(edits.own), "own step") if edits.own else "",
            phrase("times of {steps}", steps=many(len(edits.minutes), "step")) if edits.minutes else "",
            many(len(edits.hints), "note") if edits.hints else "",
            many(sum(s.count for s in self.screws), "screw") if self.screws else "",
        ]
        return joined(", ", (p for p in parts if p))


def model_key(machine: Machine) -> str:
    """Maker and model; empty where the model is not known, which teaches nothing."""
    identity = machine.identity
    return (
        phrase("{maker} {model}", maker=identity.maker, model=identity.model).strip().lower()
        if identity.model.strip()
        else ""
    )


def learned_template(job: Job, steps: Sequence[Step], before: Template | None, when: str) -> Template | None:
    """The template of a model after one more finished job; None where nothing can be learned from it."""
    key = model_key(job.machine)
    done = {d.step_id for d in job.steps_done}
    if not key or not steps or any(s.id not in done for s in steps):
        return None
    known = before or Template(key, "", "")
    edits = replace(job.plan_edits, hints=_hints(job, known), learned_from=job.name)
    screws = tuple(replace(s, back=None) for s in job.screws) or known.screws
    return Template(key, job.name, when, edits, _times(job, steps, known), screws)


def _times(job: Job, steps: Sequence[Step], known: Template) -> tuple[Timed, ...]:
    """What steps took on this job and on the last few before it."""
    done = {d.step_id: d for d in job.steps_done}
    timed = [
        Timed(s.id, job.id, done[s.id].minutes, max(done[s.id].unattended_min, 0.0))
        for s in steps
        if done[s.id].minutes >= LEAST_MIN
    ]
    earlier = [t for t in known.times if t.job_id != job.id]
    jobs = list(dict.fromkeys(t.job_id for t in earlier))[-(MOST_JOBS - 1) :]
    return (*(t for t in earlier if t.job_id in jobs), *timed)


def _hints(job: Job, known: Template) -> tuple[Hint, ...]:
    """What went differently now, and earlier at steps that went as planned now."""
    fresh = tuple(Hint(d.step_id, d.note) for d in job.steps_done if d.note)
    told = {h.step_id for h in fresh}
    return (*(h for h in known.edits.hints if h.step_id not in told), *fresh)


def edits_of(template: Template) -> PlanEdits:
    """The edits that a job of the model begins with: minutes are the median of the jobs that timed a step."""
    ids = dict.fromkeys(t.step_id for t in template.times)
    minutes = tuple(_median(i, [t for t in template.times if t.step_id == i]) for i in ids)
    typed = {m.step_id for m in minutes}
    kept = tuple(m for m in template.edits.minutes if m.step_id not in typed)
    return replace(template.edits, minutes=(*minutes, *kept))


def _median(step_id: str, times: Sequence[Timed]) -> OwnMinutes:
    away = [t.unattended_min for t in times if t.unattended_min > 0]
    return OwnMinutes(
        step_id, round(median(t.attended_min for t in times), 1), round(median(away), 1) if away else None
    )


def with_template(job: Job, template: Template) -> Job:
    """A job that begins as the last one of its model ended."""
    return replace(job, plan_edits=edits_of(template), screws=job.screws or template.screws)
