"""Frame logs: one frame time per line, alone or in a column of a delimited text; milliseconds, seconds or rates."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import finite
from brachium.core.measure.frames import FrameFigures, frame_figures
from brachium.formats.limits import foreign, plain_lines, read_bytes

_NAMES = re.compile(r"frame.?time|frametime|ms.?between|time.?between|frame_ms|\bms\b", re.IGNORECASE)
_SEPARATORS = ("\t", ";", ",")
MAX_BAD_FRAC = 0.05


@dataclass(frozen=True)
class FrameLog:
    """A frame log as read: figures, what was taken for the frame time, lines left out."""

    path: Path
    figures: FrameFigures
    column: str
    unit: str
    bad_lines: tuple[int, ...]


def read_frame_log(path: Path) -> FrameLog:
    """Read a frame log. Raises ExpectedProblem naming line or column, EnvironmentProblem where it cannot be read."""
    text = plain_lines(read_bytes(path).decode("utf-8", "replace"))
    with foreign(str(path), "frame log"):
        return _read(path, text)


def _read(path: Path, text: str) -> FrameLog:
    lines = [(n, t.strip()) for n, t in enumerate(text.split("\n"), 1) if t.strip() and t.lstrip()[0] not in "#/"]
    if not lines:
        raise ExpectedProblem("the file is empty", str(path), "Record the frames again.")
    cells, column = _cells(path, lines)
    values = np.array([_number(c) for _, c in cells])
    bad = tuple(n for (n, _), v in zip(cells, values, strict=True) if not (np.isfinite(v) and v > 0))
    if len(bad) > MAX_BAD_FRAC * len(cells):
        raise ExpectedProblem(
            phrase(
                "{count} of {count2} lines hold no frame time, first line {bad}",
                count=len(bad),
                count2=len(cells),
                bad=bad[0],
            ),
            str(path),
            "One frame time per line is read, or a column named frame time.",
        )
    good = values[np.isfinite(values) & (values > 0)]
    times_ms, unit = _in_ms(path, good)
    try:
        figures = frame_figures(times_ms)
    except ValueError as error:
        raise ExpectedProblem(str(error), str(path), "Record the same stretch longer.") from error
    return FrameLog(path, figures, column, unit, bad)


def _cells(path: Path, lines: list[tuple[int, str]]) -> tuple[list[tuple[int, str]], str]:
    """(line, cell) of the frame time, and the column's name; the first line may name the columns."""
    number, first = lines[0]
    separator = next((s for s in _SEPARATORS if s in first and not re.fullmatch(r"\s*\d+,\d+\s*", first)), "")
    fields = [f.strip() for f in _fields(first, separator)]
    named = [k for k, f in enumerate(fields) if _NAMES.search(f)]
    if separator and not named:
        raise ExpectedProblem(
            phrase(
                "no column for the frame time in line {number}: {fields}",
                number=number,
                fields=joined(", ", fields)[:80],
            ),
            str(path),
            "Name the column frame time.",
        )
    index = named[0] if named else 0
    has_heading = bool(re.search(r"[A-Za-z]", first))
    out = []
    for number, line in lines[1:] if has_heading else lines:
        parts = _fields(line, separator)
        out.append((number, parts[index] if index < len(parts) else ""))
    return out, fields[index] if has_heading else "the only column"


def _fields(line: str, separator: str) -> list[str]:
    """The cells of a line without quotes; the whole line where nothing separates them."""
    return [f.strip().strip('"') for f in (line.split(separator) if separator else [line])]


def _number(text: str) -> float:
    value = finite(text.replace(",", "."))
    return float("nan") if value is None else value


def _in_ms(path: Path, values: FloatArray) -> tuple[FloatArray, str]:
    """By size: frames last 1 to 1000 ms, so a median under 0.5 is seconds; a rising count of time is differenced."""
    if values.size > 2 and np.all(np.diff(values) > 0):
        steps = np.diff(values)
        factor = 1000.0 if float(np.median(steps)) < 0.5 else 1.0
        return steps * factor, "time stamps in s" if factor > 1 else "time stamps in ms"
    middle = float(np.median(values)) if values.size else 0.0
    if 0.0 < middle < 0.5:
        return values * 1000.0, "s"
    if middle > 1000.0:
        raise ExpectedProblem(
            phrase("a frame of {middle:.0f} is no frame time", middle=middle),
            str(path),
            "Give milliseconds or seconds.",
        )
    return values, "ms"
