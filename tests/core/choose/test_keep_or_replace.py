"""Keep or replace: exact cents, the same rule in both directions, nothing where a year is missing."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.choose.keep_or_replace import keep_or_replace
from brachium.core.record.kept_plans import Replacement

OTHER = Replacement(260.0, 2.2, 90.0, "", 5.0, 3.0, 40.0)


def test_money_a_year_by_hand() -> None:
    found = keep_or_replace(Decimal("91.87"), OTHER, Decimal("32"))
    assert found is not None
    # 91.87 / 3 = 30.6233; (260 + 1.5 h x 32 - 40) / 5 = 53.60
    assert (found.keep, found.replace) == (Decimal("30.62"), Decimal("53.60"))
    assert found.words == "Keeping it is cheaper: 30.62 EUR a year against 53.60 EUR"
    dear = keep_or_replace(Decimal("310"), OTHER, Decimal("32"))
    assert dear is not None and dear.words.startswith("Another machine is cheaper: 53.60 EUR a year against 103.33")
    alike = keep_or_replace(Decimal("165"), OTHER, Decimal("32"))
    assert alike is not None and "about alike" in alike.words


def test_a_faster_machine_may_be_the_cheaper_one_for_the_same_work() -> None:
    found = keep_or_replace(Decimal("91.87"), OTHER, Decimal("32"), keep_gain=1.1)
    assert found is not None and found.words.startswith("Keeping it is cheaper")
    # 30.62 / 1.1 and 53.60 / 2.2
    assert found.work == "The other does 2.0 times the work: today's work costs 27.84 EUR a year here, 24.36 EUR there."
    slower = keep_or_replace(Decimal("91.87"), replace(OTHER, gain=0.8), Decimal("32"), keep_gain=1.2)
    assert slower is not None and slower.work.startswith("This one does 1.5 times the work")
    assert keep_or_replace(Decimal("91.87"), OTHER, Decimal("32")).work == ""  # type: ignore[union-attr]


def test_nothing_planned_is_not_free() -> None:
    sold = keep_or_replace(Decimal(0), OTHER, Decimal("32"), Decimal("12.00"))
    # 40 / 3 + 12 = 25.33; the sale is given up, so it does not help to pay the other: (260 + 48) / 5 = 61.60
    assert sold is not None and (sold.keep, sold.replace) == (Decimal("25.33"), Decimal("61.60"))
    blind = keep_or_replace(Decimal(0), replace(OTHER, resale=0.0), Decimal("32"))
    assert blind is not None and blind.keep is None and "not known" in blind.words and "0.00" not in blind.words


def test_a_plan_that_vouchers_pay_is_a_plan() -> None:
    found = keep_or_replace(Decimal(0), OTHER, Decimal("32"), planned=True)
    assert found is not None and (found.keep, found.replace) == (Decimal("0.00"), Decimal("53.60"))
    assert found.because.facts[0].value == "0 EUR" and found.words.startswith("Keeping it is cheaper")


@pytest.mark.parametrize("missing", [{"years": 0.0}, {"keep_years": 0.0}])
def test_without_years_nothing_is_said(missing: dict[str, float]) -> None:
    assert keep_or_replace(Decimal(90), replace(OTHER, **missing), Decimal(32)) is None  # type: ignore[arg-type]


@given(st.decimals(1, 5000, places=2), st.integers(1, 12), st.integers(1, 12), st.integers(0, 900))
def test_cents_are_exact_to_half_a_cent(total: Decimal, keep: int, years: int, price: int) -> None:
    other = Replacement(float(price), 1.0, 30.0, "", float(years), float(keep), 0.0)
    found = keep_or_replace(total, other, Decimal("32"))
    assert found is not None
    assert found.keep is not None and abs(Fraction(found.keep) - Fraction(total) / keep) <= Fraction(1, 200)
    assert abs(Fraction(found.replace) - (Fraction(price) + 16) / years) <= Fraction(1, 200)
