"""Which unknown matters: the one that a plan rests on, never one that it does not touch, and whether it decides."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.core.choose.draws import Draws, draw
from brachium.core.choose.front import build_front
from brachium.core.choose.plan_space import Limits
from brachium.core.choose.predict import bands_of
from brachium.core.choose.sensitivity import UNKNOWNS, figures_held, widest_unknown
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.plan.candidates import candidates
from brachium.core.work.effort import Effort
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue
from tests.core.choose.test_front import VIDEO, judged

OPTIONS = judged(candidates(MACHINE, demo_catalogue()))
BY_ID = {o.candidate.id: o.candidate for o in OPTIONS}


@pytest.fixture(scope="module")
def figures(finished_view: JobView) -> BeforeFigures:
    """A machine of which nothing is known about paste and fins."""
    assert finished_view.causes.figures is not None
    return replace(finished_view.causes.figures, paste_chance=0.5, fins_chance=0.5)


@pytest.mark.parametrize("key", [u[0] for u in UNKNOWNS])
def test_what_is_held_has_no_spread_left_and_the_rest_keeps_it(figures: BeforeFigures, key: str) -> None:
    draws = draw(VIDEO, figures, MACHINE)
    fixed = figures_held(draws, key, 50.0)
    if key == "shares":
        assert all(float(np.ptp(v)) == 0.0 for v in fixed.shares.values())
        assert sum(float(v[0]) for v in fixed.shares.values()) == pytest.approx(1.0)
        assert fixed.paste is draws.paste
    elif key == "paging":
        assert float(np.ptp(fixed.paging.paged)) == 0.0 == float(np.ptp(fixed.paging.working_gib))
    else:
        assert float(np.ptp(getattr(fixed, key))) == 0.0 and fixed.shares is draws.shares


def found_for(chosen, options, figures, draws, provable):  # type: ignore[no-untyped-def]
    def recommended(other: Draws) -> tuple[str, ...]:
        front = build_front(MACHINE, options, VIDEO, figures, Limits(32.0), Effort(MACHINE), provable, draws=other)
        return front.recommended.ids

    return widest_unknown(MACHINE, chosen, VIDEO, figures, draws, None, recommended)


def test_new_paste_alone_hangs_on_whether_the_paste_is_at_fault(figures: BeforeFigures) -> None:
    draws = draw(VIDEO, figures, MACHINE)
    found = found_for((BY_ID["svc-paste"],), OPTIONS, figures, draws, 0.02)
    assert found is not None and found.key == "paste" and found.narrows > 0.3
    sure = replace(figures, paste_chance=1.0)
    less = found_for((BY_ID["svc-paste"],), OPTIONS, sure, draw(VIDEO, sure, MACHINE), 0.02)
    assert less is None or less.key != "paste" or less.narrows < found.narrows


def test_holding_something_never_widens_the_band_much(figures: BeforeFigures) -> None:
    draws = draw(VIDEO, figures, MACHINE)
    plan = tuple(BY_ID[i] for i in ("mem-4-l", "ssd-480@bay-main", "svc-paste"))
    whole = bands_of(MACHINE, plan, VIDEO, figures, draws)
    for key, _, _ in UNKNOWNS:
        band = bands_of(MACHINE, plan, VIDEO, figures, figures_held(draws, key, 50.0))
        assert band.high / band.low <= 1.02 * whole.high / whole.low, key


def test_it_decides_only_where_the_recommended_plan_changes(figures: BeforeFigures) -> None:
    """New paste brings 4 % where the paste is at fault and nothing where not: a step of 2 % hangs on it, of 5 % not."""
    draws = draw(VIDEO, figures, MACHINE)
    paste = (BY_ID["svc-paste"],)
    only = [o for o in OPTIONS if o.candidate.id == "svc-paste"]
    hangs = found_for(paste, only, figures, draws, 0.02)
    assert hangs is not None and hangs.decides and "could change the choice" in hangs.words
    never = found_for(paste, only, figures, draws, 0.05)
    assert never is not None and not never.decides and "would not change the choice" in never.words
    assert found_for((), OPTIONS, figures, draws, 0.02) is None
