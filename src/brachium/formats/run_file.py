"""Run files: one run as JSON with its traces inside, or beside it as CSV; or the streaming form of a run in progress.

Format and schema: docs/formats/run.md, docs/formats/run.schema.json.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
from array import array
from collections.abc import Callable, Mapping
from pathlib import Path

from brachium.core.base.arrays import ArrayProblem, FloatArray, frozen, time_axis
from brachium.core.base.late_numpy import np
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.core.measure.run import MeasuredSession, Run, Series, Trace
from brachium.formats.atomic import write_atomically
from brachium.formats.cells import guarded, plain_cell
from brachium.formats.limits import MAX_COLUMNS, MIB, SHAPE, csv_rows, foreign, read_bytes
from brachium.formats.read_run import ReadRun
from brachium.formats.records import RunDocument, check_document, document_of, run_of
from brachium.formats.run_journal import run_from_journal

FORMAT = "brachium-run"
VERSION = 1
MAX_TRACE_BYTES = 24 * MIB


def run_to_file_text(run: Run) -> str:
    """One JSON text with the traces inside."""
    return _dump(run, [_inline(s) for s in run.sessions])


def run_to_parts(run: Run, stem: str) -> dict[str, bytes]:
    """The run as `stem.json` with one CSV per session beside it, by file name."""
    parts: dict[str, bytes] = {}
    entries = []
    for session in run.sessions:
        name = f"{stem}-s{session.number}.csv"
        parts[name] = trace_csv(session.trace).encode()
        entries.append({
            "session": session.number, "file": name, "sha256": sha256(parts[name]),
            "series": [{"key": s.key, "unit": s.unit, "source": s.source} for s in session.trace.series],
        })  # fmt: skip
    return {f"{stem}.json": _dump(run, entries).encode(), **parts}


def write_run_file(run: Run, path: Path) -> None:
    """Write with the traces inside. Raises EnvironmentProblem; an old file stays until the new one is whole."""
    write_atomically(path, run_to_file_text(run).encode())


def read_run_file(path: Path) -> ReadRun:
    """Read either form. Raises ExpectedProblem or EnvironmentProblem naming the place and what to do."""
    try:
        text = read_bytes(path).decode("utf-8")
    except UnicodeDecodeError as error:
        raise ExpectedProblem("this is no run file", str(path), "Name a file made by `brachium measure`.") from error

    def beside(name: str) -> bytes:
        if Path(name).name != name or "\0" in name or (path.parent / name).is_symlink():
            raise ExpectedProblem(phrase("the trace {name!r} lies outside the run's folder", name=name), str(path))
        return read_bytes(path.parent / name, MAX_TRACE_BYTES)

    return run_from_text(text, str(path), beside)


def is_run_file(path: Path) -> bool:
    """Whether a file looks like a run in either form, judged by its first kilobyte."""
    try:
        if not path.is_file():  # a pipe must not hold us
            return False
        with path.open("rb") as file:
            head = file.read(1024)
    except (OSError, ValueError):
        return False
    return b'"brachium-run"' in head or b'"brachium-journal"' in head


def run_from_text(text: str, place: str, beside: Callable[[str], bytes]) -> ReadRun:
    """A run from its JSON text; `beside` gives the content of a CSV by name. Raises ExpectedProblem."""
    with foreign(place, "run"):
        return _from_text(text, place, beside)


def _from_text(text: str, place: str, beside: Callable[[str], bytes]) -> ReadRun:
    if text.lstrip().startswith('{"kind":"head"'):
        return run_from_journal(text, place)
    whole = check_document(text, place, FORMAT, VERSION, "run")
    if whole.get("run_sha256") != sha256(_canonical(whole.get("run"))):
        raise ExpectedProblem("the results do not match their checksum: the file was changed or damaged", place,
                              "Use the original file.")  # fmt: skip
    document = RunDocument.from_plain(whole["run"], place)
    traces, damaged = _traces(whole.get("traces"), place, beside)
    empty = Trace(np.empty(0), (), ())
    run = run_of(document, {s.number: traces.get(s.number, empty) for s in document.sessions})
    lost = [s.number for s in document.sessions if s.number not in traces]
    damaged += [f"session {n}: the traces are missing; its results are kept" for n in lost if not any(
        d.startswith(f"session {n}:") for d in damaged)]  # fmt: skip
    return ReadRun(run, tuple(damaged))


def trace_csv(trace: Trace) -> str:
    """A trace as CSV: `time_s` and one column a series; a missing value is an empty cell; numbers round-trip."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(guarded("time_s", *(s.key for s in trace.series)))
    columns = [trace.time_s.tolist(), *([None if v != v else v for v in s.values.tolist()] for s in trace.series)]
    writer.writerows([("" if v is None else repr(v)) for v in row] for row in zip(*columns, strict=True))
    return out.getvalue()


