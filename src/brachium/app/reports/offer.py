"""An offer to the owner: what holds the machine back, up to three plans in plain words, what else there is to say."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal
from pathlib import Path

from brachium.app.reports.full_report import ReportFiles
from brachium.app.view.job_view import JobView
from brachium.app.view.weighed_plans import PlanColumn, plan_columns
from brachium.core.base.own_words import OwnWords
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.spoken import spoken_by
from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import minutes, money, percent
from brachium.core.choose.keep_or_replace import keep_or_replace
from brachium.core.choose.resale import energy_a_year
from brachium.core.record.kept_plans import NamedPlan
from brachium.core.record.money import Tax
from brachium.formats.atomic import write_atomically
from brachium.report.content import OfferContent, OfferPlan, Row
from brachium.report.html import render_offer
from brachium.report.pdf import html_to_pdf
from brachium.report.speech import PLAIN, Speech

MOST_PLANS = 3
NO_TAX = Tax()
LIKELY = (
    (0.95, "nearly certain"), (0.8, "likely"), (0.6, "more likely than not"), (0.4, "an even chance"),
    (0.15, "unlikely"), (0.0, "very unlikely"),
)  # fmt: skip


def offer_content(view: JobView, today: str = "", tax: Tax = NO_TAX) -> OfferContent:
    """Gather the offer. Raises ExpectedProblem where there is no plan to offer."""
    job = view.job
    kept = job.kept_plans[:MOST_PLANS]
    if not kept and not job.plan and view.choice.weighed is not None and view.choice.weighed.front.recommended.ids:
        kept = (NamedPlan("Our proposal", view.choice.weighed.front.recommended.ids),)
    limits = view.causes.assessment.limits
    columns = plan_columns(
        replace(job, kept_plans=kept),
        view.measured.before,
        view.causes.figures,
        view.causes.profile,
        limits,
        view.choice.offers,
        view.choice.around,
    )[:MOST_PLANS]
    if not columns:
        raise ExpectedProblem("there is no plan to offer", "Choose", "Plan something, or keep a plan first.")
    identity = job.machine.identity
    return OfferContent(
        phrase("{job}: what could be done", job=job.name),
        joined(" ", (p for p in (identity.maker, identity.model) if p)),
        today or date.today().isoformat(),
        _found(view),
        tuple(_plan(c, tax) for c in columns),
        _remarks(view),
    )


def _found(view: JobView) -> str:
    called = view.causes.assessment.called
    if not called:
        return "We found nothing that holds this machine back for your work."
    causes = joined("; ", (phrase("{kind}", kind=lower_first(c.kind.title)) for c in called[:3]))
    return phrase("What we found: {causes}.", causes=causes)


def _plan(column: PlanColumn, tax: Tax) -> OfferPlan:
    gain = column.band
    brings = "What it brings was not measured."
    if gain is not None:
        brings = phrase(
            "Your work would take {mid} of the time it takes now; in 8 of 10 such cases between {high} and {low}.",
            mid=percent(1.0 / gain.mid),
            high=percent(1.0 / gain.high),
            low=percent(1.0 / gain.low),
        )
    odds = tuple(Row(OwnWords(o.target.words), likely(o.chance)) for o in column.odds)
    by_itself = (
        phrase(", {unattended_min} more run by themselves", unattended_min=minutes(column.cost.unattended_min))
        if column.cost.unattended_min
        else ""
    )
    first = phrase(
        "About {attended_min} of work{by_itself}.", attended_min=minutes(column.cost.attended_min), by_itself=by_itself
    )
    name = "Our proposal" if column.name == "In hand" else column.name
    return OfferPlan(name, tax.words(column.cost.total), brings, odds, column.titles or ("nothing",), first)


def likely(chance: float | None) -> str:
    """A chance in plain words, with the figure."""
    if chance is None:
        return "cannot be predicted"
    word = next(words for least, words in LIKELY if chance >= least)
    return phrase("{word} ({chance})", word=word, chance=percent(chance))


def _remarks(view: JobView) -> tuple[str, ...]:
    job = view.job
    out = [
        "Prices hold with the parts at hand today and include the work.",
        "Nothing is opened before your data is settled.",
    ]
    energy = energy_a_year(job.energy, True) if job.energy is not None else Decimal(0)
    if job.energy is not None and job.energy.stated:
        out.append(
            phrase(
                "Energy: {energy_a_year} a year as it is, {energy} after the work.",
                energy_a_year=money(energy_a_year(job.energy)),
                energy=money(energy),
            )
        )
    if job.other_machine is not None:
        total, gain = view.choice.cost.total, view.choice.gain
        found = keep_or_replace(total, job.other_machine, job.rate_per_hour, energy, gain, bool(view.choice.chosen()))
        if found is not None:
            out += [phrase("{found}.", found=found.words), *([found.work] if found.work else [])]
    if any(c.kind.at_risk for c in view.causes.assessment.called):
        out.append("Your data may be at risk on this machine: let us make a copy before anything else.")
    return tuple(out)


def write_offer(view: JobView, folder: Path, today: str = "", tax: Tax = NO_TAX, speech: Speech = PLAIN) -> ReportFiles:
    """Write offer.html and offer.pdf. Raises ExpectedProblem, EnvironmentProblem; nothing is left half written."""
    with spoken_by(speech.say):
        html = render_offer(offer_content(view, today, tax), speech)
    pdf = html_to_pdf(html)
    write_atomically(folder / "offer.html", html.encode())
    write_atomically(folder / "offer.pdf", pdf)
    return ReportFiles(folder / "offer.html", folder / "offer.pdf")
