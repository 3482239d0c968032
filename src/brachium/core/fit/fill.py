"""A missing fact recorded where it was named: the key of a gap is its path in the record."""

from __future__ import annotations

from dataclasses import fields, is_dataclass, replace
from typing import Any

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Origin
from brachium.core.fit.verdict import Gap
from brachium.core.machine.channels import channels_of
from brachium.core.machine.cooling_parts import Cooler
from brachium.core.machine.facts.open_facts import UNSAID
from brachium.core.machine.facts.record_facts import JOIN, PAIRS
from brachium.core.machine.machine import Lead, LeadKind, Machine
from brachium.core.machine.parts import Drive, DriveInterface, Part
from brachium.core.machine.platform import BATTERY, COOLER, SUPPLY
from brachium.core.machine.power_parts import Battery, Supply

LEADS = "leads.sata"
AS_FITTED = "as fitted"


def fillable(machine: Machine, gap: Gap) -> bool:
    """Whether the fact has a place in the record; facts of a part for sale belong into its entry in the price list."""
    try:
        with_fact(machine, gap.key, gap.values[0])
    except KeyError:
        return False
    return True


def with_fact(machine: Machine, key: str, value: object) -> Machine:
    """The record with a fact, typed by hand; None forgets it. Raises KeyError where the record has no such place."""
    if key == PAIRS:
        filled = replace(machine, platform=replace(machine.platform, cache_pairs=_paired(machine, value)))
    elif key == LEADS:
        filled = _with_leads(machine, value)
    elif key.startswith("parts."):
        filled = _with_part_fact(machine, key.split(".", 2)[1], key.split(".", 2)[2], value)
    else:
        filled = _put(machine, key.split("."), value)
    if key.startswith("slots.") and key.endswith(".label"):
        filled = _with_channels(filled)
    origins = {k: v for k, v in filled.origins.items() if k != key}
    return replace(filled, origins=origins if value in UNSAID else {**origins, key: Origin.TYPED})


def fact_of(machine: Machine, key: str) -> object:
    """What is recorded under a key. Raises KeyError where there is no such place."""
    here: Any = machine
    for name in key.split("."):
        here = (
            next((x for x in here if x.id == name), None) if isinstance(here, tuple) else getattr(here, name, KeyError)
        )
        if here is KeyError:
            raise KeyError(key)
    return here


def _put(here: Any, path: list[str], value: object) -> Any:
    """A copy of a record with the value at a path: names of fields, and ids within tuples of places."""
    name, rest = path[0], path[1:]
    if isinstance(here, tuple):
        if name not in [getattr(x, "id", None) for x in here] or not rest:
            raise KeyError(name)
        return tuple(_put(x, rest, value) if x.id == name else x for x in here)
    if not is_dataclass(here) or name not in [f.name for f in fields(here)]:
        raise KeyError(name)
    inner = _put(getattr(here, name), rest, value) if rest else value
    return replace(here, **{name: inner})  # type: ignore[type-var]


def _with_part_fact(machine: Machine, place: str, name: str, value: object) -> Machine:
    """A fact of a fitted part; cooler, supply and battery are there even where nobody recorded them."""
    part: Part | None = machine.configuration().parts.get(place)
    if part is None and place == SUPPLY:
        part = Supply(AS_FITTED, machine.platform.case.supply_form or "not recorded")
    if part is None and place == BATTERY:
        part = Battery(AS_FITTED)
    if part is None and place == COOLER:
        socket = machine.platform.board.socket
        part = Cooler(AS_FITTED, (socket,) if socket else ())
    if part is None or name not in [f.name for f in fields(part)]:
        raise KeyError(f"parts.{place}.{name}")
    changed: dict[str, Any] = {name: value}
    return machine.with_part(place, replace(part, **changed))


def _with_channels(machine: Machine) -> Machine:
    """Channels that the labels of all places tell, where none is recorded."""
    if any(s.channel is not None for s in machine.slots):
        return machine
    found = channels_of([s.label for s in machine.slots])
    slots = tuple(replace(s, channel=c) for s, c in zip(machine.slots, found, strict=True))
    told = {f"slots.{s.id}.channel": Origin.LABEL for s in slots if s.channel is not None}
    return replace(machine, slots=slots, origins={**machine.origins, **told})


def _paired(machine: Machine, value: object) -> tuple[tuple[str, ...], ...]:
    """Places by their labels, joined by a plus. Raises ValueError for a label that no drive bay has."""
    by_label = {b.label.casefold(): b.id for b in machine.bays}
    out: list[tuple[str, ...]] = []
    for words in value if isinstance(value, tuple) else ():
        if isinstance(words, tuple):  # by their ids already
            out.append(words)
            continue
        names = [w.strip() for w in str(words).split(JOIN.strip())]
        unknown = [n for n in names if n.casefold() not in by_label]
        if unknown or len(names) < 2:
            known = joined(", ", (b.label for b in machine.bays))
            raise ValueError(phrase("Two or more of {known}, such as Drive bay + Drive bay 2.", known=known))
        out.append(tuple(by_label[n.casefold()] for n in names))
    return tuple(out)


def _with_leads(machine: Machine, count: object) -> Machine:
    """So many SATA leads, the first of them on the drives that are there; other leads stay."""
    others = tuple(lead for lead in machine.leads if lead.kind is not LeadKind.SATA)
    fed = [
        f.place_id for f in machine.fitted
        if isinstance(f.part, Drive) and f.part.interface is DriveInterface.SATA
    ]  # fmt: skip
    number = count if isinstance(count, int) else 0
    new = tuple(
        Lead(f"lead-sata-{k + 1}", phrase("SATA power {k}", k=k + 1), LeadKind.SATA, fed[k] if k < len(fed) else "")
        for k in range(number)
    )
    return replace(machine, leads=(*new, *others))
