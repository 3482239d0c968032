"""Work: the steps of the plan in hand, and what repastes brought in this shop."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.app.view.plan_in_hand import PlanInHand
from brachium.core.record.job import Job
from brachium.core.record.repaste import Repaste
from brachium.core.record.shop_rules import ShopRules
from brachium.core.work.step import Step
from brachium.core.work.whole_plan import work_of


@dataclass(frozen=True)
class Work:
    """`upcoming` is the next step that is not ticked, None where all are; `left` how many are not."""

    steps: tuple[Step, ...]
    upcoming: Step | None
    left: int
    repastes: tuple[Repaste, ...]


def planned_work(job: Job, plan: PlanInHand, shop: ShopRules) -> Work:
    """What Work shows."""
    steps = work_of(job, plan.chosen, plan.preconditions, plan.around.used_bytes)
    done = {s.step_id for s in job.steps_done}
    open_ones = [s for s in steps if s.id not in done]
    return Work(steps, open_ones[0] if open_ones else None, len(open_ones), shop.repastes)
