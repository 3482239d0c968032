"""Money beside the plan: margin and its risk against drawing prices, energy and tax by hand."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.choose.resale import energy_a_year, margin_of, triangular_cdf
from brachium.core.record.money import EnergyUse, Resale, Tax

D = Decimal
STATED = Resale(D(120), D(160), D(190), D("0.11"), 20)


def test_a_margin_by_hand() -> None:
    found = margin_of(STATED, D(100))
    assert found is not None
    # mean price 470/3 = 156.666..., less 11 % = 139.4333, less 100
    assert (found.mean, found.at_low, found.at_high) == (D("39.43"), D("6.80"), D("69.10"))
    assert found.loss == 0.0, "even the low price covers what went in"
    dear = margin_of(STATED, D(169.1))
    assert dear is not None and dear.loss == pytest.approx(1.0)


@settings(max_examples=25, deadline=None)
@given(st.integers(20, 200), st.integers(0, 100), st.integers(1, 100), st.integers(10, 400))
def test_the_risk_is_that_of_drawn_prices(low: int, more: int, most: int, spent: int) -> None:
    resale = Resale(D(low), D(low + more), D(low + more + most), D("0.1"))
    found = margin_of(resale, D(spent))
    assert found is not None
    prices = np.random.default_rng(4).triangular(low, low + more, low + more + most, 40_000)
    assert found.loss == pytest.approx(float((prices * 0.9 < spent).mean()), abs=0.012)
    assert float(found.mean) == pytest.approx(float((prices * 0.9 - spent).mean()), abs=1.0)


def test_prices_out_of_order_or_missing_say_nothing() -> None:
    for bad in (Resale(), replace(STATED, low=D(170)), replace(STATED, high=D(150)), replace(STATED, fee=D(1))):
        assert margin_of(bad, D(10)) is None
    assert triangular_cdf(5.0, 5.0, 5.0, 9.0) == 0.0 and triangular_cdf(9.0, 5.0, 9.0, 9.0) == 1.0


def test_energy_of_a_year_by_hand() -> None:
    use = EnergyUse(34.0, 118.0, 6.0, 2.0, D("0.31"))
    # (34 x 6 + 118 x 2) W h = 0.44 kWh a day, 160.6 a year
    assert energy_a_year(use) == D("49.79") == energy_a_year(use, after=True)
    assert energy_a_year(replace(use, load_after_w=80.0), after=True) == D("41.19")
    assert not EnergyUse(tariff=D("0.3")).stated and use.stated


def test_tax_is_named_as_it_is_meant() -> None:
    assert Tax().words(D("91.87")) == "91.87 EUR"
    assert Tax(D("0.19"), True).words(D("119.00")) == "119 EUR, 19 EUR of it tax (19 %)"
    assert Tax(D("0.19"), False).words(D("100.00")) == "119 EUR with 19 % tax"
