"""The answer of each part of Find cause in one line: where the heat drops, what limits, what drives and tries say."""

from __future__ import annotations

from brachium.app.view.cause_record import drive_verdicts
from brachium.app.view.job_view import JobView
from brachium.core.base.text import many, phrase
from brachium.core.cause.swap_job import MEMORY, grid_words, swap_job
from brachium.core.drives.health import DriveState
from brachium.core.figures.plots.limit_bars import limit_name
from brachium.core.record.job import Job


def heat_headline(view: JobView) -> str:
    """How much of the rise lies on which side of the heatsink, or why that cannot be told."""
    reading = view.causes.figures.reading if view.causes.figures is not None else None
    if reading is None:
        return "No temperature was sampled"
    if reading.stair is None:
        return phrase("No heat stair: {refusal}", refusal=reading.refusal) if reading.refusal else "No heat stair"
    chip, sink = reading.stair.chip_to_sink_k, reading.stair.sink_to_room_k
    where = "between chip and heatsink" if chip >= sink else "between heatsink and room"
    return phrase("{chip:.0f} of {chip2:.0f} K drop {where}", chip=max(chip, sink), chip2=chip + sink, where=where)


def limits_headline(view: JobView) -> str:
    """What limits where it counts most: the owner's task, else the load."""
    limits = view.causes.assessment.limits
    if not limits:
        return "No utilisation was sampled"
    return phrase("{limit_name}: {words}", limit_name=limit_name(limits[0].name), words=limits[0].words)


def drives_headline(job: Job) -> str:
    """The drive that needs most care, or that all are well."""
    verdicts = drive_verdicts(job)
    if not verdicts:
        return "No drive is recorded"
    place, worst = max(verdicts.items(), key=lambda v: list(DriveState).index(v[1].state))
    if worst.state is DriveState.CLEAN:
        unread = sum(v.state is DriveState.NOT_READ for v in verdicts.values())
        read = phrase("{drives} read, nothing against any", drives=many(len(verdicts) - unread, "drive"))
        return phrase("{read}; {unread} not read", read=read, unread=unread) if unread else read
    return phrase("{place_label}: {worst}", place_label=job.machine.place_label(place), worst=worst.text)


def swap_headline(job: Job) -> str:
    """What the tries prove so far of memory."""
    found = swap_job(job.machine, job.swap_tries, MEMORY, 1)
    return grid_words(found) if found is not None else "Nothing to swap is recorded"
