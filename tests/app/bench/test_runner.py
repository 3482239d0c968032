"""The runner: phases, repeats, stopping, background load, what a watcher sees meanwhile."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import replace

import numpy as np
import pytest

from brachium.app.bench.runner import Runner, run_seconds
from brachium.core.measure.run import PhaseStep, Protocol, Run
from brachium.core.measure.validity import early_problem
from brachium.core.measure.workloads import STANDARD
from brachium.demo.newsroom import MACHINE, simulated_newsroom
from brachium.devices.protocols import ChannelInfo
from brachium.devices.simulated.bench import SimulatedBench
from brachium.ui.pages.measure.measure_words import live_words

SHORT = Protocol("short", 1, (PhaseStep("idle", 40.0), PhaseStep("load", 60.0), PhaseStep("cool-down", 20.0)),
                 ("sustained", "cpu_all", "start_up"), 3, 2)  # fmt: skip


def bench() -> SimulatedBench:
    return SimulatedBench(simulated_newsroom(MACHINE.configuration(), frozenset(), False))


def execute(protocol: Protocol = SHORT, made: SimulatedBench | None = None, stop_after: int = -1) -> Run:
    asked = [0]

    def cancelled() -> bool:
        asked[0] += 1
        return 0 <= stop_after < asked[0]

    return Runner(made or bench(), protocol, cancelled).execute("r", "c", "2026-11-24")


def test_a_run_holds_what_the_protocol_asks_for() -> None:
    run = execute()
    assert run.complete and len(run.sessions) == 2
    for session in run.sessions:
        names = [p.name for p in session.trace.phases]
        opening = ["memory test"] if session.number == 1 else []
        assert names[: 4 + len(opening)] == [*opening, "idle", "load", "cool-down", "rest"]
        assert names.count("test cpu_all") == 3 and names.count("test start_up") == 3
        assert session.results("sustained").size == 1 and session.results("cpu_all").size == 3
        assert np.median(np.diff(session.trace.time_s)) == pytest.approx(1.0)
        load = session.trace.phase("load")
        assert load is not None and load.end_s - load.start_s == pytest.approx(60.0)


def test_a_stopped_run_keeps_what_was_sampled_and_says_so() -> None:
    run = execute(stop_after=130)
    assert not run.complete and len(run.sessions) == 1
    assert 128 <= run.sessions[0].trace.time_s.size <= 132
    assert [p.name for p in run.sessions[0].trace.phases] == ["memory test", "idle", "load"]
    assert run.results("sustained") == (), "half a load gives no result"


def test_background_load_spoils_the_repeats_but_keeps_them() -> None:
    busy = bench()
    busy.machine._idle_util = 0.2
    begin = busy.machine.begin_session

    def noisy() -> None:
        begin()
        busy.machine._idle_util = 0.2
        busy.machine.rest()

    busy.machine.begin_session = noisy  # type: ignore[method-assign]
    run = execute(made=busy)
    bad = [r for r in run.sessions[0].repeats if r.test == "cpu_all"]
    assert len(bad) == 3 and all(not r.valid and "background load: processor" in r.reason for r in bad)
    assert run.results("cpu_all") == ()


class Blind:
    """A sampler whose machine has no power and no fan sensor."""

    def __init__(self, inner: SimulatedBench) -> None:
        self._inner = inner

    def channels(self) -> tuple[ChannelInfo, ...]:
        return self._inner.machine_channels

    def sample(self) -> Mapping[str, float]:
        values = dict(self._inner.machine.sample())
        del values["power_w"], values["fan_rpm"]
        return values


def test_a_missing_sensor_is_absent_not_zero() -> None:
    made = bench()
    made.machine_channels = made.sampler.channels()  # type: ignore[attr-defined]
    made.sampler = Blind(made)  # type: ignore[assignment]
    trace = execute(made=made).sessions[0].trace
    assert trace.values("power_w") is None and trace.values("fan_rpm") is None
    assert trace.values("temp_c") is not None


def test_a_watcher_sees_a_growing_run_and_a_shrinking_remainder() -> None:
    seen = []

    def look() -> bool:
        watcher = threading.Thread(target=lambda: seen.append(runner.recorder.snapshot()))
        watcher.start()
        watcher.join(5.0)
        return False

    runner = Runner(bench(), SHORT, look)
    runner.execute("r", "c", "")
    done = [v.progress.done_s for v in seen]
    left = [v.progress.left_s for v in seen]
    assert done == sorted(done) and left == sorted(left, reverse=True) and len(seen) > 300
    sizes = [v.trace.time_s.size for v in seen if v.session == 1 and v.trace is not None]
    assert sizes == list(range(2, 2 + len(sizes)))
    assert len(runner.recorder.sessions()) == 2


def test_the_announced_length_is_close_to_the_real_one() -> None:
    announced = run_seconds(bench(), STANDARD)
    run = execute(STANDARD)
    real = sum(float(s.trace.time_s[-1]) for s in run.sessions)
    assert announced == pytest.approx(real, rel=0.10)


def test_a_pause_waits_between_tests_only_and_the_run_is_whole_afterwards() -> None:
    """Asked for during the load: load and cool-down run on, then the run waits until it may go on."""
    bench = SimulatedBench(simulated_newsroom(MACHINE.configuration(), frozenset(), False))
    looks: list[float] = []
    runner: list[Runner] = []

    def paused() -> bool:
        trace = runner[0].recorder.snapshot().trace
        if trace is not None and trace.phase("load") is not None and len(looks) < 40:
            looks.append(bench.clock.now_s())
            return True
        return False

    protocol = replace(STANDARD, sessions=1, repeats=1)
    runner.append(Runner(bench, protocol, paused=paused))
    run = runner[0].execute("r", "", "2026-11-25 10:00")
    trace = run.sessions[0].trace
    cool = trace.phase("cool-down")
    assert run.complete and cool is not None and looks[0] >= cool.end_s, "not within the heat part"
    steps = np.diff(trace.time_s)
    assert steps[trace.time_s[1:] < cool.end_s].max() < 1.5 and steps.max() > 15, "the pause is a gap in the samples"
    assert all(run.results(t.key) for t in run.tests)


def test_a_run_that_is_not_calm_says_so_within_half_a_minute_and_begins_the_phase_anew_after_a_pause() -> None:
    """Updates run until a person, who is told by what and how, pauses the run and lets them end."""
    made = bench()
    begin = made.machine.begin_session
    told: list[tuple[float, str]] = []
    waited = [0]

    def noisy() -> None:
        begin()
        made.machine._idle_util = 0.2
        made.machine.rest()

    def paused() -> bool:
        live = runner.recorder.snapshot()
        problem = early_problem(live.trace, live.progress.phase) if live.trace is not None else ""
        if problem and not told:
            told.append((live.trace.time_s[-1] - live.trace.phase("idle").start_s, live_words(live)))  # type: ignore[union-attr]
        if told and waited[0] < 40:
            waited[0] += 1
            made.machine._idle_util = 0.01
            made.machine.rest()
            return True
        return False

    made.machine.begin_session = noisy  # type: ignore[method-assign]
    made.busy_programs = lambda: ("package updates (38 % of a core)",)  # type: ignore[method-assign]
    runner = Runner(made, replace(SHORT, sessions=1), paused=paused)
    run = runner.execute("r", "", "2026-11-25 10:00")
    assert told and told[0][0] <= 30.0
    assert "processor busy (2" in told[0][1] and "At work: package updates (38 % of a core)" in told[0][1]
    assert run.complete and len(run.results("cpu_all")[0]) == 3, "every repeat counts"
    names = [p.name for p in run.sessions[0].trace.phases]
    assert names.count("idle") == 1 and names.index("rest") < names.index("idle") < names.index("load")


def test_a_paused_run_can_be_stopped() -> None:
    bench = SimulatedBench(simulated_newsroom(MACHINE.configuration(), frozenset(), False))
    runner = Runner(bench, replace(STANDARD, sessions=1), lambda: bench.clock.now_s() > 2000, paused=lambda: True)
    run = runner.execute("r", "", "2026-11-25 10:00")
    assert not run.complete
