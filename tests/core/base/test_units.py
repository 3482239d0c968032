"""Honest digits and plain money."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base import units
from brachium.core.base.problems import ExpectedProblem, from_os_error


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        (units.pm(13.94, 1.26, "K"), "13.9 ± 1.3 K"),
        (units.pm(2.3149, 0.12, "K/W"), "2.31 ± 0.12 K/W"),
        (units.pm(33.2, 3.4, "K"), "33 ± 3 K"),
        (units.pm(-0.04, 0.5, "K"), "0.0 ± 0.5 K"),
        (units.number(136861.0), "136\u202f861"),
        (units.number(0.09), "0.0900"),
        (units.number(float("nan")), "not known"),
        (units.ratio(1.181), "× 1.18"),
        (units.ratio(83.62), "× 83.6"),
        (units.percent(-0.004), "0 %"),
        (units.gib(8 * 1024**3), "8 GiB"),
        (units.drive_size(480 * 1000**3), "480 GB"),
        (units.drive_size(2000 * 1000**3), "2 TB"),
        (units.minutes(71), "1 h 11 min"),
        (units.seconds_left(61), "61 s left"),
        (units.seconds_left(95), "2 min left"),
        (units.money(Decimal("37.865")), "37.87 EUR"),
        (units.money(Decimal("34.00")), "34 EUR"),
    ],
)
def test_texts(text: str, expected: str) -> None:
    assert text == expected


@given(st.floats(-1e4, 1e4), st.floats(1e-3, 1e3))
def test_value_and_half_width_share_their_decimals(value: float, half: float) -> None:
    left, right = units.pm(value, half, "K").removesuffix(" K").split(" ± ")
    assert len(left.partition(".")[2]) == len(right.partition(".")[2])
    shown = float(right)
    assert shown == pytest.approx(half, rel=0.27) or half >= 1, "no more than two, no fewer than one digit"


@given(st.decimals(0, 10_000, places=4))
def test_money_never_loses_a_cent(amount: Decimal) -> None:
    shown = Decimal(units.money(amount).removesuffix(" EUR"))
    assert abs(shown - amount) <= Decimal("0.005")


@pytest.mark.parametrize(
    ("number", "says"), [(28, "disk is full"), (13, "not allowed"), (30, "read-only"), (2, "no such")]
)
def test_operating_system_errors_are_said_in_words(number: int, says: str) -> None:
    problem = from_os_error(OSError(number, "x"), "/some/where", "Nothing was changed.")
    assert says in problem.text and "/some/where" in problem.text and problem.remedy


def test_a_problem_reads_as_sentences() -> None:
    assert (
        ExpectedProblem("it is empty", "a.csv, line 3", "Export it again.").text
        == "a.csv, line 3: it is empty. Export it again."
    )
