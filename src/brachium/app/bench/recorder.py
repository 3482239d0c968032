"""What a run has sampled so far: a locked buffer between the sampling thread and whoever looks, and its journal."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import frozen, time_axis
from brachium.core.measure.run import MeasuredSession, Phase, Protocol, Repeat, RunCheck, Series, Trace
from brachium.devices.protocols import ChannelInfo
from brachium_probe.journal import JournalWriter


@dataclass(frozen=True)
class RunProgress:
    """Where a run stands; times in seconds on the machine's clock."""

    session: int
    sessions: int
    phase: str
    done_s: float
    left_s: float


@dataclass(frozen=True)
class LiveView:
    """A copy of what was sampled so far in the present session, for the window to draw."""

    session: int
    trace: Trace | None
    repeats: tuple[Repeat, ...]
    finished: tuple[MeasuredSession, ...]
    progress: RunProgress
    checks: tuple[RunCheck, ...] = ()
    others: tuple[str, ...] = ()  # programs at work beside the run, where it should be calm


class Recorder:
    """Every access is locked. With a journal everything is also written as it comes."""

    def __init__(
        self, channels: tuple[ChannelInfo, ...], protocol: Protocol, journal: JournalWriter | None = None
    ) -> None:
        self._lock = threading.Lock()
        self._channels = channels
        self._journal = journal
        self._finished: list[MeasuredSession] = []
        self._others: tuple[str, ...] = ()
        self._checks: list[RunCheck] = []
        self._progress = RunProgress(1, protocol.sessions, "", 0.0, 0.0)
        self._clear(1, 0.0, "")

    def begin(self, number: int, start_s: float, boot_id: str) -> None:
        with self._lock:
            self._clear(number, start_s, boot_id)
        if self._journal is not None:
            self._journal.begin(number, boot_id)

    def _clear(self, number: int, start_s: float, boot_id: str) -> None:
        self._number, self._start_s, self._boot_id = number, start_s, boot_id
        self._times: list[float] = []
        self._rows: list[list[float]] = []
        self._phases: list[Phase] = []
        self._repeats: list[Repeat] = []
        self._present: tuple[str, float] | None = None

    def enter(self, phase: str, start_s: float) -> None:
        """A phase begins; a look meanwhile shows it as lasting until now."""
        with self._lock:
            self._present = (phase, start_s - self._start_s)
        if self._journal is not None:
            self._journal.enter(phase, start_s - self._start_s)

    def add_sample(self, time_s: float, values: Mapping[str, float]) -> None:
        row = [float(values.get(c.key, float("nan"))) for c in self._channels]
        with self._lock:
            self._times.append(time_s - self._start_s)
            self._rows.append(row)
        if self._journal is not None:
            self._journal.sample(round(time_s - self._start_s, 4), row)

    def add_phase(self, name: str, start_s: float, end_s: float) -> None:
        phase = Phase(name, start_s - self._start_s, end_s - self._start_s)
        with self._lock:
            self._phases.append(phase)
            self._present = None
        if self._journal is not None:
            self._journal.phase(name, phase.start_s, phase.end_s)

    def add_repeat(self, repeat: Repeat) -> None:
        with self._lock:
            self._repeats.append(repeat)
        if self._journal is not None:
            self._journal.repeat(repeat.test, repeat.value, repeat.valid, repeat.reason, repeat.curve, repeat.parts)

    def add_check(self, check: RunCheck) -> None:
        with self._lock:
            self._checks.append(check)
        if self._journal is not None:
            self._journal.check(check.key, check.title, check.passed, check.detail)

    def set_quiet(self, quiet: bool) -> None:
        """While a drive is tested the journal does not force its lines to the disk."""
        if self._journal is not None:
            self._journal.quiet = quiet

    def set_others(self, others: tuple[str, ...]) -> None:
        """Programs at work beside the run."""
        with self._lock:
            self._others = others

    def set_progress(self, progress: RunProgress) -> None:
        with self._lock:
            self._progress = progress

    def finish(self) -> None:
        session = self._session()
        if session is not None:
            with self._lock:
                self._finished.append(session)

    def end(self, complete: bool, notes: tuple[str, ...]) -> str:
        """Close the journal; returns what went wrong with it, empty where nothing did."""
        if self._journal is None:
            return ""
        self._journal.end(complete, list(notes))
        return self._journal.problem

    def sessions(self) -> tuple[MeasuredSession, ...]:
        with self._lock:
            return tuple(self._finished)

    def checks(self) -> tuple[RunCheck, ...]:
        with self._lock:
            return tuple(self._checks)

    def since(self, start_s: float) -> Trace | None:
        """The samples taken after a time on the machine's clock; None where there are fewer than two."""
        session = self._session()
        if session is None:
            return None
        trace = session.trace.cut(start_s - self._start_s, np.inf)
        return trace if trace.time_s.size >= 2 else None

    def snapshot(self) -> LiveView:
        """What there is now; cheap enough to be called ten times a second."""
        session = self._session()
        with self._lock:
            trace = session.trace if session else None
            return LiveView(
                self._number,
                trace,
                tuple(self._repeats),
                tuple(self._finished),
                self._progress,
                tuple(self._checks),
                self._others,
            )

    def mark(self) -> tuple[int, int]:
        """(session, samples in it): changes exactly when something new was sampled."""
        with self._lock:
            return self._number, len(self._times)

    def _session(self) -> MeasuredSession | None:
        with self._lock:
            if len(self._times) < 2:
                return None
            table = np.array(self._rows)
            times = list(self._times)
            phases, repeats, number = list(self._phases), tuple(self._repeats), self._number
            if self._present is not None:
                phases.append(Phase(self._present[0], self._present[1], times[-1]))
        series = tuple(
            Series(c.key, c.unit, c.source, frozen(table[:, k]))
            for k, c in enumerate(self._channels)
            if np.isfinite(table[:, k]).any()
        )
        return MeasuredSession(number, Trace(time_axis(times), series, tuple(phases)), repeats, self._boot_id)
