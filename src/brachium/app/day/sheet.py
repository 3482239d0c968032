"""The day sheet of the shop: gathered from the records that are planned and not done, worked out beside the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime

from brachium.app.shop.kept import settings_of
from brachium.app.shop.reading import ShopReading
from brachium.app.shop.shop_record import corrects_predictions, outcomes_of, timed_steps
from brachium.app.shop.workspace import Workspace
from brachium.app.view.plan_in_hand import verdicts_of
from brachium.core.base.problems import Problem
from brachium.core.base.text import phrase
from brachium.core.day.assumptions import LONGEST_MIN
from brachium.core.day.blocks import DayJob, Sheet, ShopDay, blocks_of
from brachium.core.day.chance import chances
from brachium.core.day.durations import (
    Entry,
    Learned,
    expected_minutes_of,
    learn_durations,
    learn_durations_of_kind,
    learned_spreads,
)
from brachium.core.day.exact import SECONDS, best_sheet
from brachium.core.day.fixing import with_fixed_starts
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.opening import DAY_MIN, minute_of, open_hours
from brachium.core.fit.circumstances_of import around_of
from brachium.core.machine.kinds import MachineKind
from brachium.core.plan.bench_services import offered_items
from brachium.core.plan.candidates import candidates
from brachium.core.record.card import Waits
from brachium.core.record.job import Job
from brachium.core.record.shop_settings import MOST_HANDS, USUAL_HOURS
from brachium.core.record.use_of_job import typed_use
from brachium.core.work.step import Step
from brachium.core.work.whole_plan import work_of
from brachium.formats.shop_documents import FIXED_BLOCKS, FixedBlocks

USUAL_DAYS, MOST_DAYS = 14, 448  # that are looked ahead
WORKING = (Waits.BENCH, Waits.PARTS, Waits.RUNNING)


@dataclass(frozen=True)
class Day:
    """What the page shows: the jobs, the shop, the sheet, each promise's chance, why machines are not on it."""

    first: date
    jobs: tuple[DayJob, ...]
    shop: ShopDay
    sheet: Sheet
    chances: dict[str, float]
    left_out: tuple[str, ...]
    freed: tuple[str, ...] = ()


def shop_day(workspace: ShopReading, now: datetime, days: int = USUAL_DAYS) -> ShopDay:
    """Technicians, benches and hours as set; what cannot be read counts as usual."""
    settings = settings_of(workspace)
    try:
        hours = open_hours(settings.opening_hours, now.date(), days)
    except ValueError:
        hours = open_hours(USUAL_HOURS, now.date(), days)
    return ShopDay(_hands(settings.technicians), _hands(settings.benches), hours, minute_of(now, now.date()))


def gather_day_jobs(workspace: ShopReading, now: datetime, cancelled: Callable[[], bool] = lambda: False) -> tuple[
    tuple[DayJob, ...], tuple[str, ...]
]:  # fmt: skip
    """Every machine with work planned and not done, as blocks; and those that are left out, with why."""
    timed = timed_by_kind(workspace)
    every = [step for some in timed.values() for step in some]
    learned = {k: learn_durations_of_kind(every, some) for k, some in timed.items()}
    other = learn_durations(every)
    fixed = fixed_blocks(workspace, now.date(), minute_of(now, now.date()))
    stretch = max(b - a for a, b in shop_day(workspace, now).hours)
    jobs, left_out = [], []
    for card in workspace.cards():
        if cancelled():
            break
        if card.waits not in WORKING or card.archived:
            continue
        try:
            job = workspace.job(card.id)
        except Problem:
            left_out.append(phrase("{card}: its record cannot be read", card=card.name))
            continue
        steps = open_steps(workspace, job)
        if not job.plan:
            left_out.append(phrase("{job}: nothing is planned", job=job.name))
        elif steps:
            day_job = _day_job(job, steps, learned.get(job.machine.kind, other), fixed, now, stretch)
            long = next((b for b in day_job.blocks if b.attended > stretch), None)
            if long is None:
                jobs.append(day_job)
            else:
                left_out.append(
                    phrase(
                        "{job}: “{long}” takes {attended} min, longer than any opening hours",
                        job=job.name,
                        long=long.title,
                        attended=long.attended,
                    )
                )
    return tuple(jobs), tuple(left_out)


