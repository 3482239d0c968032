"""The shop's own finished jobs as evidence: a part that was planned and handed over in a machine of the same model."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.fit.evidence import claim_for
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
from brachium.core.record.job import Job


def with_own_jobs(
    job: Job, claims: Sequence[CompatibilityClaim], finished: Iterable[Job], names: Mapping[str, str]
) -> tuple[CompatibilityClaim, ...]:
    """The claims with one source more for every finished job of the same model that held the part.

    `names` are the names of parts by the id of their item.
    """
    model = job.machine.identity.model
    if not model:
        return tuple(claims)
    found: dict[str, list[Source]] = {}
    for other in finished:
        if other.id == job.id or other.machine.identity.model != model or not other.handed_over:
            continue
        for item in {i.partition("@")[0] for i in other.plan} & set(names):
            source = Source(
                SourceKind.OWN_JOB, True, other.handed_over[:10], other.name, phrase("job {other}", other=other.id)
            )
            found.setdefault(names[item], []).append(source)
    return _with_sources(claims, found, model)


def _with_sources(
    claims: Sequence[CompatibilityClaim], found: Mapping[str, Sequence[Source]], model: str
) -> tuple[CompatibilityClaim, ...]:
    out = list(claims)
    for part, sources in found.items():
        old = claim_for(tuple(claims), part, model)
        out = [c for c in out if (c.part, c.model) != (part, model)]
        out.append(replace(old, sources=(*old.sources, *sources)))
    return tuple(out)
