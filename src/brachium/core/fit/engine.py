"""One engine for all fit rules: the whole configuration, and missing facts tried over all their values."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Set
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import TypeVar, cast

from brachium.core.base.text import phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.gap_words import told_value
from brachium.core.fit.range_words import one_of_many
from brachium.core.fit.verdict import Gap, Level, Verdict
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.new_board import as_it_will_be
from brachium.core.machine.parts import Part

T = TypeVar("T")


class MissingFact(Exception):  # noqa: N818 - control flow inside the engine, never leaves it
    """A rule needs a fact that the record lacks."""

    def __init__(self, gap: Gap) -> None:
        super().__init__(gap.key)
        self.gap = gap


@dataclass(frozen=True)
class FitGround:
    """What a rule stands on: the machine and the configuration as it will be, with facts tried on."""

    machine: Machine
    config: Configuration
    around: Circumstances = field(default_factory=Circumstances)
    tried: Mapping[str, object] = field(default_factory=dict)
    before: Machine | None = None  # the machine as it is, where a new board changes it

    def need(self, value: T | None, gap: Gap) -> T:
        """The value, or what was found out of a part for sale, or the one being tried for it.

        Raises MissingFact where there is none of them.
        """
        if value is not None:
            return value
        if gap.key in self.around.part_facts:
            told = told_value(self.around.part_facts[gap.key], gap)
            if told is not None:
                return cast(T, told)
        if gap.key in self.tried:
            return cast(T, self.tried[gap.key])
        raise MissingFact(gap)

    @property
    def today(self) -> Configuration:
        return (self.before or self.machine).configuration()

    def before_board(self) -> bool:
        """Whether the plan brings another board."""
        return self.before is not None and self.before is not self.machine

    @cached_property
    def changed(self) -> tuple[str, ...]:
        """Places whose part the plan changes."""
        now, later = self.today.parts, self.config.parts
        return tuple(p for p in dict.fromkeys((*now, *later)) if now.get(p) != later.get(p))

    def fresh(self, kind: type[Part] | tuple[type[Part], ...]) -> tuple[Subject, ...]:
        """Subjects of the parts of a kind that the plan brings in."""
        parts = self.config.parts
        return tuple(Subject((p,), parts[p]) for p in self.changed if isinstance(parts.get(p), kind))


@dataclass(frozen=True)
class Subject:
    """What a rule is asked about: a part in a place, or the whole (no part)."""

    places: tuple[str, ...]
    part: Part | None = None


def nameless(part: Part) -> Hashable:
    """Everything of a part but its name."""
    return replace(part, name="")


@dataclass(frozen=True)
class Rule:
    """A rule: its id, what it covers in a configuration, and its check of one subject.

    `kinds` are the kinds of parts that it weighs against each other; empty = it judges each change alone. `trait` is
    all that it sees of a part: parts of one trait are alike to it.
    """

    id: str
    title: str
    subjects: Callable[[FitGround], tuple[Subject, ...]]
    check: Callable[[FitGround, Subject], Verdict]
    kinds: tuple[str, ...] = ()
    trait: Callable[[Part], Hashable] = nameless
    needs_parts: bool = False  # what it needs first are parts, which a whole plan holds itself


def evaluate(
    rules: tuple[Rule, ...], machine: Machine, config: Configuration, around: Circumstances | None = None,
    touched: Set[str] | None = None,
) -> tuple[Verdict, ...]:  # fmt: skip
    """Every rule on every subject of the configuration as it will be; with `touched` on those at these places only."""
    ground = FitGround(as_it_will_be(machine, config), config, around or Circumstances(), before=machine)
    return tuple(
        settle_gap(rule, ground, subject) for rule in rules for subject in rule.subjects(ground)
        if touched is None or not touched.isdisjoint(subject.places)
    )  # fmt: skip


def settle_gap(rule: Rule, ground: FitGround, subject: Subject) -> Verdict:
    """Evaluate; where a fact is missing try all its values: same verdict for all stands, else not known.

    Of several missing facts the one is named that settles most of its cases for its minutes.
    """
    return _Trials(rule, subject).settled(ground)


class _Trials:
    """One rule on one subject, with the facts that it misses tried on; each combination of them once."""

    def __init__(self, rule: Rule, subject: Subject) -> None:
        self._rule, self._subject = rule, subject
        self._known: dict[frozenset[tuple[str, object]], Verdict] = {}
        self._checked: dict[frozenset[tuple[str, object]], Verdict | Gap] = {}

    def settled(self, ground: FitGround) -> Verdict:
        key = frozenset(ground.tried.items())
        if key not in self._known:
            self._known[key] = self._settle(ground)
        return self._known[key]

    def _check(self, ground: FitGround) -> Verdict | Gap:
        key = frozenset(ground.tried.items())
        if key not in self._checked:
            try:
                self._checked[key] = self._rule.check(ground, self._subject)
            except MissingFact as missing:
                self._checked[key] = missing.gap
        return self._checked[key]

    def _settle(self, ground: FitGround) -> Verdict:
        gap = self._check(ground)
        if isinstance(gap, Verdict):
            return gap
        outcomes = self._outcomes(ground, gap)
        levels = {o.level for o in outcomes}
        if len(levels) == 1 and Level.NOT_KNOWN not in levels:
            return outcomes[0] if ground.tried else self._same_for_all(ground)
        gaps = {gap.key: gap} | {o.gap.key: o.gap for o in outcomes if o.gap is not None}
        if len(gaps) == 1 or ground.tried:
            return not_known(self._rule.id, self._subject, min(gaps.values(), key=lambda g: g.minutes))
        return not_known(self._rule.id, self._subject, max(gaps.values(), key=lambda g: self._worth(ground, g)))

    def _same_for_all(self, ground: FitGround) -> Verdict:
        """The verdict of every combination of values; none of them is said as if it held."""
        gaps: dict[str, Gap] = {}
        ends: list[Verdict] = []
        left = [ground]
        while left:
            at = left.pop()
            found = self._check(at)
            if isinstance(found, Verdict):
                ends.append(found)
            else:
                gaps.setdefault(found.key, found)
                left += [replace(at, tried={**at.tried, found.key: v}) for v in found.values]
        return one_of_many(ends, tuple(gaps.values()))

    def _outcomes(self, ground: FitGround, gap: Gap) -> list[Verdict]:
        return [self.settled(replace(ground, tried={**ground.tried, gap.key: v})) for v in gap.values]

    def _worth(self, ground: FitGround, gap: Gap) -> tuple[float, float]:
        """(share of a fact's values that settle the rule, per minute of finding it out; minus the minutes)."""
        outcomes = self._outcomes(ground, gap)
        share = sum(o.level is not Level.NOT_KNOWN for o in outcomes) / len(outcomes)
        return share / max(gap.minutes, 0.5), -gap.minutes


def not_known(rule_id: str, subject: Subject, gap: Gap) -> Verdict:
    """The verdict of a missing fact that matters; says the cheapest way to find it out."""
    because = Because(
        phrase("The {gap} is not known", gap=gap.label),
        rule_id,
        phrase("The verdict depends on it, and it is not guessed. To find out: {how}.", how=gap.how),
        (Fact(gap.label, "not recorded", Origin.ASSUMED),),
        phrase("about {minutes:.0f} min to find out", minutes=gap.minutes),
        phrase("Recording the {gap}.", gap=gap.label),
    )
    return Verdict(rule_id, Level.NOT_KNOWN, subject.places, phrase("{gap} not known", gap=gap.label), because, gap=gap)
