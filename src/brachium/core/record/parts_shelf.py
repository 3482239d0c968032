"""The parts shelf: what the shop owns already, pulled from machines or from donors, and for which job it is kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from enum import StrEnum

from brachium.core.base.text import lower_first, phrase
from brachium.core.machine.parts import Part
from brachium.core.record.job import Job


class PartState(StrEnum):
    """What is known of a part's health."""

    TESTED = "tested good"
    UNTESTED = "untested"
    DOUBTFUL = "doubtful"


@dataclass(frozen=True)
class ShelfPart:
    """One part. `origin` says where it came from; price None = not priced; `reserved_for` is a job's id or empty."""

    id: str
    part: Part
    origin: str
    state: PartState = PartState.UNTESTED
    price: Decimal | None = None
    reserved_for: str = ""
    note: str = ""


def put_on(shelf: Sequence[ShelfPart], part: Part, origin: str, mark: str = "") -> tuple[ShelfPart, ...]:
    """The shelf with one more part, untested; `mark` as in `free_part_id`."""
    return (*shelf, ShelfPart(free_part_id(shelf, mark), part, origin))


def free_part_id(shelf: Sequence[ShelfPart], mark: str = "") -> str:
    """An id that no part of the shelf has; `mark` tells it from one that another bench gives at the same moment."""
    taken = {p.id for p in shelf}
    number = 1
    while f"part-{number}{mark}" in taken:
        number += 1
    return f"part-{number}{mark}"


def pull_part(
    job: Job, place_id: str, shelf: Sequence[ShelfPart], mark: str = ""
) -> tuple[Job, tuple[ShelfPart, ...]] | None:
    """A part taken out of a machine and put on the shelf: (record, shelf); None where the place is empty."""
    part = job.machine.configuration().parts.get(place_id)
    if part is None:
        return None
    label = lower_first(job.machine.place_label(place_id))
    return replace(job, machine=job.machine.with_part(place_id, None)), put_on(
        shelf, part, phrase("{job}, {label}", job=job.name, label=label), mark
    )


def with_changed_part(shelf: Sequence[ShelfPart], part_id: str, **changes: object) -> tuple[ShelfPart, ...]:
    """The shelf with one part changed."""
    return tuple(replace(p, **changes) if p.id == part_id else p for p in shelf)  # type: ignore[arg-type]


def without_part(shelf: Sequence[ShelfPart], part_id: str) -> tuple[ShelfPart, ...]:
    return tuple(p for p in shelf if p.id != part_id)


def shelf_worth(shelf: Sequence[ShelfPart]) -> tuple[Decimal, int]:
    """(sum of the prices that are known, how many parts have none)."""
    prices = [p.price for p in shelf]
    return sum((p for p in prices if p is not None), Decimal(0)), sum(p is None for p in prices)
