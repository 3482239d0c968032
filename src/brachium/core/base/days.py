"""Days in words: `Tuesday, 1 December 2026`, put in order and named by whatever language says it."""

from __future__ import annotations

from datetime import date

from brachium.core.base.text import phrase

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip


def day_words(day: date) -> str:
    """`1 December 2026`."""
    return phrase("{number} {month} {year}", number=day.day, month=MONTHS[day.month - 1], year=day.year)


def weekday_words(day: date) -> str:
    """`Tuesday, 1 December 2026`."""
    return phrase("{weekday}, {day}", weekday=WEEKDAYS[day.weekday()], day=day_words(day))
