"""The ratio of two runs: error rates by simulation, known cases, symmetry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from brachium.core.measure.session_model import SCALE_OF_SD, TAILS_DF, difference
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import RatioResult, Word, adjusted_p_values, judge, ratio_of, smallest_provable

SPREAD = Spread(0.01, 20.0, 0.01, 60.0, "20 sessions of this machine", 0.2)


def side(
    rng: np.random.Generator, level: float, sessions: int, repeats: int, between: float = 0.01, within: float = 0.01
) -> tuple[np.ndarray, ...]:
    return tuple(level * np.exp(rng.normal(0, between) + rng.normal(0, within, repeats)) for _ in range(sessions))


def result(
    before: tuple[np.ndarray, ...], after: tuple[np.ndarray, ...], higher: bool = True, spread: Spread = SPREAD
) -> RatioResult:
    found = ratio_of(before, after, higher, spread)
    assert found is not None
    return found


def p_values(rng: np.random.Generator, sessions: int, repeats: int, between: float = 0.01, gain: float = 0.0,
             pairs: int = 800, spread: Spread = SPREAD) -> np.ndarray:  # fmt: skip
    """Of so many pairs at once."""
    logs = rng.normal(0, between, (pairs, 2 * sessions, 1)) + rng.normal(0, 0.01, (pairs, 2 * sessions, repeats))
    logs[:, sessions:] += np.log1p(gain)
    return difference(logs, np.repeat([False, True], sessions), spread).two_sided()


def test_pairs_at_once_are_the_pairs_one_by_one() -> None:
    """Also with sessions that hold fewer repeats than others."""
    rng = np.random.default_rng(15)
    logs = rng.normal(0.0, 0.02, (5, 4, 3))
    logs[:, 1, 2] = np.nan
    at_once = difference(logs, np.repeat([False, True], 2), SPREAD).two_sided()
    for pair, expected in zip(np.exp(logs), at_once, strict=True):
        sides = tuple(tuple(x[np.isfinite(x)] for x in rows) for rows in (pair[:2], pair[2:]))
        assert result(*sides).p_value == pytest.approx(expected)


@pytest.mark.parametrize(("sessions", "repeats"), [(1, 5), (2, 3), (3, 2)])
def test_null_cases_are_claimed_in_at_most_one_of_twenty(sessions: int, repeats: int) -> None:
    claims = (p_values(np.random.default_rng(7), sessions, repeats) < 0.05).mean()
    assert claims <= 0.05 + 2 * np.sqrt(0.05 * 0.95 / 800)


@pytest.mark.parametrize("between", [0.005, 0.01, 0.02, 0.03])
@pytest.mark.parametrize("sessions", [1, 2, 3])
def test_sessions_that_scatter_without_history_claim_nothing_that_is_not_so(sessions: int, between: float) -> None:
    claims = (p_values(np.random.default_rng(20), sessions, 3, between, 0.0, 600, Spread()) < 0.05).mean()
    assert claims <= 0.07 + 1.7 * np.sqrt(0.07 * 0.93 / 600)


@pytest.mark.parametrize(("sessions", "most"), [(1, 0.12), (2, 0.07), (3, 0.07)])
def test_a_history_of_machines_half_as_wild_is_not_trusted_too_far(sessions: int, most: float) -> None:
    half = Spread(0.0117, 13.0, 0.01, 40.0, "20 sessions of the shop", 0.5)
    claims = (p_values(np.random.default_rng(21), sessions, 3, 0.02, 0.0, 1000, half) < 0.05).mean()
    assert claims <= most + 1.7 * np.sqrt(most * (1 - most) / 1000)


def test_a_gain_of_five_per_cent_is_found() -> None:
    shop = Spread(0.0117, 13.0, 0.01, 40.0, "20 sessions of the shop", 0.5)
    assert (p_values(np.random.default_rng(22), 2, 5, 0.01, 0.05, 1000, shop) < 0.05).mean() > 0.82


def test_a_plain_t_test_would_claim_far_too_often() -> None:
    """The reason for the session term: five against five in one session each."""
    rng = np.random.default_rng(8)
    plain = sum(stats.ttest_ind(side(rng, 1, 1, 5)[0], side(rng, 1, 1, 5)[0]).pvalue < 0.05 for _ in range(400))
    assert plain / 400 > 0.25


def test_interval_contains_the_true_ratio_as_often_as_it_says() -> None:
    rng = np.random.default_rng(9)
    logs = rng.normal(0, 0.01, (600, 4, 1)) + rng.normal(0, 0.01, (600, 4, 3))
    logs[:, 2:] += np.log(1.2)
    found = difference(logs, np.repeat([False, True], 2), SPREAD)
    low, high = found.quantiles((0.025, 0.975))
    assert 0.93 <= ((low <= np.log(1.2)) & (np.log(1.2) <= high)).mean() <= 0.99


def test_a_machine_far_wilder_than_others_is_not_taken_for_one_of_them() -> None:
    """Four times the learned spread between sessions: the own sessions then outrank it."""
    others = Spread(0.01, 13.0, 0.01, 40.0, "20 sessions of the shop", 0.5)
    claims = (p_values(np.random.default_rng(12), 3, 3, 0.04, 0.0, 600, others) < 0.05).mean()
    assert claims <= 0.12


def test_a_wilder_machine_gets_a_wider_interval() -> None:
    rng = np.random.default_rng(10)
    others = Spread(0.01, 13.0, 0.01, 40.0, "20 sessions of the shop", 0.5)
    calm = result(side(rng, 1, 3, 3), side(rng, 1, 3, 3), spread=others)
    wild = result(side(rng, 1, 3, 3, 0.08, 0.05), side(rng, 1, 3, 3, 0.08, 0.05), spread=others)
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
    assert 1 / found.ratio == pytest.approx(np.sqrt(1.2), rel=1e-3)


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
     (1.06, Word.CANNOT_TELL, "more session")],
)  # fmt: skip
def test_words(ratio: float, word: Word, says: str) -> None:
    steady = tuple(np.array([0.995, 1.0, 1.005]) for _ in range(2))
    found = result(steady, tuple(ratio * x for x in steady))
    p = found.p_value if word is not Word.CANNOT_TELL else 0.2
    verdict = judge(found, p)
    assert verdict.word is word and says in verdict.sentence


@pytest.mark.parametrize(("sessions", "repeats"), [(1, 3), (2, 3), (3, 5)])
def test_smallest_provable_gain_is_proven_about_eight_times_in_ten(sessions: int, repeats: int) -> None:
    gain = smallest_provable(SPREAD, sessions, repeats)
    proven = (p_values(np.random.default_rng(11), sessions, repeats, 0.01, gain, 600) < 0.05).mean()
    assert 0.7 <= proven <= 0.9


def test_the_posterior_is_that_of_brute_force() -> None:
    """Every spread, every session's place and the difference on plain grids, against the quadrature."""
    spread = Spread(0.01, 20.0, 0.01, 60.0, "learned", 0.3)
    before, after = np.log([0.99, 1.012, 1.03]), np.log([1.055, 1.07, 1.02])
    logs = np.stack([before, after])
    found = difference(logs, np.array([False, True]), spread)
    up, down = spread.between_log_sds(repeated=False)
    z = np.linspace(-4, 4, 41)
    d = np.linspace(-0.12, 0.2, 161)
    places = np.linspace(-0.15, 0.25, 801)
    density = np.zeros(d.size)
    for zw in np.linspace(-3.5, 3.5, 21):
        within = SCALE_OF_SD * spread.within * np.exp(spread.within_log_sd * zw)
        shape = [stats.t.pdf((x[:, None] - places) / within, TAILS_DF).prod(0) / within**3 for x in (before, after)]
        both = np.convolve(shape[1], shape[0][::-1])  # of the difference of the two sessions' places
        lags = (np.arange(both.size) - places.size + 1) * (places[1] - places[0])
        for zb in z:
            follow = spread.sessions_follow[0 if zw > 0 else 1]
            between = spread.between * np.exp(follow * spread.within_log_sd * zw + (up if zb > 0 else down) * zb)
            weight = np.exp(-0.5 * zw**2 - 0.5 * zb**2) * (up if zb > 0 else down)
            smear = stats.norm.pdf(d[:, None], lags[None, ::8], np.sqrt(2.0) * between)
            density += weight * (smear * both[None, ::8]).sum(1)
    below = np.cumsum(density) / density.sum()
    for probability in (0.025, 0.5, 0.975):
        assert float(found.quantiles((probability,))[0]) == pytest.approx(np.interp(probability, below, d), abs=0.0025)


