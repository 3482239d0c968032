"""The lower bounds of lateness against sums by hand and proven orders, and the search of orders."""

from __future__ import annotations

import numpy as np
import pytest

from brachium.core.day.blocks import Block, DayJob, Placed, ShopDay, lateness_of
from brachium.core.day.bound import lateness_bound
from brachium.core.day.exact import best_sheet
from brachium.core.day.placing import best_placement, placed_in_order
from brachium.core.day.priced_minutes import priced_bound


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


def some_day(seed: int) -> tuple[list[DayJob], ShopDay]:
    """Five machines of three blocks for one or two people on one bench, two stretches a day."""
    rng = np.random.default_rng([25, seed])
    jobs = []
    for k in range(5):
        name, due = f"m{k}", int(rng.integers(60, 400))
        plan = ((int(rng.integers(5, 30)), int(rng.integers(0, 60)), False), (int(rng.integers(10, 50)), 0, True),
                (int(rng.integers(5, 15)), int(rng.integers(0, 30)), False))  # fmt: skip
        blocks = tuple(Block(f"{name}/{i}", name, "b", ("s",), a, u, bench) for i, (a, u, bench) in enumerate(plan))
        jobs.append(DayJob(name, name, blocks, int(rng.choice([0, 40])), due))
    hours = tuple((d * 400 + a, d * 400 + b) for d in range(4) for a, b in ((0, 110), (140, 240)))
    return jobs, ShopDay(1 + seed % 2, 1 + seed % 3, hours, 0)


def test_no_order_is_less_late_than_the_priced_bound() -> None:
    """Against orders proven best by the solver alone; far from them the bound would be of no use."""
    proven = found = 0
    for seed in (0, 2, 4):
        jobs, shop = some_day(seed)
        best = best_sheet(jobs, shop, 20.0)
        assert best.gap == 0
        for horizon in (300, 900):  # one that many orders do not keep: it must hold all the same
            bound = priced_bound(jobs, shop, max(best.late, 1), 0.8, horizon)
            assert bound.least <= best.late, f"{seed}: a bound that is beaten is none"
        proven, found = proven + best.late, found + bound.least
    assert found >= 0.6 * proven > 0, (found, proven)


@pytest.mark.parametrize("seed", range(6))
def test_orders_keep_people_benches_and_hours(seed: int) -> None:
    jobs, shop = some_day(seed)
    found = best_placement(jobs, shop, 0.3, 1600)
    soonest = placed_in_order(sorted(jobs, key=lambda j: j.due or 0), shop, 1600)
    placed = [Placed(b, found.starts[b.id]) for j in jobs for b in j.blocks]
    assert found.late == sum(lateness_of(jobs, placed).values()) <= soonest.late
    busy, held = np.zeros(2000, dtype=int), np.zeros(2000, dtype=int)
    for job in jobs:
        first, middle, last = (found.starts[b.id] for b in job.blocks)
        assert job.release <= first and first + job.blocks[0].attended + job.blocks[0].unattended <= middle
        assert middle + job.blocks[1].attended <= last
        held[middle : middle + job.blocks[1].attended] += 1
        for block in job.blocks:
            start = found.starts[block.id]
            assert any(a <= start and start + block.attended <= b for a, b in shop.hours), block.id
            busy[start : start + block.attended] += 1
    assert busy.max() <= shop.technicians and held.max() <= shop.benches
    assert placed_in_order(jobs, shop, 200).late > 10**8, "no place before the horizon is said"
