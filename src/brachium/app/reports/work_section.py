"""What the report says of the work itself: times, screws, the layer of paste, steps left out, drives that came out."""

from __future__ import annotations

from brachium.app.view.job_view import JobView
from brachium.app.view.paste_expectation import layer_found
from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import minutes
from brachium.core.record.job import Job
from brachium.core.record.work.trouble import Trouble
from brachium.core.work.doing.trouble import kind_of
from brachium.core.work.transfer import replaced_drives
from brachium.report.content import Row


def work_rows(view: JobView) -> tuple[Row, ...]:
    """How it was done; empty before anything is."""
    job = view.job
    if not job.steps_done:
        return ()
    rows = _time_rows(job)
    rows += [_screw_row(job)] if job.screws else []
    if job.paste is not None:
        named = phrase("{paste}, ", paste=job.paste.name) if job.paste.name else ""
        found = layer_found(view)
        rows.append(
            Row(
                "paste",
                phrase("{named}{method}", named=named, method=job.paste.method.value),
                found.measured or job.paste.contact.value,
            )
        )
    names = {s.id: s.title for s in view.work.steps}
    rows += [Row("left out", names.get(x.step_id, x.step_id), OwnWords(x.reason)) for x in job.plan_edits.left_out]
    rows += [Row("differently", names.get(d.step_id, d.step_id), OwnWords(d.note)) for d in job.steps_done if d.note]
    rows += [_trouble_row(t, names.get(t.step_id, t.step_id)) for t in job.troubles]
    return tuple(rows)


def _trouble_row(trouble: Trouble, step: str) -> Row:
    """What went wrong at a step, and what it cost beyond the plan."""
    price = phrase(", {price} EUR", price=trouble.price) if trouble.price is not None else ""
    cost = phrase("{minutes}{price}", minutes=minutes(trouble.minutes), price=price)
    return Row(kind_of(trouble).title, cost, OwnWords(trouble.words or step))


def _screw_row(job: Job) -> Row:
    loose = [s for s in job.screws if not s.captive]
    out, back = sum(s.count for s in loose), sum(s.back or 0 for s in loose)
    words = "every one counted" if out == back else "counted on the way back"
    return Row("screws", phrase("{back} of {out} back", back=back, out=out), words)


def _time_rows(job: Job) -> list[Row]:
    """Minutes of hands and of the machine, and on which days."""
    days = sorted({d.when[:10] for d in job.steps_done if d.when[:4].isdigit()})
    when = joined(" to ", dict.fromkeys((days[0], days[-1]))) if days else ""
    rows = [Row("hands on", minutes(sum(d.minutes for d in job.steps_done)), when)]
    away = sum(d.unattended_min for d in job.steps_done)
    return [*rows, Row("ran by itself", minutes(away))] if away else rows


def drive_rows(view: JobView) -> tuple[Row, ...]:
    """What became of each drive that came out, with the record of its erasure."""
    job = view.job
    records = tuple(
        Row(
            e.drive,
            e.method.value,
            phrase("{verified}; {who}, {when}", verified=e.verified.value, who=e.who, when=e.when)
            + (phrase("; {note}", note=e.note) if e.note else ""),
        )
        for e in job.erasures
    )
    if records:
        return records
    return tuple(
        Row(
            phrase("{drive}, {place_label}", drive=drive.name, place_label=lower_first(job.machine.place_label(place))),
            job.transfer.pulled.value,
        )
        for place, drive in replaced_drives(job.machine, view.choice.chosen())
    )
