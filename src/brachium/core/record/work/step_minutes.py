"""What the shop's own log says of the minutes of a kind of step on a kind of machine."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class StepMinutes:
    """Factor on the usual minutes, and from how many timed steps on machines of the kind it was learned."""

    factor: float
    count: int
