"""The day sheet on paper: what is late and why, then each day with its picture and who does what when."""

from __future__ import annotations

from pathlib import Path

from brachium.app.day.sheet import Day
from brachium.core.base.days import day_words, weekday_words
from brachium.core.base.spoken import spoken_by
from brachium.core.base.text import many, phrase
from brachium.core.base.units import minutes
from brachium.core.day.opening import DAY_MIN, clock, moment_of
from brachium.core.day.why_late import why_late
from brachium.core.figures.plots.day_sheet import day_sheet
from brachium.formats.atomic import write_atomically
from brachium.report.content import DayContent, DaySection, Row
from brachium.report.html import render_day
from brachium.report.pdf import html_to_pdf
from brachium.report.speech import Speech
from brachium.speech.shown import shown_language

WIDTH = 680.0


def late_rows(day: Day) -> tuple[Row, ...]:
    """Each late machine: by how much, and why."""
    late = [j for j in day.jobs if day.sheet.lateness.get(j.id, 0)]
    return tuple(
        Row(
            j.name,
            phrase("{lateness} late", lateness=minutes(day.sheet.lateness[j.id])),
            why_late(j, day.jobs, day.sheet, day.shop),
        )
        for j in sorted(late, key=lambda j: -day.sheet.lateness[j.id])
    )


def day_content(day: Day) -> DayContent:
    """The sheet from its first day with work to its last."""
    days = sorted({p.start // DAY_MIN for p in day.sheet.placed})
    late = late_rows(day)
    headline = "Every promise is kept" if not late else phrase("{promises} late", promises=many(len(late), "promise"))
    sections = tuple(_section(day, k) for k in days)
    return DayContent(
        "Day sheet",
        phrase("{machines}", machines=many(len(day.jobs), "machine")),
        day_words(day.first),
        headline,
        late,
        sections,
        day.left_out,
    )


def _section(day: Day, number: int) -> DaySection:
    names = {j.id: j.name for j in day.jobs}
    own = sorted((p for p in day.sheet.placed if p.start // DAY_MIN == number), key=lambda p: (p.start, p.technician))
    rows = tuple(
        Row(
            phrase(
                "{clock}–{clock2} {names}",
                clock=clock(p.start),
                clock2=clock(p.attended_end),
                names=names[p.block.job_id],
            ),
            phrase("{attended} min", attended=p.block.attended),
            phrase("{block}; technician {technician}", block=p.block.title, technician=p.technician + 1)
            + (phrase(", bench {bench}", bench=p.bench + 1) if p.bench >= 0 else "")
            + (
                phrase("; then {unattended} by itself", unattended=minutes(p.block.unattended))
                if p.block.unattended
                else ""
            ),
        )
        for p in own
    )
    figure = day_sheet(day.sheet, day.jobs, day.shop, day.chances, number, WIDTH)
    return DaySection(weekday_words(moment_of(number * DAY_MIN, day.first)), figure, rows)


def write_day(day: Day, path: Path) -> Path:
    """Write the sheet as PDF. Raises EnvironmentProblem, OSError; nothing is left half written."""
    speech = Speech(shown_language())
    with spoken_by(speech.say):
        write_atomically(path, html_to_pdf(render_day(day_content(day), speech)))
    return path
