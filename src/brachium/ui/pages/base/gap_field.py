"""A field for one missing fact: a line where it is a figure, else a choice of what it can be."""

from __future__ import annotations

from brachium.core.base.text import phrase, upper_first
from brachium.core.fit.gap_words import gap_words, is_typed, typed_value, unit_of_gap
from brachium.core.fit.recorded_facts import with_answer
from brachium.core.fit.verdict import Gap
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField


def gap_field(session: Session, gap: Gap) -> LineField | ChoiceField:
    """Writes the fact into the selected job at once; Ctrl+Z takes it back."""

    def put(value: object) -> None:
        job = session.job()
        if job is not None:
            session.edit(phrase("{gap} recorded", gap=gap.label), with_answer(job, gap, value))

    def typed(text: str) -> str | None:
        try:
            put(typed_value(text, gap) if text else None)
        except ValueError as error:
            return str(error)
        return None

    sign = unit_of_gap(gap).value.sign or gap.unit
    name = phrase("{gap}", gap=upper_first(gap.label)) + (phrase(", {sign}", sign=sign) if sign else "")
    if is_typed(gap):
        hints = [gap_words(gap, v) for v in gap.values if v != "another"]
        return LineField(name, typed, phrase("such as {hints}", hints=hints[-1]))
    choices = [("", "not known"), *((str(k), gap_words(gap, v)) for k, v in enumerate(gap.values))]
    return ChoiceField(name, choices, lambda key: put(gap.values[int(key)] if key else None))


def how_to_find(gap: Gap) -> str:
    """How a missing fact is found out, and in how long."""
    return phrase("{how}; about {minutes:.0f} min.", how=upper_first(gap.how), minutes=gap.minutes)
