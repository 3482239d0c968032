"""A missing fact recorded in a job: in the machine's record, or among the locks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from brachium.core.base.typed_numbers import typed_float, typed_int
from brachium.core.fit.fill import fillable, with_fact
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.facts.fact_units import Unit, figure, figure_words, unit_of
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


def unit_of_gap(gap: Gap) -> Unit:
    """The unit in which a missing figure is asked for and typed; sizes in GiB or GB, never bytes."""
    numeric = type(gap.values[0]) in (int, float)
    return unit_of(gap.key.rpartition(".")[2], "bays" in gap.key) if numeric else Unit.NONE


def gap_words(gap: Gap, value: object) -> str:
    """One of its values for people: `8 GiB`, `yes`, `1.35 and 1.5`."""
    unit = unit_of_gap(gap)
    if unit is not Unit.NONE and isinstance(value, int | float):
        return f"{figure_words(value, unit)} {unit.value.sign}".rstrip()
    return value_words(value)


def typed_value(text: str, gap: Gap) -> object:
    """What was typed for a fact, of the kind that its values have. Raises ValueError with a sentence for people."""
    kind, unit = type(gap.values[0]), unit_of_gap(gap)
    if kind is str:
        return text
    if unit is not Unit.NONE:
        value = figure(text, unit)
        return round(value) if kind is int else value
    try:
        return typed_int(text) if kind is int else typed_float(text)
    except ValueError:
        raise ValueError("A whole number." if kind is int else "A number.") from None


def is_typed(gap: Gap) -> bool:
    """Whether its value is typed; else it is one of a few."""
    return type(gap.values[0]) in (int, float, str)
