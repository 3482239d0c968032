"""Where a load ends, which samples count, and what is read off a load: against figures worked out by hand."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.base.arrays import FloatArray
from brachium.core.heat.assumptions import CLAIM_FACTOR, PASTE_TERMS, PULLED_DOWN_FRAC
from brachium.core.heat.claims import ClaimKind, _claim, _Pair, compare
from brachium.core.heat.run_traces import heat_traces
from brachium.core.heat.throttle import HeldBack, find_throttling
from brachium.core.heat.trace import HeatTrace, LoadPhase, find_load, plateau_fan_rpm, plateau_power_w, usable_mask
from brachium.core.measure.run import Run
from brachium.core.measure.sampling import GAP_S, STUCK_S


def logged(time_s: FloatArray, util: FloatArray, **series: FloatArray) -> HeatTrace:
    temp = series.pop("temp_c", 40.0 + 30.0 * util + np.arange(time_s.size) * 1e-3)
    return HeatTrace(time_s, temp, series.get("power_w"), series.get("clock_mhz"), series.get("fan_rpm"), util)


def steps(idle: int, load: int, cool: int) -> tuple[FloatArray, FloatArray]:
    util = np.concatenate([np.full(idle, 0.02), np.full(load, 0.98), np.full(cool, 0.02)])
    return np.arange(float(util.size)), util


def test_a_load_ends_with_its_last_busy_sample() -> None:
    time_s, util = steps(60, 100, 40)
    load = find_load(logged(time_s, util))
    assert load == LoadPhase(60, 159, 59.0, 159.0, 59.0, 40.0) and load.duration_s == 100.0
    shorter, longer = steps(60, 20, 60), steps(60, 19, 60)
    assert find_load(logged(*shorter)) is not None and find_load(logged(*longer)) is None, "20 s are the least"
    time_s, util = steps(60, 100, 40)
    util[100:105] = 0.02  # from second 100 to 104: a dip of 4 s; one of 6 s ends it
    assert find_load(logged(time_s, util)) == load
    util[100:107] = 0.02
    broken = find_load(logged(time_s, util))
    assert broken is not None and (broken.first, broken.last) == (107, 159), "the longer of the two"


def test_samples_after_a_gap_count_again_after_three_seconds() -> None:
    time_s, util = steps(60, 100, 40)
    load = find_load(logged(time_s, util))
    assert load is not None
    at_limit = time_s + np.where(np.arange(time_s.size) > 30, GAP_S - 1.0, 0.0)
    mask, notes = usable_mask(logged(at_limit, util), load)
    assert mask.all() and notes == (), "a gap of just five seconds is none"
    late = time_s + np.where(np.arange(time_s.size) > 30, GAP_S, 0.0)
    mask, notes = usable_mask(logged(late, util), load)
    assert np.flatnonzero(~mask).tolist() == [31, 32, 33, 34] and notes == ("gap of 6 s at 30 s",)
    missing = 40.0 + 30.0 * util
    missing[5] = np.nan
    mask, notes = usable_mask(logged(time_s, util, temp_c=missing), load)
    assert np.flatnonzero(~mask).tolist() == [5] and notes == ("1 samples without a temperature left out",)


def test_a_temperature_that_stands_still_while_power_moves_is_left_out() -> None:
    time_s, util = steps(60, 100, 40)
    load = find_load(logged(time_s, util))
    assert load is not None
    power = 5.0 + 30.0 * util
    long, short = 40.0 + 30.0 * util + time_s * 1e-3, 40.0 + 30.0 * util + time_s * 1e-3
    first = 40
    long[first : first + int(STUCK_S) + 2] = long[first]  # 31 s
    short[first : first + int(STUCK_S) + 1] = short[first]  # 30 s
    mask, notes = usable_mask(logged(time_s, util, power_w=power, temp_c=long), load)
    assert np.flatnonzero(~mask).tolist() == list(range(first + 1, first + 32)) and "sensor stuck" in notes[0]
    assert usable_mask(logged(time_s, util, power_w=power, temp_c=short), load)[0].all()
    steady = np.full(time_s.size, 20.0)
    assert usable_mask(logged(time_s, util, power_w=steady, temp_c=long), load)[0].all(), "an honest sensor may repeat"


def test_plateaus_are_the_last_two_fifths_and_the_sustained_clock_the_second_half() -> None:
    time_s, util = steps(60, 100, 40)
    ramp = np.maximum(time_s - 59.0, 0.0)  # second of the load, 1 to 100 within it
    trace = logged(time_s, util, power_w=ramp, fan_rpm=10.0 * ramp, clock_mhz=4000.0 - ramp)
    load = find_load(trace)
    assert load is not None
    assert plateau_power_w(trace, load) == pytest.approx(np.mean(np.arange(61, 101)))
    assert plateau_fan_rpm(trace, load) == pytest.approx(10 * np.mean(np.arange(61, 101)))
    assert find_throttling(trace, load).sustained_clock_mhz == pytest.approx(4000.0 - np.mean(np.arange(51, 101)))


def test_the_share_held_back_counts_samples_below_the_full_clock() -> None:
    time_s, util = steps(60, 100, 40)
    load = find_load(logged(time_s, util))
    assert load is not None
    inside = load.last - load.first - 2  # without the first two and the last
    clock = np.full(time_s.size, 4000.0)
    clock[80:110] = 4000.0 * PULLED_DOWN_FRAC - 1.0
    temp = np.full(time_s.size, 60.0) + util
    found = find_throttling(logged(time_s, util, clock_mhz=clock, temp_c=temp), load)
    assert found.share == pytest.approx(30 / inside) and found.kind is HeldBack.POWER
    clock[80:110] = 4000.0 * PULLED_DOWN_FRAC + 1.0
    assert find_throttling(logged(time_s, util, clock_mhz=clock, temp_c=temp), load).kind is HeldBack.NONE
    clock[80:110] = 3000.0
    hot = np.where((np.arange(time_s.size) >= 78) & (np.arange(time_s.size) < 110), 95.0, 70.0)
    stated = replace(logged(time_s, util, clock_mhz=clock, temp_c=hot), limit_c=95.0)
    assert find_throttling(stated, load).kind is HeldBack.THERMAL
    assert find_throttling(replace(stated, limit_c=99.1), load).kind is HeldBack.POWER, "more than 4 K below it"


def test_the_half_width_is_that_of_the_fit_and_of_the_models_mismatch(runs: tuple[Run, Run]) -> None:
    before, after = (heat_traces(run, 97.0) for run in runs)
    verdict = compare(before, after)
    assert verdict.paste is not None and verdict.stairs is not None and verdict.total is not None
    from brachium.core.heat.fit import fit_prepared, prepare

    prepared = [prepare(t) for t in (*before, *after)]
    sides = tuple([0] * len(before) + [1] * len(after))
    pair = _Pair(fit_prepared(tuple(prepared)), tuple(prepared), sides)
    reference = pair.step_k(0, (0, 1))
    claim = _claim(pair, "paste", (0,), reference, "", 1.0)
    exact = replace(pair, fit=replace(pair.fit, covariance=np.zeros_like(pair.fit.covariance)))
    value = exact.step_k(0, (0,)) - exact.step_k(1, (0,))
    spilt = exact.step_k(0, (1,)) - exact.step_k(1, (1,))
    mismatch = np.linalg.norm(np.array(PASTE_TERMS) * (reference, value, spilt))
    assert _claim(exact, "paste", (0,), reference, "", 1.0).half_width_k == pytest.approx(mismatch)
    assert _claim(exact, "paste", (0,), reference, "", 2.0).half_width_k == pytest.approx(2.0 * mismatch)
    gradient = np.zeros(pair.fit.covariance.shape[0])
    for k, side in enumerate(sides):
        step = pair.fit.power_ref_w * pair.fit.runs[k].model.r_fast_k_w
        gradient[pair.fit.own_index(k, 0)] = (step if side == 0 else -step) / sides.count(side)
    of_fit = 1.96 * np.sqrt(gradient @ pair.fit.covariance @ gradient)
    assert claim.half_width_k == pytest.approx(np.hypot(of_fit, mismatch))
    assert claim.value_k == pytest.approx(verdict.paste.value_k) and claim.kind is ClaimKind.CHANGED
    assert claim.value_k > CLAIM_FACTOR * claim.half_width_k
    assert sum((verdict.stairs[0].chip_to_sink_k, verdict.stairs[0].sink_to_room_k)) == pytest.approx(reference)
