"""What a job that is handed over teaches the shop: a work template of its model, what its repaste brought."""

from __future__ import annotations

from math import isfinite
from typing import TYPE_CHECKING, TypeVar

from brachium.core.base.band import Band
from brachium.core.learn.correction import correction_of
from brachium.core.learn.outcomes import ChangeOutcome, Outcome, Ratio
from brachium.core.machine.parts import Service
from brachium.core.record.correction import NONE, Correction
from brachium.core.record.job import Job
from brachium.core.record.repaste import Repaste
from brachium.core.work.template import Template, learned, model_key
from brachium.formats.documents import Document

if TYPE_CHECKING:
    from brachium.app.shop.reading import ShopReading
    from brachium.app.shop.workspace import Workspace
    from brachium.app.view.job_view import JobView

ASIDE = "_unreadable"  # behind the key of what could not be read
TEMPLATES_KEY, REPASTES_KEY, OUTCOMES_KEY = "work_templates", "repastes", "outcomes"
CORRECT_KEY = "correct_predictions"  # "off" = as the model says
T = TypeVar("T")
_TEMPLATES: Document[tuple[Template, ...]] = Document(tuple[Template, ...], "work templates")
_REPASTES: Document[tuple[Repaste, ...]] = Document(tuple[Repaste, ...], "repastes")
_OUTCOMES: Document[tuple[Outcome, ...]] = Document(tuple[Outcome, ...], "track record")


def _read(workspace: ShopReading, key: str, document: Document[tuple[T, ...]]) -> tuple[T, ...]:
    """What is kept under a key; a text that cannot be read is put aside, never written over."""
    return workspace.kept(key, lambda text: document.read(text, key), ())


def put_aside(workspace: ShopReading) -> bool:
    """Whether a part of the record could not be read and lies aside in the shop file."""
    return any(workspace.setting(f"{k}{ASIDE}") for k in (TEMPLATES_KEY, REPASTES_KEY, OUTCOMES_KEY))


def templates_of(workspace: ShopReading) -> tuple[Template, ...]:
    """One a model."""
    return _read(workspace, TEMPLATES_KEY, _TEMPLATES)


def template_for(workspace: ShopReading, job: Job) -> Template | None:
    """What finished jobs of the model taught, where this job has not taken it; None where there is nothing."""
    key = model_key(job.machine)
    found = next((t for t in templates_of(workspace) if t.model == key), None) if key else None
    if found is None or not found.words or job.plan_edits.learned_from or job.name == found.learned_from:
        return None
    return found


def repastes_of(workspace: ShopReading) -> tuple[Repaste, ...]:
    """What repastes brought here."""
    return _read(workspace, REPASTES_KEY, _REPASTES)


def outcomes_of(workspace: ShopReading) -> tuple[Outcome, ...]:
    """What finished jobs left behind, in the order they were handed over."""
    return _read(workspace, OUTCOMES_KEY, _OUTCOMES)


def correction_for(workspace: ShopReading) -> Correction:
    """How predictions are corrected by the shop's own record; not at all where that is switched off."""
    return correction_of(outcomes_of(workspace)) if corrects(workspace) else NONE


def corrects(workspace: ShopReading) -> bool:
    """Whether the shop's own record corrects gains and minutes."""
    return workspace.setting(CORRECT_KEY) != "off"


