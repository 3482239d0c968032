"""The work on paper: every step with its picture, a box to tick and its cautions, on two pages at most."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from brachium.app.view.job_view import JobView
from brachium.app.view.step_scene import view_scene
from brachium.core.base.days import day_words
from brachium.core.base.spoken import spoken_by
from brachium.core.base.text import phrase
from brachium.core.base.units import minutes
from brachium.core.figures.work.step_figure import step_figure
from brachium.core.work.step import Step
from brachium.formats.atomic import write_atomically
from brachium.report.content import SheetStep, WorkSheetContent
from brachium.report.html import render_work_sheet
from brachium.report.pdf import html_to_pdf, page_count
from brachium.report.speech import Speech
from brachium.speech.shown import shown_language

MOST_PAGES, LEVELS = 2, 4
WIDTH, HEIGHT = 320.0, 214.0  # of a picture before it is made smaller [px]


def work_sheet(view: JobView) -> WorkSheetContent:
    """The steps of a view in their order; a caution that several share stands once."""
    job, steps = view.job, view.work.whole
    cautions = tuple(dict.fromkeys(c for s in steps for c in s.cautions))
    done = {d.step_id for d in job.steps_done}
    hints = {h.step_id: h.words for h in job.plan_edits.hints}
    rows = tuple(
        _row(view, k, step, cautions, step.id in done, hints.get(step.id, "")) for k, step in enumerate(steps, 1)
    )
    left = sum(s.attended_min for s in view.work.steps if s.id not in done)
    return WorkSheetContent(
        "Work sheet",
        phrase("{job}: {model}", job=job.name, model=job.machine.identity.model).rstrip(": "),
        day_words(date.today()),
        phrase("{left} of work; ticks go back in one line: 1-5 7:12 9", left=minutes(left)),
        cautions,
        rows,
    )


def _row(view: JobView, number: int, step: Step, cautions: tuple[str, ...], done: bool, hint: str) -> SheetStep:
    marks = "\u00a0".join(phrase("!{index}", index=cautions.index(c) + 1) for c in step.cautions)
    away = (
        phrase(" + {unattended_min} by itself", unattended_min=minutes(step.unattended_min))
        if step.unattended_min
        else ""
    )
    figure = step_figure(view_scene(view, step), WIDTH, HEIGHT)
    return SheetStep(
        number,
        step.title,
        phrase("{attended_min}{away}", attended_min=minutes(step.attended_min), away=away),
        step.detail,
        step.tools,
        marks,
        phrase("last time: {hint}", hint=hint) if hint else "",
        step.no_return,
        done,
        figure,
    )


def write_work_sheet(view: JobView, path: Path) -> int:
    """Write the sheet as PDF, set as small as two pages ask for; returns its pages. Raises EnvironmentProblem, OSError;
    nothing is left half written."""
    speech = Speech(shown_language())
    with spoken_by(speech.say):
        content = work_sheet(view)
    for tight in range(LEVELS):
        html = render_work_sheet(content, tight, speech)
        pages = page_count(html)
        if pages <= MOST_PAGES:
            break
    write_atomically(path, html_to_pdf(html))
    return pages
