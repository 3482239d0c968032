"""Logged loads of machines whose governor is known: held back by heat, by a power limit, after a boost, or not at all.

Five nodes from hot spot to fins with losses through the board, leakage that grows with temperature, voltage that grows
with the clock, governors of their own: nothing of it is what the program fits or looks for.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.heat.throttle import HeldBack
from brachium.core.heat.trace import HeatTrace

DT, IDLE_S, COOL_S = 0.05, 60.0, 60.0
EACH = 10  # steps of the simulation to one of the governor and of the log
LEAK_K = 45.0  # over which leakage grows by e [K]
KINDS = (HeldBack.NONE, HeldBack.THERMAL, HeldBack.BOOST_OVER, HeldBack.POWER)


@dataclass(frozen=True)
class HeldRun:
    """One log with what its governor did, and the clock that it held in the end [MHz]."""

    trace: HeatTrace
    kind: HeldBack
    shelf_mhz: float


@dataclass
class _Machines:
    """Many machines at once; every array has shape (n,)."""

    r: FloatArray  # (5, n) K/W, from hot spot to fins to room
    c: FloatArray  # (5, n) J/K
    room: FloatArray
    full: FloatArray  # MHz
    dyn: FloatArray  # W at the full clock, 1 V
    leak: FloatArray
    idle: FloatArray
    limit: FloatArray
    cap: FloatArray  # W held for long; infinite = none
    peak_cap: FloatArray
    tau: FloatArray  # s of the boost's mean
    cap_from: FloatArray  # s into the load at which the cap begins; 0 = at once


def held_runs(count: int, seed: int) -> list[HeldRun]:
    """So many logs, a quarter of each kind."""
    rng = np.random.default_rng(seed)
    kinds = np.array([k % 4 for k in range(count)])
    load_s = rng.choice([300.0, 480.0, 900.0], count)
    m = _machines(kinds, rng, load_s)
    time, temp, power, clock = _simulated(m, kinds, load_s, rng)
    return [_logged(k, KINDS[kinds[k]], m, load_s[k], time, temp, power, clock, rng) for k in range(count)]


def _machines(kinds: FloatArray, rng: np.random.Generator, load_s: FloatArray) -> _Machines:
    n = kinds.size
    full = rng.uniform(2000.0, 5200.0, n)
    dyn, leak = rng.uniform(10.0, 110.0, n), rng.uniform(0.02, 0.09, n)
    limit, room = rng.uniform(86.0, 105.0, n), rng.uniform(15.0, 32.0, n)
    heat = kinds == 1
    # where the full clock would settle: above the limit where heat holds it back, well below it elsewhere
    share = np.where(heat, rng.uniform(1.12, 1.6, n), rng.uniform(0.35, 0.82, n))
    settles = room + (limit - room) * share
    at_full = dyn * (1.0 + leak * np.exp((np.minimum(settles, 115.0) - 60.0) / LEAK_K))
    parts = 0.06 + 0.7 * rng.dirichlet([2.0, 2.0, 1.0, 3.0, 4.0], n).T
    r = parts * (settles - room) / at_full
    c = np.array([0.5, 2.0, 8.0, 30.0, 90.0])[:, None] * rng.uniform(0.7, 1.6, (5, n)) / r
    cap = np.full(n, np.inf)
    boost, limited = kinds == 2, kinds == 3
    cap = np.where(boost, at_full * rng.uniform(0.45, 0.85, n), cap)
    cap = np.where(limited, at_full * rng.uniform(0.45, 0.88, n), cap)
    also = heat & (rng.random(n) < 0.3)  # some boost first, and are held back by heat on the shelf
    cap = np.where(also, at_full * rng.uniform(0.92, 0.97, n), cap)
    late = limited & (rng.random(n) < 0.4)
    return _Machines(r, c, room, full, dyn, leak, dyn * rng.uniform(0.05, 0.2, n), limit, cap,
                     np.where(boost | also, np.inf, cap), rng.uniform(8.0, 56.0, n),
                     np.where(late, rng.uniform(0.55, 0.8, n) * load_s, 0.0))  # fmt: skip


def _power(m: _Machines, share: FloatArray, hot: FloatArray, busy: FloatArray) -> FloatArray:
    volts = 0.62 + 0.38 * share**1.4
    leaking = m.dyn * m.leak * np.exp((np.minimum(hot, 125.0) - 60.0) / LEAK_K)
    return np.asarray(np.where(busy, m.dyn * share * volts**2, m.idle) + leaking)


def _simulated(
    m: _Machines, kinds: FloatArray, load_s: FloatArray, rng: np.random.Generator
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray]:
    n, steps = kinds.size, int((IDLE_S + load_s.max() + COOL_S) / DT)
    temps = np.repeat(m.room[None, :], 5, axis=0)
    share, mean = np.full(n, 1.0), np.zeros(n)
    hunting = (kinds == 3) & (m.cap_from == 0.0)
    window = rng.uniform(14.0, 40.0, n)  # as long as several lines of the slowest log
    out = np.empty((3, steps // EACH, n))
    for k in range(steps):
        t = k * DT
        busy = (t >= IDLE_S) & (t < IDLE_S + load_s)
        power = _power(m, share, temps[0], busy)
        flow = (temps - np.vstack([temps[1:], m.room[None, :]])) / m.r
        temps = temps + DT * (np.vstack([power[None, :], flow[:-1]]) - flow) / m.c
        mean = mean + (power - mean) * DT / m.tau
        if k % EACH == 0:
            out[:, k // EACH] = temps[0], power, np.where(busy, m.full * share, 0.25 * m.full)
            share = _governed(m, share, temps[0], power, mean, t - IDLE_S, busy, hunting, window)
    return np.arange(steps // EACH) * DT * EACH, out[0], out[1], out[2]


def _governed(
    m: _Machines, share: FloatArray, hot: FloatArray, power: FloatArray, mean: FloatArray, into_s: float,
    busy: FloatArray, hunting: FloatArray, window: FloatArray,
) -> FloatArray:  # fmt: skip
    """The next share of the full clock, in steps of a multiplier."""
    over = np.isfinite(m.peak_cap) & (into_s >= m.cap_from)
    spent = ~np.isfinite(m.peak_cap) & np.isfinite(m.cap) & (mean >= 0.995 * m.cap)
    held = over | spent
    up = share + np.where(hot < m.limit - 1.5, 0.01, 0.0)
    want = np.where(hot > m.limit, share - 0.02, up)
    want = np.where(held & (power > m.cap), share - 0.03, np.where(held & (power > 0.97 * m.cap), share, want))
    # a power limit that is enforced over a window: full for a while, then well below it
    phase = np.mod(into_s, window) / window
    want = np.where(hunting & busy, np.where(phase < 0.35, 1.0, 0.62 + 0.0 * share), want)
    return np.asarray(np.where(busy, np.clip(want, 0.25, 1.0), 1.0))


def _logged(
    k: int, kind: HeldBack, m: _Machines, load_s: float, time: FloatArray, temp: FloatArray, power: FloatArray,
    clock: FloatArray, rng: np.random.Generator,
) -> HeldRun:  # fmt: skip
    """As a log holds it: its own step, whole degrees or tenths, cores that do not run alike, bursts of other work."""
    step = int(rng.choice([1, 2, 4, 8]))
    upto = int((IDLE_S + load_s + COOL_S) / (EACH * DT))
    pick = np.arange(0, upto, step)
    t, c = time[pick], clock[pick, k]
    c = c * (1.0 + rng.normal(0.0, rng.uniform(0.001, 0.008), pick.size))
    burst = rng.random(pick.size) < 0.004
    c = np.where(burst, c * rng.uniform(0.5, 0.95, pick.size), c)
    grain = rng.choice([1.0, 0.125])
    hot = np.round((temp[pick, k] + rng.normal(0.0, 0.3, pick.size)) / grain) * grain
    busy = (t >= IDLE_S) & (t < IDLE_S + load_s)
    watts = power[pick, k] * (1.0 + rng.normal(0.0, 0.01, pick.size)) if rng.random() < 0.75 else None
    limit = float(round(m.limit[k])) if rng.random() < 0.5 else None
    util = np.clip(np.where(busy, 0.985, 0.03) + rng.normal(0.0, 0.01, pick.size), 0.0, 1.0)
    trace = HeatTrace(t, hot, watts, c, None, util, float(m.room[k]), limit)
    late = busy & (t > IDLE_S + 0.7 * load_s)
    below = float(np.mean(clock[pick, k][busy] < 0.97 * m.full[k]))
    seen = kind if below >= 0.03 else HeldBack.NONE  # a load that ends before the governor acts tells nothing of it
    return HeldRun(trace, seen, float(np.median(clock[pick, k][late])))
