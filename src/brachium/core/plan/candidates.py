"""Catalogue items, and the candidates they make on one machine."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal
from enum import StrEnum

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.machine.card_parts import Card
from brachium.core.machine.carried_places import carried_place_id
from brachium.core.machine.kinds import ON_ADAPTER, PORTABLE, MachineKind
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.parts import BayForm, Drive, MemoryModule, Part, Service
from brachium.core.machine.platform import ADAPTER, BATTERY, BOARD, COOLER, PADS, PASTE, RADIO, SOCKET, SUPPLY
from brachium.core.plan.population import best_population
from brachium.core.plan.price_offer import PriceOffer, Rates, cheapest_offer, offer_words, with_rates


class Group(StrEnum):
    """Kinds of change. The front weighs at most one of each: a second drive, card or fan brings no work per time beyond
    the better of the two, so that it can only be planned by hand."""

    MEMORY = "memory"
    DRIVE = "drive"
    PASTE = "paste"
    CLEANING = "cleaning"
    PROCESSOR = "processor"
    COOLER = "cooler"
    FAN = "fan"
    CARD = "card"
    SUPPLY = "supply"
    BOARD = "board"
    ADAPTER = "adapter"
    BATTERY = "battery"
    RADIO = "radio"
    PADS = "pads"
    VOLTAGE = "voltage"


CHANGED_BY: dict[Group, tuple[str, ...]] = {
    Group.BATTERY: ("battery", "charging", "charge"), Group.ADAPTER: ("adapter", "charging"),
    Group.BOARD: ("firmware", "memory profile", "temperature from"), Group.CARD: ("graphics driver",),
    Group.MEMORY: ("memory profile",),
}  # fmt: skip
PART_GROUPS: dict[str, Group] = {
    "memory": Group.MEMORY, "drive": Group.DRIVE, "processor": Group.PROCESSOR, "cooler": Group.COOLER,
    "fan": Group.FAN, "card": Group.CARD, "supply": Group.SUPPLY, "board": Group.BOARD, "adapter": Group.ADAPTER,
    "battery": Group.BATTERY, "radio": Group.RADIO, "paste": Group.PASTE, "pad": Group.PADS,
}  # fmt: skip
SINGLE = {
    Group.PROCESSOR: SOCKET, Group.COOLER: COOLER, Group.SUPPLY: SUPPLY, Group.BOARD: BOARD, Group.ADAPTER: ADAPTER,
    Group.BATTERY: BATTERY, Group.RADIO: RADIO, Group.PASTE: PASTE, Group.PADS: PADS,
}  # fmt: skip
STANDING_ONLY = (Group.SUPPLY, Group.BOARD, Group.COOLER)


@dataclass(frozen=True)
class CatalogueItem:
    """Something the shop can buy or do. `count` modules make a kit; price is for the whole item."""

    id: str
    group: Group
    title: str
    price: Decimal
    count: int = 1
    part: Part | None = None
    services: tuple[Service, ...] = ()
    note: str = ""  # where a part of the shop's own comes from, and what is known of it
    offers: tuple[PriceOffer, ...] = ()  # where there are any, `price` is the cheapest's with shipping


def with_weighed_offers(items: tuple[CatalogueItem, ...], rates: Rates) -> tuple[CatalogueItem, ...]:
    """Items with their offers in other currencies weighed at these rates; the cheapest offer is an item's price."""
    return tuple(_weighed(i, rates) if i.offers else i for i in items)


def _weighed(item: CatalogueItem, rates: Rates) -> CatalogueItem:
    offers = with_rates(item.offers, rates)
    best = cheapest_offer(offers)
    total = best.own_total if best is not None else None
    return replace(item, offers=offers, price=item.price if total is None else total)


@dataclass(frozen=True)
class Assignment:
    """What a candidate puts into a place; None empties it."""

    place_id: str
    part: Part | None


@dataclass(frozen=True)
class Candidate:
    """An item at definite places of one machine; `aside` = at another place than its best, for a person to choose."""

    id: str
    group: Group
    title: str
    where: str
    price: Decimal
    assignments: tuple[Assignment, ...] = ()
    services: tuple[Service, ...] = ()
    note: str = ""
    aside: bool = False

    @property
    def places(self) -> tuple[str, ...]:
        return tuple(a.place_id for a in self.assignments)


