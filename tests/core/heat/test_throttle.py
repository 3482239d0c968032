"""Held back, by what, for how long."""

from __future__ import annotations

import numpy as np
import pytest

from brachium.core.heat.throttle import HeldBack, find_throttling
from brachium.core.heat.trace import HeatTrace, find_load

N = 600


def trace(clock: np.ndarray, temp: np.ndarray, **kw: object) -> HeatTrace:
    time = np.arange(N, dtype=float)
    util = np.where((time >= 100) & (time < 500), 1.0, 0.02)
    return HeatTrace(time, temp, 5 + 30 * util, clock, None, util, 22.0, **kw)  # type: ignore[arg-type]


def flat(low: float, high: float) -> np.ndarray:
    out = np.full(N, float(low))
    out[100:500] = high
    return out


def hunting(base: np.ndarray) -> np.ndarray:
    """Full clock, pulled down every third ten seconds from 300 s on."""
    out = base.copy()
    for start in range(300, 500, 30):
        out[start : start + 10] *= 0.8
    return out


@pytest.mark.parametrize(
    ("clock", "temp", "limit", "kind", "share"),
    [
        (flat(1000, 3300), flat(35, 80), None, HeldBack.NONE, 0.0),
        (hunting(flat(1000, 3300)), flat(35, 95), None, HeldBack.THERMAL, 0.175),
        (hunting(flat(1000, 3300)), flat(35, 95), 95.0, HeldBack.THERMAL, 0.175),
        (hunting(flat(1000, 3300)), flat(35, 95), 105.0, HeldBack.UNCLEAR, 0.175),
        (hunting(flat(1000, 3300)), flat(35, 60), None, HeldBack.UNCLEAR, 0.175),
    ],
)
def test_kinds(clock: np.ndarray, temp: np.ndarray, limit: float | None, kind: HeldBack, share: float) -> None:
    t = trace(clock, temp, limit_c=limit)
    load = find_load(t)
    assert load is not None
    found = find_throttling(t, load)
    assert found.kind is kind
    assert found.share == pytest.approx(share, abs=0.02)


def test_counters_outrank_the_temperature() -> None:
    counts = np.concatenate([np.zeros(300), np.full(N - 300, 4.0)])
    t = trace(hunting(flat(1000, 3300)), flat(35, 60), throttle_count=counts)
    load = find_load(t)
    assert load is not None and find_throttling(t, load).kind is HeldBack.THERMAL


def test_without_clock_power_is_judged_and_without_both_nothing_is() -> None:
    time = np.arange(N, dtype=float)
    util = np.where((time >= 100) & (time < 500), 1.0, 0.02)
    blind = HeatTrace(time, flat(35, 95), None, None, None, util, 22.0)
    load = find_load(blind)
    assert load is not None and find_throttling(blind, load).kind is HeldBack.NOT_KNOWN
    power = HeatTrace(time, flat(35, 95), hunting(flat(5, 40)), None, None, util, 22.0)
    assert find_throttling(power, load).kind is HeldBack.THERMAL


def test_power_limit_after_a_boost_is_not_called_heat() -> None:
    clock, temp = flat(1000, 2600), flat(35, 68)
    clock[100:128] = 3600
    t = trace(clock, temp)
    load = find_load(t)
    assert load is not None
    found = find_throttling(t, load)
    assert found.kind is not HeldBack.THERMAL
