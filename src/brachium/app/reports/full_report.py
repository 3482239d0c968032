"""The hand-over report of a job: gathered from its view, written as HTML and PDF."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from pathlib import Path

from brachium.app.reports.buyer_report import buyer_content
from brachium.app.reports.configuration_rows import configuration_rows
from brachium.app.reports.owner_report import owner_content
from brachium.app.reports.work_section import drive_rows, work_rows
from brachium.app.view.figures import ledger_of, stair_of, traces_of
from brachium.app.view.job_view import JobView
from brachium.core.base.own_words import OwnWords
from brachium.core.base.spoken import spoken_by
from brachium.core.base.text import joined, lower_first, phrase, without_stop
from brachium.core.base.units import minutes, money
from brachium.core.condition.findings import kind_of
from brachium.core.condition.trials import TrialOutcome, tests_for
from brachium.core.condition.zones import zone_title
from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.lists.attribution_list import attribution_list
from brachium.core.heat.claims import ClaimKind, HeatClaim
from brachium.core.prove.comparison import Comparison
from brachium.core.prove.verdict_words import headline, subline
from brachium.core.record.job import Job
from brachium.formats.atomic import write_atomically
from brachium.report.content import ComparisonContent, ComparisonSection, OwnerContent, ReportContent, Row
from brachium.report.html import render_buyer, render_comparison, render_html, render_owner
from brachium.report.pdf import html_to_pdf, page_count
from brachium.report.speech import PLAIN, Speech
from brachium.speech.shown import shown_language

FIGURE_W = 660.0
PAPERS = ("report", "owner", "buyer")  # for the technician, the owner, a buyer


@dataclass(frozen=True)
class ReportFiles:
    """Where the report was written; `pdf` is None where the PDF engine is missing."""

    html: Path
    pdf: Path


def report_content(view: JobView, today: str = "") -> ReportContent:
    """Gather what the report says."""
    job, comparison = view.job, view.proof.comparison
    identity = job.machine.identity
    figures = _figures(view)
    done = [Row(c.title, money(c.price), c.where) for c in view.choice.chosen()]
    if not done:
        done = [Row("Nothing was planned here", "", "the figures come from imported logs")]
    return ReportContent(
        phrase("{job}: hand-over", job=job.name),
        joined(" ", (p for p in (identity.maker, identity.model, identity.serial) if p)),
        today or date.today().isoformat(),
        headline(comparison) if comparison else _alone(view),
        subline(comparison) if comparison else "",
        tuple(done),
        _targets(view),
        _cost(view),
        _heat(view),
        tuple(Row(d.name, OwnWords(d.sides), d.text) for d in comparison.differences) if comparison else (),
        tuple(Row(phrase("before {stage}", stage=x.stage.value), x.when, OwnWords(x.reason)) for x in job.lifts)
        + tuple(
            Row(phrase("gate of “{step_id}”", step_id=x.step_id), x.when, OwnWords(x.reason)) for x in job.gate_lifts
        )
        + tuple(
            Row(phrase("{rule}, {sentence}", rule=a.rule, sentence=a.sentence), a.when, OwnWords(a.reason))
            for a in job.acceptances
        ),
        _condition(job),
        _watch(view),
        _limits(view),
        figures,
        work_rows(view),
        drive_rows(view),
        configuration_rows(view),
    )


def write_report(view: JobView, folder: Path, today: str = "", speech: Speech = PLAIN) -> ReportFiles:
    """Write report.html and report.pdf for the technician, owner and buyer each as HTML and PDF beside them.

    Raises EnvironmentProblem; nothing is left half written."""
    for name in PAPERS:
        page, pdf = paper_of(view, name, today, speech)
        write_atomically(folder / f"{name}.html", page.encode())
        write_atomically(folder / f"{name}.pdf", pdf)
    return ReportFiles(folder / "report.html", folder / "report.pdf")


def paper_of(view: JobView, name: str, today: str = "", speech: Speech = PLAIN) -> tuple[str, bytes]:
    """One of `PAPERS` as HTML and as PDF. Raises EnvironmentProblem where the PDF engine is missing."""
    with spoken_by(speech.say):  # figures are laid out by the words of the paper, not of the window
        if name == "owner":
            return _on_one_page(owner_content(view, today), speech)
        if name == "buyer":
            html = render_buyer(buyer_content(view, today), speech)
        else:
            html = render_html(report_content(view, today), speech)
    return html, html_to_pdf(html)


def _on_one_page(content: OwnerContent, speech: Speech) -> tuple[str, bytes]:
    """The owner's page: set smaller where it would be more than one, then without figures, the last first."""
    for count in range(len(content.figures), -1, -1):
        shown = replace(content, figures=content.figures[:count])
        for tight in (False, True):
            html = render_owner(shown, speech, tight)
            if page_count(html) <= 1:
                return html, html_to_pdf(html)
    return html, html_to_pdf(html)  # all words and nothing else still take more than a page


def _alone(view: JobView) -> str:
    """The headline of a job with one run or none."""
    if view.measured.after is not None:
        why = phrase(" ({no_before})", no_before=view.job.no_before) if view.job.no_before else ""
        return phrase("No before-run{why}: the figures are those of the machine now, no gain is claimed.", why=why)
    return "No after-run: what the work brought is not shown."


def comparison_html(comparisons: Sequence[Comparison]) -> str:
    """Two or more runs compared, without a job around them, as one HTML page."""
    first = comparisons[0].before
    sections = tuple(
        ComparisonSection(
            phrase(
                "{configuration}, then {configuration2}",
                configuration=first.configuration,
                configuration2=c.after.configuration,
            ),
            headline(c),
            subline(c),
            _pair_figures(c, None),
            _heat_rows(c),
            tuple(Row(d.name, d.sides, d.text) for d in c.differences),
            tuple(Row(g.test.title, g.judgement.sentence, g.excluded) for g in c.gains),
        )
        for c in comparisons
    )
    speech = Speech(shown_language())
    return render_comparison(ComparisonContent("Runs compared", first.machine or first.origin, sections), speech)


