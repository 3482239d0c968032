"""A missing fact recorded in a job: in the machine's record, or among the locks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from brachium.core.base.typed_numbers import typed_float, typed_int
from brachium.core.fit.fill import fillable, with_fact
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.record.job import Job

LOCKS = "locks."


def can_record(job: Job, gap: Gap) -> bool:
    """Whether the job has a place for the fact; facts of a part for sale belong into the price list."""
    return gap.key.startswith(LOCKS) or fillable(job.machine, gap)


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


def value_words(value: object, unit: str = "") -> str:
    """A value as a choice for people."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return " and ".join(value_words(v) for v in value) or "none of them"
    if isinstance(value, float):
        value = f"{value:g}"
    return f"{value} {unit}".rstrip()


def typed_value(text: str, gap: Gap) -> object | None:
    """What was typed for a fact, of the kind that its values have; None where it is no such value."""
    kind = type(gap.values[0])
    if kind is str:
        return text or None
    try:
        return typed_int(text) if kind is int else typed_float(text) if kind is float else None
    except ValueError:
        return None


def is_typed(gap: Gap) -> bool:
    """Whether its value is typed; else it is one of a few."""
    return type(gap.values[0]) in (int, float, str)
