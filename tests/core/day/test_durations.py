"""Durations learned from ticks, opening hours as text, and what both refuse."""

from __future__ import annotations

from datetime import date, datetime
from math import exp, log

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.day.assumptions import USUAL_SPREAD
from brachium.core.day.durations import expected_minutes_of, kind_of, learn_durations, learned_spreads
from brachium.core.day.opening import DAY_MIN, clock, minute_of, moment_of, open_hours, parse_hours
from brachium.core.work.step import Step


def test_few_entries_change_little_and_many_settle_it() -> None:
    one = learn_durations([("paste", 10.0, 20.0)])["paste"]
    assert one.factor == pytest.approx(2.0 ** (1 / 6)) and one.count == 1
    many = learn_durations([("paste", 10.0, 20.0)] * 95)["paste"]
    assert many.factor == pytest.approx(2.0**0.95) and many.spread == pytest.approx(USUAL_SPREAD * (5 / 100) ** 0.5)


def test_what_nobody_timed_is_left_out() -> None:
    entries = [("open", 6.0, 0.0), ("open", 6.0, 600.0), ("open", 0.0, 5.0), ("memory", 3.0, 3.0)]
    assert set(learn_durations(entries)) == {"memory"}
    assert learn_durations([]) == {}


def test_the_second_opening_teaches_the_same_kind() -> None:
    assert [kind_of(i) for i in ("power-off-2", "open", "drive-2", "first-0", "start-1")] == [
        "power-off", "open", "drive", "first", "start"]  # fmt: skip
    learned = learn_durations([("open", 6.0, 12.0), ("open-2", 6.0, 12.0)])
    assert learned["open"].count == 2


def test_learned_spread_is_that_of_the_log() -> None:
    rng = np.random.default_rng(3)
    found = learn_durations(("paste", 14.0, 14.0 * exp(rng.normal(0.2, 0.5))) for _ in range(400))["paste"]
    assert log(found.factor) == pytest.approx(0.2, abs=0.06) and found.spread == pytest.approx(0.5, abs=0.04)


def test_steps_take_the_shops_minutes() -> None:
    steps = (Step("paste", "p", "", attended_min=10.0), Step("look", "l", "", attended_min=2.0))
    learned = learn_durations([("paste", 10.0, 20.0)] * 95)
    assert [s.attended_min for s in expected_minutes_of(steps, learned)] == [pytest.approx(10.0 * 2.0**0.95), 2.0]
    assert learned_spreads(steps, learned)["look"] == USUAL_SPREAD


def test_hours_of_working_days_only() -> None:
    friday = date(2026, 11, 27)
    hours = open_hours("09:00-12:30, 13:30-18:00", friday, 4)
    assert hours == (
        (540, 750),
        (810, 1080),
        (3 * DAY_MIN + 540, 3 * DAY_MIN + 750),
        (3 * DAY_MIN + 810, 3 * DAY_MIN + 1080),
    )


@pytest.mark.parametrize(
    ("text", "says"),
    [("", "no opening hours"), ("nine", "is meant"), ("12:00-11:00", "within one day"), ("09:00-25:00",
                                                                                         "within one day"),
     ("09:75-10:00", "within one day"), ("09:00-12:00, 11:00-13:00", "before the one before it ends")],
)  # fmt: skip
def test_hours_that_cannot_be_are_named(text: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        parse_hours(text)


@given(st.integers(0, 14 * DAY_MIN))
def test_minutes_and_moments_are_each_others_way_back(minute: int) -> None:
    first = date(2026, 11, 25)
    assert minute_of(moment_of(minute, first), first) == minute
    assert moment_of(minute, first).strftime("%H:%M") == clock(minute)
    assert minute_of(datetime(2026, 11, 24, 23, 59), first) == -1


def test_a_factor_of_eight_counts_and_more_than_that_is_a_slip() -> None:
    assert learn_durations([("open", 10.0, 80.0)])["open"].count == 1
    assert learn_durations([("open", 10.0, 80.1), ("open", 80.1, 10.0)]) == {}
    assert learn_durations([("open", 80.0, 10.0)])["open"].factor == pytest.approx(8.0 ** (-1 / 6))
    assert learn_durations([("open", 0.5, 0.5)])["open"].count == 1 and learn_durations([("open", 0.49, 0.5)]) == {}


@pytest.mark.parametrize("day", range(7))
def test_every_weekday_has_its_hours_and_the_weekend_none(day: int) -> None:
    first = date(2026, 11, 23 + day)  # the 23rd is a Monday
    begun = {a // DAY_MIN for a, _ in open_hours("09:00-12:00", first, 7)}
    assert begun == {k for k in range(7) if (first.weekday() + k) % 7 < 5}
    assert [b - a for a, b in open_hours("09:00-12:00", first, 7)] == [180] * 5
