"""Places that a kind of machine usually has, each marked typical: to be confirmed, changed or struck out."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.core.base.text import phrase
from brachium.core.base.why import Origin
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import DriveBay, Machine, ModuleSlot
from brachium.core.machine.parts import BayForm, DriveInterface, MemoryForm, MemoryGeneration
from brachium.core.machine.platform import CardSlot

G, K = MemoryGeneration, MachineKind
SATA_2_5, SATA_3_5 = (DriveInterface.SATA, BayForm.IN_2_5), (DriveInterface.SATA, BayForm.IN_3_5)
NVME, OPTICAL = (DriveInterface.NVME, BayForm.M2), (DriveInterface.SATA, BayForm.OPTICAL)
PATA = (DriveInterface.PATA, BayForm.IN_3_5)
BAY_NAMES = {
    BayForm.IN_2_5: "Drive bay", BayForm.IN_3_5: "Drive bay", BayForm.M2: "M.2 slot", BayForm.OPTICAL: "Optical bay",
    BayForm.OPTICAL_HIGH: "Optical bay", BayForm.MINI_CARD: "Mini-card slot", BayForm.CARD: "Card drive",
    BayForm.SOLDERED: "Soldered drive",
}  # fmt: skip
STEMS = ("slots", "bays", "platform.cards")
WITH_M2 = (G.DDR4, G.DDR5, G.LPDDR4, G.LPDDR5)  # boards of these years have a place for it
BEFORE_SATA = (G.SDR, G.RDRAM, G.DDR)


@dataclass(frozen=True)
class Usual:
    """What a kind usually has: form and number of memory slots, bays, lanes of card slots."""

    memory: MemoryForm
    slots: int
    bays: tuple[tuple[DriveInterface, BayForm], ...]
    cards: tuple[int, ...] = ()


USUAL: dict[MachineKind, Usual] = {
    K.LAPTOP: Usual(MemoryForm.SO_DIMM, 2, (SATA_2_5,)),
    K.TABLET: Usual(MemoryForm.SOLDERED, 1, ()),
    K.HANDHELD: Usual(MemoryForm.SOLDERED, 1, (NVME,)),
    K.MINI_PC: Usual(MemoryForm.SO_DIMM, 2, (SATA_2_5,)),
    K.SMALL_DESKTOP: Usual(MemoryForm.DIMM, 2, (SATA_3_5,)),
    K.ALL_IN_ONE: Usual(MemoryForm.SO_DIMM, 2, (SATA_3_5,)),
    K.TOWER: Usual(MemoryForm.DIMM, 4, (SATA_3_5, SATA_3_5), (16, 1)),
    K.WORKSTATION: Usual(MemoryForm.DIMM, 4, (SATA_3_5, SATA_3_5), (16, 4)),
    K.STORAGE_BOX: Usual(MemoryForm.DIMM, 2, (SATA_3_5,) * 4),
    K.RETRO: Usual(MemoryForm.DIMM, 3, (PATA,)),
}


def with_typical_places(machine: Machine, generation: MemoryGeneration | None, slots: int | None = None) -> Machine:
    """The machine with what its kind usually has where nothing is recorded yet; `slots` is a stated number of places.

    Memory slots need their generation: without one there are none. A kind that is not known brings nothing.
    """
    usual = USUAL.get(machine.kind)
    if usual is None:
        return machine
    if not machine.slots and generation is not None:
        form = MemoryForm.SOLDERED if generation.value.startswith("LP") else usual.memory
        form = MemoryForm.RIMM if generation is G.RDRAM else form
        for _ in range(slots if slots is not None else usual.slots):
            machine, _id = with_slot(machine, form, generation, Origin.TYPICAL if slots is None else Origin.TYPED)
    if not machine.bays:
        for interface, form_ in _bays(usual, machine.kind, generation):
            machine, _id = with_bay(machine, interface, form_, Origin.TYPICAL)
    if not machine.platform.cards:
        for lanes in usual.cards:
            machine, _id = with_card_place(machine, lanes, Origin.TYPICAL)
    return machine


def _bays(
    usual: Usual, kind: MachineKind, generation: MemoryGeneration | None
) -> tuple[tuple[DriveInterface, BayForm], ...]:
    """Bays of the kind in the years of that memory."""
    if generation in BEFORE_SATA:
        return tuple((DriveInterface.PATA, form) for _, form in usual.bays)
    with_m2 = generation in WITH_M2 and NVME not in usual.bays and kind is not K.RETRO
    return (NVME, *usual.bays) if with_m2 else usual.bays


def with_slot(machine: Machine, form: MemoryForm, generation: MemoryGeneration, origin: Origin) -> tuple[Machine, str]:
    """One memory slot more, and its id; channel and largest module stay not known."""
    soldered = form is MemoryForm.SOLDERED
    number = 1 + sum((s.form is MemoryForm.SOLDERED) is soldered for s in machine.slots)
    label = (
        ("Soldered memory" if number == 1 else phrase("Soldered memory {number}", number=number))
        if soldered
        else phrase("Memory slot {number}", number=number)
    )
    slot = ModuleSlot(free_id("slot", [s.id for s in machine.slots]), label, form, generation)
    return noted(replace(machine, slots=(*machine.slots, slot)), f"slots.{slot.id}", origin), slot.id


def with_bay(machine: Machine, interface: DriveInterface, form: BayForm, origin: Origin) -> tuple[Machine, str]:
    """One drive bay more, and its id; link, height and screws stay not known."""
    name = BAY_NAMES[form]
    number = 1 + sum(b.label.startswith(name) for b in machine.bays)
    bay = DriveBay(
        free_id("bay", [b.id for b in machine.bays]),
        name if number == 1 else phrase("{name} {number}", name=name, number=number),
        interface,
        form,
        None,
        None,
    )
    return noted(replace(machine, bays=(*machine.bays, bay)), f"bays.{bay.id}", origin), bay.id


def with_card_place(machine: Machine, lanes: int, origin: Origin) -> tuple[Machine, str]:
    """One card slot more, and its id."""
    cards = machine.platform.cards
    slot = CardSlot(free_id("card", [c.id for c in cards]), phrase("Card slot {count}", count=len(cards) + 1), lanes)
    made = replace(machine, platform=replace(machine.platform, cards=(*cards, slot)))
    return noted(made, f"platform.cards.{slot.id}", origin), slot.id


def is_typical(machine: Machine, place: str) -> bool:
    """Whether a place comes with the kind of machine and nobody has looked yet."""
    return any(machine.origins.get(f"{stem}.{place}") is Origin.TYPICAL for stem in STEMS)


def confirmed(machine: Machine, place: str) -> Machine:
    """The machine with a typical place that somebody saw."""
    seen = {
        phrase("{stem}.{place}", stem=stem, place=place): Origin.TYPED
        for stem in STEMS
        if f"{stem}.{place}" in machine.origins
    }
    return replace(machine, origins={**machine.origins, **seen})


def free_id(stem: str, taken: list[str]) -> str:
    """An id made of a stem that is not taken yet."""
    number = 1
    while f"{stem}-{number}" in taken:
        number += 1
    return f"{stem}-{number}"


def noted(machine: Machine, key: str, origin: Origin) -> Machine:
    """The machine with the origin of one fact noted."""
    return replace(machine, origins={**machine.origins, key: origin})
