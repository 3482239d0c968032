"""Where the load lies in a log."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.heat.fit import CannotFit, prepare, start_values
from brachium.core.heat.trace import HeatTrace, find_load, plateau_fan_rpm, plateau_power_w


def trace(util: np.ndarray | None, power: np.ndarray | None = None, **kw: object) -> HeatTrace:
    size = (util if util is not None else power).size  # type: ignore[union-attr]
    busy = (util if util is not None else power / np.max(power)) > 0.5  # type: ignore[operator]
    temp = 40.0 + 30.0 * busy
    return HeatTrace(np.arange(float(size)), temp, power, None, None, util, **kw)  # type: ignore[arg-type]


def busy(size: int, *spans: tuple[int, int], low: float = 0.02, high: float = 0.99) -> np.ndarray:
    out = np.full(size, low)
    for start, end in spans:
        out[start:end] = high
    return out


@pytest.mark.parametrize(
    ("util", "start", "duration"),
    [
        (busy(900, (120, 720)), 119, 600),
        (busy(900, (0, 600)), 0, 599),
        (busy(900, (300, 900)), 299, 600),
        (busy(900, (100, 160), (300, 700)), 299, 400),
        (busy(900, (120, 400), (404, 720)), 119, 600),
        (busy(900, (120, 400), (430, 720)), 429, 290),
    ],
)
def test_the_longest_load_is_found_and_short_dips_are_bridged(util: np.ndarray, start: float, duration: float) -> None:
    load = find_load(trace(util))
    assert load is not None
    assert load.start_s == pytest.approx(start, abs=1) and load.duration_s == pytest.approx(duration, abs=2)


@pytest.mark.parametrize(
    "util", [busy(900), busy(900, (100, 110)), busy(900, (100, 800), high=0.1), np.full(900, 0.5)],
    ids=["calm", "too short", "hardly busy", "always alike"],
)  # fmt: skip
def test_what_is_no_load(util: np.ndarray) -> None:
    assert find_load(trace(util)) is None


def test_power_stands_in_for_utilisation() -> None:
    power = busy(900, (120, 720), low=5.0, high=35.0)
    load = find_load(trace(None, power))
    assert load is not None and load.duration_s == pytest.approx(600, abs=2)
    assert find_load(HeatTrace(np.arange(10.0), np.full(10, 40.0))) is None


@settings(max_examples=40, deadline=None)
@given(st.integers(30, 300), st.integers(60, 600), st.integers(0, 99))
def test_noise_does_not_move_the_edges(start: int, length: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    util = np.clip(busy(1000, (start, start + length)) + rng.normal(0, 0.04, 1000), 0, 1)
    load = find_load(trace(util))
    assert load is not None
    assert abs(load.start_s - (start - 1)) <= 2 and abs(load.duration_s - length) <= 3


def test_plateau_is_the_late_part_without_missing_samples() -> None:
    power = busy(900, (120, 720), low=5.0, high=30.0)
    power[120:300] = 45.0
    power[600:610] = np.nan
    t = HeatTrace(np.arange(900.0), np.full(900, 50.0), power, None, None, busy(900, (120, 720)))
    load = find_load(t)
    assert load is not None
    assert plateau_power_w(t, load) == pytest.approx(30.0) and plateau_fan_rpm(t, load) is None


def test_start_values_split_the_rise_by_the_first_fall() -> None:
    """A made-up curve: 20 K fall at once when the load ends, 30 K remain."""
    util = busy(900, (120, 720))
    temp = np.where(util > 0.5, 75.0, 25.0)
    temp[720:] = 55.0
    power = np.where(util > 0.5, 50.0, 0.5)
    run = prepare(HeatTrace(np.arange(900.0), temp, power, None, np.full(900, 2000.0), util, 25.0))
    fast, slow = start_values(run)
    assert fast == pytest.approx(0.4, rel=0.03) and fast + slow == pytest.approx(1.0, rel=0.03)


@pytest.mark.parametrize(
    ("change", "words"),
    [({"room_c": None}, "room temperature"), ({"util_frac": None, "power_w": None}, "no load phase"),
     ({"temp_c": np.concatenate([np.full(30, 40.0), np.full(870, np.nan)])}, "usable temperature samples")],
)  # fmt: skip
def test_what_the_fit_needs_is_named(change: dict[str, object], words: str) -> None:
    from dataclasses import replace

    whole = trace(busy(900, (120, 720)), busy(900, (120, 720), low=5.0, high=30.0), room_c=22.0)
    prepare(whole)
    with pytest.raises(CannotFit, match=words):
        prepare(replace(whole, **change))  # type: ignore[arg-type]
