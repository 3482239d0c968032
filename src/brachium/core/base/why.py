"""Reasons as data: what was computed, from which numbers, where each came from, what would change it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Origin(StrEnum):
    """Where a number came from."""

    SCANNED = "scanned"
    MEASURED = "measured"
    TYPED = "typed"
    LABEL = "label"
    CATALOGUE = "catalogue"
    ASSUMED = "assumed"
    COMPUTED = "computed"
    FITTED = "fitted"
    PLANNED = "plan"
    LOGGED = "logged"
    TYPICAL = "typical"


@dataclass(frozen=True)
class Fact:
    """One number that went in: label, value with its unit, origin."""

    label: str
    value: str
    origin: Origin


@dataclass(frozen=True)
class Because:
    """The explanation of one result; `rule` is a rule id or the name of a formula."""

    title: str
    rule: str = ""
    text: str = ""
    facts: tuple[Fact, ...] = ()
    result: str = ""
    would_change: str = ""
    notes: tuple[str, ...] = ()