def _targets(view: JobView) -> tuple[Row, ...]:
    return tuple(
        Row(OwnWords(t.target.words), t.words, joined("; ", (w for w in (t.figures, t.margin_words) if w)))
        for t in view.proof.targets
    )


def _figures(view: JobView) -> tuple[tuple[str, Drawing], ...]:
    comparison = view.proof.comparison
    if comparison is None:
        return ()
    out = _pair_figures(comparison, view.job.machine.processor.limit_c)
    found = view.proof.attribution if not comparison.refusal else None
    if found is None or not found.parts:
        return out
    how = "estimated from the model where hollow" if found.estimated else "each measured between two runs"
    return (
        *out,
        (phrase("What each change brought of the work per time; {how}", how=how), attribution_list(found, FIGURE_W)),
    )


def _pair_figures(comparison: Comparison, limit: float | None) -> tuple[tuple[str, Drawing], ...]:
    out: list[tuple[str, Drawing]] = []
    ledger = ledger_of(comparison, FIGURE_W)
    if ledger is not None:
        out.append(("Gain per test: ratio with 95 % interval", ledger))
    traces = traces_of(comparison, limit, FIGURE_W, 380.0)
    if traces is not None:
        out.append(("Before and after, aligned at the start of the load", traces))
    stair = stair_of(comparison, 460.0, 260.0)
    if stair is not None:
        out.append((phrase("Heat stair {about}", about=stair.about), stair))
    return tuple(out)


def _cost(view: JobView) -> tuple[Row, ...]:
    cost, done = view.choice.cost, view.job.steps_done
    spent = sum(s.minutes for s in done)
    rows = [
        Row("parts and consumables", money(cost.parts + cost.consumables)),
        Row(
            "work",
            money(cost.labour),
            phrase(
                "{attended_min} attended at {rate_per_hour} an hour",
                attended_min=minutes(cost.attended_min),
                rate_per_hour=money(view.job.rate_per_hour),
            )
            + (phrase("; {spent} logged", spent=minutes(spent)) if done else ""),
        ),
        *(
            [Row("vouchers", money(-cost.discount), joined("; ", (v.words for v in view.job.vouchers)))]
            if cost.discount
            else []
        ),
        Row(
            "all together",
            money(cost.total),
            phrase("of {budget} budget", budget=money(view.job.budget)) if view.job.budget is not None else "",
        ),
    ]
    return tuple(rows)


def _heat(view: JobView) -> tuple[Row, ...]:
    return _heat_rows(view.proof.comparison) if view.proof.comparison is not None else ()


def _heat_rows(comparison: Comparison) -> tuple[Row, ...]:
    heat = comparison.heat
    if heat.refusal:
        return (Row("no heat verdict", "", heat.refusal),)
    rows = [_claim("paste and mounting", heat.paste), _claim("fins, fan and vents", heat.airflow)]
    rows += [_claim("both together", heat.total), Row("which helped more", "", heat.helped_more)]
    return tuple(rows)


def _claim(name: str, claim: HeatClaim | None) -> Row:
    if claim is None:
        return Row(name, "not judged")
    if claim.kind is ClaimKind.CANNOT_SEPARATE:
        return Row(name, "cannot separate", lower_first(without_stop(claim.because.text)))
    return Row(name, claim.text)


def _condition(job: Job) -> tuple[str, ...]:
    """Notes, findings with their place, and what was tried and failed."""
    kind = job.machine.kind
    found = [
        phrase(
            "{title}, {severity}: {zone_title}",
            title=kind_of(f).title,
            severity=f.severity.words,
            zone_title=zone_title(kind, f.zone),
        )
        + (phrase(" ({note})", note=f.note) if f.note else "")
        for f in job.findings
    ]
    titles = {t.id: t.title for t in tests_for(kind)}
    failed = [
        phrase("Failed when tried: {titles}", titles=titles.get(r.id, r.id))
        + (phrase(" ({note})", note=r.note) if r.note else "")
        for r in job.tried
        if r.outcome is TrialOutcome.FAILS
    ]
    return (*map(OwnWords, job.condition), *found, *failed)


def _watch(view: JobView) -> tuple[str, ...]:
    out = []
    services = {s for c in view.choice.chosen() for s in c.services}
    if services:
        out.append("Keep the vents free; the fins felt up again within a year or two of daily use.")
    if any(c.group == "drive" for c in view.choice.chosen()) and not view.job.erasures:
        out.append("The old drive still holds your data: keep it safe or have it erased with a record.")
    out += [
        phrase("Target not met: {target} ({figures}).", target=t.target.words, figures=t.figures)
        for t in view.proof.targets
        if t.met is False
    ]
    return tuple(out)


def _limits(view: JobView) -> tuple[str, ...]:
    comparison = view.proof.comparison
    if comparison is None:
        return (
            phrase(
                "Without {which}-run no gain is claimed.",
                which="a before" if view.measured.after is not None else "an after",
            ),
        )
    out = list(comparison.heat.warnings)
    if comparison.heat.stairs is not None:
        out.append("The step from chip to heatsink holds die, spreader and plate too; only its change speaks of paste.")
    out += [
        phrase("{test}: {excluded}.", test=g.test.title, excluded=g.excluded) for g in comparison.gains if g.excluded
    ]
    return tuple(out)
