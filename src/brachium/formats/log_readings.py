"""How a log is to be read, where a person said so, and what the shop remembers of that."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Reading:
    """How to read a log: units by role ("temp": "f"), columns by role and header ("" = leave out), what is needed."""

    units: Mapping[str, str] = field(default_factory=dict)
    columns: Mapping[str, str] = field(default_factory=dict)
    required: tuple[str, ...] = ("time", "temp")


@dataclass(frozen=True)
class LogReadings:
    """How logs are to be read, by what tells one logger's heading from another's, the latest first."""

    by_heading: Mapping[str, Reading] = field(default_factory=dict)
