"""What the fit board shows, and how its unit drawing lies on pixels."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from brachium.core.fit.verdict import Level
from brachium.core.machine.machine import Configuration, Machine


@dataclass(frozen=True)
class BoardState:
    """What the board shows: today, the plan, verdict levels by place, services planned, the chosen place."""

    machine: Machine
    planned: Configuration
    levels: Mapping[str, Level]
    services: tuple[str, ...] = ()
    selected: str = ""
    says_as_found: bool = True  # of paste and fins that no service is planned for


@dataclass(frozen=True)
class Frame:
    """Unit coordinates of the drawn machine mapped onto pixels."""

    x: float
    y: float
    w: float
    h: float

    def box(self, u: float, v: float, du: float, dv: float) -> tuple[float, float, float, float]:
        return self.x + u * self.w, self.y + v * self.h, du * self.w, dv * self.h
