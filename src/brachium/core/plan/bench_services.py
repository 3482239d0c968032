"""Work that any bench can do without buying a part, offered where the price list has no entry of its own for it."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Service
from brachium.core.plan.candidates import CatalogueItem, Group
from brachium.core.plan.prefilter import worth_judging
from brachium.core.plan.shelf_items import shelf_items
from brachium.core.record.parts_shelf import ShelfPart

NOTHING = Decimal(0)  # to buy; minutes and paste are counted by the work itself
BENCH_SERVICES: tuple[CatalogueItem, ...] = (
    CatalogueItem("bench-clean", Group.CLEANING, "Clean fan and fins", NOTHING, services=(Service.CLEAN_FINS,),
                  note="Work of the bench, nothing to buy."),
    CatalogueItem("bench-paste", Group.PASTE, "New paste", NOTHING, services=(Service.NEW_PASTE,),
                  note="Of the bench's own paste; enter one in Parts and prices to have it judged and priced."),
    CatalogueItem("bench-voltage", Group.VOLTAGE, "Lower the processor's voltage", NOTHING,
                  services=(Service.LOWER_VOLTAGE,),
                  note="Where the firmware allows it. It is tested for an hour and goes back at the first error."),
)  # fmt: skip


def offered_items(
    machine: Machine, shelf: Sequence[ShelfPart], catalogue: Sequence[CatalogueItem], job_id: str
) -> tuple[CatalogueItem, ...]:
    """What can be planned for a machine: parts of the shelf, of the price list what is worth judging, and the bench's
    own work."""
    own = tuple(s for s in BENCH_SERVICES if s.group not in {i.group for i in catalogue})
    return (*shelf_items(shelf, job_id), *worth_judging(machine, catalogue), *own)
