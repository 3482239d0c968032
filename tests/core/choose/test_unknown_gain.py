"""What nobody can predict is not known, with what is missing; what surely brings nothing is nothing."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest

from brachium.app.view.job_view import JobView
from brachium.core.choose.cost import PlanCost
from brachium.core.choose.predict import predict
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.figures.base.drawing import Text
from brachium.core.figures.lists.bill import BillState, bill
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.heat.throttle import HeldBack
from brachium.core.plan.candidates import Candidate, Group, candidates
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue
from tests.core.choose.test_front import VIDEO

EVERY = candidates(MACHINE, demo_catalogue())
BY_GROUP = {c.group: c for c in EVERY}


@pytest.fixture(scope="module")
def figures(finished_view: JobView) -> BeforeFigures:
    assert finished_view.causes.figures is not None
    return finished_view.causes.figures


def test_services_are_known_where_the_heat_path_was_measured_and_not_where_it_was_not(figures: BeforeFigures) -> None:
    paste = BY_GROUP[Group.PASTE]
    assert unknown_gain(MACHINE, paste, VIDEO, figures) == ""
    assert figures.reading is not None and figures.reading.throttle is not None
    blind = replace(figures, r_fast_k_w=None, r_slow_k_w=None)
    cool = replace(figures.reading, throttle=replace(figures.reading.throttle, kind=HeldBack.NONE))
    assert unknown_gain(MACHINE, paste, VIDEO, replace(blind, reading=cool)) == "", "heat takes nothing"
    assert "way of the heat was not measured" in unknown_gain(MACHINE, paste, VIDEO, blind)
    assert unknown_gain(MACHINE, BY_GROUP[Group.DRIVE], VIDEO, blind) == "", "drives hang on other figures"


def test_a_likely_cure_without_a_clock_to_come_back_is_not_known(figures: BeforeFigures) -> None:
    battery = BY_GROUP[Group.BATTERY]
    likely = replace(figures, battery_chance=0.8, power_clock=None)
    assert "clock that it gives back" in unknown_gain(MACHINE, battery, VIDEO, likely)
    assert unknown_gain(MACHINE, battery, VIDEO, replace(likely, power_clock=1.4)) == ""
    assert unknown_gain(MACHINE, battery, VIDEO, replace(likely, battery_chance=0.01)) == "", "it brings no work"


def test_the_plan_says_not_known_and_never_a_factor_of_one(figures: BeforeFigures) -> None:
    battery, drive = BY_GROUP[Group.BATTERY], BY_GROUP[Group.DRIVE]
    likely = replace(figures, battery_chance=0.8, power_clock=None)

    def words(*chosen: Candidate) -> list[str]:
        prediction = predict(MACHINE, chosen, VIDEO, likely)
        assert prediction is not None
        parts = tuple((c.id, c.title, Decimal(9)) for c in chosen)
        cost = PlanCost(Decimal(9), 12.0, 0.0, Decimal("6.40"))
        return [i.text for i in bill(BillState(parts, cost, "EUR", prediction), 400.0).items if isinstance(i, Text)]

    alone = words(battery)
    assert alone[2:5] == [battery.title, "9.00", "not known"]
    assert alone[-3:] == ["Together", "15.40", "not known"]
    both = words(battery, drive)
    assert "not known" in both and any(w.endswith("and more") for w in both) and "× 1.00" not in both
