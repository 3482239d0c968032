"""What fit rules need beyond the machine's record, gathered from a job, its before-run and the shop's own tables."""

from __future__ import annotations

from dataclasses import dataclass, field

from brachium.core.cause.figures import BeforeFigures
from brachium.core.choose.profile import UseProfile
from brachium.core.choose.resale import Tax
from brachium.core.choose.space import WORTH_PER_EUR
from brachium.core.condition.functional import Outcome
from brachium.core.fit.circumstances import Circumstances, HeatFacts
from brachium.core.fit.evidence import THRESHOLD, Claim
from brachium.core.fit.systems import SYSTEMS, SystemSpec, system_of
from brachium.core.job.drive_states import drive_states
from brachium.core.job.job import Job
from brachium.core.learn.correction import NONE, Correction
from brachium.core.learn.repastes import Repaste
from brachium.core.measure.run import Run
from brachium.core.shelf.consumables import NO_PRICES, Prices

NETWORK_HEAVY = 0.15
NO_TAX = Tax()


@dataclass(frozen=True)
class ShopRules:
    """The shop's own: the day (ISO), its table of systems, evidence, the threshold for it, supplies' age derating,
    tax, and the gain per EUR below which a further step is not worth its money."""

    today: str = ""
    systems: tuple[SystemSpec, ...] = SYSTEMS
    claims: tuple[Claim, ...] = ()
    threshold: float = THRESHOLD
    age_derating: float = 0.0
    tax: Tax = NO_TAX
    worth_per_eur: float = WORTH_PER_EUR
    prices: Prices = field(default_factory=lambda: NO_PRICES)  # of consumables
    repastes: tuple[Repaste, ...] = ()  # what they brought here
    correction: Correction = NONE  # of predictions, by the shop's own record


def around_of(
    job: Job, before: Run | None, figures: BeforeFigures | None, profile: UseProfile, shop: ShopRules
) -> Circumstances:  # fmt: skip
    """The circumstances of a job's plans, without the services that a plan holds."""
    fails = any(t.id == "starts" and t.outcome is Outcome.FAILS for t in job.tried)
    return Circumstances(
        shop.today, job.locks, _used_bytes(job, before), drive_states(job), shop.claims, shop.threshold,
        _heat(before, figures),
        system_of(job.machine.platform.system.planned, shop.systems), (),
        not (fails or "does not start" in job.no_before),
        job.data_safe.state.settled, profile.shares.get("network", 0.0) >= NETWORK_HEAVY, shop.age_derating,
    )  # fmt: skip


def _used_bytes(job: Job, before: Run | None) -> int | None:
    """In use on the system drive, from the free share that the before-run noted."""
    drives = job.machine.configuration().drives()
    free = before.conditions.free_space_frac if before is not None else None
    if free is None or not drives:
        return None
    return int((1.0 - free) * min(drives.values(), key=lambda d: d.read_latency_ms).size_bytes)


def _heat(before: Run | None, figures: BeforeFigures | None) -> HeatFacts | None:
    if before is None or figures is None or figures.r_fast_k_w is None or figures.r_slow_k_w is None:
        return None
    room = before.conditions.room_c
    if room is None:
        return None
    return HeatFacts(figures.r_fast_k_w + figures.r_slow_k_w, room)
