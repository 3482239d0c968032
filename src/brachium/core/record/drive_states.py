"""What is known of the drives of a job: their counters by place, and answers that call a drive's media faulty."""

from __future__ import annotations

from collections.abc import Mapping

from brachium.core.drives.health import DriveState, judge
from brachium.core.machine.system_drive import system_today
from brachium.core.record.job import Job

CALLS_MEDIA = (("read_health", "media faults"), ("counters_rise", "media rise"))


def drive_states(job: Job) -> Mapping[str, DriveState]:
    """State of every drive bay that something is known of, by place id.

    Of two drives a check's answer speaks of the one that the system starts from, and never against worse counters.
    """
    places = dict.fromkeys(h.place for h in job.health)
    found = {p: judge([h for h in job.health if h.place == p], True).state for p in places}
    answers = {(c.check, c.answer) for c in job.checks}
    system = system_today(job.machine)
    if system is not None and answers & set(CALLS_MEDIA) and DriveState.MEDIA not in found.values():
        found[system[0]] = DriveState.MEDIA
    return found


def failing_places(job: Job) -> frozenset[str]:
    """Places of drives that are dying: imaged before anything else, and loaded no more."""
    return frozenset(p for p, state in drive_states(job).items() if state is DriveState.MEDIA)


def bad_sectors(job: Job) -> Mapping[str, int]:
    """Sectors that were last read as pending or uncorrectable, by the place of their drive."""
    last = {h.place: h.counters for h in job.health}
    return {p: c.get("pending", 0) + c.get("uncorrectable", 0) for p, c in last.items()}
