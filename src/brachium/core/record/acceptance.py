"""A verdict that a person took on with a written reason."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Acceptance:
    """A verdict taken on with a reason: which rule, about which places, what it said then."""

    rule: str
    places: tuple[str, ...]
    sentence: str
    reason: str
    when: str
