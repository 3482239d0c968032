"""A part typed into a place of the record, by its label or in quick words."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.text import phrase
from brachium.core.base.why import Origin
from brachium.core.machine.machine import DriveBay, Machine
from brachium.core.machine.parts import Drive, MemoryModule, Part
from brachium.core.plan.asked_part import AskedPart, read_part

PRINTED = "PC"  # a grade as it is printed on a module begins so
NOT_A_MODULE, NOT_A_DRIVE = "a module goes here", "a drive goes here"
OF_CLASS = ("outer_mb_s", "inner_mb_s", "read_latency_ms")


def read_part_at(machine: Machine, place: str, text: str) -> AskedPart:
    """The part that a text names, form and link as the place has them where the text does not say them."""
    slot = next((s for s in machine.slots if s.id == place), None)
    bay = next((b for b in machine.bays if b.id == place), None)
    asked = read_part(replace(machine, slots=(slot,)) if slot is not None else machine, text)
    if asked.part is None:
        return asked
    if slot is not None:
        return asked if isinstance(asked.part, MemoryModule) else replace(asked, part=None, lacks=NOT_A_MODULE)
    return asked if bay is None else _drive_in(bay, asked)


def _drive_in(bay: DriveBay, asked: AskedPart) -> AskedPart:
    """A drive with the form and link of its bay where its label does not say them."""
    if not isinstance(asked.part, Drive):
        return replace(asked, part=None, lacks=NOT_A_DRIVE)
    said = _said(asked)
    own = {k: v for k, v in (("form", bay.form), ("interface", bay.interface)) if k not in said}
    return replace(asked, part=replace(asked.part, **own))  # type: ignore[arg-type]


def _said(asked: AskedPart) -> set[str]:
    """Fields that the words said."""
    return {k for _, names in (asked.piece.understood if asked.piece is not None else ()) for k in names}


def with_read_part(machine: Machine, place: str, asked: AskedPart | None) -> Machine:
    """The machine with what was read in a place, each fact with its origin; None empties the place."""
    stem = f"parts.{place}"
    origins = {k: v for k, v in machine.origins.items() if k != stem and not k.startswith(f"{stem}.")}
    if asked is None or asked.part is None:
        return replace(machine.with_part(place, None), origins=origins)
    origins |= {
        phrase("{stem}.{name}", stem=stem, name=name): origin for name, origin in _origins(asked, asked.part).items()
    }
    proven = {k: Origin.TYPED for k in (f"slots.{place}", f"bays.{place}") if origins.get(k) is Origin.TYPICAL}
    return replace(machine.with_part(place, asked.part), origins={**origins, **proven})


def _origins(asked: AskedPart, part: Part) -> dict[str, Origin]:
    """Label or typed for what was said, typical for what its class or its place settles."""
    fields = set(vars(part))
    printed = any(words.upper().startswith(PRINTED) for words, _ in (asked.piece.understood if asked.piece else ()))
    said = _said(asked) & fields
    usual = (
        {"form", "generation", "interface"} | (set(OF_CLASS) if isinstance(part, Drive) else set())
    ) & fields - said
    return {**dict.fromkeys(said, Origin.LABEL if printed else Origin.TYPED), **dict.fromkeys(usual, Origin.TYPICAL)}
