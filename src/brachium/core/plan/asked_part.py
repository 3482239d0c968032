"""A part that somebody asks about, read from a label or quick words, at the place where it would go."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal

from brachium.core.base.text import lower_first, phrase
from brachium.core.label.drive_label import DriveLabel
from brachium.core.label.graphics_label import GraphicsLabel
from brachium.core.label.module_label import ModuleLabel
from brachium.core.label.parts_of_labels import (
    adapter_of,
    battery_of,
    card_of,
    drive_of,
    module_of,
    processor_part_of,
    supply_of,
)
from brachium.core.label.power_label import AdapterLabel, BatteryLabel, SupplyLabel
from brachium.core.label.processor_label import ProcessorLabel
from brachium.core.label.quick_line import QuickPiece, read_quick_line
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryModule, Part
from brachium.core.plan.candidates import PART_GROUPS, SINGLE, Assignment, Candidate, CatalogueItem, Group, candidates

ASKED = "asked"


@dataclass(frozen=True)
class AskedPart:
    """A part that was asked about: how it was read, what it lacks, what was taken as the place has it.

    `part` is None where too little was said; `lacks` says what.
    """

    piece: QuickPiece | None
    part: Part | None
    count: int = 1
    lacks: str = ""
    as_place: tuple[str, ...] = ()


def read_part(machine: Machine, text: str) -> AskedPart:
    """The part of a label or of quick words. Never raises."""
    pieces = [p for p in read_quick_line(text).pieces if p.kind not in ("", "machine")]
    if not pieces:
        return AskedPart(None, None, lacks="no part was understood")
    piece = pieces[0]
    try:
        return _part_of(machine, piece)
    except ValueError as error:
        return AskedPart(piece, None, lacks=str(error))


def _part_of(machine: Machine, piece: QuickPiece) -> AskedPart:
    match piece.reading:
        case ModuleLabel() as label:
            return _module(machine, piece, label)
        case DriveLabel() as label:
            return _drive(machine, piece, label)
        case ProcessorLabel() as label:
            return AskedPart(piece, processor_part_of(label))
        case GraphicsLabel() as label:
            return AskedPart(piece, card_of(label))
        case BatteryLabel() as label:
            return AskedPart(piece, battery_of(label))
        case AdapterLabel() as label:
            return AskedPart(piece, adapter_of(label))
        case SupplyLabel() as label:
            return AskedPart(piece, supply_of(label))
        case _:
            return AskedPart(piece, None, lacks="no part was understood")


def _module(machine: Machine, piece: QuickPiece, label: ModuleLabel) -> AskedPart:
    """Form and generation that nobody said are the places' own; that is named."""
    places = [s for s in machine.slots if s.takes_module]
    taken = []
    if label.form is None and len({s.form for s in places}) == 1:
        label = replace(label, form=places[0].form)
        taken.append(phrase("form: {form}, as the machine's slots", form=places[0].form))
    if label.generation is None and len({s.generation for s in places}) == 1:
        label = replace(label, generation=places[0].generation)
        taken.append(phrase("kind: {generation}, as the machine's slots", generation=places[0].generation))
    return AskedPart(piece, module_of(label), label.count, "", tuple(taken))


def _drive(machine: Machine, piece: QuickPiece, label: DriveLabel) -> AskedPart:
    """A form or link that nobody said is the usual one: 2.5 in and SATA, NVMe in M.2; that is named."""
    taken = []
    form, interface = label.form, label.interface
    if form is None:
        form = (
            BayForm.M2
            if interface is DriveInterface.NVME
            else BayForm.IN_3_5
            if _standing_disk(machine, label)
            else BayForm.IN_2_5
        )
        taken.append(phrase("form: {form}, as usual for it", form=form))
    if interface is None:
        m2 = [b.interface for b in machine.bays if b.form is BayForm.M2]
        interface = m2[0] if form is BayForm.M2 and m2 else DriveInterface.SATA
        taken.append(phrase("link: {interface}, as usual for it", interface=interface))
    return AskedPart(piece, drive_of(replace(label, form=form, interface=interface)), 1, "", tuple(taken))


