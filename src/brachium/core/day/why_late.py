"""Why a promise is late: what its machine waits for between being ready and being promised, in minutes.

Alone in the shop a machine finishes at the earliest that it can; what is late even then is late by itself (parts, its
own work, the opening hours). The rest is waiting: for a technician who works on others, or for a bench that they
hold.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import counted, joined, phrase
from brachium.core.base.units import minutes
from brachium.core.day.blocks import DayJob, Placed, Sheet, ShopDay
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.opening import DAY_MIN


def why_late(job: DayJob, jobs: Sequence[DayJob], sheet: Sheet, shop: ShopDay) -> str:
    """In words; empty where the promise is kept or there is none."""
    late = sheet.lateness.get(job.id, 0)
    if not late or job.due is None:
        return ""
    free = tuple(replace(b, fixed=None) for b in job.blocks)
    alone = greedy_sheet((replace(job, blocks=free),), shop).lateness.get(job.id, 0)
    parts = []
    if alone:
        parts.append(_by_itself(job, alone, shop))
    if late > alone:
        parts.append(_waits(job, jobs, sheet, late - alone))
    return joined("; ", (p for p in parts if p))


def _by_itself(job: DayJob, alone: int, shop: ShopDay) -> str:
    """Late even alone in the shop: its parts, or more work than there is time."""
    assert job.due is not None
    work = sum(b.attended + b.unattended for b in job.blocks)
    ready = max(job.release, shop.now)
    if job.due <= shop.now:
        return phrase("{alone} late because the promise has passed already", alone=minutes(alone))
    if job.release > shop.now:
        days = job.release // DAY_MIN
        when = "tomorrow" if days == 1 else phrase("in {days} days", days=days) if days else "later today"
        return phrase(
            "{alone} late because its parts come {when} and it takes {work}",
            alone=minutes(alone),
            when=when,
            work=minutes(work),
        )
    return phrase(
        "{alone} late because it takes {work}, and {due} are left",
        alone=minutes(alone),
        work=minutes(work),
        due=minutes(max(job.due - ready, 0)),
    )


def _waits(job: DayJob, jobs: Sequence[DayJob], sheet: Sheet, waited: int) -> str:
    """Which machines go before it on its technicians and benches until it is finished."""
    mine = sheet.of(job.id)
    taken = _taken_before(job, mine, sheet)
    names = {j.id: j.name for j in jobs}
    order = sorted(taken, key=lambda i: -taken[i])[:2]
    if not order:
        fixed = any(p.block.fixed is not None for p in mine)
        return (
            phrase("{waited} late because a time block of it was fixed by hand", waited=minutes(waited))
            if fixed
            else ""
        )
    ahead = joined(" and ", (names.get(i, i) for i in order))
    return counted(
        len(order), "{waited} late because {ahead} goes first", "{waited} late because {ahead} go first",
        waited=minutes(waited), ahead=ahead,
    )  # fmt: skip


def _taken_before(job: DayJob, mine: Sequence[Placed], sheet: Sheet) -> dict[str, int]:
    """Attended minutes [min] that other machines take of its technicians, by their id; 0 where only a bench is."""
    end, since = max(p.end for p in mine), max(job.release, _begin(sheet))
    hands, benches = {p.technician for p in mine}, {p.bench for p in mine if p.bench >= 0}
    taken: dict[str, int] = {}
    for p in sheet.placed:
        if p.block.job_id == job.id or p.start >= end or p.end <= since:
            continue
        if p.technician in hands:
            taken[p.block.job_id] = taken.get(p.block.job_id, 0) + p.block.attended
        elif p.bench in benches:
            taken.setdefault(p.block.job_id, 0)
    return taken


def _begin(sheet: Sheet) -> int:
    """The first minute that the sheet uses."""
    return min((p.start for p in sheet.placed), default=0)
