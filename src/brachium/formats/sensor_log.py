"""Delimited sensor logs of any logger: separator, decimal sign, time format, columns and units are found out.

What cannot be parsed is listed by line. Errors name the file, the line or column, and the remedy.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from brachium.core.base.arrays import FloatArray, frozen
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import joined, many, phrase
from brachium.core.measure.run import Phase, Series, Trace
from brachium.formats.limits import foreign
from brachium.formats.log_columns import PLAUSIBLE, ROLE_NAMES, Reading, assign_roles, unit_for, unit_names
from brachium.formats.log_text import LogRows, LogText, read_text, rows_below

SERIES = {
    "temp": ("temp_c", "°C"), "power": ("power_w", "W"), "clock": ("clock_mhz", "MHz"), "fan": ("fan_rpm", "1/min"),
    "util": ("util_frac", "1"), "room": ("room_c", "°C"), "gpu_power": ("gpu_power_w", "W"),
    "gpu_util": ("gpu_util_frac", "1"),
}  # fmt: skip
MAX_BAD_FRAC = 0.2
MIN_DISTINCT_FRAC = 0.1
DAY_S = 86_400.0
_SEPARATORS = ("\t", ";", ",", "|")
_CLOCK = re.compile(r"^(?:(\d{4}-\d{2}-\d{2})[T ])?(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?$")
_ROOM = re.compile(r"(?:room|ambient|intake)\D{0,20}?(-?\d+(?:[.,]\d+)?)\s*°?\s*(?:deg)?\s*([CF])\b", re.IGNORECASE)


@dataclass(frozen=True)
class Column:
    """A recognised column: role, its header, the unit it was read in."""

    role: str
    header: str
    unit: str


@dataclass(frozen=True)
class SensorLog:
    """A log as read. `bad_lines` holds (line number, text) of lines that are no data; `room_c` is from the log."""

    path: Path
    trace: Trace
    columns: tuple[Column, ...]
    bad_lines: tuple[tuple[int, str], ...]
    room_c: float | None
    room_source: str
    headers: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()


class UnknownColumns(ExpectedProblem):
    """A log without a column that is needed; `headers` are those it has, for a person to say which is what."""

    def __init__(self, what: str, place: str, remedy: str, headers: tuple[str, ...]) -> None:
        super().__init__(what, place, remedy)
        self.headers = headers


def read_sensor_log(path: Path, units: Mapping[str, str] | None = None, reading: Reading = Reading()) -> SensorLog:
    """Read a log. `units` states units by role, over those of `reading`. Raises ExpectedProblem or EnvironmentProblem;
    UnknownColumns where a person has to say which column is what."""
    with foreign(str(path), "log"):
        return _read(path, units, reading)


def _read(path: Path, units: Mapping[str, str] | None, reading: Reading) -> SensorLog:
    units = _known_units({**reading.units, **(units or {})})
    text = read_text(path)
    header_at, separator = _header(path, text)
    headers = [h.strip().strip('"') for h in text.line(header_at).split(separator)]
    rows = rows_below(text, header_at, separator, len(headers))
    bad = list(rows.bad)
    if rows.lines.size < 10:
        raise ExpectedProblem(
            phrase("only {size} data lines after line {header_at}", size=rows.lines.size, header_at=header_at + 1),
            str(path),
            "The log is empty or cut short; export it again.",
        )
    roles = _needed_roles(path, header_at, headers, reading)
    decimal = _decimal_comma(separator, rows.sample(200))
    rows.load(tuple(v for k, v in roles.items() if k != "time"), decimal)
    time_s, keep = _times(path, rows, roles["time"], headers[roles["time"]], decimal, bad, units)
    series, columns, bad_cells = _series(path, rows, keep, roles, headers, decimal, units)
    if "temp" in reading.required and not any(s.key == "temp_c" for s in series):
        raise ExpectedProblem("the temperature column holds no numbers", str(path), "Check the decimal sign.")
    if not series:
        raise ExpectedProblem("no column holds numbers", str(path), "Check the decimal sign.")
    bad += [(int(rows.lines[k]) + 1, "no readable temperature") for k in bad_cells]
    _check_share(path, bad, rows.lines.size + len(rows.bad))
    room, source = _room(text.comments(), series)
    phases = (Phase("log", float(time_s[0]), float(time_s[-1])),)
    columns = (Column("time", headers[roles["time"]], "s"), *columns)
    return SensorLog(path, Trace(time_s, series, phases), columns, tuple(sorted(bad)), room, source, tuple(headers))


def _known_units(units: Mapping[str, str]) -> dict[str, str]:
    """Stated units by role. Raises ExpectedProblem for one that its role does not know."""
    for role, unit in units.items():
        if unit not in unit_names(role):
            known = ", ".join(unit_names(role)) or "none"
            raise ExpectedProblem(
                phrase("unit {unit!r} is not known for {role!r}", unit=unit, role=role),
                remedy=phrase("Known there: {known}.", known=known),
            )
    return dict(units)


def _needed_roles(path: Path, header_at: int, headers: list[str], reading: Reading) -> dict[str, int]:
    """The column of each role. Raises UnknownColumns where a needed one is not found."""
    roles = _roles(headers, reading.columns)
    for role in reading.required:
        if role not in roles:
            raise UnknownColumns(
                phrase(
                    "no column for {role_names} in line {header_at}: {headers}",
                    role_names=ROLE_NAMES[role],
                    header_at=header_at + 1,
                    headers=joined(", ", headers),
                ),
                str(path),
                "Say which column it is, or name the column so that it says what it holds.",
                tuple(headers),
            )
    return roles


def _roles(headers: list[str], stated: Mapping[str, str]) -> dict[str, int]:
    """Columns as stated, the rest as found; a stated header that is not there leaves its role out."""
    taken = {headers.index(h) for h in stated.values() if h in headers}
    found = {r: c for r, c in assign_roles(headers).items() if r not in stated and c not in taken}
    return found | {role: headers.index(h) for role, h in stated.items() if h in headers}


def _header(path: Path, text: LogText) -> tuple[int, str]:
    """Line index of the header and the separator: the first line with three or more named fields."""
    for index in text.content()[:40]:
        line = text.line(int(index))
        for separator in _SEPARATORS:
            fields = line.split(separator)
            named = sum(bool(re.search(r"[A-Za-z°%]", f)) for f in fields)
            if len(fields) >= 3 and named >= 0.7 * len(fields):
                return int(index), separator
    raise ExpectedProblem("no heading line with three or more columns found", str(path),
                          "The first line must name the columns, separated by comma, semicolon or tab.")  # fmt: skip


def _decimal_comma(separator: str, rows: list[list[str]]) -> bool:
    if separator == ",":
        return False
    signs = (re.fullmatch(r"\s*-?\d+([.,])\d+\s*", f) for r in rows for f in r)  # a clock's fraction is no number
    seen = Counter(m.group(1) for m in signs if m is not None)
    return seen[","] > seen["."]


def _times(
    path: Path, rows: LogRows, column: int, header: str, decimal: bool, bad: list[tuple[int, str]],
    units: Mapping[str, str],
) -> tuple[FloatArray, np.ndarray]:  # fmt: skip
    sample = [fields[column].strip() for fields in rows.sample(50)]
    clocks = sum(bool(_CLOCK.match(c)) for c in sample)
    if clocks > 25 or clocks > 0.5 * len(sample):
        raw = _clock_seconds(rows.cells(column))
    else:
        raw = rows.numbers(column, decimal)
        raw = unit_for("time", header, raw, units.get("time", "")).convert(raw)
    keep = np.flatnonzero(np.isfinite(raw))
    for k in np.flatnonzero(~np.isfinite(raw)):
        cell = rows.text.line(int(rows.lines[k])).split(rows.separator)[column].strip()
        bad.append((int(rows.lines[k]) + 1, f"no readable time: {cell[:30]}"))
    if keep.size < 10:
        raise ExpectedProblem(phrase("the column {header!r} holds no readable times", header=header), str(path),
                              "Seconds, clock times and date-times are read.")  # fmt: skip
    values = raw[keep]
    if clocks:
        jumps = np.concatenate([[0.0], np.cumsum(np.diff(values) < -DAY_S / 2)])
        values = values + jumps * DAY_S
    back = np.flatnonzero(np.diff(values) < 0)
    if back.size:
        line = int(rows.lines[keep[back[0] + 1]]) + 1
        raise ExpectedProblem(
            phrase("time runs backwards {times}, first at line {line}", times=many(back.size, "time"), line=line),
            str(path),
            "Two logs may have been joined; cut the file there and import the parts.",
        )
    if np.unique(values).size < MIN_DISTINCT_FRAC * values.size:
        raise ExpectedProblem(
            phrase("the clock in {header!r} stands still", header=header),
            str(path),
            "Log with a time stamp per sample.",
        )
    return frozen(_spread_repeats(values - values[0])), keep


def _spread_repeats(values: FloatArray) -> FloatArray:
    """Samples stamped with the same second lie evenly between it and the next one."""
    distinct, first, count = np.unique(values, return_index=True, return_counts=True)
    if distinct.size == values.size or distinct.size < 2:
        return values
    gaps = np.append(np.diff(distinct), np.median(np.diff(distinct)))
    within = np.arange(values.size) - np.repeat(first, count)
    spread: FloatArray = np.repeat(distinct, count) + within * np.repeat(gaps / count, count)
    return spread


def _clock_seconds(cells: list[str]) -> FloatArray:
    """Clock times and date-times in seconds, NaN where a cell is neither; plain columns at once."""
    import pandas

    text = pandas.Series(cells, dtype="object").str.replace(",", ".", regex=False)
    first = next((c for c in cells if _CLOCK.match(c)), "")
    if "-" in first:
        stamps = pandas.to_datetime(text, errors="coerce", format="ISO8601")
        out = stamps.to_numpy(dtype="datetime64[ns]")
        seconds = np.where(np.isnat(out), np.nan, out.astype(np.int64) / 1e9)
    else:
        spans = pandas.to_timedelta(text.where(text.str.count(":") == 2), errors="coerce").to_numpy()
        seconds = np.where(np.isnat(spans), np.nan, spans.astype("timedelta64[ns]").astype(np.int64) / 1e9)
    for k in np.flatnonzero(~np.isfinite(seconds)):  # few, or of a form of their own such as 12:30
        seconds[k] = _clock_s(cells[k])
    return np.asarray(seconds, dtype=np.float64)


def _clock_s(text: str) -> float:
    match = _CLOCK.match(text)
    if match is None:
        return float("nan")
    day, hour, minute, second = match.groups()
    value = int(hour) * 3600.0 + int(minute) * 60.0 + float((second or "0").replace(",", "."))
    return value + (float(np.datetime64(day).astype(int)) * DAY_S if day else 0.0)


def _series(
    path: Path, rows: LogRows, keep: np.ndarray, roles: Mapping[str, int], headers: list[str], decimal: bool,
    units: Mapping[str, str],
) -> tuple[tuple[Series, ...], tuple[Column, ...], list[int]]:  # fmt: skip
    series: list[Series] = []
    columns: list[Column] = []
    bad_cells: list[int] = []
    for role, (key, unit_name) in SERIES.items():
        if role not in roles:
            continue
        header = headers[roles[role]]
        raw = rows.numbers(roles[role], decimal)[keep]
        if not np.isfinite(raw).any():
            continue
        unit = unit_for(role, header, raw, units.get(role, ""))
        values = unit.convert(raw)
        _check_range(path, role, header, unit.name, values)
        if role == "temp":
            bad_cells = [int(keep[k]) for k in np.flatnonzero(~np.isfinite(values))]
        series.append(Series(key, unit_name, f"{path.name}, column {header}", frozen(values)))
        columns.append(Column(role, header, unit.name))
    return tuple(series), tuple(columns), bad_cells


def _check_range(path: Path, role: str, header: str, unit: str, values: FloatArray) -> None:
    low, high = PLAUSIBLE[role]
    finite = values[np.isfinite(values)]
    middle = np.percentile(finite, [5.0, 95.0])
    if middle[0] < low or middle[1] > high:
        choices = ", ".join(f"{role}={u}" for u in unit_names(role))
        raise ExpectedProblem(
            phrase(
                "column {header!r} read as {unit} runs from {middle:.4g} to {middle2:.4g}, which cannot be a "
                "{role_names}",
                header=header,
                unit=unit,
                middle=middle[0],
                middle2=middle[1],
                role_names=ROLE_NAMES[role],
            ),
            str(path),
            phrase("State its unit, for example with --unit ({choices}).", choices=choices),
        )


def _check_share(path: Path, bad: list[tuple[int, str]], total: int) -> None:
    if len(bad) > MAX_BAD_FRAC * total:
        first = bad[0]
        raise ExpectedProblem(
            phrase(
                "{count} of {total} lines cannot be read, first line {first}: {first2}",
                count=len(bad),
                total=total,
                first=first[0],
                first2=first[1],
            ),
            str(path),
            "The file is damaged; export it again.",
        )


def _room(comments: list[str], series: tuple[Series, ...]) -> tuple[float | None, str]:
    logged = next((s for s in series if s.key == "room_c"), None)
    if logged is not None:
        return float(np.nanmean(logged.values)), "logged"
    for comment in comments:
        match = _ROOM.search(comment)
        if match:
            value = float(match.group(1).replace(",", "."))
            return ((value - 32.0) / 1.8 if match.group(2).upper() == "F" else value), "comment line"
    return None, ""