def _standing_disk(machine: Machine, label: DriveLabel) -> bool:
    return bool(label.rotational) and any(b.form is BayForm.IN_3_5 for b in machine.bays)


def places_for(machine: Machine, asked: AskedPart, place: str = "") -> tuple[Candidate, ...]:
    """The part at its places, the likeliest first; at `place` alone where one is named by id or label.

    None of them where the named place is for something else. Raises KeyError where the machine has no such place.
    """
    part = asked.part
    if part is None:
        return ()
    title = asked.piece.text if asked.piece is not None else part.name
    item = CatalogueItem(ASKED, PART_GROUPS[part.kind], title, Decimal(0), asked.count, part)
    if place:
        where = _place_id(machine, place)
        if not _is_for(machine, where, item.group):
            return ()
        return (Candidate(ASKED, item.group, title, lower_first(machine.place_label(where)), item.price,
                          (Assignment(where, part),)),)  # fmt: skip
    found = candidates(machine, (item,))
    return tuple(sorted(found, key=lambda c: _unlikely(machine, part, c)))


def _is_for(machine: Machine, place: str, group: Group) -> bool:
    """Whether a place takes a kind of part at all."""
    several = {
        Group.MEMORY: [s.id for s in machine.slots], Group.DRIVE: [b.id for b in machine.bays],
        Group.CARD: [c.id for c in machine.platform.cards], Group.FAN: [h.id for h in machine.platform.headers],
    }  # fmt: skip
    if group in several:
        return place in several[group]
    return SINGLE.get(group) == place


def _place_id(machine: Machine, name: str) -> str:
    ids = [s.id for s in machine.slots] + [b.id for b in machine.bays] + [c.id for c in machine.platform.cards]
    ids += [h.id for h in machine.platform.headers]
    for one in ids:
        if name == one or name.casefold() == machine.place_label(one).casefold():
            return one
    if machine.place_label(name) != name:
        return name
    raise KeyError(name)


def _unlikely(machine: Machine, part: Part, candidate: Candidate) -> tuple[bool, bool]:
    """A drive goes where its form and link are, into a free place before a filled one."""
    fitted = machine.configuration().parts
    bay = next((b for b in machine.bays if b.id in candidate.places), None)
    if bay is None or not isinstance(part, Drive):
        return False, any(p in fitted for p in candidate.places)
    wrong = bay.form is not part.form or part.interface not in (bay.interface, *bay.also)
    return wrong, bay.id in fitted


def no_place(machine: Machine, asked: AskedPart, place: str = "") -> str:
    """Why a part has no place in a machine, or not the named one, and what to record."""
    part = asked.part
    if place and part is not None:
        return phrase(
            "{place_label} does not take a {part_groups}",
            place_label=machine.place_label(_place_id(machine, place)).lower(),
            part_groups=PART_GROUPS[part.kind],
        )
    if isinstance(part, MemoryModule):
        if not machine.slots:
            return "no memory slot is recorded: say the kind of machine, or how many slots it has"
        free = [s for s in machine.slots if s.takes_module]
        if not free:
            return "the memory is soldered: there is no slot for a module"
        return phrase("{count} modules, and the machine has {count2} slots", count=asked.count, count2=len(free))
    if isinstance(part, Drive) and not machine.bays:
        return "no drive bay is recorded: say the kind of machine, or its bays"
    group = PART_GROUPS[part.kind] if part is not None else Group.CARD
    if group is Group.PROCESSOR and machine.platform.board.soldered:
        return "the processor is soldered to the board"
    return (
        phrase("{kind}: nowhere to put it", kind=machine.kind)
        if group is not Group.CARD
        else "no card slot is recorded"
    )
