"""What a job that is handed over teaches the shop: a work template of its model, what its repaste brought."""

from __future__ import annotations

from math import isfinite
from typing import TYPE_CHECKING

from pydantic import TypeAdapter, ValidationError

from brachium.core.job.job import Job
from brachium.core.learn.repastes import Repaste
from brachium.core.machine.parts import Service
from brachium.core.work.template import Template, learned, model_key

if TYPE_CHECKING:
    from brachium.app.view import JobView
    from brachium.app.workspace import Workspace

TEMPLATES_KEY, REPASTES_KEY = "work_templates", "repastes"
_TEMPLATES = TypeAdapter(tuple[Template, ...])
_REPASTES = TypeAdapter(tuple[Repaste, ...])


def templates_of(workspace: Workspace) -> tuple[Template, ...]:
    """One a model; what cannot be read counts as none."""
    try:
        return _TEMPLATES.validate_json(workspace.setting(TEMPLATES_KEY) or "[]")
    except ValidationError:
        return ()


def template_for(workspace: Workspace, job: Job) -> Template | None:
    """What finished jobs of the model taught, where this job has not taken it; None where there is nothing."""
    key = model_key(job.machine)
    found = next((t for t in templates_of(workspace) if t.model == key), None) if key else None
    if found is None or not found.words or job.plan_edits.learned_from or job.name == found.learned_from:
        return None
    return found


def repastes_of(workspace: Workspace) -> tuple[Repaste, ...]:
    """What repastes brought here."""
    try:
        return _REPASTES.validate_json(workspace.setting(REPASTES_KEY) or "[]")
    except ValidationError:
        return ()


def learn_from(workspace: Workspace, view: JobView, when: str) -> None:
    """Keep what a finished job teaches; the same job again replaces what it taught before."""
    templates = templates_of(workspace)
    key = model_key(view.job.machine)
    before = next((t for t in templates if t.model == key), None)
    fresh = learned(view.job, view.steps, before, when)
    if fresh is not None:
        rest = tuple(t for t in templates if t.model != key)
        workspace.save_setting(TEMPLATES_KEY, _TEMPLATES.dump_json((*rest, fresh)).decode())
    repaste = repaste_of(view, when)
    others = tuple(r for r in repastes_of(workspace) if r.job_id != view.job.id)
    kept = (*others, repaste) if repaste is not None else others
    workspace.save_setting(REPASTES_KEY, _REPASTES.dump_json(kept).decode())


def forget(workspace: Workspace, job_id: str) -> None:
    """A hand-over taken back teaches nothing of its repaste."""
    kept = tuple(r for r in repastes_of(workspace) if r.job_id != job_id)
    workspace.save_setting(REPASTES_KEY, _REPASTES.dump_json(kept).decode())


def repaste_of(view: JobView, when: str) -> Repaste | None:
    """What the repaste of a job brought, where the pair of runs says it; None without one."""
    from brachium.core.heat.claims import ClaimKind  # late: the window opens without it

    services = {s for c in view.chosen() for s in c.services}
    heat = view.comparison.heat if view.comparison is not None else None
    claim = heat.paste if heat is not None else None
    if heat is None or claim is None or Service.NEW_PASTE not in services:
        return None
    if claim.kind is ClaimKind.CANNOT_SEPARATE or not (isfinite(claim.value_k) and isfinite(heat.power_ref_w)):
        return None
    half = claim.half_width_k if isfinite(claim.half_width_k) else 0.0
    return Repaste(view.job.id, view.job.machine.kind, when, claim.value_k, half, heat.power_ref_w)
