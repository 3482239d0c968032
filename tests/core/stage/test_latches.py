"""Latches, next action, targets and verdict words along the way of a job."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.app.view.job_view import JobView
from brachium.core.fit.verdict import Level
from brachium.core.heat.claims import refused
from brachium.core.machine.locks import Locks, LockState
from brachium.core.machine.machine import Machine
from brachium.core.measure.own_tests import OwnResult
from brachium.core.measure.spread import Spread
from brachium.core.prove.target_results import SENSOR_K, judge_alone, judge_targets
from brachium.core.prove.verdict_words import headline, subline
from brachium.core.record.job import IMPORTED, STAGES, DataSafe, DataState, Job, LatchLift, Stage
from brachium.core.record.target import Target
from brachium.core.stage.latches import Progress, furthest_stage, latches, lock_questions
from brachium.core.stage.next_action import next_action
from brachium.demo.newsroom import newsroom_job

SAFE = DataSafe(DataState.BACKED_UP, "bench", "2026-11-24")
NEW = newsroom_job()
READY = replace(NEW, data_safe=SAFE)
PLANNED = replace(READY, plan=("mem-4-l",))
BEFORE = Progress(has_before=True)
WORKED = Progress(True, False, Level.FITS, 0, 12)
PROVEN = replace(WORKED, has_after=True)
STEP = ("Take the bottom cover off", 6.0)


@pytest.mark.parametrize(
    ("job", "progress", "stage", "command"),
    [
        (Job("x", "x", Machine()), Progress(), Stage.TAKE_IN, "go.take_in"),
        (NEW, Progress(), Stage.TAKE_IN, "data.backed_up"),
        (READY, Progress(), Stage.MEASURE, "measure.start"),
        (READY, BEFORE, Stage.CHOOSE, "go.choose"),
        (PLANNED, replace(BEFORE, plan_level=Level.FITS, steps_open=12, steps_total=12), Stage.WORK, "work.tick"),
        (PLANNED, replace(BEFORE, plan_level=Level.REFUSED, steps_open=12, steps_total=12), Stage.CHOOSE, "work.tick"),
        (PLANNED, WORKED, Stage.PROVE, "measure.start_after"),
        (PLANNED, PROVEN, Stage.HAND_OVER, "report.save"),
        (Job("x", "x", Machine(), bench=IMPORTED), BEFORE, Stage.CHOOSE, "log.import"),
        (Job("x", "x", Machine(), bench=IMPORTED), replace(BEFORE, has_after=True), Stage.HAND_OVER, "report.save"),
    ],
)
def test_where_a_job_stands_and_what_comes_next(job: Job, progress: Progress, stage: Stage, command: str) -> None:
    assert furthest_stage(job, progress) is stage
    step = STEP if progress.steps_open else None
    assert next_action(job, progress, 33.0, step).command == command


def test_a_machine_that_is_not_connected_is_never_asked_for_a_run() -> None:
    """Probe, logs, typed figures, in that order; a before that was skipped with a reason is asked for once."""
    loose = replace(READY, bench="")
    action = next_action(loose, Progress(), 33.0, None)
    assert action.command == "go.measure" and action.title == "Get figures of the before"
    at = [action.detail.index(w) for w in ("probe", "logs", "typed")]
    assert at == sorted(at) and "33 min" in action.detail
    lift = LatchLift(Stage.FIND_CAUSE, "the owner is in a hurry", "today")
    for skipped in (replace(loose, no_before="does not start"), replace(loose, lifts=(lift,))):
        assert next_action(skipped, Progress(), 33.0, None).command == "go.choose"
        assert all(latches(skipped, Progress())[s].missing == "" for s in (Stage.FIND_CAUSE, Stage.CHOOSE))
        assert "before-run" not in latches(skipped, Progress())[Stage.WORK].missing
    after = next_action(replace(PLANNED, bench=""), WORKED, 33.0, None)
    assert after.command == "go.prove" and "typed as after" in after.detail


def test_typed_figures_are_a_run_like_any_other() -> None:
    result = OwnResult("task-1", "before", 93.0)
    assert replace(READY, own_results=(result,)).has_typed("before")
    assert not replace(READY, own_results=(replace(result, invalid="mistyped"),)).has_typed("before")
    assert not replace(READY, own_results=(result,)).has_typed("after")


def test_a_closed_latch_says_what_is_missing_and_a_reason_lifts_it() -> None:
    closed = latches(NEW, Progress())
    assert [s for s, latch in closed.items() if latch.open] == [Stage.CHOOSE], "its places are recorded"
    assert all(latch.open or latch.missing for latch in closed.values())
    assert set(closed) == set(STAGES[1:])
    assert "data" in closed[Stage.MEASURE].missing and closed[Stage.MEASURE].remedy is Stage.TAKE_IN
    lifted = replace(NEW, lifts=(LatchLift(Stage.MEASURE, "drive is empty, owner present", "today"),))
    opened = latches(lifted, Progress())
    assert opened[Stage.MEASURE].open and opened[Stage.MEASURE].lifted.startswith("drive")
    assert not opened[Stage.WORK].open, "only the lifted latch opens"


def test_work_stays_shut_for_an_unknown_fit_and_for_unsettled_data() -> None:
    unknown = replace(BEFORE, plan_level=Level.NOT_KNOWN, steps_open=3, steps_total=3, unsettled=("socket not known",))
    assert "not known" in latches(PLANNED, unknown)[Stage.WORK].missing
    unsettled = replace(PLANNED, data_safe=DataSafe())
    assert (
        "nothing is opened"
        in latches(unsettled, replace(unknown, plan_level=Level.FITS, unsettled=()))[Stage.WORK].missing
    )


def test_targets(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None
    wishes = (
        Target("start_up", "fast", 20.0, "s", True), Target("start_up", "faster", 1.0, "s", True),
        Target("mem_bandwidth", "wide", 15.0, "GB/s", False), Target("peak_c", "cool", 85.0, "°C", True),
        Target("held_back", "free", 0.0, "%", True), Target("battery", "long", 5.0, "h", False),
    )  # fmt: skip
    found = judge_targets(wishes, comparison)
    assert [r.met for r in found] == [True, False, True, True, True, None]
    assert found[-1].words == "not measured" and found[-1].figures == ""
    blind = judge_targets(wishes, replace(comparison, heat=refused("no room")))
    assert [r.met for r in blind][3:5] == [None, None]


def test_headline_speaks_of_sustained_work_not_of_the_peak(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None
    text = headline(comparison)
    assert text.startswith("Heat no longer holds it back: 22 % (16 to 28) more sustained work")
    assert "2 sessions of 3 repeats" in subline(comparison)
    same = replace(comparison, heat=replace(comparison.heat, peaks_c=(95.0, 94.0)))
    assert "nearly the same peak temperature" in headline(same)


def test_headline_without_any_claim(finished_view: JobView) -> None:
    comparison = finished_view.proof.comparison
    assert comparison is not None
    nothing = replace(comparison, gains=(), heat=refused("before: no load phase found"))
    assert headline(nothing) == "No heat verdict: before: no load phase found."


def test_targets_are_judged_by_an_after_run_alone(finished_view: JobView) -> None:
    assert finished_view.measured.after is not None
    found = {r.target.key: r for r in judge_alone(finished_view.job.targets, finished_view.measured.after, 95.0)}
    assert found["start_up"].met is True and found["start_up"].before is None
    assert found["start_up"].figures == "15.3 s (14.7 to 16.0)" and found["held_back"].figures == "0 %"
    hard = judge_alone((Target("start_up", "fast", 5.0, "s", True), Target("battery", "long", 5.0, "h", False)),
                       finished_view.measured.after, 95.0)  # fmt: skip
    assert [r.met for r in hard] == [False, None]


def test_a_peak_is_known_to_the_sensors_step_over_its_sessions(finished_view: JobView) -> None:
    """95 % of sessions whose sensor errs by SENSOR_K each: half-width 1.96 SENSOR_K over the root of their number."""
    after = finished_view.measured.after
    assert after is not None and len(after.sessions) > 1
    target = Target("peak_c", "cool", 80.0, "°C", True)
    (whole,) = judge_alone((target,), after, 95.0)
    (one,) = judge_alone((target,), replace(after, sessions=after.sessions[:1]), 95.0)
    for found, count in ((whole, len(after.sessions)), (one, 1)):
        assert found.low is not None and found.high is not None
        assert found.high - found.low == pytest.approx(2 * 1.96 * SENSOR_K / count**0.5)


def test_a_target_within_the_interval_cannot_be_told_and_the_margin_is_named(finished_view: JobView) -> None:
    after = finished_view.measured.after
    assert after is not None
    near = Target("start_up", "fast", 15.2, "s", True)
    (found,) = judge_alone((near,), after, 95.0)
    assert found.met is None and found.undecided and found.words == "cannot tell"
    assert found.margin is not None and found.margin < 0 and found.margin_words.endswith("s short of it")
    (easy,) = judge_alone((replace(near, limit=20.0),), after, 95.0)
    assert easy.met is True and easy.margin_words == "4.68 s to spare"
    exact = replace(easy, after=easy.target.limit)
    assert exact.margin == 0 and exact.margin_words == "", "met to the unit: no zero to spare"
    steady = {"start_up": Spread(0.0005, 60.0, 0.0005, 60.0, "history")}
    (sure,) = judge_alone((near,), after, 95.0, steady)
    assert sure.high is not None and found.high is not None and sure.high < found.high, "a history narrows it"


def test_a_machine_opened_to_rescue_its_data_may_neither_be_loaded_nor_worked_on() -> None:
    rescue = replace(PLANNED, data_safe=replace(SAFE, state=DataState.RESCUE))
    closed = latches(rescue, replace(WORKED, has_before=False))
    assert "no load before it is out" in closed[Stage.MEASURE].missing
    assert "only to rescue the data" in closed[Stage.WORK].missing and closed[Stage.WORK].remedy is Stage.TAKE_IN


def test_a_machine_that_does_not_start_goes_on_without_a_before_run() -> None:
    dead = replace(PLANNED, no_before="does not start")
    opened = latches(dead, Progress(plan_level=Level.FITS, steps_open=3, steps_total=3))
    assert all(opened[s].open for s in (Stage.MEASURE, Stage.FIND_CAUSE, Stage.CHOOSE, Stage.WORK))
    measured_first = latches(PLANNED, Progress(plan_level=Level.FITS))
    assert not measured_first[Stage.FIND_CAUSE].open and not measured_first[Stage.WORK].open
    assert measured_first[Stage.CHOOSE].open, "whether a part fits needs a place, and no measurement"
    placeless = latches(replace(PLANNED, machine=Machine()), Progress(plan_level=Level.FITS))
    assert not placeless[Stage.CHOOSE].open and placeless[Stage.CHOOSE].remedy is Stage.TAKE_IN
    assert next_action(replace(dead, plan=()), Progress(), 33.0, None).command == "go.choose"


@pytest.mark.parametrize(
    ("state", "touched", "asked"),
    [
        (LockState.NOT_ASKED, {"drive"}, ["encryption", "firmware_password"]),
        (LockState.NONE, {"drive"}, []),
        (LockState.HANDLED, {"board"}, []),
        (LockState.SHUT, {"board"}, ["encryption", "firmware_password", "enrolment", "licence"]),
        (LockState.NOT_ASKED, {"memory", "paste"}, []),
    ],
)
def test_locks_are_asked_for_when_the_plan_touches_them(state: LockState, touched: set[str], asked: list[str]) -> None:
    job = replace(PLANNED, locks=Locks(state, state, state, state))
    progress = Progress(True, False, Level.FITS, 3, 3, frozenset(touched))
    assert [q.key for q in lock_questions(job, progress)] == asked
    missing = latches(job, progress)[Stage.WORK].missing
    assert bool(missing) == bool(asked) and (not asked or "disk encryption" in missing)