def _dump(run: Run, traces: list[dict[str, object]]) -> str:
    document = document_of(run).plain()
    whole = {"format": FORMAT, "version": VERSION, "run": document, "run_sha256": sha256(_canonical(document)),
             "traces": traces}  # fmt: skip
    return json.dumps(whole, ensure_ascii=False, allow_nan=False, indent=None) + "\n"


def _inline(session: MeasuredSession) -> dict[str, object]:
    trace = session.trace
    content = {
        "time_s": trace.time_s.tolist(),
        "series": [
            {"key": s.key, "unit": s.unit, "source": s.source,
             "values": [None if v != v else v for v in s.values.tolist()]}
            for s in trace.series
        ],
    }  # fmt: skip
    return {"session": session.number, "sha256": sha256(_canonical(content)), **content}


def _traces(entries: object, place: str, beside: Callable[[str], bytes]) -> tuple[dict[int, Trace], list[str]]:
    traces: dict[int, Trace] = {}
    damaged: list[str] = []
    for position, entry in enumerate(entries if isinstance(entries, list) else []):
        number = entry.get("session") if isinstance(entry, dict) else None
        if not isinstance(entry, dict) or not isinstance(number, int):
            damaged.append(f"trace {position + 1} names no session")
            continue
        try:
            traces[number] = _from_csv(entry, beside) if "file" in entry else _from_inline(entry)
        except (*SHAPE, ArrayProblem, OSError, Problem) as error:
            said = error.what if isinstance(error, Problem) else _reason(error)
            damaged.append(f"session {number}: the traces are damaged ({said}); its results are kept")
    return traces, damaged


def _reason(error: Exception) -> str:
    if isinstance(error, KeyError):
        return f"{error.args[0]!r} is missing"
    if isinstance(error, OSError):
        return f"{error.filename or 'its file'}: {error.strerror or error}"
    return str(error)


def _from_inline(entry: Mapping[str, object]) -> Trace:
    content = {"time_s": entry["time_s"], "series": entry["series"]}
    if entry.get("sha256") != sha256(_canonical(content)):
        raise ValueError("the checksum differs")
    rows: list[Mapping[str, object]] = content["series"]  # type: ignore[assignment]
    series = tuple(Series(*head, _values(r["values"])) for head, r in zip(_heads(rows), rows, strict=True))
    return Trace(time_axis(content["time_s"]), series, ())  # type: ignore[arg-type]


def _from_csv(entry: Mapping[str, object], beside: Callable[[str], bytes]) -> Trace:
    name = str(entry["file"])
    data = beside(name)
    if entry.get("sha256") != sha256(data):
        raise ValueError(phrase("the checksum of {name} differs", name=name))
    heads = _heads(entry["series"])
    rows = csv_rows(data.decode(), name)
    if [plain_cell(c) for c in next(rows, (0, []))[1]] != ["time_s", *(key for key, _, _ in heads)]:
        raise ValueError(phrase("the columns of {name} are not those of the run", name=name))
    numbers = array("d")
    for line, row in rows:
        if len(row) != len(heads) + 1:
            raise ValueError(phrase("line {line} of {name} holds {count} cells", line=line, name=name, count=len(row)))
        numbers.extend(float(c) if c else np.nan for c in row)
    table = np.frombuffer(numbers, dtype=np.float64).reshape(-1, len(heads) + 1)
    series = tuple(Series(*head, frozen(table[:, k + 1])) for k, head in enumerate(heads))
    return Trace(time_axis(table[:, 0]), series, ())


def _heads(rows: object) -> list[tuple[str, str, str]]:
    """(key, unit, source) of every series, each of them a text. Raises ValueError."""
    if not isinstance(rows, list) or len(rows) > MAX_COLUMNS or not all(isinstance(r, dict) for r in rows):
        raise ValueError("the series are no list of series")
    out = [(r["key"], r["unit"], r["source"]) for r in rows]
    if not all(isinstance(text, str) for head in out for text in head):
        raise ValueError("a series is named by something that is no text")
    return out


def _values(values: object) -> FloatArray:
    if not isinstance(values, list):
        raise ValueError("a series holds no values")
    return frozen([np.nan if v is None else v for v in values])


def _canonical(content: object) -> bytes:
    return json.dumps(content, ensure_ascii=False, sort_keys=True, separators=(",", ":")).encode()


def sha256(data: bytes) -> str:
    """Checksum as the manifest and the run files write it."""
    return hashlib.sha256(data).hexdigest()
