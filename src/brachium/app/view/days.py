"""Watched days of a job: each by itself, against each other, and what the plan in hand is predicted to bring."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.app.view.measured import Measured
from brachium.app.view.plan_in_hand import PlanInHand
from brachium.app.view.read_once import days_once
from brachium.core.base.band import Band
from brachium.core.choose.after_day import after_day
from brachium.core.plan.candidates import Group
from brachium.core.prove.days import DayComparison
from brachium.core.record.job import Job
from brachium.core.record.use_of_job import typed_use
from brachium.core.use.day_of_use import DayOfUse


@dataclass(frozen=True)
class Days:
    """None where nothing was watched. `predicted` is the gain on a day after the plan in hand, with its 80 % band."""

    before: DayOfUse | None
    after: DayOfUse | None
    comparison: DayComparison | None
    predicted: Band | None


def days_of(job: Job, measured: Measured, plan: PlanInHand) -> Days:
    """What the watched days of a job say."""
    first, second = measured.watched
    found = None
    if first is not None and second is not None:
        found = days_once(first, second, any(c.group is Group.PROCESSOR for c in plan.chosen))
    predicted = None
    if first is not None and plan.chosen:
        predicted = after_day(job.machine, plan.chosen, typed_use(job), first)
    return Days(measured.day_before, measured.day_after, found, predicted)
