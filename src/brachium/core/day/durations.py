"""How long steps really take in this shop: median and spread of the log against the plan, shrunk where there is little.

The ratio of logged to planned minutes is pooled by step; with n entries it moves the plan's figure by n / (n + 5) of
its logarithm, and its spread replaces the usual one likewise.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import exp, log, sqrt

import numpy as np

from brachium.core.day.assumptions import PRIOR, USUAL_SPREAD
from brachium.core.work.step import Step

LEAST_MIN, MOST_RATIO = 0.5, 8.0


@dataclass(frozen=True)
class Learned:
    """Factor on the planned minutes, spread of the logarithm, and from how many entries."""

    factor: float
    spread: float
    count: int


def kind_of(step_id: str) -> str:
    """A step's kind: its id without the number of the opening."""
    return step_id.rstrip("0123456789").rstrip("-") if step_id[-1:].isdigit() else step_id


def learn_durations(entries: Iterable[tuple[str, float, float]]) -> dict[str, Learned]:
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


def expected_minutes_of(steps: Sequence[Step], learned: dict[str, Learned]) -> tuple[Step, ...]:
    """The steps with the minutes that this shop needs for them."""
    return tuple(
        replace(s, attended_min=s.attended_min * learned[kind_of(s.id)].factor) if kind_of(s.id) in learned else s
        for s in steps
    )


def learned_spreads(steps: Sequence[Step], learned: dict[str, Learned]) -> dict[str, float]:
    """Spread of each step by its id."""
    return {s.id: learned[kind_of(s.id)].spread if kind_of(s.id) in learned else USUAL_SPREAD for s in steps}
