"""A fact as it is typed and as it is shown: the two ways give each other back."""

from __future__ import annotations

from enum import StrEnum

from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import typed_int
from brachium.core.machine.facts.fact_units import Unit, figure, figure_words
from brachium.core.machine.facts.record_facts import RecordFact

YES, NO = ("yes", "y", "true", "1"), ("no", "n", "false", "0")
LONGEST = 200


def typed_value(fact: RecordFact, text: str) -> object:
    """The value of what was typed; what is empty forgets it. Raises ValueError with a sentence for people."""
    text = joined(" ", text.split())[:LONGEST]
    if not text:
        if fact.required:
            raise ValueError(phrase("{fact} cannot be left out.", fact=fact.title))
        return fact.empty
    if fact.many:
        return tuple(_one(fact, word.strip()) for word in text.split(",") if word.strip())
    return _one(fact, text)


def shown_value(fact: RecordFact) -> str:
    """The value as it can be typed again, without its unit; empty where nobody said anything."""
    if fact.value is None:
        return ""
    if isinstance(fact.value, tuple):
        return joined(", ", (_words(v, fact.unit) for v in fact.value))
    if isinstance(fact.value, str) and not isinstance(fact.value, StrEnum) and not fact.choices:
        return OwnWords(fact.value)  # a name or a version: no phrase, no number
    return _words(fact.value, fact.unit)


def _one(fact: RecordFact, text: str) -> object:
    if fact.choices:
        return _choice(fact.choices, text)
    if fact.type is bool:
        return _yes_or_no(text)
    if fact.type is str:
        return text
    if fact.type is int and fact.unit.value.factor == 1.0:
        return _whole(fact, text)
    value = figure(text, fact.unit)
    return round(value) if fact.type is int else value


def _whole(fact: RecordFact, text: str) -> int:
    scale = fact.unit.value
    plain = text.removesuffix(scale.sign).strip() if scale.sign else text
    try:
        value = typed_int(plain)
    except ValueError:
        value = round(figure(text, fact.unit)) if fact.unit is not Unit.NONE else -1
        if fact.unit is Unit.NONE:
            raise ValueError("A whole number.") from None
    if fact.unit is not Unit.NONE:
        return round(figure(str(value), fact.unit))
    if not 0 <= value <= 100_000:
        raise ValueError("A whole number from 0 on.")
    return value


def _choice(choices: tuple[StrEnum, ...], text: str) -> StrEnum:
    found = [c for c in choices if c.value.casefold() == text.casefold()]
    found = found or [c for c in choices if c.value.casefold().startswith(text.casefold())]
    if len(found) != 1:
        raise ValueError(phrase("One of: {choices}.", choices=joined(", ", (c.value for c in choices))))
    return found[0]


def _yes_or_no(text: str) -> bool:
    if text.casefold() not in (*YES, *NO):
        raise ValueError("Yes or no.")
    return text.casefold() in YES


def _words(value: object, unit: Unit) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, StrEnum):
        return value.value
    if isinstance(value, int | float):
        return figure_words(value, unit)
    return str(value)
