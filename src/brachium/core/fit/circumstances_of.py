"""What fit rules need beyond the machine's record, gathered from a job, its before-run and the shop's own tables."""

from __future__ import annotations

from brachium.core.condition.trials import TrialOutcome
from brachium.core.fit.assumptions import NETWORK_HEAVY
from brachium.core.fit.circumstances import Circumstances, HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.system_drive import system_today
from brachium.core.measure.run import Run
from brachium.core.record.drive_states import drive_states
from brachium.core.record.job import Job
from brachium.core.record.shop_rules import ShopRules
from brachium.core.record.systems import system_of
from brachium.core.use.profile import UseProfile


def around_of(
    job: Job, before: Run | None, figures: BeforeFigures | None, profile: UseProfile, shop: ShopRules
) -> Circumstances:  # fmt: skip
    """The circumstances of a job's plans, without the services that a plan holds."""
    fails = any(t.id == "starts" and t.outcome is TrialOutcome.FAILS for t in job.tried)
    return Circumstances(
        shop.today, job.locks, _used_bytes(job, before), drive_states(job), shop.claims, shop.threshold,
        _heat(before, figures),
        system_of(job.machine.platform.system.planned, shop.systems), (),
        not (fails or "does not start" in job.no_before),
        job.data_safe.state.settled, profile.shares.get("network", 0.0) >= NETWORK_HEAVY, shop.age_derating,
        job.part_facts,
    )  # fmt: skip


def _used_bytes(job: Job, before: Run | None) -> int | None:
    """In use on the system drive, from the free share that the before-run noted."""
    free, system = before.conditions.free_space_frac if before is not None else None, system_today(job.machine)
    return None if free is None or system is None else int((1.0 - free) * system[1].size_bytes)


def _heat(before: Run | None, figures: BeforeFigures | None) -> HeatFacts | None:
    if before is None or figures is None or figures.r_fast_k_w is None or figures.r_slow_k_w is None:
        return None
    room = before.conditions.room_c
    if room is None:
        return None
    return HeatFacts(figures.r_fast_k_w + figures.r_slow_k_w, room)
