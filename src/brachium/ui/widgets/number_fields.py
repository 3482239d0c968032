"""A line field for a number within bounds: says what is wrong, hands on what is right."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal

from brachium.core.base.text import phrase
from brachium.core.base.typed_numbers import decimal_of
from brachium.ui.widgets.fields import LineField


def number_field(
    name: str, low: float, high: float, changed: Callable[[Decimal | None], object], hint: str = "", tip: str = ""
) -> LineField:  # fmt: skip
    """`changed` gets the number, None for an emptied field."""

    def typed(text: str) -> str | None:
        if not text:
            changed(None)
            return None
        value = decimal_of(text.replace(",", "."))
        if value is None:
            return "A number, please."
        if not Decimal(str(low)) <= value <= Decimal(str(high)):
            return phrase("Between {low:g} and {high:g}.", low=low, high=high)
        changed(value)
        return None

    return LineField(name, typed, hint, tip)
