"""Shelf first: exact against trying every assignment, each part once, only what fits, nothing doubtful."""

from __future__ import annotations

from dataclasses import replace
from itertools import product
from math import log

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.core.base.units import GB, GIB
from brachium.core.choose.shelf_assignment import Use, Waiting, best_use, gain_together, possible_uses
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.record.parts_shelf import PartState, ShelfPart
from brachium.core.use.profile import PROFILES
from brachium.demo.newsroom import MACHINE
from tests.support.around import EASY


def module(k: int, gib: int, form: MemoryForm = MemoryForm.SO_DIMM) -> ShelfPart:
    part = MemoryModule(f"m{k}", form, MemoryGeneration.DDR3, gib * GIB, 1600, (1.35, 1.5), ranks=2, chip_width=8)
    return ShelfPart(f"part-{k}", part, "test", PartState.TESTED)


def drive(k: int, latency_ms: float, height: float = 7.0) -> ShelfPart:
    part = Drive(f"d{k}", DriveInterface.SATA, BayForm.IN_2_5, height, 240 * GB, latency_ms > 1, 500, 500, latency_ms)
    return ShelfPart(f"part-{k}", part, "test", PartState.TESTED)


@pytest.fixture(scope="module")
def machines(finished_view: JobView) -> list[Waiting]:
    """Three machines of the newsroom's kind that wait more or less for paging."""
    assert finished_view.causes.figures is not None
    return [
        Waiting(
            f"j{k}",
            f"Machine {k}",
            MACHINE,
            PROFILES[p],
            replace(finished_view.causes.figures, stall_share=stall),
            EASY,
        )
        for k, (stall, p) in enumerate(((0.35, 4), (0.10, 2), (0.0, 0)))
    ]


def every_assignment(waiting: list[Waiting], shelf: list[ShelfPart]) -> float:
    """Largest sum of logarithms, by trying all."""
    options: list[list[Use | None]] = [[None, *possible_uses(w, shelf)] for w in waiting]
    best = 0.0
    for picked in product(*options):
        used = [part for use in picked if use is not None for part, _, _ in use.parts]
        if len(used) == len(set(used)):
            best = max(best, sum(log(u.gain) for u in picked if u is not None))
    return best


@pytest.mark.parametrize("seed", range(6))
def test_the_assignment_is_the_best_there_is(machines: list[Waiting], seed: int) -> None:
    rng = np.random.default_rng(seed)
    shelf = [module(k, int(rng.choice([2, 4, 8]))) for k in range(2)] + [
        drive(10 + k, float(rng.choice([0.1, 0.2, 11.0]))) for k in range(2)
    ]
    found = best_use(machines, shelf)
    assert sum(log(u.gain) for u in found) == pytest.approx(every_assignment(machines, shelf), abs=1e-9)
    used = [part for u in found for part, _, _ in u.parts]
    assert len(used) == len(set(used)) and len({u.job_id for u in found}) == len(found)


def test_the_only_fast_drive_goes_where_it_brings_most(machines: list[Waiting]) -> None:
    (use,) = best_use(machines, [drive(1, 0.1)])
    gains = {w.job_id: max(u.gain for u in possible_uses(w, [drive(1, 0.1)])) for w in machines}
    assert use.gain == max(gains.values()) == gain_together((use,)) and use.job_id == max(gains, key=lambda j: gains[j])


def test_what_does_not_fit_is_doubtful_or_kept_is_left_on_the_shelf(machines: list[Waiting]) -> None:
    wrong = module(1, 8, MemoryForm.DIMM)
    high = drive(2, 0.1, 12.5)
    doubtful = replace(drive(3, 0.1), state=PartState.DOUBTFUL)
    kept = replace(drive(4, 0.1), reserved_for="another")
    assert best_use(machines, [wrong, high, doubtful, kept]) == ()
    assert best_use(machines, []) == () and best_use([], [drive(1, 0.1)]) == ()


def test_a_dead_place_takes_nothing(machines: list[Waiting]) -> None:
    dead = [replace(w, machine=replace(w.machine, bad_places=("slot-2",))) for w in machines]
    assert best_use(machines, [module(1, 8)]) and best_use(dead, [module(1, 8)]) == ()
