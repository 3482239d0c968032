"""Paging apart from the task's own reads: what memory brings follows what was seen of it, and nothing jumps."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from brachium.core.base.band import Band
from brachium.core.base.units import GIB
from brachium.core.choose.draws import draw
from brachium.core.choose.predict import bands_of
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import MemoryModule
from brachium.core.plan.candidates import Candidate, candidates
from brachium.core.use.profile import profile_of
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue

OFFICE = replace(profile_of("office"), shares=profile_of("office").shares | {"memory": 0.0})  # of size alone
BY_ID = {c.id: c for c in candidates(MACHINE, demo_catalogue())}
MEMORY, DRIVE = BY_ID["mem-2x8-l"], BY_ID["ssd-480@bay-main"]
NOTHING = 1.02  # no more than a measured gain scatters from one pair of sessions to the next
BLIND = BeforeFigures(None, False, 0.0, 1.0, 1.0, None, None, 0.0, False, None, None, None)
MODULE = next(iter(MACHINE.configuration().modules().values()))


def with_memory(gib: float) -> Machine:
    """The demo laptop with its slow disk and so much memory in one module."""
    assert isinstance(MODULE, MemoryModule)
    machine = MACHINE
    for place in machine.configuration().modules():
        machine = machine.with_part(place, None)
    return machine.with_part("slot-1", replace(MODULE, size_bytes=round(gib * GIB)))


def gain(gib: float, figures: BeforeFigures, *chosen: Candidate) -> Band:
    machine = with_memory(gib)
    return bands_of(machine, chosen, OFFICE, figures, draw(OFFICE, figures, machine))


def timed(stall: float, used: float | None, **more: float) -> BeforeFigures:
    return replace(BLIND, stall_share=stall, stall_measured=True, memory_used_frac=used, **more)


def test_memory_takes_nothing_from_reads_of_the_tasks_own() -> None:
    """A task that waits a quarter of its time for a slow disk while memory has room left."""
    found = gain(8, timed(0.25, 0.6), MEMORY)
    assert found.high < NOTHING
    assert gain(8, timed(0.25, 0.6), DRIVE).low > 1.2


def test_full_memory_is_paid_back_by_memory_and_partly_by_a_drive() -> None:
    short = timed(0.6, 0.985)
    memory, drive, both = gain(2, short, MEMORY), gain(2, short, DRIVE), gain(2, short, MEMORY, DRIVE)
    assert memory.mid > 1.6 and drive.mid > 1.6 and both.mid >= 0.99 * max(memory.mid, drive.mid)


def test_a_stall_that_the_kernel_blames_on_memory_is_paging_and_no_other() -> None:
    blamed, cleared = (timed(0.4, 0.96, memory_stall_share=s) for s in (0.38, 0.0))
    assert gain(4, blamed, MEMORY).low > 1.3
    assert gain(4, cleared, MEMORY).high < NOTHING


@pytest.mark.parametrize("stall", [None, 0.15, 0.5])
def test_a_tenth_of_a_gib_is_no_cliff(stall: float | None) -> None:
    """The working set of the use is 3.5 GiB, 0.6 are the system's own: 4.1 would be a hair too little, 4.2 enough."""
    figures = BLIND if stall is None else timed(stall, None)
    sizes = (3.6, 3.8, 3.9, 4.0, 4.05, 4.1, 4.15, 4.2, 4.3, 4.5, 5.0)
    middles = np.log([[b.low, b.mid, b.high] for b in (gain(s, figures, MEMORY) for s in sizes)])
    assert all((b - a < 0.01).all() for a, b in pairwise(middles)), "more memory today leaves less to gain"
    steps = [np.abs(b - a).max() / (t - s) for (a, b), (s, t) in zip(pairwise(middles), pairwise(sizes), strict=True)]
    assert max(steps) < 0.7, "less than 7 % for a tenth of a GiB"


def test_typed_memory_in_use_alone_gives_a_wide_but_right_sided_band() -> None:
    full, room = (replace(BLIND, memory_used_gib=u) for u in (1.96, 1.2))
    short = gain(2, full, MEMORY)
    assert 1.02 < short.low < short.mid < short.high and short.high / short.low > 1.5
    assert gain(2, room, MEMORY).high < NOTHING
    assert gain(1, replace(BLIND, memory_used_gib=0.99), MEMORY).mid > gain(2, full, MEMORY).mid, "shorter still"


def test_of_a_memory_that_nobody_recorded_nothing_is_said() -> None:
    machine = with_memory(4).with_part("slot-1", None)
    assert unknown_gain(machine, MEMORY, OFFICE, BLIND) == "the memory that is fitted today is not recorded"
    assert float(draw(OFFICE, BLIND, machine).paging.waiting.max()) == 0.0


def test_a_typed_share_of_drive_time_counts_and_is_wider_than_a_sampled_one() -> None:
    typed = replace(BLIND, memory_used_frac=0.985, typed_stall_share=0.4)
    sampled = timed(0.4, 0.985)
    wide, narrow = (gain(2, f, MEMORY) for f in (typed, sampled))
    assert wide.high / wide.low > narrow.high / narrow.low and wide.mid == pytest.approx(narrow.mid, rel=0.05)
