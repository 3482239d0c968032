"""The runner: takes a bench through a protocol, samples all the way, keeps what was sampled if stopped."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from brachium.core.arrays import frozen, time_axis
from brachium.core.measure.run import Phase, Protocol, Repeat, Run, Series, Session, Trace
from brachium.core.measure.tests import TESTS
from brachium.core.measure.validity import settle_problem
from brachium.devices.protocols import Bench

REST_BETWEEN_TESTS_S = 4.0
FIRST_REST_S = 20.0


@dataclass(frozen=True)
class RunProgress:
    """Where a run stands; times in seconds on the machine's clock. `real_left_s` is None when not paced."""

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
    finished: tuple[Session, ...]
    progress: RunProgress


class Recorder:
    """Buffer between the sampling thread and whoever looks; every access is locked."""

    def __init__(self, bench: Bench, protocol: Protocol) -> None:
        self._lock = threading.Lock()
        self._channels = bench.sampler.channels()
        self._protocol = protocol
        self._finished: list[Session] = []
        self._progress = RunProgress(1, protocol.sessions, "", 0.0, 0.0)
        self.begin(1, 0.0)

    def begin(self, number: int, start_s: float) -> None:
        with self._lock:
            self._number, self._start_s = number, start_s
            self._times: list[float] = []
            self._rows: list[list[float]] = []
            self._phases: list[Phase] = []
            self._repeats: list[Repeat] = []

    def add_sample(self, time_s: float, values: object) -> None:
        assert hasattr(values, "get")
        row = [float(values.get(c.key, float("nan"))) for c in self._channels]
        with self._lock:
            self._times.append(time_s - self._start_s)
            self._rows.append(row)

    def add_phase(self, name: str, start_s: float, end_s: float) -> None:
        with self._lock:
            self._phases.append(Phase(name, start_s - self._start_s, end_s - self._start_s))

    def add_repeat(self, repeat: Repeat) -> None:
        with self._lock:
            self._repeats.append(repeat)

    def set_progress(self, progress: RunProgress) -> None:
        with self._lock:
            self._progress = progress

    def finish(self) -> None:
        session = self._session()
        if session is not None:
            with self._lock:
                self._finished.append(session)

    def sessions(self) -> tuple[Session, ...]:
        with self._lock:
            return tuple(self._finished)

    def snapshot(self) -> LiveView:
        """What there is now; cheap enough to be called ten times a second."""
        session = self._session()
        with self._lock:
            trace = session.trace if session else None
            return LiveView(self._number, trace, tuple(self._repeats), tuple(self._finished), self._progress)

    def _session(self) -> Session | None:
        with self._lock:
            if len(self._times) < 2:
                return None
            table = np.array(self._rows)
            times = list(self._times)
            phases, repeats, number = tuple(self._phases), tuple(self._repeats), self._number
        series = tuple(
            Series(c.key, c.unit, c.source, frozen(table[:, k]))
            for k, c in enumerate(self._channels)
            if np.isfinite(table[:, k]).any()
        )
        return Session(number, Trace(time_axis(times), series, phases), repeats)


class Runner:
    """Runs a protocol on a bench. `cancelled` is asked between samples; a stopped run is marked incomplete."""

    def __init__(self, bench: Bench, protocol: Protocol, cancelled: Callable[[], bool] = lambda: False) -> None:
        self._bench, self._protocol, self._cancelled = bench, protocol, cancelled
        self.recorder = Recorder(bench, protocol)
        self._done_s = 0.0
        self._left_s = self._session_s() * protocol.sessions
        self._phase = ""

    def execute(self, run_id: str, configuration: str, taken_at: str) -> Run:
        """Do it. Everything sampled is in the result, also after a stop."""
        complete = True
        for number in range(1, self._protocol.sessions + 1):
            self._bench.restart()
            self.recorder.begin(number, self._bench.clock.now_s())
            complete = self._session(number)
            self.recorder.finish()
            if not complete:
                break
        tests = tuple(t for t in TESTS if t.key in self._protocol.tests)
        return Run(
            run_id, configuration, self._protocol, self._bench.conditions(), tests,
            self.recorder.sessions(), taken_at, "measured", complete,
        )  # fmt: skip

    def _session_s(self) -> float:
        phases = sum(p.duration_s for p in self._protocol.phases)
        tests = [k for k in self._protocol.tests if k != "sustained"]
        each = sum(self._bench.workload(k).expected_s() + REST_BETWEEN_TESTS_S for k in tests)
        return phases + FIRST_REST_S + each * self._protocol.repeats

    def _session(self, number: int) -> bool:
        for phase in self._protocol.phases:
            busy = phase.name == "load"
            if busy:
                self._bench.set_load(True)
            finished = self._pass(phase.name, phase.duration_s, number)
            if busy:
                self._bench.set_load(False)
                self.recorder.add_repeat(Repeat("sustained", self._bench.sustained_score()))
            if not finished:
                return False
        return self._tests(number)

    def _tests(self, number: int) -> bool:
        if not self._pass("rest", FIRST_REST_S, number):
            return False
        problem = self._settle_problem()
        for key in self._protocol.tests:
            if key == "sustained":
                continue
            for _ in range(self._protocol.repeats):
                if not self._one_test(key, problem, number):
                    return False
        return True

    def _one_test(self, key: str, problem: str, number: int) -> bool:
        workload = self._bench.workload(key)
        start = self._bench.clock.now_s()
        workload.start()
        finished = True
        while finished and not workload.done():
            finished = self._sample(number, f"test {key}")
        if finished:
            self.recorder.add_repeat(Repeat(key, workload.result(), not problem, problem))
        workload.stop()
        self.recorder.add_phase(f"test {key}", start, self._bench.clock.now_s())
        return finished and self._pass("rest", REST_BETWEEN_TESTS_S, number)

    def _pass(self, name: str, duration_s: float, number: int) -> bool:
        start = self._bench.clock.now_s()
        finished = True
        while finished and self._bench.clock.now_s() - start < duration_s - 1e-6:
            finished = self._sample(number, name)
        self.recorder.add_phase(name, start, self._bench.clock.now_s())
        return finished

    def _sample(self, number: int, phase: str) -> bool:
        step = 1.0 / self._protocol.rate_hz
        self._bench.clock.sleep(step)
        self.recorder.add_sample(self._bench.clock.now_s(), self._bench.sampler.sample())
        self._done_s += step
        self._left_s = max(self._left_s - step, 0.0)
        self.recorder.set_progress(RunProgress(number, self._protocol.sessions, phase, self._done_s, self._left_s))
        return not self._cancelled()

    def _settle_problem(self) -> str:
        view = self.recorder.snapshot()
        return settle_problem(view.trace) if view.trace is not None else ""


def run_seconds(bench: Bench, protocol: Protocol) -> float:
    """Expected length of a whole run on the machine's clock [s]."""
    return Runner(bench, protocol)._session_s() * protocol.sessions
