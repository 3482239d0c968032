"""A field for one fact of the record: a choice where it has a few values, else a line with its unit."""

from __future__ import annotations

from collections.abc import Callable

from brachium.core.base.text import phrase
from brachium.core.machine.facts.record_facts import RecordFact
from brachium.core.machine.facts.typed_facts import shown_value, typed_value
from brachium.ui.widgets.fields import ChoiceField, LineField

NOT_KNOWN = "not known"


def has_choices(fact: RecordFact) -> bool:
    """Whether it is chosen from a list."""
    return (bool(fact.choices) or fact.type is bool) and not fact.many


def choices_of(fact: RecordFact) -> list[tuple[str, str]]:
    """Its values as (text, title); the first forgets it, where it may be."""
    words = [c.value for c in fact.choices] or ["yes", "no"]
    first = [] if fact.required or fact.empty is not None else [("", NOT_KNOWN)]
    return [*first, *((w, w) for w in words)]


def fact_field(fact: RecordFact, record: Callable[[RecordFact, object], object]) -> ChoiceField | LineField:
    """The field; `record` gets what was chosen or typed, as a value of the record."""
    unit = fact.unit.value.sign
    title = phrase("{fact}, {unit}", fact=fact.title, unit=unit) if unit else fact.title

    def typed(text: str) -> str | None:
        try:
            value = typed_value(fact, text)
        except ValueError as error:
            return str(error)
        record(fact, value)
        return None

    if has_choices(fact):
        choice = ChoiceField(title, choices_of(fact), typed)
        choice.show_value(shown_value(fact))
        return choice
    line = LineField(title, typed, NOT_KNOWN, phrase("{title}: {origin}", title=title, origin=fact.origin))
    line.show_value(shown_value(fact))
    return line