SEVERAL = (Group.MEMORY, Group.DRIVE, Group.CARD, Group.FAN)  # one a place; of the rest one a machine


def replaces(new: Candidate, old: Candidate) -> bool:
    """Whether planning one takes the other out of the plan: the same kind at the same place, or at the only place."""
    if new.group is not old.group:
        return False
    return new.group not in SEVERAL or bool(set(new.places) & set(old.places))


def changed_by(chosen: tuple[Candidate, ...]) -> frozenset[str]:
    """Conditions of a run that the plan itself changes, by their names: a battery that was missing is fitted."""
    groups = {c.group for c in chosen}
    return frozenset(name for group in groups for name in CHANGED_BY.get(group, ()))


def candidates(machine: Machine, catalogue: tuple[CatalogueItem, ...]) -> tuple[Candidate, ...]:
    """Every item at every place where it could be put; whether it fits is for the rules to say."""
    out: list[Candidate] = []
    carriers = tuple(i for i in catalogue if isinstance(i.part, Card) and i.part.carries is not None)
    for item in catalogue:
        if item.offers:
            item = replace(item, note=phrase("Offers: {offer_words}.", offer_words=offer_words(item.offers)))
        if isinstance(item.part, MemoryModule):
            out += _memory(machine, item, item.part)
        elif isinstance(item.part, Drive):
            out += _drive(machine, item, item.part)
            out += _on_cards(machine, item, item.part, carriers)
        elif item.part is not None:
            out += _other(machine, item, item.part)
        else:
            out.append(Candidate(item.id, item.group, item.title, "", item.price, (), item.services, item.note))
    return tuple(out)


def _memory(machine: Machine, item: CatalogueItem, module: MemoryModule) -> list[Candidate]:
    """Never in a place that was proven dead; a module proven faulty makes room (MEM-BAD).

    Modules for no place that is there go with another board: they take its first places, and the old ones leave.
    """
    alike = any((s.form, s.generation) == (module.form, module.generation) for s in machine.slots)
    if machine.slots and not alike and _may_have(machine.kind, Group.BOARD):
        return _with_another_board(machine, item, module)
    best = _best_moves(machine, item, module)
    if not best:
        return []
    taken = [m.place_id for m in best if m.part == module]
    like = [s for s in machine.slots if (s.form, s.generation) == (module.form, module.generation) and s.takes_module]
    others = [s.id for s in like if s.id not in (*taken, *machine.bad_places)]
    return [
        Candidate(item.id, item.group, item.title, memory_words(machine, best), item.price, best, (), item.note),
        *(Candidate(f"{item.id}@{p}", item.group, item.title, lower_first(machine.place_label(p)), item.price,
                    (Assignment(p, module),), (), item.note, True)
          for p in others if item.count == 1),
    ]  # fmt: skip


def _best_moves(machine: Machine, item: CatalogueItem, module: MemoryModule) -> tuple[Assignment, ...]:
    """What the best population with an item changes; where none keeps the limits its likeliest places, for the rules to
    refuse."""
    found = best_population(machine, [module] * item.count, all_bought=True)
    if found is None:
        return tuple(Assignment(p, module) for p in _places_for(machine, item.count))
    today = machine.configuration().modules()
    usable = [s.id for s in machine.slots if s.takes_module and s.id not in machine.bad_places]
    return tuple(Assignment(p, found.parts.get(p)) for p in usable if found.parts.get(p) != today.get(p))


def memory_words(machine: Machine, moves: tuple[Assignment, ...]) -> str:
    """Where modules go, which move, which come out."""
    fitted = list(machine.configuration().modules().values())
    filled = [m for m in moves if m.part is not None]
    new = [m for m in filled if m.part not in fitted] or filled
    moved = [m for m in filled if m not in new]
    out = [] if moved else [m for m in moves if m.part is None]
    words = _named(machine, new)
    if moved:
        words += phrase("; a fitted module moves to {named}", named=_named(machine, moved))
    return words + (phrase("; {named} emptied", named=_named(machine, out)) if out else "")


def _named(machine: Machine, moves: list[Assignment]) -> str:
    return joined(" and ", (lower_first(machine.place_label(m.place_id)) for m in moves))


