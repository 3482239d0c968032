"""Swap grid: the promised number of tries is the least possible, found by brute force; tries prove what they should."""

from __future__ import annotations

from functools import cache
from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.cause.swap_grid import Axis, solve_grid
from brachium.core.cause.swap_job import DRIVES, grid_words, proven_faults, swap_job
from brachium.core.record.checks import SwapTry
from brachium.demo.archive_store import MACHINE, archive_store_job


def grid(modules: int, places: int) -> tuple[Axis, Axis]:
    return (Axis("modules", tuple(f"m{k}" for k in range(modules))),
            Axis("places", tuple(f"p{k}" for k in range(places))))  # fmt: skip


def fewest(modules: int, places: int) -> float:
    """Least expected tries over all strategies: every subset of modules with as many places, every order."""
    first, second = [a.ids for a in grid(modules, places)]
    tests = [
        frozenset(a + b) for k in range(1, min(modules, places) + 1)
        for a in combinations(first, k) for b in combinations(second, k)
    ]  # fmt: skip

    @cache
    def depth_sum(left: frozenset[str]) -> float:
        """Least sum of the tries over all elements that may be at fault."""
        if len(left) == 1:
            return 0.0
        parts = ((left & t, left - t) for t in tests)
        return min(len(left) + depth_sum(a) + depth_sum(b) for a, b in parts if a and b)

    return depth_sum(frozenset(first + second)) / (modules + places)


@pytest.mark.parametrize(("modules", "places"), [(2, 2), (2, 4), (4, 4)])
def test_the_number_of_tries_is_the_least_possible(modules: int, places: int) -> None:
    axes = grid(modules, places)
    promised = solve_grid(axes, ()).expected_tries
    assert promised == pytest.approx(fewest(modules, places))
    counts = [played(axes, frozenset({e})) for a in axes for e in a.ids]
    assert sum(counts) / len(counts) == pytest.approx(promised), "what is promised is what it takes"


def played(axes: tuple[Axis, ...], faulty: frozenset[str], faults: int = 1, together: bool = True) -> int:
    """Follow the proposals on a machine with these faults; returns the number of tries until it is proven."""
    tries: list[SwapTry] = []
    while not (state := solve_grid(axes, tries, faults, together)).cleared:
        assert not state.contradiction and state.proposal, (faulty, tries)
        used = {e for row in state.proposal for e in row}
        tries.append(SwapTry(state.proposal, not used & faulty))
        assert len(tries) < 20
    assert state.left == (faulty,)
    return len(tries)


def test_two_faults_are_found_too() -> None:
    axes = grid(2, 4)
    for pair in combinations([e for a in axes for e in a.ids], 2):
        if not set(axes[0].ids) <= set(pair):  # with no module left that works nothing can be told
            assert played(axes, frozenset(pair), faults=2) <= 8


@pytest.mark.parametrize("at_fault", ["d1", "c2", "p1"])
def test_drives_cables_and_ports_are_told_apart_one_row_at_a_time(at_fault: str) -> None:
    axes = (Axis("drives", ("d1", "d2")), Axis("cables", ("c1", "c2")), Axis("ports", ("p1", "p2")))
    assert played(axes, frozenset({at_fault}), together=False) <= 3


@settings(max_examples=60)
@given(st.integers(0, 5), st.data())
def test_whatever_is_tried_the_truth_is_never_ruled_out(index: int, data: st.DataObject) -> None:
    axes = grid(2, 4)
    truth = [e for a in axes for e in a.ids][index]
    tries = []
    for _ in range(data.draw(st.integers(0, 5))):
        k = data.draw(st.integers(1, 2))
        rows = tuple(zip(data.draw(st.permutations(axes[0].ids))[:k], data.draw(st.permutations(axes[1].ids))[:k],
                         strict=True))  # fmt: skip
        tries.append(SwapTry(rows, truth not in {e for row in rows for e in row}))
    assert frozenset({truth}) in solve_grid(axes, tries).left


def test_contradicting_tries_are_said() -> None:
    rows = (("m0", "p0"),)
    assert solve_grid(grid(2, 2), (SwapTry(rows, True), SwapTry(rows, False))).contradiction


def test_the_archive_workstation_needs_one_more_try_to_know_its_dead_place() -> None:
    job = archive_store_job()
    found = swap_job(MACHINE, job.swap_tries)
    assert (
        found is not None and found.state.expected_tries == 1.0 and proven_faults(found) == (frozenset(), frozenset())
    )
    worked = (*job.swap_tries, SwapTry((("module:slot-3", "place:slot-1"),), True))
    dead = swap_job(MACHINE, worked)
    assert dead is not None and proven_faults(dead) == (frozenset({"slot-3"}), frozenset())
    assert grid_words(dead) == "Proven: Memory slot 3 at fault"
    drives = swap_job(MACHINE, job.swap_tries, DRIVES)
    assert drives is not None and drives.tries == () and len(drives.axes) == 3
