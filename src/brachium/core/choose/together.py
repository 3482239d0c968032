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

from brachium.core.choose.catalogue import PART_GROUPS, Candidate, Group, planned, services_of
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.engine import Rule, evaluate
from brachium.core.fit.rules import ALL_RULES
from brachium.core.fit.verdict import Level, Verdict, ranked, worst
from brachium.core.machine.machine import Machine

MOST_CLASSES = 50_000
TOGETHER = tuple(r for r in ALL_RULES if r.kinds)
WEIGHED = {r.id for r in TOGETHER}
BoolArray = npt.NDArray[np.bool_]


OF_SERVICES = ("COOL-SHARED", "LEG-CAP")  # rules of the whole that a service is judged by


def about(
    machine: Machine, chosen: tuple[Candidate, ...], candidate: Candidate, around: Circumstances
) -> tuple[Verdict, ...]:
    """What the rules say of one candidate within a plan, worst first."""
    if not candidate.places and not candidate.services:
        return ()
    around = replace(around, services=services_of(chosen))
    verdicts = evaluate(ALL_RULES, machine, planned(machine, chosen), around)
    touched = set(candidate.places)
    if touched:
        return ranked(tuple(v for v in verdicts if touched & set(v.places)))
    return ranked(tuple(v for v in verdicts if v.rule in OF_SERVICES))


def alone(machine: Machine, candidate: Candidate, around: Circumstances) -> Option:
    """A candidate judged for the front: the rules that weigh it against others are the tables'."""
    own = about(machine, (candidate,), candidate, around)
    return Option(candidate, worst(tuple(v for v in own if v.rule not in WEIGHED)), own)


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


def go_together(
    machine: Machine, axes: Sequence[tuple[Option | None, ...]], around: Circumstances, accepted: frozenset[str]
) -> BoolArray:  # fmt: skip
    """Plans that pass every rule weighing kinds together, shape of the product.

    Raises ValueError where the classes are too many."""
    fits = np.ones(tuple(len(a) for a in axes), dtype=bool)
    for rule in TOGETHER:
        wanted = {PART_GROUPS[k] for k in rule.kinds}
        involved = [k for k, g in enumerate(Group) if g in wanted and len(axes[k]) > 1]
        if not involved:
            continue
        table = _table(rule, machine, [axes[k] for k in involved], around, accepted)
        shape = [len(axes[k]) if k in involved else 1 for k in range(len(axes))]
        fits &= table.reshape(shape)
    return fits


def _table(
    rule: Rule, machine: Machine, axes: list[tuple[Option | None, ...]], around: Circumstances, accepted: frozenset[str]
) -> BoolArray:  # fmt: skip
    """Whether the rule lets combinations pass, shape of the axes."""
    classes = [_classes(rule, axis, accepted) for axis in axes]
    firsts = [[axis[list(c).index(k)] for k in range(max(c) + 1)] for axis, c in zip(axes, classes, strict=True)]
    if prod(len(f) for f in firsts) > MOST_CLASSES:
        raise ValueError(f"{rule.id} would have to weigh {prod(len(f) for f in firsts)} kinds of plans")
    small = np.ones([len(f) for f in firsts], dtype=bool)
    for where in product(*(range(len(f)) for f in firsts)):
        options = [f[k] for f, k in zip(firsts, where, strict=True)]
        small[where] = _passes(rule, machine, [o for o in options if o is not None], around, accepted)
    return small[np.ix_(*classes)]


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
    touched = {p for c in chosen for p in c.places}
    verdicts = evaluate((rule,), machine, planned(machine, chosen), around)
    levels = {v.level for v in verdicts if not v.places or touched & set(v.places)}
    if Level.REFUSED in levels:
        return False
    return Level.NOT_KNOWN not in levels or any(c.id in accepted for c in chosen)
