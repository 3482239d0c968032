"""What a job that is handed over teaches the shop: a work template of its model, what its repaste brought."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from brachium.app.shop.kept import KeepsShop, ReadsShop, settings_of
from brachium.core.base.band import Band
from brachium.core.day.durations import learn_durations, learn_durations_of_kind
from brachium.core.learn.correction import correction_of
from brachium.core.learn.outcomes import ChangeOutcome, JobOutcome, Ratio
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.correction import NONE, Correction
from brachium.core.record.job import Job
from brachium.core.record.work.repaste import Repaste
from brachium.core.record.work.step_minutes import StepMinutes
from brachium.core.work.template import Template, learned_template, model_key
from brachium.formats.shop_documents import OUTCOMES, REPASTES, TEMPLATES

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView


def part_lies_aside(shop: ReadsShop) -> bool:
    """Whether a part of the record could not be read and lies aside in the shop file."""
    return any(shop.was_put_aside(d) for d in (TEMPLATES, REPASTES, OUTCOMES))


def templates_of(shop: ReadsShop) -> tuple[Template, ...]:
    """One a model."""
    return shop.kept(TEMPLATES)


def template_for(shop: ReadsShop, job: Job) -> Template | None:
    """What finished jobs of the model taught, where this job has not taken it; None where there is nothing."""
    key = model_key(job.machine)
    found = next((t for t in templates_of(shop) if t.model == key), None) if key else None
    if found is None or not found.words or job.plan_edits.learned_from or job.name == found.learned_from:
        return None
    return found


def repastes_of(shop: ReadsShop) -> tuple[Repaste, ...]:
    """What repastes brought here."""
    return shop.kept(REPASTES)


def outcomes_of(shop: ReadsShop) -> tuple[JobOutcome, ...]:
    """What finished jobs left behind, in the order they were handed over."""
    return shop.kept(OUTCOMES)


def correction_for(shop: ReadsShop) -> Correction:
    """How predictions are corrected by the shop's own record; not at all where that is switched off."""
    return correction_of(outcomes_of(shop)) if corrects_predictions(shop) else NONE


def step_minutes_of(shop: ReadsShop) -> Mapping[MachineKind, Mapping[str, StepMinutes]]:
    """What kinds of step take on kinds of machine that were finished here; empty where the record is not to correct."""
    outcomes = outcomes_of(shop) if corrects_predictions(shop) else ()
    every = [s for o in outcomes for s in o.steps]
    out = {}
    for kind in {o.kind for o in outcomes}:
        mine = [s for o in outcomes if o.kind is kind for s in o.steps]
        timed = learn_durations(mine)
        found = learn_durations_of_kind(every, mine)
        out[kind] = {step: StepMinutes(found[step].factor, timed[step].count) for step in timed}
    return out


def corrects_predictions(shop: ReadsShop) -> bool:
    """Whether the shop's own record corrects gains and minutes."""
    return settings_of(shop).correct_predictions


def outcome_of(view: JobView, when: str) -> JobOutcome | None:
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
    return JobOutcome(
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


def learn_from(shop: KeepsShop, view: JobView, when: str) -> None:
    """Keep what a finished job teaches; the same job again replaces what it taught before."""
    templates = templates_of(shop)
    key = model_key(view.job.machine)
    before = next((t for t in templates if t.model == key), None)
    fresh = learned_template(view.job, view.work.steps, before, when)
    if fresh is not None:
        rest = tuple(t for t in templates if t.model != key)
        shop.keep(TEMPLATES, (*rest, fresh))
    from brachium.app.view.paste_expectation import repaste_of  # late: the window opens without it

    repaste = repaste_of(view, when)
    others = tuple(r for r in repastes_of(shop) if r.job_id != view.job.id)
    kept = (*others, repaste) if repaste is not None else others
    shop.keep(REPASTES, kept)
    _keep_outcome(shop, view.job.id, outcome_of(view, when))


def _keep_outcome(shop: KeepsShop, job_id: str, outcome: JobOutcome | None) -> None:
    rest = tuple(o for o in outcomes_of(shop) if o.job_id != job_id)
    kept = rest if outcome is None else (*rest, outcome)
    shop.keep(OUTCOMES, kept)


def keep_record(shop: KeepsShop, outcomes: tuple[JobOutcome, ...], repastes: tuple[Repaste, ...]) -> None:
    """Keep what jobs taught that are not in this shop file; in place of what there was."""
    shop.keep(OUTCOMES, outcomes)
    shop.keep(REPASTES, repastes)


def forget_job(shop: KeepsShop, job_id: str) -> None:
    """A hand-over taken back teaches nothing of its repaste and its gain."""
    kept = tuple(r for r in repastes_of(shop) if r.job_id != job_id)
    shop.keep(REPASTES, kept)
    _keep_outcome(shop, job_id, None)
