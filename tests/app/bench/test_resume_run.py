"""A run that was cut off is gone on with: what stands, what is measured again, and how the two become one."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest

from brachium.app.bench.resume_run import GAP_S, Rest, can_continue, continue_run, rest_of
from brachium.app.bench.runner import Runner, run_seconds
from brachium.core.measure.run import Run
from tests.app.bench.test_runner import SHORT, bench, execute

WHOLE = execute()


def cut_off(samples: int) -> Run:
    run = execute(stop_after=samples)
    return replace(run, notes=("the run was cut off; what was written until then is kept",))


def go_on(run: Run, boot_id: str = "") -> tuple[Run, Run, Rest]:
    rest = rest_of(run, SHORT, boot_id)
    later = Runner(bench(), SHORT, rest=rest).execute("later", "c", "2026-11-25")
    return continue_run(run, later, rest), later, rest


def repeats(run: Run) -> list[Counter[str]]:
    return [Counter(r.test for r in s.repeats) for s in run.sessions]


def samples_until(test: str) -> int:
    """Samples of the whole run until the first test of that name is well under way in session 1."""
    trace = WHOLE.sessions[0].trace
    begin = next(p.start_s for p in trace.phases if p.name == f"test {test}")
    return int(np.searchsorted(trace.time_s, begin)) + 4


def test_one_cut_off_under_load_is_measured_anew_and_ends_like_an_unbroken_one() -> None:
    run = cut_off(130)
    made, _, rest = go_on(run)
    assert rest.kept == () and rest.phases == SHORT.phases and rest.sessions == 2
    assert made.complete and repeats(made) == repeats(WHOLE) and not any("cut off;" in n for n in made.notes)


def test_after_a_restart_only_the_missing_repeats_are_measured_as_a_session_of_their_own() -> None:
    run = cut_off(samples_until("start_up"))
    assert repeats(run) == [Counter(sustained=1, cpu_all=3)]
    made, later, rest = go_on(run)
    assert [p.name for p in rest.phases] == ["idle"] and rest.sessions == 2 and not rest.same_start
    assert repeats(made) == [Counter(sustained=1, cpu_all=3), Counter(start_up=3), repeats(WHOLE)[1]]
    assert [s.number for s in made.sessions] == [1, 2, 3] and made.protocol.sessions == 3
    assert made.sessions[0].trace is run.sessions[0].trace and made.taken_at == run.taken_at
    left = run_seconds(bench(), SHORT) - sum(float(s.trace.time_s[-1]) for s in later.sessions)
    assert left > 0, "less is done again than a whole run"


def test_within_the_same_start_the_session_is_made_whole_and_the_gap_is_said() -> None:
    run = cut_off(samples_until("start_up"))
    run = replace(run, sessions=(replace(run.sessions[0], boot_id="start-1"),))
    made, later, rest = go_on(run, "start-1")
    assert rest.same_start and rest.phases == () and repeats(made) == repeats(WHOLE)
    first, second, whole = run.sessions[0].trace, later.sessions[0].trace, made.sessions[0].trace
    steps = np.diff(whole.time_s)
    assert float(steps.max()) == pytest.approx(GAP_S) and int(np.argmax(steps)) == first.time_s.size - 1
    n = first.time_s.size
    for key in ("temp_c", "power_w"):
        assert np.array_equal(whole.values(key)[:n], first.values(key))  # type: ignore[index, arg-type]
        assert np.array_equal(whole.values(key)[n:], second.values(key))  # type: ignore[index, arg-type]
    assert any("gap of 60 s" in note for note in made.notes)


def test_only_a_run_that_was_cut_off_is_gone_on_with() -> None:
    assert can_continue(cut_off(130)) and not can_continue(WHOLE)
    hot = replace(cut_off(130), notes=("stopped: the chip read 97 °C, the limit is 95 °C",))
    assert not can_continue(hot), "a run that stopped itself had its reason"
