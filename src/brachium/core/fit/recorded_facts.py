"""A missing fact recorded in a job: in the machine's record, among the locks, or of a part for sale."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from brachium.core.fit.fill import fillable, with_fact
from brachium.core.fit.gap_words import gap_words
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.record.job import Job

LOCKS = "locks."
OF_PART = " of "  # keys of gaps that ask for a fact of a part: `ranks of 8 GiB module`


def can_record(job: Job, gap: Gap) -> bool:
    """Whether the job has a place for the fact."""
    return gap.key.startswith(LOCKS) or OF_PART in gap.key or fillable(job.machine, gap)


def with_answer(job: Job, gap: Gap, value: object) -> Job:
    """The job with what was found out; of a part for sale it is kept beside the plan, None forgets it.

    Raises KeyError where the job has no place for it.
    """
    if OF_PART not in gap.key:
        return with_job_fact(job, gap.key, value)
    known = {k: v for k, v in job.part_facts.items() if k != gap.key}
    return replace(job, part_facts=known if value is None else {**known, gap.key: gap_words(gap, value)})


def with_job_fact(job: Job, key: str, value: object) -> Job:
    """The job with the fact. Raises KeyError where it has no place for it."""
    if key.startswith(LOCKS):
        name = key.removeprefix(LOCKS)
        if not hasattr(job.locks, name):
            raise KeyError(key)
        changed: dict[str, Any] = {name: value}
        return replace(job, locks=replace(job.locks, **changed))
    return replace(job, machine=with_fact(job.machine, key, value))


def gaps_of(verdicts: Sequence[Verdict]) -> tuple[Gap, ...]:
    """The facts that verdicts wait for, the quickest to find first, each once."""
    found = {v.gap.key: v.gap for v in verdicts if v.gap is not None}
    return tuple(sorted(found.values(), key=lambda g: (g.minutes, g.key)))
