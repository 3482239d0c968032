"""Jobs and runs as JSON documents. Traces travel beside a run's document, one array per series."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import TypeAdapter, ValidationError

from brachium.core.arrays import FloatArray, frozen, time_axis
from brachium.core.job.job import Job
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import Phase, Protocol, Repeat, Run, Series, Session, TestSpec, Trace
from brachium.core.problems import ExpectedProblem

_JOB = TypeAdapter(Job)


@dataclass(frozen=True)
class SessionDocument:
    """A session without its arrays."""

    number: int
    phases: tuple[Phase, ...]
    repeats: tuple[Repeat, ...]


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
    void_reason: str
    notes: tuple[str, ...]


@dataclass(frozen=True)
class SeriesArray:
    """One stored array of a run: session number, key ("time_s" is the axis), unit, source, values."""

    session: int
    key: str
    unit: str
    source: str
    values: FloatArray


_RUN = TypeAdapter(RunDocument)


def job_to_json(job: Job) -> str:
    return _JOB.dump_json(job).decode()


def job_from_json(text: str, place: str) -> Job:
    """Raises ExpectedProblem naming the first bad field."""
    try:
        return _JOB.validate_json(text)
    except ValidationError as error:
        raise _said(error, place) from error


def run_to_json(run: Run) -> str:
    """The document of a run; the arrays come from `run_arrays`."""
    sessions = tuple(SessionDocument(s.number, s.trace.phases, s.repeats) for s in run.sessions)
    document = RunDocument(
        run.id, run.configuration, run.protocol, run.conditions, run.tests, sessions, run.taken_at, run.origin,
        run.complete, run.void_reason, run.notes,
    )  # fmt: skip
    return _RUN.dump_json(document).decode()


def run_arrays(run: Run) -> tuple[SeriesArray, ...]:
    out: list[SeriesArray] = []
    for session in run.sessions:
        out.append(SeriesArray(session.number, "time_s", "s", "", session.trace.time_s))
        out += [SeriesArray(session.number, s.key, s.unit, s.source, s.values) for s in session.trace.series]
    return tuple(out)


def run_from_json(text: str, arrays: tuple[SeriesArray, ...], place: str) -> Run:
    """Raises ExpectedProblem naming the first bad field or a missing array."""
    try:
        document = _RUN.validate_json(text)
    except ValidationError as error:
        raise _said(error, place) from error
    sessions = tuple(_session(s, arrays, place) for s in document.sessions)
    return Run(
        document.id, document.configuration, document.protocol, document.conditions, document.tests, sessions,
        document.taken_at, document.origin, document.complete, document.void_reason, document.notes,
    )  # fmt: skip


def _session(document: SessionDocument, arrays: tuple[SeriesArray, ...], place: str) -> Session:
    own = [a for a in arrays if a.session == document.number]
    axis = next((a for a in own if a.key == "time_s"), None)
    if axis is None:
        raise ExpectedProblem(f"session {document.number} has no time axis", place, "Restore a backup.")
    series = tuple(Series(a.key, a.unit, a.source, frozen(a.values)) for a in own if a.key != "time_s")
    return Session(document.number, Trace(time_axis(axis.values), series, document.phases), document.repeats)


def _said(error: ValidationError, place: str) -> ExpectedProblem:
    first = error.errors()[0]
    path = ".".join(str(p) for p in first["loc"])
    return ExpectedProblem(f"{path}: {first['msg']}", place, "The rest of the file was left as it is.")
