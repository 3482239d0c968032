"""Parts of the shelf as things to choose: those that are free, and those kept for the job in question."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from brachium.core.base.text import phrase
from brachium.core.machine.part_words import part_title
from brachium.core.plan.candidates import PART_GROUPS, CatalogueItem
from brachium.core.record.parts_shelf import PartState, ShelfPart

PREFIX = "shelf-"


def shelf_items(shelf: Sequence[ShelfPart], job_id: str) -> tuple[CatalogueItem, ...]:
    """One item per part; one without a price counts nothing, and says so."""
    return tuple(_item(p, job_id) for p in shelf if p.reserved_for in ("", job_id))


def _item(part: ShelfPart, job_id: str) -> CatalogueItem:
    group = PART_GROUPS[part.part.kind]
    kept = ", kept for this machine" if part.reserved_for == job_id else ""
    doubt = "" if part.state is PartState.TESTED else phrase(", {state}", state=part.state)
    price = part.price if part.price is not None else Decimal(0)
    unpriced = "" if part.price is not None else "; not priced, counted as nothing"
    note = phrase(
        "From the shelf: {origin}, {state}{kept}{unpriced}.",
        origin=part.origin,
        state=part.state,
        kept=kept,
        unpriced=unpriced,
    ) + (phrase(" {note}.", note=part.note) if part.note else "")
    return CatalogueItem(
        phrase("{prefix}{part}", prefix=PREFIX, part=part.id),
        group,
        phrase("{part_title}, shelf{doubt}", part_title=part_title(part.part), doubt=doubt),
        price,
        1,
        part.part,
        (),
        note,
    )


def part_of(candidate_id: str) -> str:
    """The shelf's id of a candidate's part; empty where it is bought."""
    return candidate_id.partition("@")[0].removeprefix(PREFIX) if candidate_id.startswith(PREFIX) else ""
