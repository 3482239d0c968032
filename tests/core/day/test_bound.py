"""The lower bound of lateness against sums by hand."""

from __future__ import annotations

from brachium.core.day.blocks import Block, DayJob, ShopDay
from brachium.core.day.bound import lateness_bound


def job(name: str, attended: int, unattended: int = 0, due: int | None = 0, release: int = 0) -> DayJob:
    return DayJob(name, name, (Block(f"{name}/0", name, "b", ("s",), attended, unattended, False),), release, due)


HOURS = ((0, 100), (200, 300), (400, 500))


def test_work_beyond_a_stretch_goes_on_in_the_next_one() -> None:
    """Two of 60 minutes: the second cannot be whole before 20 minutes of the second stretch are gone."""
    jobs = [job("a", 60, due=60), job("b", 60, due=60)]
    assert lateness_bound(jobs, ShopDay(1, 1, HOURS, 0)) == 220 - 60
    assert lateness_bound(jobs, ShopDay(2, 2, HOURS, 0)) == 0, "two people take one each"


def test_what_runs_by_itself_counts_at_the_end_of_each() -> None:
    assert lateness_bound([job("a", 30, 50, due=70)], ShopDay(1, 1, HOURS, 0)) == 10
    assert lateness_bound([job("a", 30, due=70, release=90)], ShopDay(1, 1, HOURS, 0)) == 230 - 70, "it came at 90"


def test_work_beyond_the_last_stretch_and_jobs_without_a_promise() -> None:
    assert lateness_bound([job("a", 60, due=None)], ShopDay(1, 1, HOURS, 0)) == 0
    many = [job(f"j{k}", 90, due=400) for k in range(4)]
    assert lateness_bound(many, ShopDay(1, 1, HOURS, 0)) >= 90, "three stretches of 100 hold 300 of 360 minutes"
