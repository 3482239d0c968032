"""The best use of the shelf over all machines that wait: gathered from the records, solved off the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from brachium.app.bench.run_roles import BEFORE, DAY_BEFORE
from brachium.app.shop.reading import ShopReading
from brachium.app.view.cause_record import figures_with_chances
from brachium.core.base.problems import Problem
from brachium.core.choose.shelf_assignment import Use, Waiting, best_use
from brachium.core.fit.circumstances_of import around_of
from brachium.core.heat.before_figures import figures_of
from brachium.core.measure.waiting import limits_of
from brachium.core.record.card import Waits
from brachium.core.record.parts_shelf import ShelfPart
from brachium.core.record.use_of_job import use_of
from brachium.core.use.day_of_use import day_of

ACTIVE = (Waits.BENCH, Waits.RUNNING, Waits.PARTS, Waits.OWNER)


@dataclass(frozen=True)
class BestUse:
    """The uses to make, how many machines were looked at, and those left out for want of a before-run."""

    uses: tuple[Use, ...]
    looked_at: int
    left_out: tuple[str, ...]


def find_best_use(
    workspace: ShopReading, said: Callable[[str], None] = lambda _: None, cancelled: Callable[[], bool] = lambda: False
) -> BestUse | None:
    """Look at every machine that waits; None where it was cancelled. `said` gets the name of each."""
    waiting, left_out = [], []
    for card in workspace.cards():
        if cancelled():
            return None
        if card.waits not in ACTIVE or card.archived:
            continue
        said(card.name)
        try:
            job, run = workspace.job(card.id), workspace.run(card.id, BEFORE)
        except Problem:
            left_out.append(card.name)
            continue
        if run is None or not job.data_safe.state.settled:
            left_out.append(card.name)
            continue
        figures = figures_with_chances(job, run, figures_of(run, job.machine.processor.limit_c))
        watched = workspace.days(card.id, DAY_BEFORE)
        day = day_of(watched) if watched is not None else None
        profile = use_of(job, limits_of(run, job.machine.processor.threads or 1), day, run)
        around = around_of(job, run, figures, profile, workspace.shop_rules())
        waiting.append(Waiting(job.id, job.name, job.machine, profile, figures, around))
    return BestUse(best_use(waiting, workspace.shelf_parts), len(waiting), tuple(left_out))


def kept_for(parts: tuple[ShelfPart, ...], uses: tuple[Use, ...]) -> tuple[ShelfPart, ...]:
    """The shelf with every part of these uses kept for its machine."""
    owner = {part_id: u.job_id for u in uses for part_id, _, _ in u.parts}
    return tuple(replace(p, reserved_for=owner[p.id]) if p.id in owner else p for p in parts)
