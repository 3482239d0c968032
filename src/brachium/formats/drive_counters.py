"""A drive's counters from a file: a table of ATA attributes as text, CSV with name and value, or JSON.

A line of the text form begins with the attribute's number and ends with its raw value (which may be followed by text in
brackets); CSV and JSON name the counters as this program does (docs/formats/drive-counters.md).
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from pathlib import Path

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.drives.health import BY_ATA, BY_KEY
from brachium.formats.limits import foreign, parse_json, plain_lines, read_bytes

LARGEST = 1 << 20
REMEDY = "Type the counters by hand, or name them: reallocated, pending, uncorrectable, interface, hours."
LONGEST_LINE, MOST_LINES = 400, 5_000
_NUMBER = re.compile(r"(?:0x)?(\d{1,3})")
_NAMED = re.compile(r"\"?([a-z_]{1,40})\"? ?[,;:= ] ?\"?(-?\d{1,20})\"?,?", re.IGNORECASE)


def read_counters(path: Path) -> Mapping[str, int]:
    """Counters by their key. Raises ExpectedProblem naming the file, or the line that holds no whole number."""
    text = plain_lines(read_bytes(path, LARGEST, REMEDY).decode("utf-8", "replace"))
    with foreign(str(path), "table of counters"):
        found = _from_json(text, str(path)) if text.lstrip().startswith("{") else _from_lines(text, str(path))
    if not found:
        raise ExpectedProblem("no counter was found in this file", str(path), REMEDY)
    return found


def _from_json(text: str, place: str) -> dict[str, int]:
    whole = parse_json(text, place, remedy=REMEDY)
    return {k: _count(v, k, place) for k, v in whole.items() if k in BY_KEY}


def _count(value: object, what: str, place: str) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or value < 0:
        raise ExpectedProblem(
            phrase("{what} is {value!r}, not a whole number from 0 on", what=what, value=value), place, REMEDY
        )
    return value


def _from_lines(text: str, place: str) -> dict[str, int]:
    out: dict[str, int] = {}
    for number, line in enumerate(text.split("\n"), 1):
        if number > MOST_LINES:
            raise ExpectedProblem(
                phrase("more than {most_lines} lines", most_lines=MOST_LINES),
                phrase("{place}, line {number}", place=place, number=number),
                REMEDY,
            )
        if line[4 * LONGEST_LINE :].strip():
            continue
        words = line[: 4 * LONGEST_LINE].split()  # blanks are gone before any pattern looks at them
        if not words or sum(map(len, words)) > LONGEST_LINE:
            continue
        named, attribute = _NAMED.fullmatch(" ".join(words)), _attribute(words)
        if named is not None and named.group(1).lower() in BY_KEY:
            key = named.group(1).lower()
            out[key] = _count(int(named.group(2)), key, f"{place}, line {number}")
        elif attribute is not None and attribute[0] in BY_ATA:
            key = BY_ATA[attribute[0]]
            out[key] = max(out.get(key, 0), attribute[1])
    return out


def _attribute(words: list[str]) -> tuple[int, int] | None:
    """(number, raw value) of a line of the text form: it begins with the one and ends with the other, but for what
    stands in brackets behind."""
    first = _NUMBER.fullmatch(words[0])
    tail = next((k for k, w in enumerate(words) if k > 1 and w.startswith(("(", "["))), len(words))
    raw = words[tail - 1] if tail > 2 else ""
    return (int(first.group(1)), int(raw)) if first is not None and raw.isdecimal() and len(raw) <= 20 else None
