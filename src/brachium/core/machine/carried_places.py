"""Places for drives on cards: an M.2 slot that an adapter card brings, on the lanes of the place that it sits in."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import lower_first, phrase
from brachium.core.machine.card_parts import Card
from brachium.core.machine.drive_part import BayForm, DriveInterface, M2Key
from brachium.core.machine.links import PCIE_LANE_MB_S
from brachium.core.machine.machine import Configuration, DriveBay, Machine
from brachium.core.machine.platform import CardSlot

M2_LANES = 4  # of an M.2 slot of key M (PCI-SIG M.2, socket 3)
SUFFIX = ".m2"


def carried_place_id(card_place: str) -> str:
    """The id of the drive bay on a card."""
    return phrase("{card_place}{suffix}", card_place=card_place, suffix=SUFFIX)


def with_carried_places(machine: Machine, config: Configuration) -> Machine:
    """The machine with a drive bay for each card that carries one; itself where none does."""
    new = tuple(
        _place(slot, card) for slot in machine.platform.cards
        if isinstance(card := config.parts.get(slot.id), Card) and card.carries is not None
        and carried_place_id(slot.id) not in [b.id for b in machine.bays]
    )  # fmt: skip
    return replace(machine, bays=(*machine.bays, *new)) if new else machine


def _place(slot: CardSlot, card: Card) -> DriveBay:
    """Its link is the narrower of place and card at the slower generation; unknown where one of them is."""
    fast = card.carries is DriveInterface.NVME
    widths, speeds = (slot.wired or slot.lanes, card.lanes), (slot.generation, card.generation)
    known = fast and None not in (*widths, *speeds)
    lanes = min(M2_LANES, *(w for w in widths if w is not None))
    link = lanes * PCIE_LANE_MB_S[min(g for g in speeds if g is not None)] if known else None
    key = M2Key.M if fast else M2Key.B_M
    return DriveBay(
        carried_place_id(slot.id),
        phrase("M.2 on {slot}", slot=lower_first(slot.label)),
        card.carries or DriveInterface.NVME,
        BayForm.M2,
        None,
        link,
        key=key,
        lengths_mm=card.carries_lengths_mm,
    )
