"""The runner: takes a bench through a protocol, samples all the way, keeps what was sampled if stopped."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from brachium.app.bench.need_folder import NEED_FOLDER
from brachium.app.bench.recorder import Recorder, RunProgress
from brachium.app.bench.resume_run import Rest
from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.measure.feel_tests import EVERYDAY, ONCE
from brachium.core.measure.run import PhaseStep, Protocol, Repeat, Run, RunCheck, TestSpec, not_measured
from brachium.core.measure.validity import burst_problem, settle_problem
from brachium.core.measure.workloads import COUNTED, TESTS
from brachium.devices.protocols import Bench, Workload
from brachium_probe.journal import JournalWriter

REST_BETWEEN_TESTS_S = 4.0
QUICK_TASKS = 2  # repeats of an everyday task in a quick protocol
QUICK_REST_S = 1.0
FIRST_REST_S = 20.0
HOST_SHARE = 0.02
PAUSED, PAUSE_LOOK_S, BREATH_S = "paused", 0.5, 0.002
CALM, LOOK_S = ("settle", "idle"), 5.0  # phases in which nothing else should work, and how often that is looked at [s]
OPENING = {"mem_test": "memory test", "drive_layout": "test file"}
OPENING_TITLES = {"mem_test": "Memory test by patterns", "drive_layout": "Test file on the drive"}


class Runner:
    """Runs a protocol on a bench. `cancelled` is asked between samples; a stopped run is marked incomplete.

    `paused` is asked between tests, before a session, and in settle and idle, which then begin anew; never within load
    and cool-down: a pause there would spoil the heat figures. After a pause the machine rests as before the first test.
    `rest` is what a run that was cut off still lacks.
    """

    def __init__(
        self, bench: Bench, protocol: Protocol, cancelled: Callable[[], bool] = lambda: False,
        journal: JournalWriter | None = None, paused: Callable[[], bool] = lambda: False,
        rest: Rest | None = None,
    ) -> None:  # fmt: skip
        self._bench, self._protocol, self._cancelled, self._paused = bench, protocol, cancelled, paused
        self.recorder = Recorder(bench.sampler.channels(), protocol, journal)
        self._tests = offered_tests(bench, protocol)
        self._rest = rest if rest is not None else Rest(protocol.sessions, protocol.phases)
        self._skipped: set[str] = set()
        self._rest_s = REST_BETWEEN_TESTS_S if protocol.test_s > 5.0 else QUICK_REST_S
        self._done_s = 0.0
        self._left_s = self._opening_s() + sum(self._session_s(k) for k in range(1, self._rest.sessions + 1))
        self._halted = ""

    def execute(self, run_id: str, configuration: str, taken_at: str) -> Run:
        """Do it. Everything sampled is in the result, also after a stop."""
        complete = True
        try:
            for number in range(1, self._rest.sessions + 1):
                self._bench.restart()
                self.recorder.begin(number, self._bench.clock.now_s(), self._bench.boot_id())
                complete = (number > 1 or self._opening()) and self._session(number)
                self._look_at_host()
                self.recorder.finish()
                if not complete:
                    break
        finally:
            self._bench.close()
        notes = self._notes()
        trouble = self.recorder.end(complete, notes)
        notes = (*notes, phrase("the journal broke off: {trouble}", trouble=trouble)) if trouble else notes
        tests = tuple(t for t in self._tests if t.key not in self._skipped)
        return Run(
            run_id, configuration, self._protocol, self._bench.conditions(), tests, self.recorder.sessions(), taken_at,
            "measured", complete, "", notes, self.recorder.checks(), self._bench.signature(),
        )  # fmt: skip

    def _look_at_host(self) -> None:
        """A virtual machine whose host takes processor time away is measured all the same, and it is said."""
        trace = self.recorder.since(-np.inf)
        taken = trace.values("steal_frac") if trace is not None else None
        if taken is not None and float(np.nanmean(taken)) > HOST_SHARE:
            share = phrase(
                "the host took {float} of the processor away; results scatter", float=percent(float(np.nanmean(taken)))
            )
            self.recorder.add_check(RunCheck("host", "Processor shared with other machines", False, share))

    def _notes(self) -> tuple[str, ...]:
        stopped = (phrase("stopped: {halted}", halted=self._halted),) if self._halted else ()
        return (*stopped, *(not_measured(m.what, m.why) for m in self._bench.missing()))

    def _opening_s(self) -> float:
        return sum(self._bench.workload(k).expected_s() for k in self._bench.opening())

    def _session_s(self, number: int) -> float:
        phases = sum(p.duration_s for p in self._phases(number))
        each = sum(
            (self._bench.workload(t.key).expected_s() + self._rest_s) * self._repeats(t, number) for t in self._short()
        )
        return phases + self._first_rest_s() + each

    def _phases(self, number: int) -> tuple[PhaseStep, ...]:
        return self._rest.phases if number == 1 else self._protocol.phases

    def _repeats(self, test: TestSpec, number: int) -> int:
        """How often a test is still to be done in a session."""
        wanted = 1 if test.key in ONCE else self._protocol.repeats
        if test.key in EVERYDAY and self._rest_s == QUICK_REST_S:
            wanted = min(wanted, QUICK_TASKS)
        return max(wanted - (self._rest.have.get(test.key, 0) if number == 1 else 0), 0)

    def _short(self) -> tuple[TestSpec, ...]:
        return tuple(t for t in self._tests if t.key not in ("sustained", COUNTED))

    def _first_rest_s(self) -> float:
        return FIRST_REST_S if self._rest_s > QUICK_REST_S else 5 * QUICK_REST_S

    def _opening(self) -> bool:
        """Checks and preparations before anything counts; a failed memory test ends the run."""
        for key in self._bench.opening():
            workload = self._bench.workload(key)
            start = self._bench.clock.now_s()
            self.recorder.enter(OPENING[key], start)
            workload.start()
            finished = self._until(lambda w=workload: w.done(), 1, OPENING[key])  # type: ignore[misc]
            problem = workload.problem() if finished else "stopped"
            workload.stop()
            self.recorder.add_phase(OPENING[key], start, self._bench.clock.now_s())
            self.recorder.add_check(RunCheck(key, OPENING_TITLES[key], not problem, problem or "nothing found"))
            if not finished:
                return False
            if problem and key == "mem_test":
                self._halted = phrase("{problem}; results on such a memory mean nothing", problem=problem)
                return False
            if problem:
                self._skipped |= {t.key for t in self._tests if t.key.startswith(NEED_FOLDER)}
        return True

    def _wait_out(self, number: int) -> bool:
        """Wait while the run is paused, then let the machine come to rest; False where it was stopped meanwhile."""
        if not self._paused():
            return True
        progress = RunProgress(number, self._rest.sessions, PAUSED, self._done_s, self._left_s)
        self.recorder.set_progress(progress)
        while self._paused():
            if self._cancelled():
                return False
            self._bench.clock.sleep(PAUSE_LOOK_S)
            time.sleep(BREATH_S)  # simulated time may pass without any waiting
        return self._pass("rest", self._first_rest_s(), number)

    def _session(self, number: int) -> bool:
        if number > 1 and not self._wait_out(number):
            return False
        self._read_start(number)
        for phase in self._phases(number):
            busy = phase.name == "load"
            if busy:
                self._bench.set_load(True)
            start = self._bench.clock.now_s()
            finished = self._calmly(phase, number)
            if busy:
                self._bench.set_load(False)
                self._keep_load(finished, start)
            if not finished:
                return False
        return self._short_tests(number)

    def _calmly(self, phase: PhaseStep, number: int) -> bool:
        """One phase; a pause in settle or idle begins it anew, so that what disturbs it can be ended first."""
        before_s = self._done_s
        finished = self._pass(phase.name, phase.duration_s, number)
        while not finished and phase.name in CALM and self._paused() and not self._halted:
            self._left_s += self._done_s - before_s  # it is all to be done again
            if not self._wait_out(number):
                return False
            before_s = self._done_s
            finished = self._pass(phase.name, phase.duration_s, number)
        return finished

    def _read_start(self, number: int) -> None:
        """A session begins with the machine's start, so its length belongs to the session, once."""
        if any(t.key == COUNTED for t in self._tests) and not (number == 1 and self._rest.have.get(COUNTED)):
            value, reason = self._bench.counted_start()
            if np.isfinite(value):
                self.recorder.add_repeat(Repeat(COUNTED, value, not reason, reason))

    def _keep_load(self, finished: bool, start_s: float) -> None:
        problem, score = self._bench.load_problem(), self._bench.sustained_score()
        if problem:
            self.recorder.add_check(RunCheck("sustained", "Checksums under load", False, problem))
        elif finished and np.isfinite(score):
            reason = self._settle_problem() or self._burst(start_s)
            self.recorder.add_repeat(Repeat("sustained", score, not reason, reason))

    def _short_tests(self, number: int) -> bool:
        if not self._pass("rest", self._first_rest_s(), number):
            return False
        problem = self._settle_problem()
        for test in (t for t in self._short() if t.key not in self._skipped):
            for _ in range(self._repeats(test, number)):
                if not self._one_test(test, problem, number):
                    return False
        return True

    def _one_test(self, test: TestSpec, problem: str, number: int) -> bool:
        if not self._wait_out(number):
            return False
        workload = self._bench.workload(test.key)
        start = self._bench.clock.now_s()
        self.recorder.set_quiet(test.key.startswith(NEED_FOLDER))
        self.recorder.enter(phrase("test {key}", key=test.key), start)
        workload.start()
        finished = self._until(workload.done, number, phrase("test {key}", key=test.key))
        if finished:
            self._keep_result(test, workload, problem or self._burst(start))
        workload.stop()
        self.recorder.set_quiet(False)
        self.recorder.add_phase(phrase("test {key}", key=test.key), start, self._bench.clock.now_s())
        return finished and self._pass("rest", self._rest_s, number)

    def _keep_result(self, test: TestSpec, workload: Workload, invalid: str) -> None:
        failed, value = workload.problem(), workload.result()
        if failed or not np.isfinite(value):
            self.recorder.add_check(RunCheck(test.key, test.title, False, failed or "the test gave no result"))
        else:
            self.recorder.add_repeat(Repeat(test.key, value, not invalid, invalid, workload.curve(), workload.parts()))

    def _burst(self, start_s: float) -> str:
        trace = self.recorder.since(start_s + 0.5 / self._protocol.rate_hz)
        return burst_problem(trace) if trace is not None else ""

    def _pass(self, name: str, duration_s: float, number: int) -> bool:
        start = self._bench.clock.now_s()
        self.recorder.enter(name, start)
        calm = name in CALM
        finished = self._until(lambda: self._bench.clock.now_s() - start >= duration_s - 1e-6, number, name, calm)
        self.recorder.set_others(())
        if not finished and calm and self._paused():
            return False
        self.recorder.add_phase(name, start, self._bench.clock.now_s())
        return finished

    def _until(self, over: Callable[[], bool], number: int, phase: str, calm: bool = False) -> bool:
        """Sample until something is over; False where the run was stopped meanwhile.

        Where it is to be `calm` also where it was paused, and other programs at work are looked for."""
        looked = self._bench.clock.now_s()
        while not over():
            if not self._sample(number, phase) or (calm and self._paused()):
                return False
            if calm and self._bench.clock.now_s() - looked >= LOOK_S:
                looked = self._bench.clock.now_s()
                self.recorder.set_others(self._bench.busy_programs())
        return True

    def _sample(self, number: int, phase: str) -> bool:
        step = 1.0 / self._protocol.rate_hz
        self._bench.clock.sleep(step)
        self.recorder.add_sample(self._bench.clock.now_s(), self._bench.sampler.sample())
        self._done_s += step
        self._left_s = max(self._left_s - step, 0.0)
        self.recorder.set_progress(RunProgress(number, self._rest.sessions, phase, self._done_s, self._left_s))
        self._halted = self._bench.alarm()
        return not self._halted and not self._cancelled()

    def _settle_problem(self) -> str:
        view = self.recorder.snapshot()
        return settle_problem(view.trace) if view.trace is not None else ""


def offered_tests(bench: Bench, protocol: Protocol) -> tuple[TestSpec, ...]:
    """The protocol's tests that this bench can do, in the order of the list of tests."""
    offers = bench.offers()
    return tuple(t for t in TESTS if t.key in (*protocol.tests, COUNTED) and t.key in offers)


def run_seconds(bench: Bench, protocol: Protocol) -> float:
    """Expected length of a whole run on the machine's clock [s]."""
    return Runner(bench, protocol)._left_s
