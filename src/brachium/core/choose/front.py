"""The plan front: plans that none cheaper matches, the concave hull over them, and where to stop.

A plan is on the front if none is cheaper with as much gain; the recommendation lies on the upper concave hull of the
front, from today on, or from the cheapest plan that meets the owner's targets where they are asked for.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np
import numpy.typing as npt

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import phrase
from brachium.core.choose.compatibility import Option
from brachium.core.choose.draws import Draws
from brachium.core.choose.front_meeting_targets import NotSettled, meeting_front
from brachium.core.choose.other_board import Beside
from brachium.core.choose.plan_space import NOTHING_SAID, Effort, Limits, Plan, PlanSpace, compile_plans
from brachium.core.fit.circumstances import Circumstances
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.record.money import WORTH_PER_EUR
from brachium.core.use.profile import UseProfile


class TargetsAsked(Enum):
    """Whether the front holds only plans that meet the owner's targets."""

    NOT = "not asked"
    MET = "met by every plan"
    BY_NONE = "met by no plan"
    NOT_SETTLED = "too many plans to look at"


@dataclass(frozen=True)
class Front:
    """`plans` by cost, today first; `hull` are the indices of the concave hull; `chosen` the recommended one's index.

    `cloud` has shape (n, 2): cost and gain of admissible plans beside the front, thinned; `count` is of all plans.
    """

    plans: tuple[Plan, ...]
    hull: tuple[int, ...]
    chosen: int
    reason: str
    count: int
    admissible: int
    cloud: FloatArray
    targets: TargetsAsked = TargetsAsked.NOT

    @property
    def recommended(self) -> Plan:
        return self.plans[self.chosen]


def build_front(
    machine: Machine, options: Sequence[Option], profile: UseProfile, figures: BeforeFigures, limits: Limits,
    effort: Effort, provable: float = 0.0, accepted: frozenset[str] = frozenset(), draws: Draws | None = None,
    around: Circumstances = NOTHING_SAID, boards: Sequence[Beside] = (),
) -> Front:  # fmt: skip
    """The front of all admissible plans. Raises TooManyPlans.

    Refused candidates take part in none, unknown ones only where they are `accepted` with a reason. `provable` is the
    smallest gain that could ever be shown on this machine (0.03 = 3 %): a step below it is not offered.
    """
    space = compile_plans(machine, options, profile, figures, limits, effort, accepted, draws, around, boards)
    return front_of(space, limits, provable)


def front_of(
    space: PlanSpace, limits: Limits, provable: float = 0.0, meets: Callable[[Plan], bool] | None = None
) -> Front:
    """The front of a space; with `meets` of the plans that meet the targets only, where any does.

    Today stays as the origin. Where no plan meets them, or too many would have to be looked at, all are shown and
    `targets` says so.
    """
    inside = np.flatnonzero(space.within(limits))
    cost, gain = space.cost[inside], space.gain[inside]
    on_front, targets = pareto(cost, gain), TargetsAsked.NOT
    if meets is not None:
        try:
            found = meeting_front(cost, gain, lambda k: meets(space.plan(int(inside[k]))))
            on_front, targets = (found, TargetsAsked.MET) if found.size else (on_front, TargetsAsked.BY_NONE)
        except NotSettled:
            targets = TargetsAsked.NOT_SETTLED
    plans = tuple(space.plan(int(k)) for k in inside[on_front])
    start = 0 if plans and not plans[0].ids else 1
    if start:
        plans = (space.plan(0), *plans)  # today misses a target and stays as the origin
    hull = concave_hull([(p.cost, p.gain) for p in plans[start:]])
    hull = tuple(range(start)) + tuple(start + k for k in hull)
    chosen, reason = recommend(plans, hull[start:], provable, limits.worth_per_eur)
    return Front(plans, hull, chosen, reason, space.cost.size, inside.size, _cloud(cost, gain), targets)


def pareto(cost: FloatArray, gain: FloatArray) -> npt.NDArray[np.intp]:
    """Indices of the plans that no cheaper or equally dear plan matches, by rising cost; of equals the first."""
    order = np.lexsort((-gain, cost))
    best = np.maximum.accumulate(gain[order])
    before = np.concatenate([[-np.inf], best[:-1]])
    return np.asarray(order[gain[order] > before + 1e-12], dtype=np.intp)


def concave_hull(points: Sequence[tuple[float, float]]) -> tuple[int, ...]:
    """Indices of the upper concave hull over points sorted by cost: each further step brings less for its money."""
    hull: list[int] = []
    for k, (x, y) in enumerate(points):
        while len(hull) >= 2:
            (x1, y1), (x2, y2) = points[hull[-2]], points[hull[-1]]
            if (y2 - y1) * (x - x1) <= (y - y1) * (x2 - x1):
                hull.pop()
            else:
                break
        hull.append(k)
    return tuple(hull)


def recommend(
    plans: Sequence[Plan], hull: Sequence[int], provable: float, worth_per_eur: float = WORTH_PER_EUR
) -> tuple[int, str]:
    """(index of the recommended plan, why one stops there)."""
    at = 0
    for nxt in hull[1:]:
        here, there = plans[hull[at]], plans[nxt]
        cost, more = there.cost - here.cost, there.gain - here.gain
        step = phrase("the next step costs {cost:.0f} EUR for {more:.2f}", cost=cost, more=more)
        if there.gain / here.gain - 1.0 < provable:
            return hull[at], phrase("stop here: {step}, too little ever to be shown on this machine", step=step)
        if more < worth_per_eur * cost:
            return hull[at], phrase("stop here: {step}", step=step)
        at += 1
    end = "nothing that fits brings more" if len(plans) > 1 else "no plan that fits brings anything"
    return hull[at], end


def _cloud(cost: FloatArray, gain: FloatArray, most: int = 400) -> FloatArray:
    """Some of the other plans, evenly picked, for the figure."""
    step = max(cost.size // most, 1)
    return np.column_stack([cost[::step], gain[::step]])
