"""Jobs and runs as JSON documents. Traces travel beside a run's document, one array per series."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace

from brachium.core.base.arrays import FloatArray, frozen, time_axis
from brachium.core.base.packed_text import packed, unpacked
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, Phase, Protocol, Repeat, Run, RunCheck, Series, TestSpec, Trace
from brachium.core.record.card import JobCard, Waits
from brachium.core.record.job import Job
from brachium.formats.documents import Document
from brachium.formats.limits import parse_json
from brachium.formats.upgrades import job as job_upgrades
from brachium.formats.upgrades import run as run_upgrades

CARD_FIELDS = {f.name: bool if f.name == "archived" else str for f in fields(JobCard)}
JOB: Document[Job] = Document(Job, "job", job_upgrades.UPGRADES)


@dataclass(frozen=True)
class SessionDocument:
    """A session without its arrays."""

    number: int
    phases: tuple[Phase, ...]
    repeats: tuple[Repeat, ...]
    boot_id: str = ""


@dataclass(frozen=True)
class RunDocument:
    """A run without its arrays."""

    id: str
    configuration: str
    protocol: Protocol
    conditions: Conditions
    tests: tuple[TestSpec, ...]
    sessions: tuple[SessionDocument, ...]
    taken_at: str
    origin: str
    complete: bool
    void_reason: str = ""
    notes: tuple[str, ...] = ()
    checks: tuple[RunCheck, ...] = ()
    machine: str = ""

    def plain(self) -> dict[str, object]:
        """As JSON-ready values."""
        return dict(RUN.plain(self))

    @staticmethod
    def from_plain(values: object, place: str) -> RunDocument:
        """Raises ExpectedProblem naming the first bad field."""
        return RUN.take(values, place)


@dataclass(frozen=True)
class SeriesArray:
    """One stored array of a run: session number, key ("time_s" is the axis), unit, source, values."""

    session: int
    key: str
    unit: str
    source: str
    values: FloatArray


RUN: Document[RunDocument] = Document(RunDocument, "run", run_upgrades.UPGRADES)


def run_schema() -> dict[str, object]:
    """JSON Schema of the run document."""
    return RUN.schema()


def job_schema() -> dict[str, object]:
    """JSON Schema of the job record."""
    return JOB.schema()


def check_document(text: str, place: str, wanted: str, newest: int, noun: str) -> dict[str, object]:
    """The JSON object in `text` if it is a `wanted` file of a known version.

    Raises ExpectedProblem naming the line, the format, or the newer version.
    """
    whole = parse_json(text, place, noun)
    if not isinstance(whole, dict) or whole.get("format") != wanted:
        raise ExpectedProblem(
            phrase("this is no {noun} file", noun=noun),
            place,
            phrase("A {noun} file says format {wanted!r}.", noun=noun, wanted=wanted),
        )
    version = whole.get("version")
    if not isinstance(version, int):
        raise ExpectedProblem("the file states no version", place, "Use the original file.")
    if version > newest:
        raise ExpectedProblem(
            phrase(
                "written by a newer Brachium (format version {version}, this program knows {newest})",
                version=version,
                newest=newest,
            ),
            place,
            "Update the program.",
        )
    return whole


def job_to_json(job: Job) -> str:
    return JOB.text(job)


def job_from_json(text: str, place: str) -> Job:
    """Raises ExpectedProblem naming the first bad field."""
    return JOB.read(text, place)


def document_of(run: Run) -> RunDocument:
    """The document of a run; the arrays come from `run_arrays`."""
    sessions = tuple(SessionDocument(s.number, s.trace.phases, s.repeats, s.boot_id) for s in run.sessions)
    return RunDocument(
        run.id, run.configuration, run.protocol, run.conditions, run.tests, sessions, run.taken_at, run.origin,
        run.complete, run.void_reason, run.notes, run.checks, run.machine,
    )  # fmt: skip


def run_of(document: RunDocument, traces: Mapping[int, Trace]) -> Run:
    """The run of a document; `traces` holds the arrays by session number, the phases are the document's."""
    sessions = tuple(
        MeasuredSession(s.number, replace(traces[s.number], phases=s.phases), s.repeats, s.boot_id)
        for s in document.sessions
    )
    return Run(
        document.id, document.configuration, document.protocol, document.conditions, document.tests, sessions,
        document.taken_at, document.origin, document.complete, document.void_reason, document.notes, document.checks,
        document.machine,
    )  # fmt: skip


def run_to_json(run: Run) -> str:
    """The document of a run as JSON text."""
    return RUN.text(document_of(run))


def run_heading(text: str, place: str) -> Run:
    """The run of a document without its arrays: conditions and results.

    Raises ExpectedProblem naming the first bad field.
    """
    document = RUN.read(text, place)
    bare = Trace(frozen([]), (), ())
    return run_of(document, {s.number: bare for s in document.sessions})


def card_to_json(card: JobCard) -> str:
    plain = {name: getattr(card, name) for name in CARD_FIELDS}
    return json.dumps({**plain, "note": packed(card.note)}, ensure_ascii=False, separators=(",", ":"))


def card_from_json(text: str) -> JobCard | None:
    """None where the text is no card of this version: it is made anew from the record then.

    Read by hand: a shop of twenty thousand machines reads as many of them at every start.
    """
    try:
        plain = json.loads(text)
        if plain.keys() != CARD_FIELDS.keys() or any(type(plain[n]) is not kind for n, kind in CARD_FIELDS.items()):
            return None
        return JobCard(**{**plain, "waits": Waits(plain["waits"]), "note": unpacked(plain["note"])})
    except (ValueError, AttributeError):
        return None


def run_arrays(run: Run) -> tuple[SeriesArray, ...]:
    out: list[SeriesArray] = []
    for session in run.sessions:
        out.append(SeriesArray(session.number, "time_s", "s", "", session.trace.time_s))
        out += [SeriesArray(session.number, s.key, s.unit, s.source, s.values) for s in session.trace.series]
    return tuple(out)


def run_from_json(text: str, arrays: tuple[SeriesArray, ...], place: str) -> Run:
    """Raises ExpectedProblem naming the first bad field or a missing array."""
    document = RUN.read(text, place)
    return run_of(document, {s.number: _trace(s.number, arrays, place) for s in document.sessions})


def _trace(number: int, arrays: tuple[SeriesArray, ...], place: str) -> Trace:
    own = [a for a in arrays if a.session == number]
    axis = next((a for a in own if a.key == "time_s"), None)
    if axis is None:
        raise ExpectedProblem(phrase("session {number} has no time axis", number=number), place, "Restore a backup.")
    series = tuple(Series(a.key, a.unit, a.source, frozen(a.values)) for a in own if a.key != "time_s")
    time_s = time_axis(axis.values) if axis.values.size else frozen([])
    return Trace(time_s, series, ())
