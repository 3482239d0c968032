"""The lower bounds of lateness against sums by hand, every way there is and proven orders; the search of orders."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest

from brachium.core.day.blocks import Block, DayJob, Placed, ShopDay, lateness_of
from brachium.core.day.bound import lateness_bound
from brachium.core.day.compiled.arrays import DAY_KERNELS, DayArrays
from brachium.core.day.exact import best_sheet
from brachium.core.day.greedy import greedy_sheet
from brachium.core.day.placing import IMPOSSIBLE, OrderSearch, Placement
from brachium.core.day.priced_minutes import PricedSearch
from brachium.core.day.searching import OrderFinder

needs_kernels = pytest.mark.skipif(not DAY_KERNELS.available(), reason="no C compiler here: the kernels are not built")


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


def some_day(seed: int, day: int = 400) -> tuple[list[DayJob], ShopDay]:
    """Five machines of three blocks for one or two people on one bench or more, two stretches a day."""
    rng = np.random.default_rng([25, seed])
    jobs = []
    for k in range(5):
        name, due = f"m{k}", int(rng.integers(60, 400))
        plan = ((int(rng.integers(5, 30)), int(rng.integers(0, 60)), False), (int(rng.integers(10, 50)), 0, True),
                (int(rng.integers(5, 15)), int(rng.integers(0, 30)), bool(rng.integers(0, 2))))  # fmt: skip
        blocks = tuple(Block(f"{name}/{i}", name, "b", ("s",), a, u, bench) for i, (a, u, bench) in enumerate(plan))
        jobs.append(DayJob(name, name, blocks, int(rng.choice([0, 40])), due))
    hours = tuple((d * day + a, d * day + b) for d in range(4) for a, b in ((0, 110), (140, 240)))
    return jobs, ShopDay(1 + seed % 2, 1 + seed % 3, hours, 0)


@needs_kernels
@pytest.mark.parametrize(("day", "part"), [(400, 0.55), (700, 0.7)])
def test_no_order_is_less_late_than_the_priced_bound(day: int, part: float) -> None:
    """Against orders proven best by the solver; far from them it would be of no use. Nights part the longer days."""
    proven = found = 0
    for seed in (0, 2, 4):
        jobs, shop = some_day(seed, day)
        best = best_sheet(jobs, shop, 60.0)
        assert best.gap == 0
        for horizon in (300, 900, 2000):  # one that many orders do not keep: it must hold all the same
            for known in (max(best.late, 1), 4 * best.late + 400):
                search = PricedSearch(jobs, shop, known, horizon)
                search.run(lambda: False, 3000)
                assert search.least <= max(best.late, 1), f"{seed}: a bound that is beaten is none"
        proven, found = proven + best.late, found + search.least
    assert found >= part * proven > 0, (found, proven)


def ways(job: DayJob, shop: ShopDay, horizon: int) -> Iterator[list[int]]:
    """Every way of a job of two blocks that is over by the horizon."""
    first, second = job.blocks
    fits = [
        [t for t in range(horizon) if any(a <= t and t + b.attended <= e for a, e in shop.hours)] for b in job.blocks
    ]
    for one in fits[0]:
        for two in fits[1]:
            over = two + second.attended + second.unattended
            if one >= job.release and two >= one + first.attended + first.unattended and over <= horizon:
                yield [one, two]


@needs_kernels
@pytest.mark.parametrize("seed", range(6))
def test_a_round_of_prices_finds_the_cheapest_of_all_ways(seed: int) -> None:
    rng = np.random.default_rng([26, seed])
    shop, horizon, cut, number = ShopDay(1, 1, ((0, 14), (22, 40)), 0), 36, 20, int(rng.integers(0, 4))
    hand, bench = rng.random(horizon + 1) * 3.0, rng.random(horizon + 1)
    jobs, by_night, after = [], [], []
    for k in range(3):
        a, b, u = (int(x) for x in rng.integers(1, 5, 3))
        blocks = (
            Block(f"{k}/0", str(k), "b", ("s",), a, u, True),
            Block(f"{k}/1", str(k), "b", ("s",), b, 1, seed % 2 == 0),
        )
        jobs.append(DayJob(str(k), str(k), blocks, int(rng.integers(0, 4)), int(rng.integers(5, 30))))
        costs: dict[bool, list[float]] = {True: [], False: [float(max(horizon - (jobs[-1].due or 0), 0))]}
        for one, two in ways(jobs[-1], shop, horizon):
            over = two + b + 1
            cost = max(over - (jobs[-1].due or 0), 0) + hand[one : one + a].sum() + hand[two : two + b].sum()
            cost += bench[one:over].sum() if seed % 2 == 0 else bench[one : one + a + u].sum()
            costs[over <= cut].append(cost)
        by_night.append(min(costs[True], default=np.inf))
        # a way that is not over by the horizon need not be whole: only its first block may be paid
        after.append(min(costs[False]))
    told = min(
        sum(by_night[k] if k in chosen else after[k] for k in range(3)) for chosen in combinations(range(3), number)
    )
    search = PricedSearch(jobs, shop, 10**6, horizon)
    search._nights[0].arrays = arrays = DayArrays(jobs, shop, horizon, cut)
    part = search._nights[0].parts[0][2].child(number=number)
    part.prices.hand[:], part.prices.bench[:] = hand, bench
    part.least = -(10.0**9)
    search._rounds(search._nights[0], part, 1)
    assert arrays.minutes == horizon
    assert part.least == pytest.approx(told - hand.sum() - bench.sum())


@needs_kernels
def test_hours_that_touch_and_work_beyond_the_last_of_them_are_bounded_as_they_are_planned() -> None:
    """A bound that kept from work what the solver allows would prove what is not the best."""
    whole, touching = ShopDay(1, 1, ((0, 200),), 0), ShopDay(1, 1, ((0, 50), (50, 200)), 0)
    jobs = [job("a", 60, due=20), job("b", 60, due=20)]
    short = ShopDay(1, 1, ((0, 40),), 0)
    for shop in (whole, touching, short, replace(short, hours=())):
        search = PricedSearch(jobs, shop, 1000, 300)
        search.run(lambda: False, 400)
        best = best_sheet(jobs, shop, 60.0)
        assert (best.late, best.gap) == (140, 0) and search.least <= 140, shop.hours


def keeps_the_numbers(jobs: list[DayJob], shop: ShopDay, found: Placement) -> None:
    busy, held = np.zeros(4000, dtype=int), np.zeros(4000, dtype=int)
    for job in jobs:
        ready, opened = job.release, 0
        for k, block in enumerate(job.blocks):
            start = found.starts[block.id]
            assert start >= ready and block.fixed in (None, start)
            assert any(a <= start and start + block.attended <= b for a, b in shop.hours), block.id
            busy[start : start + block.attended] += 1
            if block.bench and not (k and job.blocks[k - 1].bench):
                opened = start
            ready = start + block.attended + block.unattended
            if block.bench and not (k + 1 < len(job.blocks) and job.blocks[k + 1].bench):
                held[opened:ready] += 1
    assert busy.max() <= shop.technicians and held.max() <= shop.benches


def soonest_first(jobs: list[DayJob]) -> dict[str, int]:
    return {b.id: (j.due or 0) + k for j in jobs for k, b in enumerate(j.blocks)}


@needs_kernels
@pytest.mark.parametrize("seed", range(6))
def test_orders_keep_people_benches_and_hours(seed: int) -> None:
    jobs, shop = some_day(seed)
    search = OrderSearch(jobs, shop, 1600)
    soonest = search.begin(soonest_first(jobs))
    keeps_the_numbers(jobs, shop, soonest)
    found = search.go_on(4000)
    keeps_the_numbers(jobs, shop, found)
    placed = [Placed(b, found.starts[b.id]) for j in jobs for b in j.blocks]
    assert found.late == sum(lateness_of(jobs, placed).values()) <= soonest.late
    proven = best_sheet(jobs, shop, 60.0)  # ends when it is proven
    assert proven.gap == 0 and proven.late <= found.late <= 1.2 * proven.late
    again = search.begin({p.block.id: p.start for p in proven.placed})
    assert again.late == proven.late, "the order of a sheet makes that sheet again, or one as good"
    assert OrderSearch(jobs, shop, 200).begin(soonest_first(jobs)).late == IMPOSSIBLE, "no place is said"


@needs_kernels
def test_what_a_person_fixed_stays_in_every_order() -> None:
    jobs, shop = some_day(3)
    first = jobs[2].blocks[0]
    jobs[2] = replace(jobs[2], blocks=(replace(first, fixed=150), *jobs[2].blocks[1:]))
    search = OrderSearch(jobs, shop, 1600)
    search.begin(soonest_first(jobs))
    keeps_the_numbers(jobs, shop, search.go_on(3000))


@needs_kernels
def test_machines_that_can_be_done_by_the_night_are_and_others_are_not_promised() -> None:
    jobs, shop = some_day(1, 700)
    first = {p.block.id: p.start for p in greedy_sheet(jobs, shop).placed}
    known = Placement(10**6, first)
    finder = OrderFinder(jobs, shop, known, 2000, PricedSearch(jobs, shop, 10**6, 2000), lambda: False)
    alone = frozenset({jobs[0].id})
    order = finder._with_done(alone, 5.0)
    assert order is not None
    last = jobs[0].blocks[-1]
    assert order.starts[last.id] + last.attended <= 240
    slow = replace(jobs[1], release=239)
    late = OrderFinder([jobs[0], slow], shop, known, 2000, PricedSearch(jobs, shop, 10**6, 2000), lambda: False)
    assert late._with_done(frozenset({jobs[0].id, slow.id}), 0.2) is None, "nobody can do it in a minute"


def test_without_the_kernels_there_is_an_order_with_a_weaker_bound(monkeypatch: pytest.MonkeyPatch) -> None:
    from brachium.core.day import exact

    def not_built(*_: object) -> None:
        raise OSError("not built")

    monkeypatch.setattr(exact, "PricedSearch", not_built)
    jobs, shop = some_day(0)
    found = best_sheet(jobs, shop, 2.0)
    starts = {p.block.id: p.start for p in found.placed}
    keeps_the_numbers(jobs, shop, Placement(found.late, starts))
    assert found.gap is not None and found.late - found.gap >= lateness_bound(jobs, shop) > 0
