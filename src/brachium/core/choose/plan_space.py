"""All plans of a machine at once: which are admissible, what they cost and bring.

A plan takes at most one candidate of each group. Most rules judge a candidate alone, so its verdict holds in every
plan; those that weigh kinds of parts against each other are compiled into tables (together.py); a test compares with
all rules evaluated plan by plan. Another main board changes the places themselves, so that its plans are a table of
their own (other_board.py). What brings no work per time and enables nothing (fans, radio cards, pads; batteries and
adapters, where no power limit may be cured by them) can never lie on the front and is left out. Minutes depend on which
groups a plan touches, because opening and closing are shared; they are compiled once per set of groups. The median gain
is the functional of the prediction with its central values, in closed form, over the whole product at once.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import product
from math import prod
from typing import Protocol

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.text import phrase
from brachium.core.choose.assumptions import CURE_LIKELY
from brachium.core.choose.compatibility import BoolArray, Option, go_together
from brachium.core.choose.draws import Draws
from brachium.core.choose.median_gain import Central, central_gain
from brachium.core.choose.other_board import Beside
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.verdict import Level
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.record.money import WORTH_PER_EUR, OffFrom, Voucher, in_order
from brachium.core.use.profile import UseProfile

GROUPS: tuple[Group, ...] = tuple(Group)
NOT_WEIGHED = (Group.FAN, Group.ADAPTER, Group.BATTERY, Group.RADIO, Group.PADS, Group.VOLTAGE)
MOST_PLANS = 10_000_000
NOTHING_SAID = Circumstances()


class Effort(Protocol):
    """What doing candidates at once takes, passed in because work is planned on a floor above."""

    def __call__(self, chosen: tuple[Candidate, ...]) -> tuple[float, float]:
        """(attended minutes, consumables [EUR])."""

    def first_min(self, needs: tuple[str, ...]) -> float:
        """Attended minutes of preconditions."""


class TooManyPlans(ValueError):  # noqa: N818 - an answer, not a bug
    """The product of the options is larger than is enumerated; the message says so."""


@dataclass(frozen=True)
class Limits:
    """What a plan must keep: money [EUR], attended minutes; None = no limit."""

    rate_per_hour: float
    budget: float | None = None
    attended_min: float | None = None
    worth_per_eur: float = WORTH_PER_EUR
    vouchers: tuple[Voucher, ...] = ()


@dataclass(frozen=True)
class Plan:
    """A plan: its candidates, cost [EUR], attended minutes, median gain (1 = today)."""

    ids: tuple[str, ...]
    cost: float
    attended_min: float
    gain: float


@dataclass(frozen=True)
class PlanTable:
    """Cost, minutes, gain and fit of every plan, one axis per group; index 0 of an axis = nothing of that group.

    `board` is in every one of them, None = the machine's own stays.
    """

    axes: tuple[tuple[Option | None, ...], ...]
    cost: FloatArray
    attended: FloatArray
    gain: FloatArray
    fits: BoolArray
    board: Option | None = None

    def plan(self, flat: int) -> Plan:
        """The plan at an index of the flattened product."""
        where = np.unravel_index(flat, self.cost.shape)
        picked = [axis[int(k)] for axis, k in zip(self.axes, where, strict=True)]
        ids = tuple(o.candidate.id for o in (self.board, *picked) if o is not None)
        return Plan(ids, float(self.cost[where]), float(self.attended[where]), float(self.gain[where]))


@dataclass(frozen=True)
class PlanSpace:
    """Every plan of a machine: its own board's table first, then one for each other board; index 0 is today."""

    tables: tuple[PlanTable, ...]

    @cached_property
    def cost(self) -> FloatArray:
        """Of every plan [EUR], shape (n,)."""
        return np.concatenate([t.cost.ravel() for t in self.tables])

    @cached_property
    def gain(self) -> FloatArray:
        """Median gain of every plan, 1 = today, shape (n,)."""
        return np.concatenate([t.gain.ravel() for t in self.tables])

    @cached_property
    def ids(self) -> frozenset[str]:
        """Candidates that may be part of a plan."""
        options = [o for t in self.tables for o in (t.board, *(o for axis in t.axes for o in axis))]
        return frozenset(o.candidate.id for o in options if o is not None)

    def within(self, limits: Limits) -> BoolArray:
        """Plans that fit and keep money and minutes, shape (n,); today always does."""
        out = np.concatenate([t.fits.ravel() for t in self.tables])
        if limits.budget is not None:
            out &= self.cost <= limits.budget + 1e-9
        if limits.attended_min is not None:
            out &= np.concatenate([t.attended.ravel() for t in self.tables]) <= limits.attended_min + 1e-9
        out[0] = True
        return out

    def plan(self, flat: int) -> Plan:
        """The plan at an index."""
        for table in self.tables:
            if flat < table.cost.size:
                return table.plan(flat)
            flat -= table.cost.size
        raise IndexError("no plan at that index")

    def best_with(self, candidate_id: str, limits: Limits) -> Plan | None:
        """The best plan within the limits with a candidate: most gain, of equals the cheapest; None = there is none."""
        found = [p for p in (_best_with(t, candidate_id, limits) for t in self.tables) if p is not None]
        return max(found, key=lambda p: p.gain - 1e-9 * p.cost, default=None)


