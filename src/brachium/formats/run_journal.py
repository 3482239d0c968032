"""The streaming form of a run file: what was written line by line while the run went on, whole or cut off."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from brachium.core.base.arrays import frozen, time_axis
from brachium.core.base.late_numpy import np
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.run import Phase, Repeat, Run, RunCheck, Series, Trace
from brachium.formats.documents import Document
from brachium.formats.ids import JOURNAL_SUFFIX as JOURNAL_SUFFIX
from brachium.formats.limits import MAX_COLUMNS, SHAPE, parse_json
from brachium.formats.read_run import ReadRun
from brachium.formats.records import RunDocument, run_of
from brachium.formats.scan_plain import scan_from_plain
from brachium_probe.journal import FORMAT, FORMAT_VERSION

_PHASE: Document[Phase] = Document(Phase, "phase")
_REPEAT: Document[Repeat] = Document(Repeat, "repeat")
_CHECK: Document[RunCheck] = Document(RunCheck, "check")
Line = Mapping[str, object]


@dataclass
class _Session:
    number: int
    boot: str
    times: list[float] = field(default_factory=list)
    rows: list[list[float]] = field(default_factory=list)
    phases: list[dict[str, object]] = field(default_factory=list)
    present: dict[str, object] | None = None
    repeats: list[dict[str, object]] = field(default_factory=list)


def run_from_journal(text: str, place: str) -> ReadRun:
    """The run as far as it was written; one without its last line is marked incomplete, never guessed on.

    Raises ExpectedProblem where the head is damaged or of a newer version.
    """
    lines = text.split("\n")
    head = _head(lines[0], place)
    width = len(_channels(head))
    sessions: list[_Session] = []
    checks: list[dict[str, object]] = []
    end: Line | None = None
    bad: list[int] = []
    for number, raw in enumerate(lines[1:], 2):
        if not raw:
            continue
        try:
            if raw == lines[number - 2]:
                raise ValueError("a line that stands twice")
            line = parse_json(raw, f"{place}, line {number}")
            end = _take(line, sessions, checks, width) or end
        except (*SHAPE, Problem):
            bad.append(number)
    last = len(lines) if lines[-1] else len(lines) - 1
    damaged = tuple(f"line {n} cannot be read and is left out" for n in bad if n != last or end is not None)
    run = _run(head, sessions, checks, end, place)
    return ReadRun(run, *_scan(head, place, damaged))


def _scan(head: Line, place: str, damaged: tuple[str, ...]) -> tuple[tuple[str, ...], Scan | None]:
    """(what is damaged, the scan); a scan that cannot be read does not take the run with it."""
    found = head.get("scan")
    if not isinstance(found, dict):
        return damaged, None
    try:
        return damaged, scan_from_plain(found, place)
    except ExpectedProblem as problem:
        return (*damaged, f"the scan is left out: {problem.what}"), None


def _head(raw: str, place: str) -> Line:
    try:
        head = parse_json(raw, place)
    except ExpectedProblem as problem:
        raise ExpectedProblem("the first line of this run cannot be read", place, "Use the original file.") from problem
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise ExpectedProblem("this is no run in progress", place, "Use the original file.")
    version = head.get("version")
    if not isinstance(version, int) or version > FORMAT_VERSION:
        raise ExpectedProblem(
            phrase(
                "written by a newer Brachium (format version {version}, this program knows {format_version})",
                version=version,
                format_version=FORMAT_VERSION,
            ),
            place,
            "Update the program.",
        )
    return head


def _channels(head: Line) -> list[tuple[str, str, str]]:
    """(key, unit, source) of every channel. Raises ValueError where one is not three texts."""
    channels = head.get("channels")
    if not isinstance(channels, list) or len(channels) > MAX_COLUMNS:
        raise ValueError("the channels are no list of channels")
    for channel in channels:
        if not isinstance(channel, list) or len(channel) != 3 or not all(isinstance(c, str) for c in channel):
            raise ValueError("a channel is key, unit and source")
    return [(c[0], c[1], c[2]) for c in channels]


# complex: one branch a kind of line
def _take(
    line: dict[str, object], sessions: list[_Session], checks: list[dict[str, object]], width: int
) -> Line | None:
    """Sort one line in; returns it if it is the last one."""
    kind = line.pop("kind")
    if kind == "session":
        number = line["number"]
        if not isinstance(number, int) or number in {s.number for s in sessions}:
            raise ValueError("a session with the number of another one")
        sessions.append(_Session(number, str(line["boot"])))
    elif kind == "s":
        values: list[float | None] = line["v"]  # type: ignore[assignment]
        if len(values) != width:
            raise ValueError("wrong number of values")
        time_s = float(line["t"])  # type: ignore[arg-type]
        if sessions[-1].times and time_s <= sessions[-1].times[-1]:
            raise ValueError("a line that stands twice, or out of order")
        row = [np.nan if v is None else float(v) for v in values]
        sessions[-1].times.append(time_s)
        sessions[-1].rows.append(row)
    elif kind == "enter":
        start_s = line["start_s"]  # its end comes with the next line
        sessions[-1].present = _checked(_PHASE, {**line, "end_s": start_s})
    elif kind == "phase":
        sessions[-1].present = None
        sessions[-1].phases.append(_checked(_PHASE, line))
    elif kind == "repeat":
        sessions[-1].repeats.append(_checked(_REPEAT, line))
    elif kind == "check":
        checks.append(_checked(_CHECK, line))
    elif kind == "end":
        return _checked_end(line)
    else:
        raise ValueError(phrase("unknown line {kind!r}", kind=kind))
    return None


def _checked(document: Document[Any], line: Line) -> dict[str, object]:
    """The line, if it holds what its kind holds: one that does not is left out and takes nothing with it."""
    return dict(document.plain(document.take(dict(line), "line")))


def _checked_end(line: Line) -> Line:
    notes = line["notes"]
    if not isinstance(notes, list) or not all(isinstance(n, str) for n in notes):
        raise ValueError("the notes are no texts")
    return line


def _run(head: Line, sessions: list[_Session], checks: list[dict[str, object]], end: Line | None, place: str) -> Run:
    kept = [s for s in sessions if len(s.times) >= 2]
    facts: dict[str, object] = dict(head["run"])  # type: ignore[call-overload]
    notes = list(facts.get("notes", []) or [])  # type: ignore[call-overload]
    notes += list(end["notes"]) if end is not None else ["the run was cut off; what was written until then is kept"]  # type: ignore[call-overload]
    facts |= {
        "complete": bool(end["complete"]) if end is not None else False, "notes": notes, "checks": checks,
        "sessions": [{"number": s.number, "phases": _phases(s), "repeats": s.repeats, "boot_id": s.boot}
                     for s in kept],
    }  # fmt: skip
    document = RunDocument.from_plain(facts, place)
    return run_of(document, {s.number: _trace(head, s) for s in kept})


def _phases(session: _Session) -> list[dict[str, object]]:
    """The phase that was going on when the run was cut off lasts until the last sample."""
    if session.present is None:
        return session.phases
    return [*session.phases, {**session.present, "end_s": session.times[-1]}]


def _trace(head: Line, session: _Session) -> Trace:
    table = np.array(session.rows).reshape(len(session.rows), -1)
    series = tuple(
        Series(key, unit, source, frozen(table[:, k]))
        for k, (key, unit, source) in enumerate(_channels(head))
        if np.isfinite(table[:, k]).any()
    )
    return Trace(time_axis(session.times), series, ())
