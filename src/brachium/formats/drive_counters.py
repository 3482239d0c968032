"""A drive's counters from a file: a table of ATA attributes as text, CSV with name and value, or JSON.

A line of the text form begins with the attribute's number and ends with its raw value (which may be followed by text in
brackets); CSV and JSON name the counters as this program does (docs/formats/drive-counters.md).
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from pathlib import Path

from brachium.core.cause.drive_health import BY_ATA, BY_KEY
from brachium.core.problems import ExpectedProblem, from_os_error

LARGEST = 1 << 20
REMEDY = "Type the counters by hand, or name them: reallocated, pending, uncorrectable, interface, hours."
_ATTRIBUTE = re.compile(r"^\s*(?:0x)?(\d{1,3})\b\s+\S.*?\s(\d+)(?:\s+[(\[].*)?\s*$")
_NAMED = re.compile(r"^\s*\"?([a-z_]+)\"?\s*[,;:=\t]\s*\"?(-?\d+)\"?\s*,?\s*$", re.IGNORECASE)


def read_counters(path: Path) -> Mapping[str, int]:
    """Counters by their key. Raises ExpectedProblem naming the file, or the line that holds no whole number."""
    try:
        if path.stat().st_size > LARGEST:
            raise ExpectedProblem("this is too large for a drive's counters", str(path), REMEDY)
        text = path.read_text("utf-8", "replace")
    except OSError as error:
        raise from_os_error(error, str(path)) from error
    found = _from_json(text, str(path)) if text.lstrip().startswith("{") else _from_lines(text, str(path))
    if not found:
        raise ExpectedProblem("no counter was found in this file", str(path), REMEDY)
    return found


def _from_json(text: str, place: str) -> dict[str, int]:
    try:
        whole = json.loads(text)
    except ValueError as error:
        raise ExpectedProblem(f"this JSON cannot be read ({error})", place, REMEDY) from error
    return {k: _count(v, k, place) for k, v in whole.items() if k in BY_KEY}


def _count(value: object, what: str, place: str) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or value < 0:
        raise ExpectedProblem(f"{what} is {value!r}, not a whole number from 0 on", place, REMEDY)
    return value


def _from_lines(text: str, place: str) -> dict[str, int]:
    out: dict[str, int] = {}
    for number, line in enumerate(text.splitlines(), 1):
        named, attribute = _NAMED.match(line), _ATTRIBUTE.match(line)
        if named is not None and named.group(1).lower() in BY_KEY:
            key = named.group(1).lower()
            out[key] = _count(int(named.group(2)), key, f"{place}, line {number}")
        elif attribute is not None and int(attribute.group(1)) in BY_ATA:
            key = BY_ATA[int(attribute.group(1))]
            out[key] = max(out.get(key, 0), int(attribute.group(2)))
    return out
