"""Numbers as people and files write them: finite, of an everyday length and size, or none at all.

Infinity, "not a number", thousands of digits and exponents that no arithmetic ends on are no numbers here.
"""

from __future__ import annotations

from decimal import Decimal, InvalidOperation

from brachium.core.base.text import phrase

MAX_DIGITS = 40
MAX_EXPONENT = 15


def decimal_of(text: str) -> Decimal | None:
    """A finite decimal of an everyday size; None where the text is none."""
    if len(text) > MAX_DIGITS:
        return None
    try:
        value = Decimal(text)
    except InvalidOperation:
        return None
    if not value.is_finite():
        return None
    return value if value == 0 or abs(value.adjusted()) <= MAX_EXPONENT else None


def finite(text: str) -> float | None:
    """A finite float; None where the text is none."""
    if len(text) > MAX_DIGITS:
        return None
    try:
        value = float(text)
    except (ValueError, OverflowError):
        return None
    return value if value - value == 0.0 else None


def typed_float(text: str) -> float:
    """A number as it was typed, with a comma or a point. Raises ValueError where it is none."""
    value = finite(text.strip().replace(",", "."))
    if value is None:
        raise ValueError(phrase("{text!r} is no number", text=text[:MAX_DIGITS]))
    return value


def typed_int(text: str) -> int:
    """A whole number as it was typed. Raises ValueError where it is none."""
    if len(text) > MAX_DIGITS:
        raise ValueError("a number with so many digits is none")
    return int(text)
