"""Values of missing facts in words, as choices and as they are typed, in the units that people use."""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import typed_float, typed_int
from brachium.core.fit.verdict import Gap
from brachium.core.machine.facts.fact_units import Unit, figure, figure_words, unit_of


def value_words(value: object, unit: str = "") -> str:
    """A value as a choice for people."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return joined(" and ", (value_words(v) for v in value)) or "none of them"
    if isinstance(value, float):
        value = phrase("{value:g}", value=value)
    return phrase("{value} {unit}", value=value, unit=unit).rstrip()


def unit_of_gap(gap: Gap) -> Unit:
    """The unit in which a missing figure is asked for and typed; sizes in GiB or GB, never bytes."""
    numeric = type(gap.values[0]) in (int, float)
    return unit_of(gap.key.rpartition(".")[2], "bays" in gap.key) if numeric else Unit.NONE


def gap_words(gap: Gap, value: object) -> str:
    """One of its values for people: `8 GiB`, `yes`, `1.35 and 1.5`."""
    unit = unit_of_gap(gap)
    if unit is not Unit.NONE and isinstance(value, int | float):
        return phrase("{figure_words} {value}", figure_words=figure_words(value, unit), value=unit.value.sign).rstrip()
    return value_words(value)


def typed_value(text: str, gap: Gap) -> object:
    """What was typed for a fact, of the kind that its values have. Raises ValueError with a sentence for people."""
    kind, unit = type(gap.values[0]), unit_of_gap(gap)
    if kind is str:
        return text
    if unit is not Unit.NONE:
        value = figure(text, unit)
        return round(value) if kind is int else value
    try:
        return typed_int(text) if kind is int else typed_float(text)
    except ValueError:
        raise ValueError("A whole number." if kind is int else "A number.") from None


def is_typed(gap: Gap) -> bool:
    """Whether its value is typed; else it is one of a few."""
    return type(gap.values[0]) in (int, float, str)


def told_value(text: str, gap: Gap) -> object | None:
    """The value that was kept as words (`gap_words`); None where it is none of this fact's any more."""
    for value in gap.values:
        if gap_words(gap, value) == text:
            return value
    try:
        return typed_value(text, gap) if is_typed(gap) else None
    except ValueError:
        return None
