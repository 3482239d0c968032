"""Which options of a plan go together: rules that weigh kinds of parts against each other, compiled into tables once.

A rule sees only traits of parts, so options of one trait are one class: the rule is evaluated for every combination of
classes of the kinds that it weighs, and the answers are spread over the product.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import prod

import numpy as np
import numpy.typing as npt

from brachium.core.base.text import phrase
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.engine import Rule, evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level, Verdict, ranked, worst
from brachium.core.machine.machine import Machine
from brachium.core.machine.platform import BOARD
from brachium.core.plan.candidates import PART_GROUPS, Candidate, Group, planned, services_of

MOST_CLASSES = 50_000
TOGETHER = tuple(r for r in ALL_RULES if r.kinds)
WEIGHED = {r.id for r in TOGETHER}
BoolArray = npt.NDArray[np.bool_]


OF_SERVICES = ("COOL-SHARED", "LEG-CAP")  # rules of the whole that a service is judged by


@dataclass(frozen=True)
class Option:
    """A candidate with what the rules say of it alone and the preconditions that it brings.

    `level` is the worst of the rules that judge it alone; rules that weigh it against others are no part of it.
    """

    candidate: Candidate
    level: Level
    verdicts: tuple[Verdict, ...] = ()

    @property
    def preconditions(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(v.precondition for v in self.verdicts if v.precondition))


def verdicts_about(
    machine: Machine, chosen: tuple[Candidate, ...], candidate: Candidate, around: Circumstances
) -> tuple[Verdict, ...]:
    """What the rules say of one candidate within a plan, worst first."""
    if not candidate.places and not candidate.services:
        return ()
    around = replace(around, services=services_of(chosen))
    touched = set(candidate.places)
    if touched:
        return ranked(evaluate(ALL_RULES, machine, planned(machine, chosen), around, touched))
    verdicts = evaluate(ALL_RULES, machine, planned(machine, chosen), around)
    return ranked(tuple(v for v in verdicts if v.rule in OF_SERVICES))


def verdicts_concerning(verdicts: Sequence[Verdict], chosen: Sequence[Candidate]) -> tuple[Verdict, ...]:
    """Those about the whole and about what a plan touches, worst first; another board touches every place."""
    touched = {p for c in chosen for p in c.places}
    return ranked(tuple(v for v in verdicts if not v.places or BOARD in touched or touched & set(v.places)))


def option_alone(machine: Machine, candidate: Candidate, around: Circumstances) -> Option:
    """A candidate judged for the front: the rules that weigh it against others are the tables'."""
    own = verdicts_about(machine, (candidate,), candidate, around)
    return Option(candidate, _level(own), own)


def _level(verdicts: Sequence[Verdict]) -> Level:
    return worst(tuple(v for v in verdicts if v.rule not in WEIGHED))


def go_together(
    machine: Machine, axes: Sequence[tuple[Option | None, ...]], around: Circumstances, accepted: frozenset[str],
    board: Option | None = None,
) -> BoolArray:  # fmt: skip
    """Plans that pass every rule weighing kinds together, shape of the product; `board` is in every one of them.

    Raises ValueError where the classes are too many."""
    fits = np.ones(tuple(len(a) for a in axes), dtype=bool)
    base = [board] if board is not None else []
    for rule in TOGETHER:
        wanted = {PART_GROUPS[k] for k in rule.kinds}
        if Group.BOARD in wanted and board is None:
            continue
        involved = [k for k, g in enumerate(Group) if g in wanted and len(axes[k]) > 1]
        if not involved and board is None:
            continue
        table = _table(rule, machine, [axes[k] for k in involved], around, accepted, base)
        shape = [len(axes[k]) if k in involved else 1 for k in range(len(axes))]
        fits &= table.reshape(shape)
    return fits


def _table(
    rule: Rule, machine: Machine, axes: list[tuple[Option | None, ...]], around: Circumstances,
    accepted: frozenset[str], base: list[Option],
) -> BoolArray:  # fmt: skip
    """Whether the rule lets combinations pass, shape of the axes."""
    classes = [_classes(rule, axis, accepted) for axis in axes]
    firsts = [[axis[list(c).index(k)] for k in range(max(c) + 1)] for axis, c in zip(axes, classes, strict=True)]
    if prod(len(f) for f in firsts) > MOST_CLASSES:
        raise ValueError(
            phrase("{rule} would have to weigh {prod} kinds of plans", rule=rule.id, prod=prod(len(f) for f in firsts))
        )
    small = np.ones([len(f) for f in firsts], dtype=bool)
    for where in product(*(range(len(f)) for f in firsts)):
        options = [f[k] for f, k in zip(firsts, where, strict=True)]
        small[where] = _passes(rule, machine, [*base, *(o for o in options if o is not None)], around, accepted)
    return small[np.ix_(*classes)] if axes else small


def _classes(rule: Rule, axis: tuple[Option | None, ...], accepted: frozenset[str]) -> npt.NDArray[np.intp]:
    """Class of every option of an axis, numbered by first appearance; what is accepted stays apart."""
    seen: dict[Hashable, int] = {}
    out = []
    for option in axis:
        key: Hashable = None
        if option is not None:
            moves = tuple(
                (a.place_id, rule.trait(a.part) if a.part is not None else None) for a in option.candidate.assignments
            )
            key = moves, option.candidate.id in accepted
        out.append(seen.setdefault(key, len(seen)))
    return np.array(out, dtype=np.intp)


def _passes(
    rule: Rule, machine: Machine, options: list[Option], around: Circumstances, accepted: frozenset[str]
) -> bool:  # fmt: skip
    chosen = tuple(o.candidate for o in options)
    levels = {
        v.level for v in verdicts_concerning(evaluate((rule,), machine, planned(machine, chosen), around), chosen)
    }
    if Level.REFUSED in levels or (rule.needs_parts and Level.NEEDS_FIRST in levels):
        return False
    return Level.NOT_KNOWN not in levels or any(c.id in accepted for c in chosen)
