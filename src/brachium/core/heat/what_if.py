"""What if: the steady state and the transient of a machine with one thing changed, from its own heat fit.

    T = room + P (R_fast + R_slow(n)) + P_other R_slow(n)      P(f) = P_idle + P_dyn (f / f0)^alpha
    R_slow(n) = R_ref ((n + f n_ref)/(n_ref + f n_ref))^-m      n = fan curve at T
The sustained clock is the highest f up to f0 with T at or under the limit. It falls with f monotonically, and the fan
only helps, so both are found by bisection. The transient integrates the two nodes second by second with a governor that
holds the chip at its limit. alpha is fitted where the run was held back, else 2.4 (about 1 at the voltage floor, above
3 in the top bins).
"""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.arrays import FloatArray, filled
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.heat.assumptions import ALPHA, ALPHA_HIGH, ALPHA_LOW, LEAST_CLOCK, SPREAD_NEEDED
from brachium.core.heat.fit import HeatFit, PreparedTrace
from brachium.core.heat.model import TwoNode
from brachium.core.heat.throttle import ThrottleFinding
from brachium.core.heat.trace import HeatTrace

LOAD_S, STEP_S = 900.0, 1.0


@dataclass(frozen=True)
class Changes:
    """What is changed. Factors on the fitted resistances, on the fan speed and on the dynamic power; room in kelvin."""

    paste: float = 1.0
    fins: float = 1.0
    fan: float = 1.0
    room_k: float = 0.0
    power: float = 1.0


@dataclass(frozen=True)
class Base:
    """The machine as measured. Power [W], clocks [MHz], temperatures [degC]; the fan curve as (temperature, speed)."""

    model: TwoNode
    room_c: float
    limit_c: float
    full_mhz: float
    idle_w: float
    dynamic_w: float
    other_w: float
    alpha: float
    alpha_fitted: bool
    fan_temps_c: FloatArray
    fan_rpm: FloatArray
    fan_is_proxy: bool
    limit_is_stated: bool

    def speed(self, temp_c: float, changes: Changes) -> float:
        """Fan speed at a chip temperature, by the curve that the run showed."""
        return float(np.interp(temp_c, self.fan_temps_c, self.fan_rpm)) * changes.fan


@dataclass(frozen=True)
class WhatIfOutcome:
    """Steady state and transient: sustained clock [MHz], chip [degC], power [W], fan [1/min]; one value a second."""

    clock_mhz: float
    chip_c: float
    power_w: float
    fan_rpm: float
    held_back: bool
    time_s: FloatArray
    chip_trace_c: FloatArray
    clock_trace_mhz: FloatArray


def base_of(trace: HeatTrace, run: PreparedTrace, fit: HeatFit, throttle: ThrottleFinding) -> Base | None:
    """The machine as one fitted run shows it; None without clock, or with power that was not measured."""
    if trace.clock_mhz is None or fit.power_is_proxy or throttle.full_clock_mhz is None:
        return None
    model = fit.runs[0].model
    clock, power = filled(trace.clock_mhz), run.power_w
    inside = np.zeros(clock.size, dtype=bool)
    inside[run.load.first + 2 : run.load.last] = True
    full = throttle.full_clock_mhz
    at_full = inside & (clock > 0.97 * full)
    full_w = float(np.median(power[at_full])) if at_full.sum() > 3 else float(np.percentile(power[inside], 95.0))
    alpha, fitted = _alpha(clock[inside] / full, power[inside], run.idle_w)
    temps, speeds = _fan_curve(run)
    limit = throttle.limit_c if throttle.limit_c is not None else float(np.nanmax(trace.temp_c)) + 10.0
    other = trace.sink_power_w
    return Base(
        model, run.room_c + fit.runs[0].room_offset_k, limit, full, run.idle_w, max(full_w - run.idle_w, 0.1),
        float(np.nanmean(other[inside])) if other is not None else 0.0, alpha, fitted, temps, speeds,
        fit.fan_is_proxy, throttle.limit_is_stated,
    )  # fmt: skip


def _alpha(ratio: FloatArray, power: FloatArray, idle_w: float) -> tuple[float, bool]:
    """Exponent of power over clock from throttled samples, by least squares on the logarithms."""
    good = (power > idle_w + 1.0) & (ratio > LEAST_CLOCK)
    if good.sum() < 30 or float(np.ptp(np.percentile(ratio[good], [5.0, 95.0]))) < SPREAD_NEEDED:
        return ALPHA, False
    slope = float(np.polyfit(np.log(ratio[good]), np.log(power[good] - idle_w), 1)[0])
    return (slope, True) if ALPHA_LOW <= slope <= ALPHA_HIGH else (ALPHA, False)


