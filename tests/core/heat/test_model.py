"""The closed-form two-node solution against an independent integrator and analytic cases."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from brachium.core.heat.model import TwoNode, simulate, slow_resistance, time_constants_s

LAPTOP = TwoNode(8.0, 160.0, 0.7, 0.9, 0.65, 0.15, 4000.0)


def steps(seed: int, n: int = 200) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A jittered time axis with random power and fan speed held over each interval."""
    rng = np.random.default_rng(seed)
    time = np.cumsum(rng.uniform(0.7, 1.4, n))
    return time, rng.uniform(2, 40, n), rng.uniform(1200, 4800, n)


def test_agrees_with_an_independent_integrator() -> None:
    time, power, fan = steps(1, 80)
    r_slow = slow_resistance(LAPTOP, fan)

    def slope(t: float, x: np.ndarray) -> list[float]:
        k = min(int(np.searchsorted(time, t, side="left")), time.size - 1)
        fast = (x[0] - x[1]) / LAPTOP.r_fast_k_w
        return [(power[k] - fast) / LAPTOP.c1_j_k, (fast - x[1] / r_slow[k]) / LAPTOP.c2_j_k]

    state = np.array([5.0, 3.0])
    expected = [state]
    for k in range(1, time.size):
        state = solve_ivp(slope, (time[k - 1] + 1e-9, time[k]), state, rtol=1e-9, atol=1e-9).y[:, -1]
        expected.append(state)
    chip, sink = simulate(LAPTOP, time, power, fan, (5.0, 3.0))
    np.testing.assert_allclose(np.column_stack([chip, sink]), expected, atol=2e-5)


def test_heat_of_another_chip_warms_the_sink_alone() -> None:
    """In balance it adds its power times the resistance to the room, and nothing between chip and heatsink."""
    n = 4000
    time, power, fan = np.arange(n) * 5.0, np.full(n, 20.0), np.full(n, 3000.0)
    model = TwoNode(10.0, 200.0, 0.5, 0.8, 0.7, 0.15, 3000.0)
    alone = simulate(model, time, power, fan, (0.0, 0.0))
    beside = simulate(model, time, power, fan, (0.0, 0.0), np.full(n, 12.0))
    assert beside[1][-1] - alone[1][-1] == pytest.approx(12.0 * 0.8)
    assert beside[0][-1] - beside[1][-1] == pytest.approx(alone[0][-1] - alone[1][-1])


def test_settles_at_power_times_resistance() -> None:
    time = np.arange(0.0, 6000.0, 5.0)
    fan = np.full(time.size, LAPTOP.fan_ref_rpm)
    chip, sink = simulate(LAPTOP, time, np.full(time.size, 30.0), fan, (0.0, 0.0))
    assert chip[-1] == pytest.approx(30.0 * (0.7 + 0.9), rel=1e-6)
    assert sink[-1] == pytest.approx(30.0 * 0.9, rel=1e-6)


def test_time_constants_are_those_of_the_decay() -> None:
    fast, slow = time_constants_s(LAPTOP, LAPTOP.fan_ref_rpm)
    time = np.arange(0.0, 2000.0, 1.0)
    zero = np.zeros(time.size)
    chip, _ = simulate(LAPTOP, time, zero, np.full(time.size, LAPTOP.fan_ref_rpm), (40.0, 30.0))
    late = slice(600, 900)
    slope = np.polyfit(time[late], np.log(chip[late]), 1)[0]
    assert -1.0 / slope == pytest.approx(slow, rel=1e-4)
    assert fast < 6.0 < slow


def test_resistance_law_is_one_at_the_reference_and_falls_with_speed() -> None:
    speeds = np.array([800.0, 2000.0, 4000.0, 5000.0])
    r = slow_resistance(LAPTOP, speeds)
    assert r[2] == pytest.approx(0.9)
    assert np.all(np.diff(r) < 0)


@settings(max_examples=30, deadline=None)
@given(
    st.floats(1, 60),
    st.floats(20, 2000),
    st.floats(0.05, 3),
    st.floats(0.1, 4),
    st.floats(0, 1.5),
    st.integers(0, 10_000),
)
def test_linear_in_power_and_never_below_zero(
    c1: float, c2: float, fast: float, slow: float, m: float, seed: int
) -> None:
    model = TwoNode(c1, c2, fast, slow, m, 0.15, 3000.0)
    time, power, fan = steps(seed, 60)
    once = simulate(model, time, power, fan, (0.0, 0.0))
    twice = simulate(model, time, 2 * power, fan, (0.0, 0.0))
    for a, b in zip(once, twice, strict=True):
        np.testing.assert_allclose(b, 2 * a, rtol=1e-9, atol=1e-9)
        assert a.min() >= -1e-9


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10_000), st.integers(2, 50))
def test_cutting_the_axis_in_two_changes_nothing(seed: int, cut: int) -> None:
    time, power, fan = steps(seed, 60)
    chip, sink = simulate(LAPTOP, time, power, fan, (3.0, 1.0))
    tail = simulate(LAPTOP, time[cut:], power[cut:], fan[cut:], (chip[cut], sink[cut]))
    np.testing.assert_allclose(tail[0], chip[cut:], atol=1e-9)
