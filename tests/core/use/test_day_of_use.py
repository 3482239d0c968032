"""Watched days: shares, memory and overlap recovered from days whose truth is known; what was not seen is not known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from benchmarks.days import FLASH, SIX, recovered, run_of_day
from brachium.core.choose.after_day import figures_of_day, figures_with_day
from brachium.core.figures.lists.day_words import day_words
from brachium.core.heat.before_figures import figures_of
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.run import MeasuredSession, Repeat, Run, Trace
from brachium.core.measure.waiting import KEYS
from brachium.core.measure.workloads import QUICK, spec_of
from brachium.core.use.day_of_use import DayOfUse, day_of
from brachium.core.use.profile import PROFILES, profile_of
from brachium.core.use.tests_by_use import chosen_for
from brachium.core.use.use_of_day import use_of_day
from brachium.core.use.use_of_tasks import use_of_tasks
from brachium.core.use.watched_rows import joined_days
from brachium.devices.simulated import day as made

OWNER, MACHINE = made.DayOwner(((made.OFFICE, 0.6), (made.BROWSING, 0.4))), made.DayMachine(4, 8.0, FLASH)


def watched(owner: made.DayOwner = OWNER, machine: made.DayMachine = MACHINE, seed: int = 5) -> Run:
    return run_of_day(made.simulate_day(owner, machine, seed))


def told(run: Run) -> DayOfUse:
    day = day_of(run)
    assert day is not None
    return day


def without(run: Run, *keys: str) -> Run:
    """The run as a machine would leave it that does not tell these."""
    session = run.sessions[0]
    kept = tuple(s for s in session.trace.series if s.key not in keys)
    return replace(run, sessions=(replace(session, trace=replace(session.trace, series=kept)),))


@pytest.mark.parametrize("number", range(len(SIX)))
def test_shares_and_memory_of_a_known_day_are_recovered(number: int) -> None:
    for seed in (number + 1, number + 301):
        found = recovered(*SIX[number], seed)
        assert found.worst <= 0.05, found.shares
        true, seen = found.need_gib
        assert seen == pytest.approx(true, rel=0.15)


def test_a_day_adds_up_hour_by_hour_and_leaves_out_who_is_away() -> None:
    day = told(watched(replace(OWNER, away=0.5)))
    assert sum(day.shares.values()) == pytest.approx(1.0) and set(day.shares) == set(KEYS)
    assert day.by_hour.sum() == pytest.approx(60.0 * day.hours_at_work) and day.hours_at_work < 0.97 * day.hours
    assert day.by_hour[:8].sum() == day.by_hour[17:].sum() == 0.0, "from half past eight for seven hours"
    assert sum(day.held_min.values()) == pytest.approx(60.0 * day.hours_at_work * (1.0 - day.shares["free"]))


def test_what_was_not_recorded_is_named_and_never_zero() -> None:
    whole = watched(machine=replace(MACHINE, memory_gib=3.2))
    bare = told(without(whole, "io_stall_frac", "gpu_util_frac", "memory_gib"))
    assert bare.need is None and len(bare.blind) == 3 and "pressure" in bare.blind_words
    assert "Not recorded: waiting for drives and memory" in day_words(bare) and "graphics" in day_words(bare)
    figures = figures_of_day(whole, bare)
    assert not figures.stall_measured and figures.memory_stall_share is None, "no stall was seen, so none is told"
    assert figures.reading is None and not figures.throttled, "a day holds no load that heat could be read from"
    office, use = profile_of("office"), use_of_day(profile_of("office"), bare)
    assert use is not None and sum(use.shares.values()) == pytest.approx(1.0)
    assert {k: use.shares[k] for k in ("random", "graphics")} == {k: office.shares[k] for k in ("random", "graphics")}
    deaf = use_of_day(office, told(without(whole, "network_mb_s", "network_peak_mb_s")))
    assert deaf is not None and deaf.shares["network"] / deaf.shares["person"] == pytest.approx(0.12 / 0.30)
    figures = figures_of(replace(whole, sessions=()), None)
    seen = figures_with_day(figures, told(whole))
    assert seen.stall_measured and seen.memory_stall_share == pytest.approx(told(whole).shares["paging"])
    assert day_of(without(whole, "cores_busy")) is None
    nowhere = told(without(whole, "swap_gib"))
    assert nowhere.need is not None and nowhere.need.at_least and nowhere.need.enough_gib is None
    short = replace(whole, sessions=(replace(whole.sessions[0], trace=whole.sessions[0].trace.cut(0.0, 600.0)),))
    assert day_of(short) is None, "ten minutes are no day"


def test_the_smallest_memory_that_would_have_done() -> None:
    need = told(watched()).need
    assert need is not None and need.enough_gib == 6 and need.low_gib <= need.mid_gib <= need.high_gib
    tight = told(watched(machine=replace(MACHINE, memory_gib=3.2))).need
    assert tight is not None and tight.enough_gib == 6, "the same size from a machine that had to page"


def test_days_of_one_side_are_told_together_and_a_gap_counts_for_nothing() -> None:
    one, two = watched(seed=5), watched(seed=6)
    both = joined_days([one, two])
    assert both is not None and joined_days([]) is None
    assert told(both).hours == pytest.approx(told(one).hours + told(two).hours)
    late = one.sessions[0].trace
    gone = replace(late, time_s=np.where(late.time_s > 9000.0, late.time_s + 50_000.0, late.time_s))
    slept = replace(one, sessions=(replace(one.sessions[0], trace=gone),))
    assert told(slept).hours == pytest.approx(told(one).hours, abs=0.02)


def test_a_use_as_watched_takes_shares_overlap_and_working_set() -> None:
    day = told(watched())
    use = use_of_day(profile_of("office"), day)
    assert use is not None and use.measured and sum(use.shares.values()) == pytest.approx(1.0)
    assert use.shares["single"] == pytest.approx(day.shares["thread"] / (1.0 - day.shares["paging"]), rel=0.02)
    assert use.overlap == day.overlap and day.need is not None
    assert use.working_set_gib == pytest.approx(day.need.mid_gib - 0.6) and "watched" in use.title
    fetching = replace(OWNER, work=((made.FETCHING, 1.0),))
    busy = use_of_day(profile_of("files"), told(watched(fetching)))
    assert busy is not None and busy.shares["network"] > 4.0 * use.shares["network"]


def test_every_use_gets_the_tests_that_carry_its_time() -> None:
    from brachium.app.bench.benches import estimated_s
    from brachium.core.measure.workloads import QUICK, STANDARD

    for profile in PROFILES:
        quick, standard = chosen_for(QUICK, profile, 8.0), chosen_for(STANDARD, profile, 8.0)
        assert len(quick.tests) <= 12 and estimated_s(quick, True) <= 340.0, profile.id
        assert set(STANDARD.tests[:10]) <= set(standard.tests), "what was always measured stays"
        assert "left out" in quick.cannot[-1] and "left out" in standard.cannot[-1]
        assert ("frames_720" in standard.tests) == (profile.shares["graphics"] >= 0.10)
        assert any(t.startswith("task_") for t in quick.tests)
    photo = profile_of("photo")
    assert (
        "ladder" in chosen_for(STANDARD, photo, 4.0).tests and "ladder" not in chosen_for(STANDARD, photo, 32.0).tests
    )
    assert "ladder" not in chosen_for(STANDARD, photo, None).tests


def ran(parts: dict[str, dict[str, float]]) -> Run:
    """A run with one repeat of each task and where its seconds went."""
    repeats = tuple(Repeat(key, sum(told.values()), parts=tuple(told.items())) for key, told in parts.items())
    blank = Trace(np.zeros(0), (), ())
    tests = tuple(spec_of(key) for key in parts)
    return Run("r", "as taken in", QUICK, Conditions(), tests, (MeasuredSession(1, blank, repeats),), "", "measured")


def test_everyday_tasks_calibrate_a_use_on_this_machine() -> None:
    office = profile_of("office")
    slow = ran({"task_start_cold": {"processor": 2.0, "storage": 6.0, "paging": 1.0, "other": 0.1},
                "task_sheet": {"processor": 3.0, "storage": 1.0, "paging": 0.0, "other": 0.0}})  # fmt: skip
    use = use_of_tasks(office, slow)
    assert use is not None and use.measured and sum(use.shares.values()) == pytest.approx(1.0)
    left = 1.0 - sum(office.shares[k] for k in ("graphics", "network", "person"))
    assert use.shares["single"] == pytest.approx(left * (0.25 + 0.75) / 2.0), "paging is told from stalls, not here"
    assert use.shares["random"] == pytest.approx(left * 0.375) and use.shares["sequential"] == pytest.approx(
        left * 0.125
    )
    assert use.shares["person"] == office.shares["person"] and "2 everyday tasks" in use.title
    assert use_of_tasks(office, ran({"task_start_cold": {"processor": 2.0, "storage": 6.0}})) is None, "one is too few"
    odd = ran({"task_start_cold": {"processor": 2.0, "storage": 6.0}, "task_sheet": {"processor": 3.0}})
    session = odd.sessions[0]
    broken = replace(session, repeats=tuple(replace(r, value=2.0 * r.value) for r in session.repeats))
    assert use_of_tasks(office, replace(odd, sessions=(broken,))) is None, "parts that do not add up say nothing"
