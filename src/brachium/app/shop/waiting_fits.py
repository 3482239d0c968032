"""How many machines that wait an entry of the price list fits, from their records alone."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType

from brachium.app.shop.reading import ShopReading
from brachium.app.view.judged_once import plan_once
from brachium.app.view.plan_in_hand import Offer
from brachium.core.base.problems import Problem
from brachium.core.fit.circumstances_of import around_of
from brachium.core.fit.verdict import Level
from brachium.core.record.card import Waits
from brachium.core.record.use_of_job import typed_use

WAITING = (Waits.BENCH, Waits.RUNNING, Waits.PARTS, Waits.OWNER)
MOST_MACHINES = 40  # of a shop with more the newest are looked at
NO_ENTRIES: Mapping[str, int] = MappingProxyType({})


@dataclass(frozen=True)
class WaitingFits:
    """Machines by id of the entry: `counts` where it fits, `open` where nobody knows; `machines` were looked at."""

    counts: Mapping[str, int] = field(default_factory=lambda: NO_ENTRIES)
    open: Mapping[str, int] = field(default_factory=lambda: NO_ENTRIES)
    machines: int = 0


def waiting_fits(shop: ShopReading, cancelled: Callable[[], bool] = lambda: False) -> WaitingFits:
    """Entries that fit somewhere, also with something done first; what nobody knows does not count as fitting."""
    counts: Counter[str] = Counter()
    unsure: Counter[str] = Counter()
    machines = 0
    waiting = [c for c in shop.cards() if c.waits in WAITING and not c.archived]
    for card in waiting[-MOST_MACHINES:]:
        if cancelled():
            break
        try:
            job = shop.job(card.id)
        except Problem:
            continue
        if not job.machine.fitted:
            continue
        machines += 1
        around = around_of(job, None, None, typed_use(job), shop.shop_rules())
        plan = plan_once(replace(job, plan=()), shop.catalogue, around)
        fit = {_entry(o) for o in plan.offers if o.level not in (Level.REFUSED, Level.NOT_KNOWN)}
        counts.update(fit)
        unsure.update({_entry(o) for o in plan.offers if o.level is Level.NOT_KNOWN} - fit)
    return WaitingFits(counts, unsure, machines)


def _entry(offer: Offer) -> str:
    return offer.candidate.id.partition("@")[0]
