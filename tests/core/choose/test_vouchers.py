"""Vouchers: exact in cents, floors on the full price, and the same in the arrays of the front."""

from __future__ import annotations

from decimal import Decimal
from random import Random

import numpy as np
import pytest

from brachium.core.choose.plan_space import taken_off
from brachium.core.record.money import OffFrom, Voucher, discount_of, read_vouchers, vouchers_text

D = Decimal


@pytest.mark.parametrize(
    ("text", "parts", "rest", "off"),
    [
        ("10 % from 100", "99.99", "40", "0"),
        ("10 % from 100", "100.00", "40", "10.00"),
        ("12.5 % on parts", "33.33", "0", "4.17"),  # 4.16625, half up
        ("15 % on all", "33.33", "16.67", "7.50"),
        ("5 EUR on parts", "3.20", "20", "3.20"),  # never more than there is
        ("10 % on parts; 5 EUR on all", "100", "50", "15.00"),
        ("5 EUR from 150 on all; 50 % from 100", "100", "50", "55.00"),  # floors count the full price
        ("10 %; 10 %", "100", "0", "19.00"),  # each of what the one before it left
        ("", "100", "50", "0"),
    ],
)
def test_what_comes_off(text: str, parts: str, rest: str, off: str) -> None:
    vouchers = read_vouchers(text)
    assert discount_of(vouchers, D(parts), D(rest)) == D(off)
    assert read_vouchers(vouchers_text(vouchers)) == vouchers


@pytest.mark.parametrize("text", ["ten per cent", "110 %", "0 EUR", "10 % from", "10 USD", "10 % on work", "1e9 EUR"])
def test_what_is_no_voucher_is_named(text: str) -> None:
    with pytest.raises(ValueError, match="%"):
        read_vouchers(f"5 EUR; {text}")


def test_the_arrays_of_the_front_take_off_what_the_exact_sum_does() -> None:
    random, rng = Random(7), np.random.default_rng(7)
    for _ in range(60):
        some = tuple(
            Voucher(*((D(random.randint(1, 40)), D(0)) if random.random() < 0.6 else (D(0), D(random.randint(1, 60)))),
                    D(random.choice((0, 50, 150))), random.choice(tuple(OffFrom)))
            for _ in range(random.randint(1, 4))
        )  # fmt: skip
        parts, rest = rng.integers(0, 30_000, 50) / 100.0, rng.integers(0, 15_000, 50) / 100.0
        exact = [float(discount_of(some, D(f"{p:.2f}"), D(f"{r:.2f}"))) for p, r in zip(parts, rest, strict=True)]
        assert np.allclose(taken_off(some, parts, rest), exact, atol=0.005 * len(some))
