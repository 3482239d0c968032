"""Every fact of a machine's record by its path: name, unit, value, origin, and how it is read when it is typed.

The list follows the records themselves, so that a field that is added to one of them can be entered, seen, corrected
and taken back at once. Units are those that people use: sizes in GiB or GB, never bytes.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import MISSING, dataclass, fields, is_dataclass
from enum import StrEnum
from functools import lru_cache
from types import UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

from brachium.core.base.text import phrase
from brachium.core.base.why import Origin
from brachium.core.machine.drive_part import Drive
from brachium.core.machine.facts.fact_units import Unit, fact_title, unit_of
from brachium.core.machine.machine import Machine

SKIPPED = ("id", "kind", "origins", "planned")
PAIRS, JOIN = "platform.cache_pairs", " + "


@dataclass(frozen=True)
class RecordFact:
    """One fact: its path, the place or part it belongs to, its name, unit, kind of value, value and origin.

    `choices` are its only values where it has such; `many` = a list of them. `empty` is what it holds when nobody says
    anything; `required` = it may not be emptied.
    """

    key: str
    group: str
    title: str
    unit: Unit
    type: type
    choices: tuple[StrEnum, ...]
    many: bool
    required: bool
    empty: object
    value: object
    origin: Origin


def record_facts(machine: Machine) -> tuple[RecordFact, ...]:
    """All facts of a machine, the whole first, then place by place with what sits there."""
    return tuple(_facts(machine))


def _facts(machine: Machine) -> Iterator[RecordFact]:
    yield RecordFact("kind", "Machine", "Kind", Unit.NONE, str, tuple(type(machine.kind)), False, True, None,
                     machine.kind, machine.origin("kind"))  # fmt: skip
    yield from _of(machine, "identity", machine.identity, "Machine")
    yield from _of(machine, "", machine, "Machine", ("fan_max_rpm",))
    yield from _of(machine, "processor", machine.processor, "Processor")
    yield from _of(machine, "memory", machine.memory, "Memory")
    platform = machine.platform
    for name, group in (("board", "Board"), ("case", "Case"), ("contacts", "Heat contacts"), ("radio", "Radio slot"),
                        ("power", "Power input"), ("system", "System"), ("build", "Build"),
                        ("settings", "Firmware settings")):  # fmt: skip
        yield from _of(machine, f"platform.{name}", getattr(platform, name), group)
    yield from _of(machine, "platform", platform, "Panel", ("panel_px", "panel_in"))
    if machine.bays:
        yield _pairs(machine)
    yield from _places(machine)


def _pairs(machine: Machine) -> RecordFact:
    """Cache pairs and arrays: drive bays that are seen as one, by their labels."""
    words = tuple(JOIN.join(machine.place_label(p) for p in pair) for pair in machine.platform.cache_pairs)
    return RecordFact(PAIRS, "Drives seen as one", "Cache pairs and arrays", Unit.NONE, str, (), True, False, (), words,
                      machine.origin(PAIRS))  # fmt: skip


def _places(machine: Machine) -> Iterator[RecordFact]:
    platform, parts = machine.platform, machine.configuration().parts
    lists = (("slots", machine.slots), ("bays", machine.bays), ("leads", machine.leads),
             ("platform.cards", platform.cards), ("platform.headers", platform.headers),
             ("platform.chips", platform.chips))  # fmt: skip
    seen = set()
    for stem, places in lists:
        for place in places:
            seen.add(place.id)
            yield from _of(machine, phrase("{stem}.{place}", stem=stem, place=place.id), place, place.label)
            if place.id in parts:
                yield from _of(
                    machine, f"parts.{place.id}", parts[place.id], phrase("{place}: part", place=place.label)
                )
    for place_id, part in parts.items():
        if place_id not in seen:
            yield from _of(machine, f"parts.{place_id}", part, machine.place_label(place_id))


def _of(
    machine: Machine, stem: str, record: object, group: str, only: tuple[str, ...] | None = None
) -> Iterator[RecordFact]:
    """Facts of one record; lists of records within it are no facts of their own."""
    for name, kind, choices, many, empty in _typed_fields(type(record)):  # type: ignore[arg-type]
        if name in SKIPPED or (only is not None and name not in only):
            continue
        key = phrase("{stem}.{name}", stem=stem, name=name) if stem else name
        unit = Unit.NONE if kind in (bool, str) else unit_of(name, isinstance(record, Drive))
        yield RecordFact(key, group, fact_title(name), unit, kind, choices, many, empty is MISSING,
                         None if empty is MISSING else empty, getattr(record, name), machine.origin(key))  # fmt: skip


def facts_of_class(record: type, value: object | None, origin: Origin) -> tuple[RecordFact, ...]:
    """The facts of a class of records by itself, with the values of one of them; keys are the names of its fields."""
    out = []
    hints = get_type_hints(record)
    for name, kind, choices, many, empty in _typed_fields(record):
        if name in SKIPPED:
            continue
        unit = Unit.NONE if kind in (bool, str) else unit_of(name, record is Drive)
        open_to_none = empty is MISSING or type(None) in get_args(hints[name])  # left empty it is not known
        begins = None if open_to_none else empty
        now = begins if value is None else getattr(value, name)
        out.append(
            RecordFact(name, "", fact_title(name), unit, kind, choices, many, empty is MISSING, begins, now, origin)
        )
    return tuple(out)


@lru_cache(maxsize=64)
def _typed_fields(record: type[Any]) -> tuple[tuple[str, type, tuple[StrEnum, ...], bool, Any], ...]:
    """(name, kind of value, choices, whether a list, what it begins with) of fields that hold plain values."""
    out = []
    hints = get_type_hints(record)
    for one in fields(record):
        kind, many = _plain_type(hints[one.name])
        if kind is None or is_dataclass(kind):
            continue
        choices = tuple(kind) if issubclass(kind, StrEnum) else ()
        begins = one.default if one.default_factory is MISSING else one.default_factory()
        out.append((one.name, kind, choices, many, begins))
    return tuple(out)


def _plain_type(hint: Any) -> tuple[type | None, bool]:
    """(the type of a value, whether it is a list of them); None for what is no plain value."""
    if get_origin(hint) in (Union, UnionType):
        kinds = [k for k in get_args(hint) if k is not type(None)]
        return _plain_type(kinds[0]) if len(kinds) == 1 else (None, False)
    if get_origin(hint) is tuple:
        inner, _ = _plain_type(get_args(hint)[0])
        return inner, True
    return (hint, False) if isinstance(hint, type) else (None, False)
