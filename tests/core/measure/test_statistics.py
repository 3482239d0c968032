"""The ratio of two runs: error rates by simulation, known cases, symmetry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from brachium.core.measure.statistics import (
    RatioResult,
    Spread,
    Word,
    adjusted_p_values,
    judge,
    ratio_of,
    smallest_provable,
)

SPREAD = Spread()


def side(
    rng: np.random.Generator, level: float, sessions: int, repeats: int, between: float = 0.01, within: float = 0.01
) -> tuple[np.ndarray, ...]:
    return tuple(level * np.exp(rng.normal(0, between) + rng.normal(0, within, repeats)) for _ in range(sessions))


def result(before: tuple[np.ndarray, ...], after: tuple[np.ndarray, ...], higher: bool = True) -> RatioResult:
    found = ratio_of(before, after, higher, SPREAD)
    assert found is not None
    return found


@pytest.mark.parametrize(("sessions", "repeats"), [(1, 5), (2, 3), (3, 2)])
def test_null_cases_are_claimed_in_at_most_one_of_twenty(sessions: int, repeats: int) -> None:
    rng = np.random.default_rng(7)
    n = 800
    claims = sum(
        result(side(rng, 1, sessions, repeats), side(rng, 1, sessions, repeats)).p_value < 0.05 for _ in range(n)
    )
    assert claims / n <= 0.05 + 2 * np.sqrt(0.05 * 0.95 / n)


def test_a_plain_t_test_would_claim_far_too_often() -> None:
    """The reason for the session term: five against five in one session each."""
    rng = np.random.default_rng(8)
    plain = sum(stats.ttest_ind(side(rng, 1, 1, 5)[0], side(rng, 1, 1, 5)[0]).pvalue < 0.05 for _ in range(400))
    assert plain / 400 > 0.25


def test_interval_contains_the_true_ratio_as_often_as_it_says() -> None:
    rng = np.random.default_rng(9)
    hits = 0
    for _ in range(600):
        found = result(side(rng, 1.0, 2, 3), side(rng, 1.2, 2, 3))
        hits += found.low <= 1.2 <= found.high
    assert 0.93 <= hits / 600 <= 0.99


def test_a_machine_far_wilder_than_the_default_is_not_trusted_blindly() -> None:
    """Four times the default spread between sessions: the own sessions then outrank the default."""
    rng = np.random.default_rng(12)
    claims = sum(result(side(rng, 1, 3, 3, 0.04), side(rng, 1, 3, 3, 0.04)).p_value < 0.05 for _ in range(400))
    assert claims / 400 <= 0.12


def test_a_wilder_machine_gets_a_wider_interval() -> None:
    rng = np.random.default_rng(10)
    calm = result(side(rng, 1, 3, 3), side(rng, 1, 3, 3))
    wild = result(side(rng, 1, 3, 3, 0.08, 0.05), side(rng, 1, 3, 3, 0.08, 0.05))
    assert np.log(wild.high / wild.low) > 3 * np.log(calm.high / calm.low)
    assert wild.between > 2 * calm.between


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), st.floats(0.3, 3.0), st.floats(0.001, 1e6))
def test_symmetric_in_direction_and_free_of_units(seed: int, ratio: float, unit: float) -> None:
    rng = np.random.default_rng(seed)
    a, b = side(rng, 1.0, 2, 3), side(rng, ratio, 2, 3)
    there, back = result(a, b), result(b, a)
    assert there.ratio == pytest.approx(1 / back.ratio)
    assert there.low == pytest.approx(1 / back.high)
    assert there.p_value == pytest.approx(back.p_value)
    scaled = result(tuple(unit * x for x in a), tuple(unit * x for x in b))
    assert scaled.ratio == pytest.approx(there.ratio) and scaled.high == pytest.approx(there.high)
    lower = result(a, b, higher=False)
    assert lower.ratio == pytest.approx(back.ratio)


def test_every_session_counts_alike() -> None:
    """A session with many repeats does not drown one with few."""
    few, many = np.full(2, 1.0), np.full(50, 1.2)
    found = result((few, many), (np.full(3, 1.0), np.full(3, 1.0)))
    assert 1 / found.ratio == pytest.approx(np.sqrt(1.2), rel=1e-6)


def test_no_ratio_of_nothing_or_of_zero() -> None:
    ones = (np.ones(3),)
    assert ratio_of((), ones, True, SPREAD) is None
    assert ratio_of((np.array([1.0, 0.0]),), ones, True, SPREAD) is None


def test_corrected_p_values_are_those_of_scipy() -> None:
    p = (0.001, 0.2, 0.03, 0.04, 0.9, 0.013)
    np.testing.assert_allclose(adjusted_p_values(p), stats.false_discovery_control(p), rtol=1e-12)
    assert adjusted_p_values(()) == ()


@pytest.mark.parametrize(
    ("ratio", "word", "says"),
    [(1.3, Word.BETTER, "better"), (0.7, Word.WORSE, "worse"), (1.0, Word.SAME, "no difference above"),
     (1.035, Word.CANNOT_TELL, "more session")],
)  # fmt: skip
def test_words(ratio: float, word: Word, says: str) -> None:
    steady = tuple(np.array([0.995, 1.0, 1.005]) for _ in range(2))
    found = result(steady, tuple(ratio * x for x in steady))
    p = found.p_value if word is not Word.CANNOT_TELL else 0.2
    verdict = judge(found, p)
    assert verdict.word is word and says in verdict.sentence


def test_smallest_provable_gain_is_proven_about_eight_times_in_ten() -> None:
    rng = np.random.default_rng(11)
    gain = smallest_provable(SPREAD, 2, 3)
    proven = sum(result(side(rng, 1, 2, 3), side(rng, 1 + gain, 2, 3)).p_value < 0.05 for _ in range(500))
    assert 0.7 <= proven / 500 <= 0.9


def test_sessions_are_worth_more_than_repeats() -> None:
    assert smallest_provable(SPREAD, 4, 3) < smallest_provable(SPREAD, 2, 12) < smallest_provable(SPREAD, 2, 3)