def compile_plans(
    machine: Machine, options: Sequence[Option], profile: UseProfile, figures: BeforeFigures, limits: Limits,
    effort: Effort, accepted: frozenset[str] = frozenset(), draws: Draws | None = None,
    around: Circumstances = NOTHING_SAID, boards: Sequence[Beside] = (),
) -> PlanSpace:  # fmt: skip
    """All plans as arrays. Raises TooManyPlans beyond ten million."""
    left_out = (*not_weighed(figures), Group.BOARD)

    def known(option: Option) -> bool:
        return not unknown_gain(machine, option.candidate, profile, figures)

    every = [(None, _axes(options, accepted, left_out, known)),
             *((b, _axes(b.options, accepted, left_out, known)) for b in boards)]  # fmt: skip
    count = sum(prod(len(a) for a in axes) for _, axes in every)
    if count > MOST_PLANS:
        raise TooManyPlans(
            phrase("{count} plans are more than are worked out; leave some parts out of the catalogue", count=count)
        )
    ground = _Ground(machine, profile, figures, limits, effort, accepted, draws, around)
    try:
        return PlanSpace(tuple(_compiled(ground, axes, beside) for beside, axes in every))
    except ValueError as error:
        raise TooManyPlans(str(error)) from error


def not_weighed(figures: BeforeFigures) -> tuple[Group, ...]:
    """Kinds of change that bring no work per time on this machine."""
    chances = {Group.BATTERY: figures.battery_chance, Group.ADAPTER: figures.adapter_chance}
    cures = {g for g, chance in chances.items() if figures.power_clock is not None and (chance or 0.0) >= CURE_LIKELY}
    if figures.throttled and (figures.fan_chance or 0.0) >= CURE_LIKELY:
        cures.add(Group.FAN)
    if figures.lower_voltage:
        cures.add(Group.VOLTAGE)
    return tuple(g for g in NOT_WEIGHED if g not in cures)


def _axes(
    options: Sequence[Option], accepted: frozenset[str], left_out: Collection[Group], known: Callable[[Option], bool]
) -> tuple[tuple[Option | None, ...], ...]:  # fmt: skip
    """What may be part of a plan, by kind; what nobody can say the gain of is neither dominated nor recommended."""
    usable = [o for o in options if usable_option(o, accepted) and o.candidate.group not in left_out
              and not o.candidate.aside and known(o)]  # fmt: skip
    return tuple((None, *(o for o in usable if o.candidate.group is g)) for g in GROUPS)


@dataclass(frozen=True)
class _Ground:
    machine: Machine
    profile: UseProfile
    figures: BeforeFigures
    limits: Limits
    effort: Effort
    accepted: frozenset[str]
    draws: Draws | None
    around: Circumstances


def _compiled(ground: _Ground, axes: tuple[tuple[Option | None, ...], ...], beside: Beside | None) -> PlanTable:
    board = beside.board if beside is not None else None
    base = () if board is None else (board.candidate,)
    shape = tuple(len(a) for a in axes)
    price = _sum([np.array([0.0 if o is None else float(o.candidate.price) for o in a]) for a in axes], shape)
    attended, used = _of_the_work(ground, axes, shape, base)
    if board is not None:
        price = price + float(board.candidate.price)
        attended = attended + ground.effort.first_min(board.preconditions)
    rest = used + attended * ground.limits.rate_per_hour / 60.0
    cost = price + rest - taken_off(ground.limits.vouchers, price, rest)
    central = Central.of(ground.machine, axes, ground.profile, ground.figures, ground.draws, ground.around.heat, base)
    fits = go_together(ground.machine, axes, ground.around, ground.accepted, board)
    for k, group in enumerate(GROUPS):
        if beside is not None and group not in beside.stays:
            fits[(slice(None),) * k + (0,)] = False  # the old part cannot stay
    gain = central_gain(central) * np.exp(_bias(ground.draws, axes, base))
    return PlanTable(axes, cost, attended, gain, fits, board)


