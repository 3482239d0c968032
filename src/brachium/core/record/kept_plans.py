"""What is recorded while parts are chosen: plans kept by name, and another machine as a reference."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class NamedPlan:
    """A plan kept with a name: the ids of its candidates."""

    name: str
    ids: tuple[str, ...]


@dataclass(frozen=True)
class Replacement:
    """Another machine as a reference: price [EUR], work per time against today's, minutes to set it up.

    `years` it would last, `keep_years` that the plan gains for this machine (0 = not stated), `resale` of this one.
    """

    price: float
    gain: float
    minutes: float = 0.0
    note: str = ""
    years: float = 0.0
    keep_years: float = 0.0
    resale: float = 0.0
    energy: float = 0.0  # a year [EUR]
