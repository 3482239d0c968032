"""Evidence for the claim that a part works in a model at a firmware version: sources added up in log-odds.

Log-odds start at -1; each kind of source adds its weight, a failure report the same with minus. The sum of a kind is
capped at 1.5 times one source, except maker's list and own jobs; copies of a source count once.
"""

from __future__ import annotations

from math import exp

from brachium.core.fit.assumptions import CAP, PRIOR
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind

WEIGHTS = {
    SourceKind.MAKER: 3.0, SourceKind.OWN_JOB: 3.0, SourceKind.SAME_FIRMWARE: 1.5, SourceKind.SAME_MODEL: 1.0,
    SourceKind.DATABASE: 0.5, SourceKind.SAME_SOCKET: 0.2,
}  # fmt: skip
UNCAPPED = (SourceKind.MAKER, SourceKind.OWN_JOB)


def log_odds(sources: tuple[Source, ...]) -> float:
    """Sum of the weights with the caps, from -1 on."""
    total = PRIOR
    seen: set[tuple[SourceKind, bool, str]] = set()
    for kind in SourceKind:
        weight, own = WEIGHTS[kind], 0.0
        for source in sources:
            if source.kind is not kind:
                continue
            told = source.copy_of or source.note
            key = (kind, source.works, told)
            if told and key in seen:
                continue
            seen.add(key)
            own += weight if source.works else -weight
        limit = float("inf") if kind in UNCAPPED else CAP * weight
        total += max(-limit, min(own, limit))
    return total


def probability(sources: tuple[Source, ...]) -> float:
    return 1.0 / (1.0 + exp(-log_odds(sources)))


def claim_for(claims: tuple[CompatibilityClaim, ...], part: str, model: str) -> CompatibilityClaim:
    """The claim about a part in a model; one without sources where nothing is recorded."""
    return next((c for c in claims if c.part == part and c.model == model), CompatibilityClaim(part, model))
