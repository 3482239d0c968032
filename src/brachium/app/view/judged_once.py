"""Everything that can be had for a machine, judged alone, and the plan in hand, judged beside it, once.

Ticking a step, a note or a photo change neither machine nor plan, and another plan does not change what an option is
alone: answers given lately are kept and given again where nothing that they were asked from differs.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from brachium.app.view.lately import Lately
from brachium.app.view.plan_in_hand import PlanInHand, plan_in_hand
from brachium.core.choose.compatibility import Option, option_alone
from brachium.core.fit.circumstances import Circumstances
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, CatalogueItem, candidates
from brachium.core.record.acceptance import Acceptance
from brachium.core.record.job import Job

MOST_MACHINES, MOST_PLANS = 12, 8


_Planned = tuple[tuple[str, ...], tuple[Acceptance, ...]]


@dataclass(frozen=True)
class _Asked:
    """What the rules are asked from."""

    machine: Machine
    catalogue: tuple[CatalogueItem, ...]
    around: Circumstances


@dataclass
class _Judged:
    everything: tuple[Candidate, ...]
    options: dict[str, Option] = field(default_factory=dict)
    plans: Lately[_Planned, PlanInHand] = field(default_factory=lambda: Lately(MOST_PLANS))


_KEPT: Lately[_Asked, _Judged] = Lately(MOST_MACHINES)


def plan_once(job: Job, catalogue: tuple[CatalogueItem, ...], around: Circumstances) -> PlanInHand:
    """`plan_in_hand`, or the last answer where nothing that it asks changed."""
    asked = _Asked(job.machine, tuple(catalogue), around)
    judged = _KEPT.answer(asked, lambda: _Judged(candidates(job.machine, asked.catalogue)))
    planned = job.plan, job.acceptances
    return judged.plans.answer(planned, lambda: plan_in_hand(job, judged.everything, around))


def options_once(job: Job, plan: PlanInHand) -> tuple[Option, ...]:
    """Every candidate that is weighed or planned, judged alone."""
    wanted = [c for c in plan.everything if not c.aside or c.id in job.plan]
    judged = _KEPT.known(lambda j: j.everything is plan.everything)
    if judged is None:
        return tuple(option_alone(job.machine, c, plan.around) for c in wanted)
    for candidate in wanted:
        if candidate.id not in judged.options:
            judged.options[candidate.id] = option_alone(job.machine, candidate, plan.around)
    return tuple(judged.options[c.id] for c in wanted)
