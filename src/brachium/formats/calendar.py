"""The day sheet as a calendar (iCalendar, RFC 5545): one event for each attended stretch, in local time."""

from __future__ import annotations

from datetime import date, timedelta

from icalendar import Calendar, Event

from brachium.core.day.blocks import DayJob, Sheet
from brachium.core.day.opening import moment_of


def sheet_to_ics(sheet: Sheet, jobs: tuple[DayJob, ...], first: date) -> bytes:
    """Events keep their ids, so that reading a newer sheet replaces them."""
    names = {j.id: j.name for j in jobs}
    out = Calendar()
    out.add("prodid", "-//Brachium//day sheet//EN")
    out.add("version", "2.0")
    for p in sorted(sheet.placed, key=lambda p: p.start):
        event = Event()
        event.add("uid", f"{p.block.id.replace('/', '.')}@brachium")
        event.add("dtstamp", moment_of(0, first))
        event.add("dtstart", moment_of(p.start, first))
        event.add("dtend", moment_of(p.start, first) + timedelta(minutes=p.block.attended))
        event.add("summary", f"{names.get(p.block.job_id, p.block.job_id)}: {p.block.title}")
        where = f"bench {p.bench + 1}, " if p.bench >= 0 else ""
        by_itself = f"; then {p.block.unattended} min by itself" if p.block.unattended else ""
        event.add("description", f"{where}technician {p.technician + 1}{by_itself}")
        out.add_component(event)
    return bytes(out.to_ical())
