"""Causes ranked by the evidence, and the check that tells most for a minute of work.

Log-odds of a cause against a machine that is well = base + sum of the weights of all signs (signs.py). Causes of one
rival set explain the same signs and rule each other out, so that within a set
    P(cause) = odds / (1 + sum of the odds in the set).
Expected information of a check = mutual information between its answer and each rival set, summed over the sets,
which are taken as independent [bit]; it is divided by what the check costs in minutes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log, log2

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.why import Origin
from brachium.core.cause import checks, signs
from brachium.core.cause.assumptions import (
    CALLED,
    ENDS,
    ENDS_FROM,
    IMPOSSIBLE,
    LEAST_COST,
    LITTLE_BITS_MIN,
    OVERHEAD_MIN,
    SETTLED,
    SETTLED_BY_CHECK,
)
from brachium.core.cause.check import Check
from brachium.core.cause.kinds import BESIDE, DRIVES, GRAPHICS, HEAT, KINDS, POWER, CauseKind
from brachium.core.cause.signs import CUT, Sign

RIVALS: tuple[tuple[str, ...], ...] = (HEAT, POWER, ("memory", "bits"), DRIVES, GRAPHICS, BESIDE)


@dataclass(frozen=True)
class Field:
    """What is looked for: kinds of causes, which of them rule each other out, and every sign and check by its id."""

    kinds: tuple[CauseKind, ...]
    rivals: tuple[tuple[str, ...], ...]
    signs: Mapping[str, Sign]

    def sets(self) -> tuple[tuple[str, ...], ...]:
        """Rival sets; a cause without rivals is one by itself."""
        rivals = {c for group in self.rivals for c in group}
        return (*self.rivals, *((k.id,) for k in self.kinds if k.id not in rivals))


SLOW_OR_HOT = Field(KINDS, RIVALS, signs.BY_ID | {c.id: c.sign for c in checks.CHECKS})


@dataclass(frozen=True)
class Observation:
    """A sign in one of its states, with the figure behind it and where that came from."""

    sign: str
    state: str
    figure: str
    origin: Origin
    checked: bool = False


@dataclass(frozen=True)
class Weight:
    """What one observation says for a cause, natural log-odds; positive speaks for it."""

    title: str
    state: str
    figure: str
    origin: Origin
    log_odds: float
    checked: bool


@dataclass(frozen=True)
class Ranked:
    """A cause with its chance, the weights behind it, and the share of the owner's time that it costs (0..1)."""

    kind: CauseKind
    log_odds: float
    chance: float
    cost_frac: float
    weights: tuple[Weight, ...]

    @property
    def called(self) -> bool:
        """Sure enough to be called a cause."""
        return self.chance >= CALLED

    @property
    def settled(self) -> bool:
        return self.chance >= SETTLED


@dataclass(frozen=True)
class NextCheck:
    """A check that could be made, with what it would tell."""

    check: Check
    bits: float

    @property
    def bits_per_minute(self) -> float:
        """For what it costs and the way to it: every check has to be fetched, begun and written down."""
        return self.bits / (self.check.cost_min + OVERHEAD_MIN)


def rank(
    seen: Sequence[Observation], costs: Mapping[str, float], has: frozenset[str] | None = None,
    field: Field = SLOW_OR_HOT,
) -> tuple[Ranked, ...]:  # fmt: skip
    """All causes, the one to see to first in front.

    Called causes that put data at risk come first, then other called ones, then by chance times the share of time lost
    (unknown = 3 %). `has` is what the machine has of the things that causes need; None = not looked at.
    """
    weights, chances = _weighed(seen, has, field, {})
    spoken = {o.sign: o.state for o in seen if o.sign in field.signs and field.signs[o.sign].names_one}
    if spoken:
        shared = {i: _shared_weights(field.signs[i], state, chances, field) for i, state in spoken.items()}
        weights, chances = _weighed(seen, has, field, shared)
    log_odds = _log_odds(weights, has, field)
    out = [Ranked(k, log_odds[k.id], chances[k.id], costs.get(k.id, 0.0), weights[k.id]) for k in field.kinds]
    return tuple(sorted(out, key=_order))


def _shared_weights(sign: Sign, state: str, chances: Mapping[str, float], field: Field) -> dict[str, float]:
    """Weights of a sign that names one thing, where a cause of another set may be what it names.

    With q the chance of the set that explains it best and R its ratio, a cause of ratio r makes it
        ((1 - q) r + q (r + R) / 2) / (1 - q + q R)
    times as likely: of two causes at once either is named.
    """
    explained = [
        (g, sum(chances[c] for c in g), sum(chances[c] * sign.ratio(state, c) for c in g)) for g in field.sets()
    ]
    explained.sort(key=lambda e: -e[2])
    out = {}
    for cause in sign.given:
        own = sign.ratio(state, cause)
        present, by_it = next(((q, r) for g, q, r in explained if cause not in g), (0.0, 0.0))
        with_it = (1.0 - present) * own + 0.5 * (present * own + by_it)
        out[cause] = max(-CUT, min(CUT, log(with_it / (1.0 - present + by_it))))
    return out


