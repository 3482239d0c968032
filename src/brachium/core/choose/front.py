"""All plans of a machine at once: which are admissible, what they cost and bring, the front, and where to stop.

A plan takes at most one candidate of each group. Most rules judge a candidate alone, so its verdict holds in every
plan; those that weigh kinds of parts against each other are compiled into tables (together.py); a test compares with
all rules evaluated plan by plan. A change of the board is weighed as another machine, not here; what brings no work per
time and enables nothing (fans, adapters, batteries, radio cards, pads) can never lie on the front and is left out.
Minutes depend on which groups a plan touches, because opening and closing are shared; they are compiled once per set of
groups. The median gain is the functional of the prediction with its central values, in closed form, over the whole
product at once. A plan is on the front if none is cheaper with as much gain; the recommendation lies on the upper
concave hull of the front, from today on.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product
from math import prod

import numpy as np
import numpy.typing as npt

from brachium.core.arrays import FloatArray
from brachium.core.cause.figures import BeforeFigures
from brachium.core.choose.catalogue import Candidate, Group
from brachium.core.choose.central import Central, central_gain
from brachium.core.choose.predict import Draws
from brachium.core.choose.profile import UseProfile
from brachium.core.choose.together import BoolArray, Option, go_together
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.verdict import Level
from brachium.core.machine.machine import Machine
from brachium.core.work.steps import steps_for

GROUPS: tuple[Group, ...] = tuple(Group)
NOT_WEIGHED = (Group.BOARD, Group.FAN, Group.ADAPTER, Group.BATTERY, Group.RADIO, Group.PADS)
WORTH_PER_EUR = 0.001  # a step is worth paying while 100 EUR bring a tenth of today's work
MOST_PLANS = 10_000_000
NOTHING_SAID = Circumstances()


class TooManyPlans(ValueError):  # noqa: N818 - an answer, not a bug
    """The product of the options is larger than is enumerated; the message says so."""


@dataclass(frozen=True)
class Limits:
    """What a plan must keep: money [EUR], attended minutes; None = no limit. `findings_min` come on top of any work."""

    rate_per_hour: float
    budget: float | None = None
    attended_min: float | None = None
    findings_min: float = 0.0
    worth_per_eur: float = WORTH_PER_EUR


@dataclass(frozen=True)
class Plan:
    """A plan: its candidates, cost [EUR], attended minutes, median gain (1 = today)."""

    ids: tuple[str, ...]
    cost: float
    attended_min: float
    gain: float


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

    @property
    def recommended(self) -> Plan:
        return self.plans[self.chosen]


def build_front(
    machine: Machine, options: Sequence[Option], profile: UseProfile, figures: BeforeFigures, limits: Limits,
    provable: float = 0.0, accepted: frozenset[str] = frozenset(), draws: Draws | None = None,
    around: Circumstances = NOTHING_SAID,
) -> Front:  # fmt: skip
    """The front of all admissible plans. Raises TooManyPlans.

    Refused candidates take part in none, unknown ones only where they are `accepted` with a reason. `provable` is the
    smallest gain that could ever be shown on this machine (0.03 = 3 %): a step below it is not offered.
    """
    table = compile_plans(machine, options, profile, figures, limits, accepted, draws, around)
    cost, gain = table.cost.ravel(), table.gain.ravel()
    allowed = table.fits.ravel().copy()
    if limits.budget is not None:
        allowed &= cost <= limits.budget + 1e-9
    if limits.attended_min is not None:
        allowed &= table.attended.ravel() <= limits.attended_min + 1e-9
    allowed[0] = True  # today
    inside = np.flatnonzero(allowed)
    on_front = inside[pareto(cost[inside], gain[inside])]
    plans = tuple(table.plan(int(k)) for k in on_front)
    hull = concave_hull([(p.cost, p.gain) for p in plans])
    chosen, reason = recommend(plans, hull, provable, limits.worth_per_eur)
    return Front(plans, hull, chosen, reason, cost.size, inside.size, _cloud(cost[inside], gain[inside]))


@dataclass(frozen=True)
class PlanTable:
    """Cost, minutes, gain and fit of every plan, one axis per group; index 0 of an axis = nothing of that group."""

    axes: tuple[tuple[Option | None, ...], ...]
    cost: FloatArray
    attended: FloatArray
    gain: FloatArray
    fits: BoolArray

    def plan(self, flat: int) -> Plan:
        """The plan at an index of the flattened product."""
        where = np.unravel_index(flat, self.cost.shape)
        picked = [axis[int(k)] for axis, k in zip(self.axes, where, strict=True)]
        ids = tuple(o.candidate.id for o in picked if o is not None)
        return Plan(ids, float(self.cost[where]), float(self.attended[where]), float(self.gain[where]))


def compile_plans(
    machine: Machine, options: Sequence[Option], profile: UseProfile, figures: BeforeFigures, limits: Limits,
    accepted: frozenset[str] = frozenset(), draws: Draws | None = None, around: Circumstances = NOTHING_SAID,
) -> PlanTable:  # fmt: skip
    """The whole product as arrays. Raises TooManyPlans beyond ten million."""
    usable = [o for o in options if usable_option(o, accepted) and o.candidate.group not in NOT_WEIGHED]
    axes = tuple((None, *(o for o in usable if o.candidate.group is g)) for g in GROUPS)
    shape = tuple(len(a) for a in axes)
    if prod(shape) > MOST_PLANS:
        raise TooManyPlans(f"{prod(shape)} plans are more than are looked at; leave some parts out of the catalogue")
    price = _sum([np.array([0.0 if o is None else float(o.candidate.price) for o in a]) for a in axes], shape)
    attended = _attended(machine, axes, shape, limits)
    cost = price + attended * limits.rate_per_hour / 60.0
    central = Central.of(machine, axes, profile, figures, draws, around.heat)
    try:
        fits = go_together(machine, axes, around, accepted)
    except ValueError as error:
        raise TooManyPlans(str(error)) from error
    return PlanTable(axes, cost, attended, central_gain(central), fits)


def usable_option(option: Option, accepted: frozenset[str]) -> bool:
    """Whether it may be part of a plan: not refused, and known or accepted."""
    if option.level is Level.NOT_KNOWN:
        return option.candidate.id in accepted
    return option.level is not Level.REFUSED


def _along(values: FloatArray, axis: int, n: int) -> FloatArray:
    return values.reshape([-1 if k == axis else 1 for k in range(n)])


def _sum(parts: Sequence[FloatArray], shape: tuple[int, ...]) -> FloatArray:
    out = np.zeros(shape)
    for axis, values in enumerate(parts):
        out += _along(values, axis, len(shape))
    return out


def _attended(
    machine: Machine, axes: tuple[tuple[Option | None, ...], ...], shape: tuple[int, ...], limits: Limits
) -> FloatArray:
    """Attended minutes: by the set of groups that a plan touches, plus what its preconditions add."""
    some = [k for k, axis in enumerate(axes) if len(axis) > 1]
    first = [axes[k][1] for k in some]
    by_touched = np.zeros([2] * len(some))
    for mask in product((0, 1), repeat=len(some)):
        chosen = tuple(o.candidate for o, m in zip(first, mask, strict=True) if m and o is not None)
        by_touched[mask] = _minutes(machine, chosen, limits)
    touched = [np.array([o is not None for o in axes[k]], dtype=np.intp) for k in some]
    out = (by_touched[np.ix_(*touched)] if some else by_touched).reshape(shape)
    extra = [np.array([0.0 if o is None else 3.0 * len(o.preconditions) for o in axis]) for axis in axes]
    return out + _sum(extra, shape)


def _minutes(machine: Machine, chosen: tuple[Candidate, ...], limits: Limits) -> float:
    if not chosen:
        return 0.0
    return sum(s.attended_min for s in steps_for(machine, chosen, ())) + limits.findings_min


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
        step = f"the next step costs {cost:.0f} EUR for {more:.2f}"
        if there.gain / here.gain - 1.0 < provable:
            return hull[at], f"stop here: {step}, too little ever to be shown on this machine"
        if more < worth_per_eur * cost:
            return hull[at], f"stop here: {step}"
        at += 1
    end = "nothing that fits brings more" if len(plans) > 1 else "no plan that fits brings anything"
    return hull[at], end


def _cloud(cost: FloatArray, gain: FloatArray, most: int = 400) -> FloatArray:
    """Some of the other plans, evenly picked, for the figure."""
    step = max(cost.size // most, 1)
    return np.column_stack([cost[::step], gain[::step]])


def best_with(table: PlanTable, candidate_id: str, limits: Limits) -> Plan | None:
    """The best plan within the limits with a candidate: most gain, of equals the cheapest; None = there is none."""
    for axis, entries in enumerate(table.axes):
        found = [k for k, o in enumerate(entries) if o is not None and o.candidate.id == candidate_id]
        if not found:
            continue
        index = [slice(None)] * len(table.axes)
        index[axis] = slice(found[0], found[0] + 1)
        cost, gain, attended = (a[tuple(index)] for a in (table.cost, table.gain, table.attended))
        allowed = table.fits[tuple(index)].copy()
        if limits.budget is not None:
            allowed &= cost <= limits.budget + 1e-9
        if limits.attended_min is not None:
            allowed &= attended <= limits.attended_min + 1e-9
        if not allowed.any():
            return None
        score = np.where(allowed, gain - 1e-9 * cost, -np.inf)
        where = list(np.unravel_index(int(np.argmax(score)), cost.shape))
        where[axis] = np.intp(found[0])
        return table.plan(int(np.ravel_multi_index(tuple(where), table.cost.shape)))
    return None
