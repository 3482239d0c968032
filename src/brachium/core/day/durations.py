"""How long steps really take in this shop: median and spread of the log against the plan, shrunk where there is little.

The ratio of logged to planned minutes is pooled by step; with n entries it moves the plan's figure by n / (n + 5) of
its logarithm, and its spread replaces the usual one likewise. What machines of one kind took moves it from there, in
the same way.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import exp, log, sqrt

import numpy as np

from brachium.core.day.assumptions import PRIOR, USUAL_SPREAD
from brachium.core.work.step import Step

LEAST_MIN, MOST_RATIO = 0.5, 8.0
Entry = tuple[str, float, float]  # step id, minutes planned, minutes logged


@dataclass(frozen=True)
class Learned:
    """Factor on the planned minutes, spread of the logarithm, and from how many entries."""

    factor: float
    spread: float
    count: int


def kind_of(step_id: str) -> str:
    """A step's kind: its id without the number of the opening."""
    return step_id.rstrip("0123456789").rstrip("-") if step_id[-1:].isdigit() else step_id


def learn_durations(entries: Iterable[Entry]) -> dict[str, Learned]:
    """From (step id, planned minutes, logged minutes); what nobody timed (zero, or wildly off) is left out."""
    logs: dict[str, list[float]] = {}
    for step_id, planned, logged in entries:
        if planned >= LEAST_MIN and logged >= LEAST_MIN and 1.0 / MOST_RATIO <= logged / planned <= MOST_RATIO:
            logs.setdefault(kind_of(step_id), []).append(log(logged / planned))
    out = {}
    for kind, values in logs.items():
        n = len(values)
        weight = n / (n + PRIOR)
        own = float(np.std(values)) if n > 1 else USUAL_SPREAD
        spread = sqrt((1.0 - weight) * USUAL_SPREAD**2 + weight * own**2)
        out[kind] = Learned(exp(weight * float(np.median(values))), spread, n)
    return out


def learn_durations_of_kind(entries: Sequence[Entry], of_kind: Sequence[Entry]) -> dict[str, Learned]:
    """As `learn_durations` of all entries, moved by those of machines of one kind."""
    every, own = learn_durations(entries), learn_durations(of_kind)
    out = dict(every)
    for step, found in own.items():
        weight = found.count / (found.count + PRIOR)
        median = log(found.factor) / weight  # of this kind alone, before it was moved towards the plan
        towards = log(every[step].factor)
        spread = sqrt(weight * found.spread**2 + (1.0 - weight) * every[step].spread ** 2)
        out[step] = Learned(exp(weight * median + (1.0 - weight) * towards), spread, found.count)
    return out


def expected_minutes_of(steps: Sequence[Step], learned: dict[str, Learned]) -> tuple[Step, ...]:
    """The steps with the minutes that this shop needs for them."""
    return tuple(
        replace(s, attended_min=s.attended_min * learned[kind_of(s.id)].factor) if kind_of(s.id) in learned else s
        for s in steps
    )


def learned_spreads(steps: Sequence[Step], learned: dict[str, Learned]) -> dict[str, float]:
    """Spread of each step by its id."""
    return {s.id: learned[kind_of(s.id)].spread if kind_of(s.id) in learned else USUAL_SPREAD for s in steps}
