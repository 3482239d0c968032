"""A run: one machine in one configuration under one protocol; sessions with traces and repeats.

Runs are never edited after capture; a wrong one is voided with a reason.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.measure.conditions import Conditions


@dataclass(frozen=True)
class TestSpec:
    """A test: key, title, unit of its result, which direction is better, version of the workload."""

    key: str
    title: str
    unit: str
    higher_is_better: bool
    version: int
    about: str

    __test__ = False  # not a pytest class


@dataclass(frozen=True)
class PhaseStep:
    """One phase of a protocol; duration in seconds."""

    name: str
    duration_s: float


@dataclass(frozen=True)
class Protocol:
    """What is done in each session: checks, phases sampled at `rate_hz`, then each test `repeats` times.

    `test_s` is the length of one timed test [s]; the memory test takes at most so long and so much [bytes], the drive
    tests a file of `drive_bytes`. `cannot` says in words what this protocol cannot conclude.
    """

    MERGES_WHOLE = True  # runs compare by one protocol

    name: str
    version: int
    phases: tuple[PhaseStep, ...]
    tests: tuple[str, ...]
    repeats: int
    sessions: int
    rate_hz: float = 1.0
    test_s: float = 12.0
    memory_test_s: float = 60.0
    memory_test_bytes: int = 8 << 30
    drive_bytes: int = 2 << 30
    cannot: tuple[str, ...] = ()

    def measures_like(self, other: Protocol) -> bool:
        """Whether tests of both are of the same length: a later version may only have more of them."""
        own, theirs = ((p.name, p.phases, p.rate_hz, p.test_s, p.memory_test_s, p.drive_bytes) for p in (self, other))
        return own == theirs


@dataclass(frozen=True)
class Series:
    """One sampled quantity, values of shape (n_samples,); `source` names the sensor."""

    key: str
    unit: str
    source: str
    values: FloatArray = field(repr=False)


@dataclass(frozen=True)
class Phase:
    """A named stretch of a trace [s from its start]."""

    name: str
    start_s: float
    end_s: float


@dataclass(frozen=True)
class Trace:
    """Sampled series on one time axis, shape (n_samples,) [s]."""

    time_s: FloatArray = field(repr=False)
    series: tuple[Series, ...]
    phases: tuple[Phase, ...]

    def values(self, key: str) -> FloatArray | None:
        """Values of one series, None where it was not sampled."""
        return next((s.values for s in self.series if s.key == key), None)

    def phase(self, name: str) -> Phase | None:
        return next((p for p in self.phases if p.name == name), None)

    def cut(self, start_s: float, end_s: float) -> Trace:
        """The stretch between two times."""
        keep = (self.time_s >= start_s) & (self.time_s <= end_s)
        series = tuple(replace(s, values=s.values[keep]) for s in self.series)
        phases = tuple(p for p in self.phases if p.start_s < end_s and p.end_s > start_s)
        return Trace(self.time_s[keep], series, phases)


@dataclass(frozen=True)
class Repeat:
    """One result of one test. An invalid one keeps its value and says why it does not count. `curve` are (x, y) of a
    test that measures more than one figure, such as latency by working set; `parts` are (name, value) of what came with
    the result: the seconds of a task by where they went, the slowest frames of a scene."""

    test: str
    value: float
    valid: bool = True
    reason: str = ""
    curve: tuple[tuple[float, float], ...] = ()
    parts: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True)
class RunCheck:
    """Something looked at before or while measuring (memory test, checksums under load); `passed` None = left out."""

    key: str
    title: str
    passed: bool | None
    detail: str


@dataclass(frozen=True)
class MeasuredSession:
    """What was measured between two restarts of the machine; `boot_id` tells one start from another."""

    number: int
    trace: Trace
    repeats: tuple[Repeat, ...] = ()
    boot_id: str = ""

    def results(self, test: str) -> FloatArray:
        """Valid results of one test in order, shape (n_repeats,)."""
        return np.array([r.value for r in self.repeats if r.test == test and r.valid], dtype=np.float64)


@dataclass(frozen=True)
class Run:
    """A run as captured. `origin` names its source: measured here, or the file it was read from.

    `machine` is the measured machine's own signature in words; empty where it is not known.
    """

    id: str
    configuration: str
    protocol: Protocol
    conditions: Conditions
    tests: tuple[TestSpec, ...]
    sessions: tuple[MeasuredSession, ...]
    taken_at: str
    origin: str
    complete: bool = True
    void_reason: str = ""
    notes: tuple[str, ...] = ()
    checks: tuple[RunCheck, ...] = ()
    machine: str = ""

    def test(self, key: str) -> TestSpec | None:
        return next((t for t in self.tests if t.key == key), None)

    def results(self, key: str) -> tuple[FloatArray, ...]:
        """Valid results of one test per session; sessions without any are left out."""
        per_session = (s.results(key) for s in self.sessions)
        return tuple(r for r in per_session if r.size)


def curve_of(run: Run, key: str) -> tuple[tuple[float, float], ...]:
    """The curve of a test: at each x the median over its valid repeats; empty where it has none."""
    found: dict[float, list[float]] = {}
    for repeat in (r for s in run.sessions for r in s.repeats if r.test == key and r.valid):
        for x, y in repeat.curve:
            found.setdefault(x, []).append(y)
    return tuple((x, float(np.median(found[x]))) for x in sorted(found))


def parts_of(run: Run, key: str) -> dict[str, float]:
    """What came with the results of a test: of each name the median over its valid repeats; empty where nothing did."""
    found: dict[str, list[float]] = {}
    for repeat in (r for s in run.sessions for r in s.repeats if r.test == key and r.valid):
        for name, value in repeat.parts:
            found.setdefault(name, []).append(value)
    return {name: float(np.median(values)) for name, values in found.items()}


NOT_MEASURED = "not measured here: "


def not_measured(what: str, why: str) -> str:
    """The note of something that a run could not measure."""
    return phrase("{not_measured}{what}: {why}", not_measured=NOT_MEASURED, what=what, why=why)


def missing_of(run: Run) -> tuple[tuple[str, str], ...]:
    """(what, why) of everything that a run says it could not measure."""
    notes = (n.removeprefix(NOT_MEASURED).partition(": ") for n in run.notes if n.startswith(NOT_MEASURED))
    return tuple((what, why) for what, _, why in notes)
