"""Everything that can be had for a machine, judged alone, and the plan in hand, judged beside it, once.

Ticking a step, a note or a photo change neither machine nor plan, and another plan does not change what an option is
alone: the last answers of a few jobs are kept and given again while nothing that they were asked from changed.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, field

from brachium.app.view.plan_in_hand import PlanInHand, plan_in_hand
from brachium.core.choose.compatibility import Option, option_alone
from brachium.core.fit.circumstances import Circumstances
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, CatalogueItem, candidates
from brachium.core.record.acceptance import Acceptance
from brachium.core.record.job import Job

MOST_KEPT = 8


@dataclass(frozen=True)
class _Asked:
    """What the rules are asked from."""

    machine: Machine
    catalogue: tuple[CatalogueItem, ...]
    around: Circumstances


@dataclass
class _Judged:
    asked: _Asked
    everything: tuple[Candidate, ...]
    options: dict[str, Option] = field(default_factory=dict)
    plan: tuple[tuple[str, ...], tuple[Acceptance, ...], PlanInHand] | None = None


_KEPT: OrderedDict[str, _Judged] = OrderedDict()


def plan_once(job: Job, catalogue: tuple[CatalogueItem, ...], around: Circumstances) -> PlanInHand:
    """`plan_in_hand`, or the last answer where nothing that it asks changed."""
    judged = _judged(job, catalogue, around)
    known = judged.plan
    if known is None or known[:2] != (job.plan, job.acceptances):
        known = job.plan, job.acceptances, plan_in_hand(job, judged.everything, around)
        judged.plan = known
    return known[2]


def options_once(job: Job, plan: PlanInHand) -> tuple[Option, ...]:
    """Every candidate that is weighed or planned, judged alone."""
    wanted = [c for c in plan.everything if not c.aside or c.id in job.plan]
    judged = _KEPT.get(job.id)
    if judged is None or judged.everything is not plan.everything:
        return tuple(option_alone(job.machine, c, plan.around) for c in wanted)
    for candidate in wanted:
        if candidate.id not in judged.options:
            judged.options[candidate.id] = option_alone(job.machine, candidate, plan.around)
    return tuple(judged.options[c.id] for c in wanted)


def _judged(job: Job, catalogue: Sequence[CatalogueItem], around: Circumstances) -> _Judged:
    asked = _Asked(job.machine, tuple(catalogue), around)
    known = _KEPT.pop(job.id, None)
    if known is None or known.asked != asked:
        known = _Judged(asked, candidates(job.machine, asked.catalogue))
    _KEPT[job.id] = known
    while len(_KEPT) > MOST_KEPT:
        _KEPT.popitem(last=False)
    return known