def outcome_of(view: JobView, when: str) -> Outcome | None:
    """What a finished job leaves behind; None without a plan."""
    job, found, told = view.job, view.proof.attribution, view.choice.uncorrected
    if not view.choice.chosen():
        return None
    price = {c.id: float(c.price) for c in view.choice.chosen()}
    group = {c.id: c.group.value for c in view.choice.chosen()}
    parts = {p.candidate_id: p for p in found.parts} if found is not None else {}
    changes = tuple(
        ChangeOutcome(group[c.candidate_id], _ratio(c.band), _ratio(parts[c.candidate_id].band), price[c.candidate_id],
                      parts[c.candidate_id].measured)
        for c in (told.contributions if told is not None else ())
        if c.candidate_id in parts
    )  # fmt: skip
    resale = job.resale
    return Outcome(
        job.id, job.name, job.machine.identity.model, job.machine.kind, when,
        _ratio(told.band) if told is not None else None, found.total if found is not None else None, changes,
        view.choice.cost.attended_min, sum(d.minutes for d in job.steps_done), float(view.choice.cost.total),
        float(resale.likely) if resale is not None and resale.stated else None,
        float(job.sold_for) if job.sold_for is not None else None, timed_steps(view),
    )  # fmt: skip


def timed_steps(view: JobView) -> tuple[tuple[str, float, float], ...]:
    """(step id, minutes planned, minutes logged) of every step that is ticked."""
    planned = {s.id: s.attended_min for s in view.work.steps}
    return tuple((d.step_id, planned.get(d.step_id, 0.0), d.minutes) for d in view.job.steps_done)


def _ratio(band: Band) -> Ratio:
    return Ratio(band.low, band.mid, band.high)


def learn_from(workspace: Workspace, view: JobView, when: str) -> None:
    """Keep what a finished job teaches; the same job again replaces what it taught before."""
    templates = templates_of(workspace)
    key = model_key(view.job.machine)
    before = next((t for t in templates if t.model == key), None)
    fresh = learned(view.job, view.work.steps, before, when)
    if fresh is not None:
        rest = tuple(t for t in templates if t.model != key)
        workspace.save_setting(TEMPLATES_KEY, _TEMPLATES.text((*rest, fresh)))
    repaste = repaste_of(view, when)
    others = tuple(r for r in repastes_of(workspace) if r.job_id != view.job.id)
    kept = (*others, repaste) if repaste is not None else others
    workspace.save_setting(REPASTES_KEY, _REPASTES.text(kept))
    _keep_outcome(workspace, view.job.id, outcome_of(view, when))


def _keep_outcome(workspace: Workspace, job_id: str, outcome: Outcome | None) -> None:
    rest = tuple(o for o in outcomes_of(workspace) if o.job_id != job_id)
    kept = rest if outcome is None else (*rest, outcome)
    workspace.save_setting(OUTCOMES_KEY, _OUTCOMES.text(kept))


def keep_record(workspace: Workspace, outcomes: tuple[Outcome, ...], repastes: tuple[Repaste, ...]) -> None:
    """Keep what jobs taught that are not in this shop file; in place of what there was."""
    workspace.save_setting(OUTCOMES_KEY, _OUTCOMES.text(outcomes))
    workspace.save_setting(REPASTES_KEY, _REPASTES.text(repastes))


def forget(workspace: Workspace, job_id: str) -> None:
    """A hand-over taken back teaches nothing of its repaste and its gain."""
    kept = tuple(r for r in repastes_of(workspace) if r.job_id != job_id)
    workspace.save_setting(REPASTES_KEY, _REPASTES.text(kept))
    _keep_outcome(workspace, job_id, None)


def repaste_of(view: JobView, when: str) -> Repaste | None:
    """What the repaste of a job brought, where the pair of runs says it; None without one."""
    from brachium.core.heat.claims import ClaimKind  # late: the window opens without it

    services = {s for c in view.choice.chosen() for s in c.services}
    heat = view.proof.comparison.heat if view.proof.comparison is not None else None
    claim = heat.paste if heat is not None else None
    if heat is None or claim is None or Service.NEW_PASTE not in services:
        return None
    if claim.kind is ClaimKind.CANNOT_SEPARATE or not (isfinite(claim.value_k) and isfinite(heat.power_ref_w)):
        return None
    half = claim.half_width_k if isfinite(claim.half_width_k) else 0.0
    return Repaste(view.job.id, view.job.machine.kind, when, claim.value_k, half, heat.power_ref_w)
