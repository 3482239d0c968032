"""What finished jobs leave behind: gain predicted and measured, minutes, price and resale."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.machine.kinds import MachineKind


@dataclass(frozen=True)
class Ratio:
    """A ratio of work per time with its 80 % band."""

    low: float
    mid: float
    high: float


@dataclass(frozen=True)
class ChangeOutcome:
    """One kind of change: what it was predicted to bring as part of the plan, what it brought, its price [EUR].

    `alone` = measured between two runs; else divided by the model."""

    group: str
    predicted: Ratio
    brought: Ratio
    price: float
    alone: bool


@dataclass(frozen=True)
class JobOutcome:
    """One finished job. Money in EUR; None = not predicted, not measured, not sold. Predictions are uncorrected.

    `steps`: (step id, minutes planned, minutes logged), what was timed."""

    job_id: str
    name: str
    model: str
    kind: MachineKind
    when: str
    predicted: Ratio | None
    measured: float | None
    changes: tuple[ChangeOutcome, ...]
    planned_min: float
    real_min: float
    cost: float
    resale_likely: float | None = None
    sold: float | None = None
    steps: tuple[tuple[str, float, float], ...] = ()