def taken_off(vouchers: Sequence[Voucher], parts: FloatArray, rest: FloatArray) -> FloatArray | float:
    """What vouchers take off every plan [EUR], as `discount_of` does, without its rounding to cents."""
    if not vouchers:
        return 0.0
    left_parts, left, whole = parts, parts + rest, parts + rest
    for v in in_order(vouchers):
        of_parts = v.off is OffFrom.PARTS
        base = left_parts if of_parts else left
        off = np.minimum(base * float(v.percent) / 100.0 + float(v.amount), base)
        off = np.where((parts if of_parts else whole) >= float(v.floor) - 1e-9, off, 0.0)
        left = left - off
        left_parts = left_parts - off if of_parts else left_parts
    return np.asarray(whole - left)


def _bias(
    draws: Draws | None, axes: tuple[tuple[Option | None, ...], ...], base: tuple[Candidate, ...]
) -> FloatArray | float:
    """What the shop's own record adds to the logarithm of the gain, by the kinds of change that a plan holds."""
    if draws is None or not draws.correction.count:
        return 0.0
    along = [
        np.array([0.0 if o is None else draws.correction.of([g.value]) for o in axis])
        for g, axis in zip(GROUPS, axes, strict=True)
    ]
    return _sum(along, tuple(len(a) for a in axes)) + draws.correction.of([c.group.value for c in base])


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


def _of_the_work(
    ground: _Ground, axes: tuple[tuple[Option | None, ...], ...], shape: tuple[int, ...], base: tuple[Candidate, ...]
) -> tuple[FloatArray, FloatArray]:
    """(attended minutes, consumables [EUR]): by the set of groups that a plan touches, plus what preconditions add."""
    some = [k for k, axis in enumerate(axes) if len(axis) > 1]
    by_touched = _by_touched(ground, [axes[k][1] for k in some], base)
    touched = [np.array([o is not None for o in axes[k]], dtype=np.intp) for k in some]
    whole = (np.moveaxis(by_touched, -1, 0)[k] for k in (0, 1))
    minutes, used = ((t[np.ix_(*touched)] if some else t).reshape(shape) for t in whole)
    extra = [np.array([0.0 if o is None else ground.effort.first_min(o.preconditions) for o in axis]) for axis in axes]
    return minutes + _sum(extra, shape), used


def _by_touched(ground: _Ground, first: Sequence[Option | None], base: tuple[Candidate, ...]) -> FloatArray:
    """(minutes, consumables) of every set of groups, one of each standing for all; shape (2, ..., 2, 2)."""
    out: FloatArray = np.zeros([*([2] * len(first)), 2])
    for mask in product((0, 1), repeat=len(first)):
        chosen = tuple(o.candidate for o, m in zip(first, mask, strict=True) if m and o is not None)
        out[mask] = ground.effort((*base, *chosen)) if base or chosen else (0.0, 0.0)
    return out


def _best_with(table: PlanTable, candidate_id: str, limits: Limits) -> Plan | None:
    if table.board is not None and table.board.candidate.id == candidate_id:
        return _best(table, table.fits, limits)
    for axis, entries in enumerate(table.axes):
        found = [k for k, o in enumerate(entries) if o is not None and o.candidate.id == candidate_id]
        if found:
            with_it = np.zeros_like(table.fits)
            index: list[slice | int] = [slice(None)] * len(table.axes)
            index[axis] = found[0]
            with_it[tuple(index)] = table.fits[tuple(index)]
            return _best(table, with_it, limits)
    return None


def _best(table: PlanTable, allowed: BoolArray, limits: Limits) -> Plan | None:
    if limits.budget is not None:
        allowed = allowed & (table.cost <= limits.budget + 1e-9)
    if limits.attended_min is not None:
        allowed = allowed & (table.attended <= limits.attended_min + 1e-9)
    if not allowed.any():
        return None
    return table.plan(int(np.argmax(np.where(allowed, table.gain - 1e-9 * table.cost, -np.inf))))