def open_steps(workspace: ShopReading, job: Job) -> tuple[Step, ...]:
    """The steps of a job that are not ticked; from its view where there is one."""
    view = workspace.view(job.id)
    steps = view.work.steps if view is not None and view.job == job else _steps(workspace, job)
    done = {d.step_id for d in job.steps_done}
    return tuple(s for s in steps if s.id not in done)


def _steps(workspace: ShopReading, job: Job) -> tuple[Step, ...]:
    items = offered_items(job.machine, workspace.shelf_parts, workspace.catalogue, job.id)
    chosen = tuple(c for c in candidates(job.machine, items) if c.id in job.plan)
    if not chosen:
        return ()
    around = around_of(job, None, None, typed_use(job), workspace.shop_rules())
    return work_of(job, chosen, verdicts_of(job.machine, chosen, around)[1])


def _day_job(
    job: Job, steps: tuple[Step, ...], learned: dict[str, Learned], fixed: dict[str, int], now: datetime,
    stretch: int,
) -> DayJob:  # fmt: skip
    """A job as blocks, none joined to be longer than the shop's longest opening stretch [min]."""
    blocks = blocks_of(
        job.id, expected_minutes_of(steps, learned), fixed, learned_spreads(steps, learned), min(LONGEST_MIN, stretch)
    )
    return DayJob(job.id, job.name, blocks, _day_minute(job.parts_due, now.date(), 0), _due(job, now.date()))


def _due(job: Job, first: date) -> int | None:
    """Promised for the end of the day on which it is needed."""
    return _day_minute(job.needed_by, first, 18 * 60) if job.needed_by else None


def _day_minute(text: str, first: date, at: int) -> int:
    try:
        return (date.fromisoformat(text[:10]) - first).days * DAY_MIN + at if text else 0
    except ValueError:
        return 0


def timed_by_kind(workspace: ShopReading) -> dict[MachineKind, list[Entry]]:
    """What steps took, by kind of machine: of finished jobs and of those whose steps are known now; nothing where the
    shop's record does not correct."""
    if not corrects_predictions(workspace):
        return {}
    out: dict[MachineKind, list[Entry]] = {}
    outcomes = outcomes_of(workspace)
    for outcome in outcomes:
        out.setdefault(outcome.kind, []).extend(outcome.steps)
    told = {o.job_id for o in outcomes}
    for card in workspace.cards():
        view = workspace.view(card.id)
        if view is not None and card.id not in told:
            out.setdefault(view.job.machine.kind, []).extend(timed_steps(view))
    return out


def plan_day(
    workspace: ShopReading, now: datetime, seconds: float = SECONDS, cancelled: Callable[[], bool] = lambda: False,
    first_sheet: Callable[[Day], object] = lambda _: None,
) -> Day:  # fmt: skip
    """The sheet from now on. `first_sheet` hears of a useful one within a second, the exact one is returned."""
    jobs, left_out = gather_day_jobs(workspace, now, cancelled)
    days = USUAL_DAYS
    while True:
        shop = shop_day(workspace, now, days)
        asked, freed = with_fixed_starts(jobs, shop)
        first = greedy_sheet(asked, shop)
        if first.finish_attended <= shop.hours[-1][1] or days >= MOST_DAYS:
            break
        days *= 2  # more work than fits: nothing may lie outside the opening hours
    jobs = asked
    start = Day(now.date(), jobs, shop, first, chances(jobs, first, shop), left_out, freed)
    first_sheet(start)
    best = best_sheet(jobs, shop, seconds, cancelled)
    return replace(start, sheet=best, chances=chances(jobs, best, shop))


def fixed_blocks(workspace: ShopReading, first: date, since: int = 0) -> dict[str, int]:
    """Blocks that a person fixed, in minutes from the first day; those before `since` are free again."""
    moments = workspace.kept(FIXED_BLOCKS).moments
    return {key: minute for key, moment in moments.items() if (minute := minute_of(moment, first)) >= since}


def fix_block(workspace: Workspace, block_id: str, moment: datetime | None) -> None:
    """Fix a block at a moment; None frees it."""
    moments = {k: v for k, v in workspace.kept(FIXED_BLOCKS).moments.items() if k != block_id}
    if moment is not None:
        moments[block_id] = moment.replace(second=0, microsecond=0)
    workspace.keep(FIXED_BLOCKS, FixedBlocks(moments))


def _hands(count: int) -> int:
    return min(max(count, 1), MOST_HANDS)
