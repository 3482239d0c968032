"""Work: the steps of the plan in hand, what they take here, and what repastes brought in this shop."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.app.view.plan_in_hand import PlanInHand
from brachium.core.day.durations import kind_of
from brachium.core.record.job import Job
from brachium.core.record.shop_rules import ShopRules
from brachium.core.record.work.repaste import Repaste
from brachium.core.record.work.step_minutes import StepMinutes
from brachium.core.work.step import Step
from brachium.core.work.step_kinds.proof import after_run_step
from brachium.core.work.whole_plan import work_of


@dataclass(frozen=True)
class Work:
    """`upcoming` is the next step that is not ticked, None where all are; `left` how many are not. `after_run` comes
    last and is measured, not ticked. `usual` is what the shop's log says of a step's minutes, by its id."""

    steps: tuple[Step, ...]
    upcoming: Step | None
    left: int
    repastes: tuple[Repaste, ...]
    after_run: Step
    usual: Mapping[str, StepMinutes]

    @property
    def whole(self) -> tuple[Step, ...]:
        """Every step, the measurement at the end included; empty without a plan."""
        return (*self.steps, self.after_run) if self.steps else ()


def planned_work(job: Job, plan: PlanInHand, shop: ShopRules) -> Work:
    """What Work shows."""
    steps = work_of(job, plan.chosen, plan.preconditions, plan.around.used_bytes)
    done = {s.step_id for s in job.steps_done}
    open_ones = [s for s in steps if s.id not in done]
    learned = shop.step_minutes.get(job.machine.kind, {})
    usual = {s.id: learned[kind_of(s.id)] for s in steps if kind_of(s.id) in learned}
    last = after_run_step([s.id for s in steps[-1:]])
    return Work(steps, open_ones[0] if open_ones else None, len(open_ones), shop.repastes, last, usual)
