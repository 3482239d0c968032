"""Held back, by what, for how long."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.heat.throttle import HeldBack, find_throttling
from brachium.core.heat.trace import HeatTrace, find_load
from tests.support.held_runs import held_runs

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
        (hunting(flat(1000, 3300)), flat(35, 95), 105.0, HeldBack.POWER, 0.175),
        (hunting(flat(1000, 3300)), flat(35, 60), None, HeldBack.POWER, 0.175),
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


def test_without_a_clock_nothing_is_called_from_power_and_counters_alone_tell() -> None:
    time = np.arange(N, dtype=float)
    util = np.where((time >= 100) & (time < 500), 1.0, 0.02)
    blind = HeatTrace(time, flat(35, 95), hunting(flat(5, 40)), None, None, util, 22.0)
    load = find_load(blind)
    assert load is not None
    found = find_throttling(blind, load)
    assert found.kind is HeldBack.NOT_KNOWN and found.share == 0.0 and "no clock" in found.reason
    counts = np.concatenate([np.zeros(300), np.arange(1.0, 101.0), np.full(N - 400, 100.0)])
    found = find_throttling(replace(blind, throttle_count=counts), load)
    assert found.kind is HeldBack.THERMAL and found.share == pytest.approx(0.25, abs=0.01)


def test_the_shelf_after_a_boost_is_the_sustained_clock_and_no_heat() -> None:
    clock, temp = flat(1000, 2600), flat(35, 66)
    clock[100:128], temp[100:128] = 3600, np.linspace(50, 72, 28)
    t = trace(clock, temp)
    load = find_load(t)
    assert load is not None
    found = find_throttling(t, load)
    assert (found.kind, found.share) == (HeldBack.BOOST_OVER, 0.0)
    assert found.full_clock_mhz == pytest.approx(2600) and found.sustained_clock_mhz == pytest.approx(2600)
    late = clock.copy()
    late[128:330] = 3600  # a step that late ends no budget
    assert find_throttling(trace(late, temp), load).kind is HeldBack.POWER
    counted = trace(clock, temp, throttle_count=np.concatenate([np.zeros(127), np.full(N - 127, 3.0)]))
    assert find_throttling(counted, load).kind is HeldBack.THERMAL, "its own counters outrank the shape"


def test_what_held_simulated_machines_back_is_named_and_nothing_else_is_called_heat() -> None:
    """Their governors and their physics are none of the program's; four kinds, as many of each."""
    runs = held_runs(96, 11)
    found = [find_throttling(r.trace, load).kind if (load := find_load(r.trace)) else None for r in runs]
    right = [f is r.kind for f, r in zip(found, runs, strict=True)]
    assert np.mean(right) >= 0.95, [(r.kind, f) for f, r in zip(found, runs, strict=True) if f is not r.kind]
    assert not any(f is HeldBack.THERMAL and r.kind in (HeldBack.POWER, HeldBack.BOOST_OVER)
                   for f, r in zip(found, runs, strict=True))  # fmt: skip
