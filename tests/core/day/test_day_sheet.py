"""The day sheet: every sheet can be worked, the exact one is as good as any order of small days, chances are right."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise, permutations

import numpy as np
import pytest

from benchmarks.day_sheet import made_up
from brachium.core.day.blocks import Block, DayJob, Sheet, ShopDay, blocks_of, next_open
from brachium.core.day.bound import lateness_bound
from brachium.core.day.chance import chances
from brachium.core.day.exact import best_sheet
from brachium.core.day.fixing import with_fixed_starts
from brachium.core.day.greedy import greedy_sheet
from brachium.core.work.step import Mode, Step

HOURS = ((0, 240), (300, 600), (1440, 1680), (1740, 2040), (2880, 3480))


def small(seed: int) -> tuple[list[DayJob], ShopDay]:
    """Three jobs of two or three blocks for one technician and one or two benches."""
    rng = np.random.default_rng([4, seed])
    jobs = []
    for k in range(3):
        blocks = tuple(
            Block(f"j{k}/{i}", f"j{k}", "b", ("s",), int(rng.integers(10, 60)), int(rng.choice([0, 0, 20, 90])), i == 1)
            for i in range(int(rng.integers(2, 4)))
        )
        jobs.append(DayJob(f"j{k}", f"j{k}", blocks, int(rng.choice([0, 0, 60])), int(rng.integers(60, 400))))
    return jobs, ShopDay(1, int(rng.integers(1, 3)), HOURS, 0)


def workable(jobs: list[DayJob], shop: ShopDay, sheet: Sheet) -> None:
    """Every block once, in order, in opening hours, nobody and no bench twice at a time."""
    assert sorted(p.block.id for p in sheet.placed) == sorted(b.id for j in jobs for b in j.blocks)
    for job in jobs:
        own = sorted(sheet.of(job.id), key=lambda p: [b.id for b in job.blocks].index(p.block.id))
        assert all(a.end <= b.start for a, b in pairwise(own)), job.id
        assert own[0].start >= max(job.release, shop.now)
    for p in sheet.placed:
        assert any(a <= p.start and p.attended_end <= b for a, b in shop.hours), p
    for who in range(shop.technicians):
        mine = sorted((p for p in sheet.placed if p.technician == who), key=lambda p: p.start)
        assert all(a.attended_end <= b.start for a, b in pairwise(mine))
    for bench in range(shop.benches):
        held: dict[str, tuple[int, int]] = {}
        for p in (p for p in sheet.placed if p.bench == bench):
            begin, end = held.get(p.block.job_id, (p.start, p.end))
            held[p.block.job_id] = (min(begin, p.start), max(end, p.end))
        spans = sorted(held.values())
        assert all(a[1] <= b[0] for a, b in pairwise(spans)), "a bench holds one open machine"


def best_by_hand(jobs: list[DayJob], shop: ShopDay) -> int:
    """Least lateness over every order of blocks, each as early as it can be."""
    names = [j.id for j in jobs for _ in j.blocks]
    best = 10**9
    for order in set(permutations(names)):
        at, ready = dict.fromkeys(names, 0), {j.id: j.release for j in jobs}
        free, benches, held = 0, [0] * shop.benches, dict[str, int]()
        by_id = {j.id: j for j in jobs}
        for name in order:
            block = by_id[name].blocks[at[name]]
            begin = max(ready[name], free)
            if block.bench:
                bench = held.setdefault(name, min(range(shop.benches), key=lambda k: benches[k]))
                begin = max(begin, benches[bench])
            start = next_open(shop.hours, begin, block.attended)
            free = start + block.attended
            ready[name] = free + block.unattended
            if block.bench:
                benches[held[name]] = ready[name]
            at[name] += 1
        best = min(best, sum(max(ready[j.id] - (j.due or 0), 0) for j in jobs))
    return best


@pytest.mark.parametrize("seed", range(8))
def test_the_exact_order_is_the_best_there_is_and_never_worse_than_the_first(seed: int) -> None:
    jobs, shop = small(seed)
    first, best = greedy_sheet(jobs, shop), best_sheet(jobs, shop, 4.0)
    workable(jobs, shop, first)
    workable(jobs, shop, best)
    assert best.late <= first.late and lateness_bound(jobs, shop) <= best.late
    if best.gap == 0:
        assert best.late == best_by_hand(jobs, shop)
    assert sum(best.lateness.values()) == best.late


def test_a_full_day_is_workable_and_its_gap_is_stated() -> None:
    jobs, shop = made_up(1)
    first, best = greedy_sheet(jobs, shop), best_sheet(jobs, shop, 3.0)
    workable(jobs, shop, first)
    workable(jobs, shop, best)
    assert best.late <= first.late and best.gap is not None and best.late - best.gap >= 0


def test_a_block_that_a_person_fixed_stays_and_the_rest_goes_around_it() -> None:
    jobs, shop = small(3)
    fixed = replace(jobs[0].blocks[0], fixed=120)
    jobs[0] = replace(jobs[0], blocks=(fixed, *jobs[0].blocks[1:]))
    for sheet in (greedy_sheet(jobs, shop), best_sheet(jobs, shop, 3.0)):
        workable(jobs, shop, sheet)
        assert next(p.start for p in sheet.placed if p.block.id == fixed.id) == 120
    later = replace(shop, now=200)
    free = [replace(j, blocks=tuple(replace(b, fixed=None) for b in j.blocks)) for j in jobs]
    assert min(p.start for p in best_sheet(free, later, 2.0).placed) >= 200, "re-planned from now"
    assert best_sheet([], shop).method == "nothing to plan"


def fix(job: DayJob, k: int, at: int) -> DayJob:
    return replace(job, blocks=tuple(replace(b, fixed=at) if i == k else b for i, b in enumerate(job.blocks)))


def test_a_fixed_stretch_that_cannot_be_held_is_freed_with_its_reason() -> None:
    blocks = tuple(Block(f"a/{k}", "a", f"step {k}", ("s",), 60) for k in range(2))
    a, shop = DayJob("a", "A", blocks), ShopDay(1, 1, HOURS, 0)
    b = DayJob("b", "B", (Block("b/0", "b", "step b", ("s",), 60),))
    assert with_fixed_starts([fix(a, 1, 60), fix(b, 0, 120)], shop)[1] == ()
    asked, freed = with_fixed_starts([fix(a, 1, 30), fix(b, 0, 210)], shop)
    assert freed == (
        "A, “step 1”: the work before it cannot be over by then",
        "B, “step b”: it does not lie within the opening hours",
    )
    workable(list(asked), shop, best_sheet(asked, shop, 2.0))
    assert with_fixed_starts([fix(a, 0, 0), fix(b, 0, 30)], shop)[1] == (
        "B, “step b”: every technician has a fixed time block then",
    )
    assert with_fixed_starts([fix(a, 0, 0), fix(b, 0, 30)], replace(shop, technicians=2))[1] == ()
    against = greedy_sheet([fix(a, 1, 30)], shop)
    workable([fix(a, 1, 30)], shop, against)
    assert not against.keeps_fixed, "the order of the work comes before a wish"


def test_a_search_that_is_stopped_ends_without_waiting_for_a_find() -> None:
    jobs, shop = made_up(1)
    asked = []

    def stopped() -> bool:
        asked.append(None)
        return len(asked) > 4

    workable(jobs, shop, best_sheet(jobs, shop, 60.0, stopped))
    assert 4 < len(asked) < 200, "sixty seconds would have asked over a thousand times"


def test_chances_are_certain_without_spread_and_even_on_the_edge() -> None:
    block = Block("a/1", "a", "b", ("s",), 60, 0, False, None, 1e-9)
    job, shop = DayJob("a", "a", (block,), 0, 60), ShopDay(1, 1, HOURS, 0)
    sheet = greedy_sheet([job], shop)
    assert chances([replace(job, due=61)], sheet, shop) == {"a": 1.0}
    assert chances([replace(job, due=59)], sheet, shop) == {"a": 0.0}
    wide = replace(job, blocks=(replace(block, spread=0.4),))
    even = chances([wide], greedy_sheet([wide], shop), shop)
    assert even["a"] == pytest.approx(0.5, abs=0.05), "the median lies on the promise"


def test_steps_are_joined_where_nothing_comes_between() -> None:
    steps = (
        Step("clone", "c", "", attended_min=8, unattended_min=75, mode=Mode.RUNNING), Step("off", "o", "",
                                                                                           attended_min=3),
        Step("open", "p", "", attended_min=6), Step("paste", "q", "", attended_min=14, unattended_min=5),
        Step("close", "r", "", attended_min=5), Step("start", "s", "", attended_min=4, mode=Mode.RUNNING),
    )  # fmt: skip
    blocks = blocks_of("j", steps)
    assert [b.steps for b in blocks] == [("clone",), ("off", "open", "paste"), ("close",), ("start",)]
    assert [(b.attended, b.unattended, b.bench) for b in blocks] == [
        (8, 75, False),
        (23, 5, True),
        (5, 0, True),
        (4, 0, False),
    ]
    long = tuple(Step(str(k), "x", "", attended_min=40) for k in range(4))
    assert [b.attended for b in blocks_of("j", long)] == [80, 80], (
        "nobody works longer than an hour and a half at a stretch"
    )


def test_a_search_stopped_in_its_second_part_keeps_what_the_first_one_proved(monkeypatch: pytest.MonkeyPatch) -> None:
    from brachium.core.day import exact

    jobs, shop = small(3)
    whole = best_sheet(jobs, shop, 5.0)
    asked: list[float] = []
    solve = exact.solved

    def second_finds_nothing(cp_model: object, model: object, seconds: float, stopped: object) -> object:
        asked.append(seconds)
        return solve(cp_model, model, seconds, stopped) if len(asked) == 1 else None  # type: ignore[arg-type]

    monkeypatch.setattr(exact, "solved", second_finds_nothing)
    stopped = best_sheet(jobs, shop, 5.0)
    workable(jobs, shop, stopped)
    assert (stopped.late, stopped.gap, stopped.method) == (whole.late, 0, "exact order")
    assert asked == [pytest.approx(0.4), pytest.approx(0.6)], "most for lateness, the rest for the finish"
    assert whole.finish <= stopped.finish


def test_nothing_begins_inside_a_fixed_stretch_of_the_only_technician() -> None:
    fixed = DayJob("a", "a", (Block("a/0", "a", "b", ("s",), 60, 0, False, 30),), 0, 600)
    for length, start in ((30, 0), (31, 90), (10, 0)):
        other = DayJob("b", "b", (Block("b/0", "b", "b", ("s",), length, 0, False),), 0, 10)
        sheet = greedy_sheet([fixed, other], ShopDay(1, 2, ((0, 240),), 0))
        assert next(p.start for p in sheet.placed if p.block.id == "b/0") == start, length
        workable([fixed, other], ShopDay(1, 2, ((0, 240),), 0), sheet)
    two = greedy_sheet([fixed, other], ShopDay(2, 2, ((0, 240),), 0))
    assert {p.start for p in two.placed} == {0, 30}
