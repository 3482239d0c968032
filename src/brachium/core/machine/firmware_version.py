"""Firmware versions by their format: only two of one format can be ordered."""

from __future__ import annotations

import re
from enum import StrEnum

DATE = re.compile(r"(?:(\d{4})[-/.]?(\d{2})[-/.]?(\d{2})|(\d{2})[/.](\d{2})[/.](\d{4}))")
LONGEST = 64


class VersionFormat(StrEnum):
    """How a maker writes versions."""

    NUMBERS = "numbers"
    DATE = "date"
    LETTERS = "letters first"
    MIXED = "numbers with letters"


def version_format(version: str) -> VersionFormat:
    """The format of a version: `1.18`, `2019-03-04` or `03/04/2019`, `A14`, `2.4b`."""
    text = version.strip()[:LONGEST]
    if DATE.fullmatch(text):
        return VersionFormat.DATE
    if re.match(r"[A-Za-z]", text):
        return VersionFormat.LETTERS
    return VersionFormat.MIXED if re.search(r"[A-Za-z]", text) else VersionFormat.NUMBERS


def at_least(now: str, asked: str, steps: tuple[str, ...] = ()) -> bool | None:
    """Whether a version is the asked one or a later one: by the maker's order where both are in it, else within one
    format; None where the two cannot be ordered."""
    if now in steps and asked in steps:
        return steps.index(now) >= steps.index(asked)
    if now.strip() == asked.strip():
        return True
    form = version_format(now)
    if form is not version_format(asked):
        return None
    if form is VersionFormat.DATE:
        return _date(now) >= _date(asked)
    a, b = _words(now), _words(asked)
    shape = [w.isdigit() for w in a], [w.isdigit() for w in b]
    common = min(len(a), len(b))
    if shape[0][:common] != shape[1][:common]:
        return None
    return [_key(w) for w in a] >= [_key(w) for w in b]


def _words(version: str) -> list[str]:
    return re.findall(r"\d+|[A-Za-z]+", version[:LONGEST])


def _key(word: str) -> tuple[int, str]:
    return (int(word), "") if word.isdigit() else (0, word.lower())


def _date(version: str) -> tuple[int, int, int]:
    """Year, month, day; of `03/04/2019` the month comes first, as firmware tables have it (SMBIOS type 0)."""
    match = DATE.fullmatch(version.strip())
    assert match is not None
    year, month, day, first, second, last = match.groups()
    return (int(year), int(month), int(day)) if year else (int(last), int(first), int(second))
