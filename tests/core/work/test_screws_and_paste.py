"""Screws counted back, tightened crosswise; paste by area and bond line; the stopwatch splits its time."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from math import pi

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.record.work.paste import Contact
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.doing.stopwatch import Stopwatch, clock_words
from brachium.core.work.paste import BOND_MM, paste_amount
from brachium.core.work.screws import all_open, open_screws, tighten_plan, tray_groups

COVER = ScrewGroup("cover", 8, "PH1", 5.0, "M2.5")
LONG, PLATE = replace(COVER, count=2, length_mm=9.0), ScrewGroup("cooler", 4, "PH1", 7.0, "M2", captive=True)


def test_the_tray_follows_the_removal_and_counts_backwards() -> None:
    groups = (PLATE, COVER, LONG)
    assert [g.layer for g in tray_groups(groups, ("cover", "cooler"))] == ["cover", "cover", "cooler"]
    assert tray_groups(groups, ("cover",)) == (COVER, LONG), "what is not off yet lies in no compartment"
    assert open_screws(groups, "cooler") == "", "captive ones cannot be lost"
    assert open_screws(groups, "cover") == "8 M2.5 × 5 mm not counted back; 2 M2.5 × 9 mm not counted back"
    some = (replace(COVER, back=7), replace(LONG, back=3), PLATE)
    assert open_screws(some, "cover") == "1 M2.5 × 5 mm left over; 1 M2.5 × 9 mm more than came out"
    whole = tuple(replace(g, back=g.count) for g in groups)
    assert all_open(whole, ("cover", "cooler")) == ""


@pytest.mark.parametrize(("count", "order"), [(2, (0, 1)), (4, (0, 2, 1, 3)), (6, (0, 3, 1, 4, 2, 5))])
def test_plates_are_tightened_crosswise(count: int, order: tuple[int, ...]) -> None:
    assert tighten_plan(count).order == order and tighten_plan(count).passes == 2


@given(st.integers(1, 12))
def test_every_screw_is_tightened_once(count: int) -> None:
    plan = tighten_plan(count)
    assert sorted(plan.order) == list(range(count)) and all(0 <= v <= 1 for p in plan.places for v in p)


def test_paste_by_hand() -> None:
    found = paste_amount(1000.0, Contact.SPREADER, Decimal("2.50"), 2.5, 8.0)
    assert found.volume_mm3 == pytest.approx((50.0, 100.0)) and found.weight_g == pytest.approx((0.125, 0.25))
    assert found.cost == Decimal("0.63"), "0.25 g at 2.50, half a cent rounded up"
    assert found.dot_mm**3 * pi / 12 == pytest.approx(100.0), "a half sphere of the larger amount"
    # 0.05 mm over 8 W/mK and 10 cm²
    assert found.least_k_w == pytest.approx(0.05e-3 / (8.0 * 1e-3))
    grooves = paste_amount(1000.0, Contact.PIPES)
    assert (
        grooves.volume_mm3[0] == pytest.approx(1000.0 * BOND_MM[0] + 0.25 * 0.15 * 1000.0) and grooves.least_k_w is None
    )
    assert paste_amount(0.5, Contact.DIE).volume_mm3[1] == pytest.approx(0.5 * BOND_MM[1])
    for bad in (0.0, -3.0, float("nan")):
        with pytest.raises(ValueError, match="above 0"):
            paste_amount(bad, Contact.DIE)


def test_the_stopwatch_splits_hands_on_from_what_runs_by_itself() -> None:
    watch = Stopwatch.started(100.0)
    assert watch.at(160.0) == (60.0, 0.0)
    away = watch.switched(160.0)
    assert away.away and away.at(400.0) == (60.0, 240.0)
    again = away.switched(400.0)
    assert again.at(430.0) == (90.0, 240.0) and again.at(399.0) == (60.0, 240.0), "a clock set back counts nothing"
    assert (clock_words(247.9), clock_words(3753.0), clock_words(5.0)) == ("4:07", "1:02:33", "0:05")