def _places_for(machine: Machine, count: int) -> list[str]:
    """Where so many modules go, in the board's own order where it is known; empty where there are too few places."""
    filled = machine.configuration().modules()
    usable = [s.id for s in machine.slots if s.takes_module and s.id not in machine.bad_places]
    first = [s for s in machine.memory.fill_first if s in usable]
    usable = first + [s for s in usable if s not in first]
    free = [s for s in usable if s not in filled or s in machine.bad_parts]
    if count == 1 and free:
        return free[:1]
    return usable[:count] if count <= len(usable) else []


def _with_another_board(machine: Machine, item: CatalogueItem, module: MemoryModule) -> list[Candidate]:
    """Another board's first places take the names of the old ones, in their order, those proven dead last."""
    places = sorted((s.id for s in machine.slots), key=lambda p: p in machine.bad_places)
    if item.count > len(places):
        return []
    moves = [Assignment(p, module) for p in places[: item.count]]
    moves += [
        Assignment(p, None)
        for p in places[item.count :]
        if p in machine.configuration().parts and p not in machine.bad_places  # what is dead leaves with its board
    ]
    where = joined(" and ", (lower_first(machine.place_label(p)) for p in places[: item.count]))
    return [Candidate(item.id, item.group, item.title, where, item.price, tuple(moves), (), item.note)]


def _drive(machine: Machine, item: CatalogueItem, drive: Drive) -> list[Candidate]:
    return [
        Candidate(f"{item.id}@{bay.id}", item.group, item.title, lower_first(bay.label), item.price,
                  (Assignment(bay.id, drive),), (), item.note)
        for bay in machine.bays if bay.form is not BayForm.SOLDERED
    ]  # fmt: skip


def _on_cards(
    machine: Machine, item: CatalogueItem, drive: Drive, carriers: tuple[CatalogueItem, ...]
) -> list[Candidate]:
    """An M.2 drive together with a card that carries it, at every free place for cards."""
    fitted = machine.configuration().parts
    free = [c for c in machine.platform.cards if c.id not in fitted and not c.outside]
    return [
        Candidate(
            phrase("{item}+{carrier}@{slot}", item=item.id, carrier=carrier.id, slot=slot.id),
            item.group,
            phrase("{item} on {carrier}", item=item.title, carrier=lower_first(carrier.title)),
            lower_first(slot.label),
            item.price + carrier.price,
            (Assignment(slot.id, carrier.part), Assignment(carried_place_id(slot.id), drive)),
            (),
            item.note,
        )
        for carrier in carriers
        for slot in free
        if isinstance(carrier.part, Card) and (drive.form, drive.interface) == (BayForm.M2, carrier.part.carries)
    ]


def _other(machine: Machine, item: CatalogueItem, part: Part) -> list[Candidate]:
    """Cards and fans at each of their places; of the rest a machine has one place, or none for its kind."""
    group = PART_GROUPS[part.kind]
    if group is Group.CARD:
        places = [c.id for c in machine.platform.cards]
    elif group is Group.FAN:
        places = [h.id for h in machine.platform.headers]
    elif not _may_have(machine.kind, group) or (group is Group.PROCESSOR and machine.platform.board.soldered is True):
        places = []
    else:
        places = [SINGLE[group]]
    services = item.services or ((Service.NEW_PASTE,) if group is Group.PASTE else ())
    return [
        Candidate(f"{item.id}@{p}", item.group, item.title, lower_first(machine.place_label(p)), item.price,
                  (Assignment(p, part),), services, item.note)
        for p in places
    ]  # fmt: skip


def _may_have(kind: MachineKind, group: Group) -> bool:
    """Whether a kind of machine has the place at all; one of unknown kind may have any."""
    if kind is MachineKind.NOT_KNOWN:
        return True
    if group is Group.ADAPTER:
        return kind in ON_ADAPTER
    if group is Group.BATTERY:
        return kind in PORTABLE
    return group not in STANDING_ONLY or kind not in PORTABLE


def planned(machine: Machine, chosen: tuple[Candidate, ...]) -> Configuration:
    """The machine as it will be with these candidates."""
    changes: dict[str, Part | None] = {}
    for candidate in chosen:
        changes.update({a.place_id: a.part for a in candidate.assignments})
    return machine.configuration().with_changes(changes)


def services_of(chosen: tuple[Candidate, ...]) -> tuple[Service, ...]:
    return tuple(service for candidate in chosen for service in candidate.services)
