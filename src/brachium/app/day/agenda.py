"""What a day of the sheet asks for: what to get ready, who comes when, and how full the days of its week are."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from brachium.app.day.sheet import Day
from brachium.app.shop.reading import ShopReading
from brachium.core.base.problems import Problem
from brachium.core.base.text import phrase
from brachium.core.day.opening import DAY_MIN, clock
from brachium.core.plan.candidates import PART_GROUPS, Group
from brachium.core.plan.shelf_items import part_of
from brachium.core.record.job import Job
from brachium.core.work.doing.waiting_parts import not_fitted

WEEK = 7


@dataclass(frozen=True)
class AgendaDay:
    """`ready` are (machine, part, where it is), `comings` (when, machine, what); both of one day."""

    ready: tuple[tuple[str, str, str], ...]
    comings: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class WeekDay:
    """Minutes of hands-on work against those that the technicians have; `number` counts from the first day."""

    number: int
    day: date
    attended_min: int
    open_min: int


def agenda_of(shop: ShopReading, day: Day, number: int) -> AgendaDay:
    """What is worked on that day and what it needs; promises and arrivals of that day, of every machine."""
    when = day.first + timedelta(days=number)
    busy = {p.block.job_id for p in day.sheet.placed if p.start // DAY_MIN == number}
    ready: list[tuple[str, str, str]] = []
    comings: list[tuple[str, str, str]] = []
    for card in shop.cards():
        if card.archived:
            continue
        try:
            job = shop.job(card.id)
        except Problem:
            continue
        if job.id in busy:
            ready += _ready(shop, job)
        comings += [(clock_of(moment, when), job.name, what) for moment, what in _moments(job, when)]
    return AgendaDay(tuple(ready), tuple(sorted(comings)))


def _ready(shop: ShopReading, job: Job) -> list[tuple[str, str, str]]:
    """The planned parts of a machine that are not fitted yet, and where each lies; work needs none."""
    titles = {i.id: i for i in shop.catalogue}
    shelf = {p.id: p for p in shop.shelf_parts}
    planned: dict[str, tuple[Group, tuple[str, str, str]]] = {}
    for chosen in job.plan:
        own, item = shelf.get(part_of(chosen)), titles.get(chosen.partition("@")[0])
        if own is not None:
            planned[chosen] = PART_GROUPS[own.part.kind], (job.name, own.part.name, "on the shelf")
        elif item is not None and item.part is not None:
            planned[chosen] = item.group, (job.name, item.title, _where(job.parts_due))
    left = not_fitted(((c, group) for c, (group, _) in planned.items()), {d.step_id for d in job.steps_done})
    return [planned[c][1] for c in left]


def _where(parts_due: str) -> str:
    return phrase("bought, there on {parts_due}", parts_due=parts_due[:10]) if parts_due else "to buy"


def _moments(job: Job, when: date) -> list[tuple[str, str]]:
    own = ((job.parts_due, "its parts arrive"), (job.needed_by, "is fetched: promised"))
    return [(moment, what) for moment, what in own if moment[:10] == when.isoformat() and not job.handed_over]


def clock_of(moment: str, when: date) -> str:
    """The time of day that a moment states; empty where it is a day alone."""
    return moment[11:16] if len(moment) > 10 and moment[:10] == when.isoformat() else ""


def week_of(day: Day, number: int) -> tuple[WeekDay, ...]:
    """The days from the Monday before to the Sunday after, as far as the sheet reaches."""
    first = max(number - (day.first + timedelta(days=number)).weekday(), 0)
    out = []
    for n in range(first, first + WEEK):
        open_min = day.shop.technicians * sum(b - a for a, b in day.shop.hours if a // DAY_MIN == n)
        attended = sum(p.block.attended for p in day.sheet.placed if p.start // DAY_MIN == n)
        if open_min or attended:
            out.append(WeekDay(n, day.first + timedelta(days=n), attended, open_min))
    return tuple(out)


def order_of(day: Day, number: int) -> tuple[tuple[str, str, str, str], ...]:
    """The blocks of a day by their beginning: (block id, time, machine, what and for how long)."""
    names = {j.id: j.name for j in day.jobs}
    own = sorted((p for p in day.sheet.placed if p.start // DAY_MIN == number), key=lambda p: (p.start, p.technician))
    out = []
    for p in own:
        alone = phrase(", then {unattended} min by itself", unattended=p.block.unattended) if p.block.unattended else ""
        what = (
            phrase("{block}, {attended} min{alone}", block=p.block.title, attended=p.block.attended, alone=alone)
            if p.block.attended
            else phrase("{block}{alone}", block=p.block.title, alone=alone)
        )
        out.append((p.block.id, clock(p.start), names[p.block.job_id], what))
    return tuple(out)
