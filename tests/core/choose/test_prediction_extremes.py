"""Predictions at the ends of what is met: finite, never above what the use allows, monotone where physics says so."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.app.view.job_view import JobView
from brachium.core.base.units import GIB
from brachium.core.choose.draws import DRAWS, draw
from brachium.core.choose.paging import miss_share, usable_gib
from brachium.core.choose.predict import bands_of, speedups_of
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.parts import MemoryModule
from brachium.core.plan.candidates import Candidate, candidates
from brachium.core.use.profile import RESOURCES, UseProfile
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue
from tests.core.choose.test_new_processor import WARM, candidate
from tests.core.fit.bench_machines import CHIP, COOLER, TOWER

EVERY = candidates(MACHINE, demo_catalogue())
MODULE = MACHINE.fitted[0].part
SIZES = (1, 2, 3, 4, 4.1, 4.2, 6, 8, 16, 32, 64, 128)
PAIRS = 60


def one_resource(key: str, working_set_gib: float, overlap: float) -> UseProfile:
    return UseProfile("one", "One resource", {k: float(k == key) for k in RESOURCES}, overlap, working_set_gib, 0.4)


def sized(gib: float) -> Machine:
    assert isinstance(MODULE, MemoryModule)
    return MACHINE.with_part("slot-1", replace(MODULE, size_bytes=round(gib * GIB)))


@pytest.fixture(scope="module")
def figures(finished_view: JobView) -> BeforeFigures:
    assert finished_view.causes.figures is not None
    return finished_view.causes.figures


@settings(max_examples=PAIRS, deadline=None)
@given(
    st.sampled_from(RESOURCES), st.floats(0.5, 100.0), st.floats(0.0, 1.0), st.sampled_from(SIZES),
    st.sets(st.sampled_from(range(len(EVERY))), min_size=1, max_size=3), st.floats(10.0, 40.0), st.floats(0.02, 4.0),
    st.floats(0.0, 0.9), st.floats(1.0, 4.0), st.floats(0.0, 1.0),
)  # fmt: skip
def test_no_gain_is_more_than_the_use_allows(
    figures: BeforeFigures, key: str, working_set: float, overlap: float, size: float, picked: set[int], room: float,
    resistance: float, stall: float, lost: float, chance: float,
) -> None:  # fmt: skip
    """Whatever a plan speeds up costs at the least nothing; the rest of the time stays."""
    profile, machine = one_resource(key, working_set, overlap), sized(size)
    extreme = replace(
        figures, r_fast_k_w=resistance / 2, r_slow_k_w=resistance / 2, stall_share=stall, power_clock=lost,
        battery_chance=chance, adapter_chance=1.0 - chance, sustained_clock_mhz=figures.full_clock_mhz / lost,
    )  # fmt: skip
    by_group: dict[object, Candidate] = {EVERY[k].group: EVERY[k] for k in sorted(picked)}
    chosen = tuple(by_group.values())
    draws, heat = draw(profile, extreme, machine), HeatFacts(resistance, room)
    band = bands_of(machine, chosen, profile, extreme, draws, heat)
    assert np.isfinite([band.low, band.mid, band.high]).all() and 0.0 < band.low <= band.mid <= band.high
    speeds = speedups_of(machine, chosen, profile, extreme, draws, heat)
    bound = work_ratio(draws.shares, {k: np.full(DRAWS, 1e9) for k in speeds}, draws.overlap)
    assert band.high <= float(np.quantile(bound, 0.9)) * 1.05, (key, [c.title for c in chosen])


@given(st.floats(0.6, 200.0), st.floats(0.1, 1.5))
def test_more_memory_never_misses_more_and_without_a_cliff(working_set: float, skew: float) -> None:
    def share(gib: float) -> float:
        config = Configuration({"slot-1": sized(gib).fitted[0].part})
        return float(miss_share(usable_gib(config), working_set, skew))

    found = [share(gib) for gib in SIZES]
    assert all(0.0 <= b <= a <= 1.0 for a, b in pairwise(found))
    assert share(4.1) - share(4.2) < 0.12, "a tenth of a GiB is no cliff"


def test_a_hotter_room_and_a_hungrier_chip_never_do_more() -> None:
    profile = one_resource("all", 4.0, 0.2)
    draws = draw(profile, WARM, TOWER)

    def held(watts: float, room: float) -> float:
        chip = candidate(replace(CHIP, all_rate=660.0, single_rate=120.0, power_w=watts), "socket")
        found = speedups_of(TOWER, (chip,), profile, WARM, draws, HeatFacts(0.6, room))
        return float(np.median(found["all"]))

    table = np.array([[held(watts, room) for room in (10.0, 20.0, 30.0, 40.0)] for watts in (10.0, 45.0, 95.0, 165.0)])
    assert np.isfinite(table).all()
    assert all((np.diff(table, axis=axis) <= 1e-9).all() for axis in (0, 1))
    assert table[0, 0] > 1.2 * table[-1, -1], "it does change"


def test_a_new_cooler_goes_on_with_a_new_layer() -> None:
    """Where the paste is at fault a cooler of the same rating helps as the paste does."""
    dry = replace(WARM, paste_chance=1.0, fins_chance=0.0)
    profile = one_resource("all", 4.0, 0.2)
    old = TOWER.configuration().cooler()
    assert old is not None
    same = candidate(replace(COOLER, rated_w=old.rated_w), "cooler")
    draws = draw(profile, dry, TOWER)
    fresh = float(np.median(speedups_of(TOWER, (same,), profile, dry, draws, HeatFacts(0.6, 22.0))["all"]))
    assert fresh > 1.03
