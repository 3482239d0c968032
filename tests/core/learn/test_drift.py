"""A later run: what aged, by how much a year, and when to look again."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from brachium.app.bench.run_roles import LATER
from brachium.app.measure.simulated_run import measure_headless
from brachium.app.view.job_view import JobView
from brachium.core.drives.readings import HealthReading
from brachium.core.learn.drift import drift_of, first_look
from brachium.core.prove.comparison import Comparison, compare_runs


@pytest.fixture(scope="module")
def aged(finished_view: JobView) -> Comparison:
    """The newsroom laptop eight months after its hand-over, its paste and fins aged."""
    after = finished_view.measured.after
    assert after is not None
    later = measure_headless(finished_view, LATER, "2027-07-20 10:00")
    return compare_runs(replace(after, taken_at="2026-11-25 10:00"), later, 97.0)


def test_ageing_is_told_by_the_year_and_a_day_is_named(aged: Comparison) -> None:
    found = drift_of(aged, (), aged.heat.peaks_c[1] + 12.0)  # type: ignore[index]
    assert found is not None and found.months == pytest.approx(237 / 30.44)
    rows = dict(found.rows)
    assert "K warmer in 8 months" in rows["paste and mounting"] and "K a year" in rows["paste and mounting"]
    wait = (date.fromisoformat(found.look_again) - date(2027, 7, 20)).days
    assert 0 <= wait <= 366 and "7 K are left and" in found.why
    hot = drift_of(aged, (), aged.heat.peaks_c[1] + 1.0)  # type: ignore[index]
    assert hot is not None and hot.look_again == "2027-07-20" and "within 5 K" in hot.why
    unknown = drift_of(aged, (), None)
    assert unknown is not None and "not known" in unknown.why


def test_nothing_aged_waits_a_year_and_the_same_day_says_nothing(finished_view: JobView) -> None:
    after = finished_view.measured.after
    assert after is not None
    first = replace(after, taken_at="2026-11-25 10:00")
    same = compare_runs(first, replace(after, id="later", taken_at="2027-05-25 10:00"), 97.0)
    found = drift_of(same, (), 97.0)
    assert found is not None and found.why.startswith("nothing aged") and found.look_again.startswith("2028-05")
    assert drift_of(compare_runs(first, first, 97.0), (), 97.0) is None


def test_a_drive_that_loses_sectors_is_looked_at_now(aged: Comparison) -> None:
    def health(*readings: tuple[str, int, int]) -> tuple[HealthReading, ...]:
        return tuple(HealthReading("bay-main", when, {"used_pct": u, "reallocated": r}) for when, u, r in readings)

    worn = drift_of(aged, health(("2026-11-20", 2, 0), ("2027-07-19", 10, 0)), 97.0)
    assert worn is not None and "8 % of its life used" in dict(worn.rows)["drive in bay-main"]
    bad = drift_of(aged, health(("2026-11-20", 2, 0), ("2027-07-19", 10, 24)), 97.0)
    assert bad is not None and bad.look_again == "2027-07-20" and "copy first" in dict(bad.rows)["drive in bay-main"]
    assert not [r for r in drift_of(aged, health(("2027-07-19", 10, 24)), 97.0).rows if "drive" in r[0]]  # type: ignore[union-attr]


def test_the_first_look_is_a_year_after_the_hand_over() -> None:
    assert first_look(date(2026, 11, 25)) == "2027-11-25" and first_look(date(2027, 3, 1)) == "2028-02-29"


def test_the_wait_is_the_room_left_over_the_rate(aged: Comparison) -> None:
    """By hand: kelvins to the limit less five, over the kelvins that it lost a month."""
    assert aged.heat.total is not None and aged.heat.peaks_c is not None
    rate = -aged.heat.total.value_k / (237 / 30.44)
    left = 3.0 * rate  # three months
    found = drift_of(aged, (), aged.heat.peaks_c[1] + 5.0 + left)
    assert found is not None
    assert abs((date.fromisoformat(found.look_again) - date(2027, 7, 20)).days - 3.0 * 30.44) <= 1.0
    far = drift_of(aged, (), aged.heat.peaks_c[1] + 5.0 + 13.0 * rate)
    assert far is not None and far.look_again == "2028-07-19" and "go a month" in far.why
