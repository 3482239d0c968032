"""One engine for all fit rules: the whole configuration, and missing facts tried over all their values."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import TypeVar, cast

from brachium.core.because import Because, Fact, Origin
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.parts import Part

T = TypeVar("T")


class MissingFact(Exception):  # noqa: N818 - control flow inside the engine, never leaves it
    """A rule needs a fact that the record lacks."""

    def __init__(self, gap: Gap) -> None:
        super().__init__(gap.key)
        self.gap = gap


@dataclass(frozen=True)
class Ground:
    """What a rule stands on: the machine and the configuration as it will be, with facts tried on."""

    machine: Machine
    config: Configuration
    tried: Mapping[str, object] = field(default_factory=dict)

    def need(self, value: T | None, gap: Gap) -> T:
        """The value, or the one being tried for it; raises MissingFact where there is neither."""
        if value is not None:
            return value
        if gap.key in self.tried:
            return cast(T, self.tried[gap.key])
        raise MissingFact(gap)


@dataclass(frozen=True)
class Subject:
    """What a rule is asked about: a part in a place, or the whole (no part)."""

    places: tuple[str, ...]
    part: Part | None = None


@dataclass(frozen=True)
class Rule:
    """A rule: its id, what it covers in a configuration, and its check of one subject."""

    id: str
    title: str
    subjects: Callable[[Ground], tuple[Subject, ...]]
    check: Callable[[Ground, Subject], Verdict]


def evaluate(rules: tuple[Rule, ...], machine: Machine, config: Configuration) -> tuple[Verdict, ...]:
    """Every rule on every subject of the configuration as it will be."""
    ground = Ground(machine, config)
    return tuple(_settle(rule, ground, subject) for rule in rules for subject in rule.subjects(ground))


def _settle(rule: Rule, ground: Ground, subject: Subject) -> Verdict:
    """Evaluate; where a fact is missing try all its values: same verdict for all stands, else not known."""
    try:
        return rule.check(ground, subject)
    except MissingFact as missing:
        gap = missing.gap
    outcomes = [_settle(rule, replace(ground, tried={**ground.tried, gap.key: value}), subject) for value in gap.values]
    levels = {o.level for o in outcomes}
    if len(levels) == 1 and Level.NOT_KNOWN not in levels:
        note = f"The {gap.label} is not recorded; the verdict is the same for every value it could have."
        first = outcomes[0]
        return replace(first, because=replace(first.because, notes=(*first.because.notes, note)))
    deeper = next((o.gap for o in outcomes if o.gap is not None and o.gap.minutes < gap.minutes), None)
    return not_known(rule.id, subject, deeper or gap)


def not_known(rule_id: str, subject: Subject, gap: Gap) -> Verdict:
    """The verdict of a missing fact that matters; says the cheapest way to find it out."""
    because = Because(
        f"The {gap.label} is not known",
        rule_id,
        f"The verdict depends on it, and it is not guessed. To find out: {gap.how}.",
        (Fact(gap.label, "not recorded", Origin.ASSUMED),),
        f"about {gap.minutes:.0f} min to find out",
        f"Recording the {gap.label}.",
    )
    return Verdict(rule_id, Level.NOT_KNOWN, subject.places, f"{gap.label} not known", because, gap=gap)
