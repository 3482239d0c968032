"""Verdicts that a person may accept with a written reason: not known, and limited by power. Never refused."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.fit.verdict import Level, Verdict
from brachium.core.record.acceptance import Acceptance

BY_POWER = ("CPU-POWER", "CPU-COOL", "COOL-RATE", "PSU-LOAD")


def acceptable(verdict: Verdict) -> bool:
    return verdict.level is Level.NOT_KNOWN or (verdict.level is Level.LIMITED and verdict.rule in BY_POWER)


def accepted_by(verdict: Verdict, given: Sequence[Acceptance]) -> Acceptance | None:
    """The acceptance of just this verdict: another sentence is another risk."""
    return next(
        (a for a in given if (a.rule, a.places, a.sentence) == (verdict.rule, verdict.places, verdict.sentence)), None
    )


def still_open(verdicts: Sequence[Verdict], given: Sequence[Acceptance]) -> tuple[Verdict, ...]:
    """Verdicts that need a word before work may begin."""
    return tuple(v for v in verdicts if acceptable(v) and accepted_by(v, given) is None)
