"""Opening hours as text and as minutes: "09:00-12:30, 13:30-18:00" on working days."""

from __future__ import annotations

import re
from datetime import date, datetime, timedelta

from brachium.core.base.text import phrase

DAY_MIN = 24 * 60
WORKING = (0, 1, 2, 3, 4)  # Monday to Friday


def parse_hours(text: str) -> tuple[tuple[int, int], ...]:
    """Stretches of one day [min from midnight]. Raises ValueError naming what is wrong."""
    out: list[tuple[int, int]] = []
    for part in (p.strip() for p in text.split(",") if p.strip()):
        found = re.fullmatch(r"(\d{1,2}):(\d{2})\s*-\s*(\d{1,2}):(\d{2})", part)
        if found is None:
            raise ValueError(phrase("“{part}” are no opening hours; 09:00-12:30 is meant", part=part))
        a, b, c, d = (int(g) for g in found.groups())
        begin, end = a * 60 + b, c * 60 + d
        if not 0 <= begin < end <= DAY_MIN or b > 59 or d > 59:
            raise ValueError(phrase("“{part}” does not lie within one day", part=part))
        if out and begin < out[-1][1]:
            raise ValueError(phrase("“{part}” begins before the one before it ends", part=part))
        out.append((begin, end))
    if not out:
        raise ValueError("no opening hours")
    return tuple(out)


def open_hours(text: str, first: date, days: int = 14) -> tuple[tuple[int, int], ...]:
    """Stretches over the working days from a date on, in minutes from its midnight."""
    one = parse_hours(text)
    return tuple(
        (k * DAY_MIN + a, k * DAY_MIN + b)
        for k in range(days) if (first + timedelta(days=k)).weekday() in WORKING for a, b in one
    )  # fmt: skip


def minute_of(moment: datetime, first: date) -> int:
    """Whole minutes from the midnight of a date."""
    return int((moment - datetime(first.year, first.month, first.day)).total_seconds() // 60)


def moment_of(minute: int, first: date) -> datetime:
    return datetime(first.year, first.month, first.day) + timedelta(minutes=minute)


def clock(minute: int) -> str:
    """The time of day of a minute: 09:05."""
    return f"{minute % DAY_MIN // 60:02d}:{minute % 60:02d}"
