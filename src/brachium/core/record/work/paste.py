"""A layer of paste as it was put on, and what lies under the cooler."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum


class Contact(StrEnum):
    SPREADER = "heat spreader"
    DIE = "bare die"
    PIPES = "direct-contact pipes"


class Method(StrEnum):
    """How it is put on; on a bare die full coverage is the default: nothing carries heat to an uncovered corner."""

    SPREAD = "spread over the whole contact"
    DOT = "a dot in the middle"
    LINE = "a line"
    CROSS = "a cross"


@dataclass(frozen=True)
class PasteLayer:
    """A layer as it was put on; it is recorded with the job. `conductivity` [W/(m K)] and `density` [g/cm3] as the tube
    states them."""

    contact: Contact
    method: Method
    name: str = ""
    conductivity: float | None = None
    price_per_g: Decimal | None = None
    when: str = ""
    density: float | None = None
