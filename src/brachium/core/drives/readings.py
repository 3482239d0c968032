"""A drive's SMART data as it was read once."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class HealthReading:
    """Counters of the drive in a place at one time; `source` says who read them."""

    place: str
    when: str
    counters: Mapping[str, int]
    source: str = "typed"