def _fan_curve(run: PreparedTrace) -> tuple[FloatArray, FloatArray]:
    """Fan speed over chip temperature as the run showed it: median by bins of 4 K, never falling."""
    temp, fan = filled(run.temp_c), run.fan_rpm
    edges = np.arange(np.floor(temp.min()), temp.max() + 4.0, 4.0)
    bins = np.digitize(temp, edges)
    centres = [float(np.median(temp[bins == b])) for b in np.unique(bins)]
    speeds = [float(np.median(fan[bins == b])) for b in np.unique(bins)]
    return np.array(centres), np.maximum.accumulate(np.array(speeds))


def _r_slow(base: Base, rpm: float, changes: Changes) -> float:
    model = base.model
    offset = model.fan_offset_frac * model.fan_ref_rpm
    ratio = max((rpm + offset) / (model.fan_ref_rpm + offset), 1e-3)
    return float(model.r_slow_k_w * changes.fins * ratio ** (-model.fan_exponent))


def power_at(base: Base, ratio: float, changes: Changes) -> float:
    """Power at a share of the full clock [W]."""
    return float(base.idle_w + base.dynamic_w * changes.power * ratio**base.alpha)


def steady_temp(base: Base, ratio: float, changes: Changes) -> tuple[float, float]:
    """(chip temperature [degC], fan speed [1/min]) in balance at a share of the full clock."""
    power = power_at(base, ratio, changes)
    room = base.room_c + changes.room_k

    def excess(temp: float) -> float:
        r_slow = _r_slow(base, base.speed(temp, changes), changes)
        return room + power * (base.model.r_fast_k_w * changes.paste + r_slow) + base.other_w * r_slow - temp

    low, high = room, room + 400.0
    for _ in range(50):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if excess(mid) > 0.0 else (low, mid)
    return low, base.speed(low, changes)


def solve(base: Base, changes: Changes) -> WhatIfOutcome:
    """Steady state under full load, and how it gets there."""
    ratio = 1.0
    if steady_temp(base, 1.0, changes)[0] > base.limit_c:
        low, high = LEAST_CLOCK, 1.0
        for _ in range(40):
            mid = 0.5 * (low + high)
            low, high = (low, mid) if steady_temp(base, mid, changes)[0] > base.limit_c else (mid, high)
        ratio = low
    temp, rpm = steady_temp(base, ratio, changes)
    time_s, chip, clock = _transient(base, changes)
    return WhatIfOutcome(
        ratio * base.full_mhz, temp, power_at(base, ratio, changes), rpm, ratio < 0.995, time_s, chip, clock
    )


def _transient(base: Base, changes: Changes) -> tuple[FloatArray, FloatArray, FloatArray]:
    """From idle balance into full load, explicit steps at a quarter of the fast time constant or less."""
    model, room = base.model, base.room_c + changes.room_k
    r_fast = model.r_fast_k_w * changes.paste
    dt = min(STEP_S, 0.25 * model.c1_j_k * r_fast)
    per_s = max(int(np.ceil(STEP_S / dt)), 1)
    dt = STEP_S / per_s
    r_slow = _r_slow(base, base.speed(room, changes), changes)
    sink = base.idle_w * r_slow
    chip = sink + base.idle_w * r_fast
    ratio = 1.0
    n = int(LOAD_S / STEP_S)
    out, clocks = np.empty(n), np.empty(n)
    for k in range(n):
        r_slow = _r_slow(base, base.speed(chip + room, changes), changes)
        for _ in range(per_s):
            over = chip + room - base.limit_c
            ratio = min(max(ratio - 0.06 * over * dt, LEAST_CLOCK), 1.0) if over > 0.0 else min(ratio + 0.004 * dt, 1.0)
            power = power_at(base, ratio, changes)
            flow = (chip - sink) / r_fast
            chip += dt * (power - flow) / model.c1_j_k
            sink += dt * (flow + base.other_w - sink / r_slow) / model.c2_j_k
        out[k], clocks[k] = chip + room, ratio * base.full_mhz
    return np.arange(1, n + 1, dtype=np.float64) * STEP_S, out, clocks


def assumptions(base: Base) -> tuple[str, ...]:
    """What the answer rests on, in words."""
    alpha = "fitted to the samples in which the clock was pulled down" if base.alpha_fitted else "assumed"
    fan = "temperature stands in for the fan's speed, so the fan slider says little" if base.fan_is_proxy else (
        "the fan follows the temperature as it did in the run")  # fmt: skip
    return (
        phrase("power rises with the clock to the power of {alpha:.1f}, {alpha2}", alpha=base.alpha, alpha2=alpha),
        fan,
        phrase(
            "the limit is {limit_c:.0f} °C, {which}",
            limit_c=base.limit_c,
            which="as stated" if base.limit_is_stated else "as seen in the run",
        ),
        "leakage at other temperatures, a heat pipe that works less well at low power and a warming case are left out",
        "a step between chip and heatsink holds die, spreader and plate as well as the paste",
    )