def test_warming_that_all_sessions_share_costs_little() -> None:
    """Two per cent over five repeats, the same in every session: the interval is nearly that of steady repeats."""
    rng = np.random.default_rng(13)
    a, b = side(rng, 1.0, 2, 5), side(rng, 1.05, 2, 5)
    warm = np.exp(-0.02 * np.exp(-np.arange(5) / 1.5))
    plain, drifting = result(a, b), result(tuple(x * warm for x in a), tuple(x * warm for x in b))
    assert drifting.ratio == pytest.approx(plain.ratio, rel=0.003)
    assert np.log(drifting.high / drifting.low) < 1.15 * np.log(plain.high / plain.low)


def test_one_slow_repeat_hardly_moves_a_session() -> None:
    rng = np.random.default_rng(14)
    a, b = side(rng, 1.0, 2, 5), side(rng, 1.05, 2, 5)
    slowed = (a[0] * np.array([1, 1, 0.85, 1, 1]), a[1])
    assert result(slowed, b).ratio == pytest.approx(result(a, b).ratio, rel=0.004)


def test_sessions_are_worth_more_than_repeats() -> None:
    assert smallest_provable(SPREAD, 4, 3) < smallest_provable(SPREAD, 2, 12) < smallest_provable(SPREAD, 2, 3)
