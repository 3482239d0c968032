"""Attributes of a part by itself: for sheets of parts in the price list and on the shelf."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, get_args, get_type_hints

from brachium.core.base.text import phrase
from brachium.core.base.why import Origin
from brachium.core.machine.facts.record_facts import RecordFact, facts_of_class
from brachium.core.machine.facts.typed_facts import typed_value
from brachium.core.machine.part_words import part_title
from brachium.core.machine.parts import Part

PART_CLASSES: dict[str, type[Part]] = {get_args(get_type_hints(c)["kind"])[0]: c for c in get_args(Part)}
IN_USE = ("role", "used_bytes", "recognised")  # said of a part in a machine, not of one that is for sale


def part_kinds() -> tuple[str, ...]:
    """Kinds of part, as their records name them."""
    return tuple(PART_CLASSES)


def part_facts(kind: str, part: Part | None = None) -> tuple[RecordFact, ...]:
    """Every attribute of a kind of part, with the values of one where there is one. Raises KeyError."""
    return tuple(f for f in facts_of_class(PART_CLASSES[kind], part, Origin.TYPED) if f.key not in IN_USE)


def typed_part(kind: str, texts: Mapping[str, str]) -> Part:
    """The part of what was typed, by attribute. Raises ValueError with a sentence that names the attribute."""
    values: dict[str, Any] = {}
    for fact in part_facts(kind):
        if fact.key == "name":
            continue
        try:
            values[fact.key] = typed_value(fact, texts.get(fact.key, ""))
        except ValueError as error:
            raise ValueError(phrase("{fact}: {error}", fact=fact.title, error=error)) from None
    part = PART_CLASSES[kind](name=texts.get("name", "").strip() or "part", **values)
    return part if texts.get("name", "").strip() else replace(part, name=part_title(part))
