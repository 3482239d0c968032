"""A cured power limit gives the clock back: through the profile, by the chance of the cause, as far as heat carries."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.core.choose.draws import DRAWS, draw
from brachium.core.choose.held_clock import carried
from brachium.core.choose.plan_space import Limits, compile_plans
from brachium.core.choose.predict import bands_of, speedups_of
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.plan.candidates import Group, candidates
from brachium.core.work.effort import Effort
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue
from tests.core.choose.test_front import VIDEO, judged

OPTIONS = judged(candidates(MACHINE, demo_catalogue()))
BATTERY, ADAPTER = (next(o for o in OPTIONS if o.candidate.group is g) for g in (Group.BATTERY, Group.ADAPTER))


@pytest.fixture(scope="module")
def held(finished_view: JobView) -> BeforeFigures:
    """Half as fast again without the limit, the battery is to blame for sure, the heat path would carry anything."""
    figures = finished_view.causes.figures
    assert figures is not None
    return replace(figures, throttled=False, power_clock=1.5, battery_chance=1.0, adapter_chance=0.0, stall_share=0.0,
                   r_fast_k_w=0.05, r_slow_k_w=0.05)  # fmt: skip


def test_a_sure_cause_gives_the_clock_to_the_work_that_hangs_on_it(held: BeforeFigures) -> None:
    draws = draw(VIDEO, held, MACHINE)
    band = bands_of(MACHINE, (BATTERY.candidate,), VIDEO, held, draws, HeatFacts(0.1, 22.0))
    by_hand = work_ratio(draws.shares, {"all": np.full(DRAWS, 1.5)}, draws.overlap)
    assert band.mid == pytest.approx(float(np.median(by_hand)), rel=0.01) and band.mid > 1.1
    assert bands_of(MACHINE, (ADAPTER.candidate,), VIDEO, held, draws).mid == pytest.approx(1.0, abs=0.01)


def test_an_unsure_cause_gives_it_in_so_many_cases(held: BeforeFigures) -> None:
    unsure = replace(held, battery_chance=0.3, adapter_chance=0.5)
    draws = draw(VIDEO, unsure, MACHINE)
    battery, adapter = (
        speedups_of(MACHINE, (o.candidate,), VIDEO, unsure, draws)["all"] > 1.01 for o in (BATTERY, ADAPTER)
    )
    assert battery.mean() == pytest.approx(0.3, abs=0.02) and adapter.mean() == pytest.approx(0.5, abs=0.02)
    assert not (battery & adapter).any(), "one of them is at fault, not both"
    both = speedups_of(MACHINE, (BATTERY.candidate, ADAPTER.candidate), VIDEO, unsure, draws)["all"] > 1.01
    assert both.mean() == pytest.approx(0.8, abs=0.02)


def test_heat_caps_what_comes_back(held: BeforeFigures) -> None:
    assert held.reading is not None and MACHINE.processor.limit_c is not None
    rise = MACHINE.processor.limit_c - 22.0
    r = rise / held.reading.power_ref_w / 1.1**2.4  # carries a tenth more clock and no more
    tight = replace(held, r_fast_k_w=r / 2, r_slow_k_w=r / 2)
    assert carried(MACHINE, tight, HeatFacts(r, 22.0), 2.4) == pytest.approx(1.1)
    found = speedups_of(MACHINE, (BATTERY.candidate,), VIDEO, tight, draw(VIDEO, tight, MACHINE), HeatFacts(r, 22.0))[
        "all"
    ]
    assert float(np.median(found)) == pytest.approx(1.1, abs=0.01) and found.min() >= 1.0


def test_the_front_weighs_a_cure_and_leaves_out_what_cures_nothing(held: BeforeFigures) -> None:
    def ids(figures: BeforeFigures) -> frozenset[str]:
        return compile_plans(MACHINE, [BATTERY, ADAPTER], VIDEO, figures, Limits(32.0), Effort(MACHINE)).ids

    assert ids(held) == {BATTERY.candidate.id} and ids(replace(held, power_clock=None)) == frozenset()
    space = compile_plans(MACHINE, [BATTERY], VIDEO, held, Limits(32.0), Effort(MACHINE))
    predicted = bands_of(MACHINE, (BATTERY.candidate,), VIDEO, held, draw(VIDEO, held, MACHINE)).mid
    assert float(space.gain[-1]) == pytest.approx(predicted, rel=0.02), "in closed form as by the draws"
