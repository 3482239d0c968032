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


@pytest.mark.parametrize("missing", [{"years": 0.0}, {"keep_years": 0.0}])
def test_without_years_nothing_is_said(missing: dict[str, float]) -> None:
    assert keep_or_replace(Decimal(90), replace(OTHER, **missing), Decimal(32)) is None  # type: ignore[arg-type]


@given(st.decimals(1, 5000, places=2), st.integers(1, 12), st.integers(1, 12), st.integers(0, 900))
def test_cents_are_exact_to_half_a_cent(total: Decimal, keep: int, years: int, price: int) -> None:
    other = Replacement(float(price), 1.0, 30.0, "", float(years), float(keep), 0.0)
    found = keep_or_replace(total, other, Decimal("32"))
    assert found is not None
    assert abs(Fraction(found.keep) - Fraction(total) / keep) <= Fraction(1, 200)
    assert abs(Fraction(found.replace) - (Fraction(price) + 16) / years) <= Fraction(1, 200)
