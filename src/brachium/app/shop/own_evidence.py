"""The shop's own finished jobs as evidence: a part that was planned and handed over in a machine of the same model."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from brachium.core.base.problems import Problem
from brachium.core.fit.evidence import claim_for
from brachium.core.record.card import Waits
from brachium.core.record.evidence import Claim, Source, SourceKind
from brachium.core.record.job import Job

if TYPE_CHECKING:
    from brachium.app.shop.reading import ShopReading

FINISHED = (Waits.DONE, Waits.ARCHIVED)


def with_own_jobs(shop: ShopReading, job: Job, claims: Sequence[Claim]) -> tuple[Claim, ...]:
    """The claims with one source more for every finished job of the same model that held the part."""
    model = job.machine.identity.model
    if not model:
        return tuple(claims)
    names = {i.id: i.part.name for i in shop.catalogue if i.part is not None}
    found: dict[str, list[Source]] = {}
    for card in shop.cards():
        if card.waits not in FINISHED or card.id == job.id or model.lower() not in card.words:
            continue
        try:
            other = shop.job(card.id)
        except Problem:
            continue
        if other.machine.identity.model != model or not other.handed_over:
            continue
        for item in {i.partition("@")[0] for i in other.plan}:
            if item in names:
                source = Source(SourceKind.OWN_JOB, True, other.handed_over[:10], other.name, f"job {other.id}")
                found.setdefault(names[item], []).append(source)
    out = list(claims)
    for part, sources in found.items():
        old = claim_for(tuple(claims), part, model)
        out = [c for c in out if (c.part, c.model) != (part, model)]
        out.append(replace(old, sources=(*old.sources, *sources)))
    return tuple(out)