def _weighed(
    seen: Sequence[Observation], has: frozenset[str] | None, field: Field, shared: Mapping[str, Mapping[str, float]]
) -> tuple[dict[str, tuple[Weight, ...]], dict[str, float]]:
    """(weights, chances) by cause; `shared` weights, by sign and cause, stand in for those of its tables."""
    weights = {k.id: _weights(k.id, seen, field, shared) for k in field.kinds}
    return weights, _chances(_log_odds(weights, has, field), field)


def _log_odds(
    weights: Mapping[str, tuple[Weight, ...]], has: frozenset[str] | None, field: Field
) -> dict[str, float]:  # fmt: skip
    return {k.id: _base(k, has) + sum(w.log_odds for w in weights[k.id]) for k in field.kinds}


def _base(kind: CauseKind, has: frozenset[str] | None) -> float:
    """A cause in a part that the machine does not have is next to impossible."""
    return kind.base - (IMPOSSIBLE if has is not None and kind.needs and kind.needs not in has else 0.0)


def _order(cause: Ranked) -> tuple[bool, bool, float, float]:
    first = cause.called and cause.kind.at_risk
    return not first, not cause.called, -cause.chance * max(cause.cost_frac, LEAST_COST), -cause.log_odds


def _weights(
    cause: str, seen: Sequence[Observation], field: Field, shared: Mapping[str, Mapping[str, float]]
) -> tuple[Weight, ...]:
    out = []
    for one in seen:
        sign = field.signs.get(one.sign)
        own = sign.weight(one.state, cause) if sign is not None else 0.0
        value = shared.get(one.sign, {}).get(cause, own)
        if sign is not None and abs(value) > 0.05:
            out.append(Weight(sign.title, one.state, one.figure, one.origin, value, one.checked))
    return tuple(sorted(out, key=lambda w: -abs(w.log_odds)))


def _chances(log_odds: Mapping[str, float], field: Field) -> dict[str, float]:
    out: dict[str, float] = {}
    for group in field.sets():
        odds = {c: exp(min(log_odds[c], 30.0)) for c in group}
        whole = 1.0 + sum(odds.values())
        out |= {c: o / whole for c, o in odds.items()}
    return out


def next_checks(
    ranked: Sequence[Ranked], possible: Sequence[Check], made: frozenset[str] = frozenset(),
    field: Field = SLOW_OR_HOT,
) -> tuple[NextCheck, ...]:  # fmt: skip
    """Checks not made yet, the one that tells most for a minute first; those that tell next to nothing are left out.

    What can decide for the cause in front is worth more than its bits: its answer ends the search.
    """
    chances = {r.kind.id: r.chance for r in ranked}
    found = [NextCheck(c, expected_bits(c.sign, chances, field)) for c in possible if c.id not in made]
    worth = [c for c in found if c.bits_per_minute >= LITTLE_BITS_MIN]
    front = ranked[0].kind.id if ranked and ENDS_FROM <= ranked[0].chance < SETTLED_BY_CHECK else ""

    def worth_a_minute(one: NextCheck) -> float:
        return one.bits_per_minute * (ENDS if front in one.check.sign.decides.values() else 1.0)

    return tuple(sorted(worth, key=lambda c: -worth_a_minute(c)))


def expected_bits(sign: Sign, chances: Mapping[str, float], field: Field = SLOW_OR_HOT) -> float:
    """Expected information of a sign over all rival sets [bit]."""
    bits = 0.0
    for group in field.sets():
        inside = [c for c in group if c in sign.given]
        if inside:
            left = 1.0 - sum(chances[c] for c in inside)  # well, or a rival that the sign does not tell from well
            prior = np.array([max(left, 0.0), *(chances[c] for c in inside)])
            rows = np.array([sign.well, *(sign.given[c] for c in inside)])
            bits += _mutual(prior, rows)
    return bits


def _mutual(prior: FloatArray, rows: FloatArray) -> float:
    """Mutual information of hypothesis and answer [bit]; rows[h] are the answer's chances under hypothesis h."""
    answer = prior @ rows
    inside = sum(p * _entropy(row) for p, row in zip(prior, rows, strict=True))
    return max(_entropy(answer) - float(inside), 0.0)


def _entropy(chances: FloatArray) -> float:
    return -sum(float(p) * log2(float(p)) for p in chances if p > 0.0)
