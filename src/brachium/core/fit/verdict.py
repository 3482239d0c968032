"""Verdicts of the fit rules; the worst one decides a candidate."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

from brachium.core.base.why import Because


class Level(IntEnum):
    """Ordered from best to worst."""

    FITS = 0
    LIMITED = 1
    NEEDS_FIRST = 2
    NOT_KNOWN = 3
    REFUSED = 4

    @property
    def words(self) -> str:
        return ("fits", "fits, limited", "needs first", "not known", "refused")[self.value]


@dataclass(frozen=True)
class Gap:
    """A missing fact: its key, a name for people, every value it could have, how to find it out and what that costs."""

    key: str
    label: str
    values: tuple[object, ...]
    how: str
    minutes: float
    unit: str = ""


@dataclass(frozen=True)
class Verdict:
    """One rule's answer about one subject; `places` are the place ids it speaks of.

    `open`: it fits, but how well hangs on something that is not recorded; the sentence says what.
    """

    rule: str
    level: Level
    places: tuple[str, ...]
    sentence: str
    because: Because
    precondition: str = ""
    gap: Gap | None = None
    after: tuple[str, ...] = ()  # preconditions that come before this one's
    open: bool = False


def worst(verdicts: tuple[Verdict, ...]) -> Level:
    return max((v.level for v in verdicts), default=Level.FITS)


def ranked(verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
    """Worst first; rule order kept among equals."""
    return tuple(sorted(verdicts, key=lambda v: -v.level))
