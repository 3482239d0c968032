"""Pairs of logs of machines of five nodes, not made with the program's model: their true change is known.

Die, base plate, heat pipe that dries out, fins, chassis; the fan sucks in its own warm air, follows a smoothed sensor
in steps or a curve, leakage grows with temperature, other heat enters the plate. Logged by four loggers.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.heat.trace import HeatTrace

DT, IDLE_S, LOAD_S, COOL_S = 0.1, 150.0, 660.0, 240.0
FORMATS = ("1 s, whole degrees", "0.5 s, eighths", "2 s, whole degrees and watts", "5 s, lost rows, power late")
NOTHING, PASTE, FINS, BOTH = range(4)
DRYING = 0.6  # of its resistance, that a pipe gains where it carries twice what it can
HOTTEST_C = 97.0  # where none of these machines is held back yet
JOINT = 0.05  # of the fins' resistance, between pipe and fins


@dataclass(frozen=True)
class FivePair:
    """Before and after with what was changed; `true_k(power, fan)` is the change of both steps [K]."""

    before: HeatTrace
    after: HeatTrace
    changed: int
    logger: int
    machine: _Machine

    def true_k(self, power_w: float, fan_rpm: float) -> tuple[float, float]:
        """True fall of the step over paste and of the step from plate to room, at a power and a fan speed [K]."""
        was, now = (_steady(self.machine, side, power_w, fan_rpm) for side in (0, 1))
        return was[0] - now[0], was[1] - now[1]


@dataclass(frozen=True)
class _Machine:
    """One machine; the fields of two values are before and after."""

    die_k_w: float
    paste_k_w: tuple[float, float]
    pipe_k_w: float
    dry_from_w: float  # beyond it the pipe conducts less
    fins_k_w: tuple[float, float]
    board_k_w: float
    chassis_k_w: float
    recirculated: float
    fan_exponent: float
    fan_full: float
    still_share: float  # of the fins' conductance that is left without a fan
    capacity: tuple[float, ...]
    idle_w: float
    load_w: float
    leak: float
    other_w: float
    fan_low: float
    fan_from_c: float
    fan_to_c: float
    fan_steps: int
    fan_lag_s: float
    lag_s: float
    room_c: tuple[float, float]
    drift_k: tuple[float, float]
    changed: int


def five_pairs(count: int, seed: int, fan: bool = True, clock: bool = True) -> list[FivePair]:
    """So many pairs; without `fan` or `clock` their loggers lack that column."""
    rng = np.random.default_rng(seed)
    machines = [_machine(k, rng) for k in range(count)]
    runs = [_simulated(machines, side, rng) for side in (0, 1)]
    out = []
    for k, machine in enumerate(machines):
        logger = int(rng.integers(4))
        traces = [_logged(machine, s, [x[:, k] for x in runs[s]], logger, fan, clock, rng) for s in (0, 1)]
        out.append(FivePair(traces[0], traces[1], machine.changed, logger, machine))
    return out


def _machine(k: int, rng: np.random.Generator) -> _Machine:
    u = rng.uniform
    kind = k % 3  # laptop, small desktop, tower
    load = u(*((14.0, 48.0), (30.0, 70.0), (55.0, 150.0))[kind])
    total = u(38.0, 66.0) / load
    parts = rng.dirichlet([2.0, 4.0, 1.5, 6.0]) * total
    changed = int(rng.integers(4))
    paste = parts[1] * (u(1.25, 2.6) if changed in (PASTE, BOTH) else 1.0)
    fins = parts[3] * (u(1.12, 1.9) if changed in (FINS, BOTH) else 1.0)
    worse = rng.random() < 0.85  # some jobs make it worse
    room = u(17.0, 29.0)
    machine = _Machine(
        parts[0], (paste, parts[1]) if worse else (parts[1], paste), parts[2], load * u(0.8, 2.5),
        (fins, parts[3]) if worse else (parts[3], fins), total * u(1.5, 9.0), u(0.6, 2.5), u(0.0, 0.35), u(0.35, 1.0),
        (4800.0, 2300.0, 1600.0)[kind] * u(0.8, 1.3), u(0.05, 0.3),
        tuple(np.array([6.0, 45.0, 25.0, 220.0, 1400.0]) * rng.uniform(0.5, 1.8, 5) * load / 60.0),
        load * u(0.04, 0.15), load, u(0.02, 0.1), load * u(0.0, 0.1), u(0.25, 0.55), u(38.0, 52.0), u(70.0, 90.0),
        int(rng.choice([0, 0, 4, 8])), u(2.0, 15.0), u(0.1, 3.0), (room, room + u(-2.5, 2.5)),
        (u(-1.2, 1.2), u(-1.2, 1.2)), changed,
    )  # fmt: skip
    hottest = max(sum(_steady(machine, side, load, machine.fan_full)) for side in (0, 1))
    cooler = min(1.0, (HOTTEST_C - 32.0) / hottest)
    return replace(machine, die_k_w=cooler * machine.die_k_w, paste_k_w=_times(cooler, machine.paste_k_w),
                   pipe_k_w=cooler * machine.pipe_k_w, fins_k_w=_times(cooler, machine.fins_k_w))  # fmt: skip


def _times(factor: float, pair: tuple[float, float]) -> tuple[float, float]:
    return factor * pair[0], factor * pair[1]


def _fins(m: _Machine, side: int, rpm: FloatArray | float) -> FloatArray:
    """Resistance of the fins to the air at a fan speed [K/W]."""
    flow = m.still_share + (1.0 - m.still_share) * (np.asarray(rpm) / m.fan_full) ** m.fan_exponent
    return np.asarray(m.fins_k_w[side] / flow)


def _steady(m: _Machine, side: int, power_w: float, rpm: float) -> tuple[float, float]:
    """(die to plate over die and paste, plate to room) at rest [K]; the pipe's drying is iterated."""
    into = power_w + m.other_w
    flow, plate = into, 0.0
    for _ in range(60):
        pipe = m.pipe_k_w * (1.0 + DRYING * max(flow / m.dry_from_w - 1.0, 0.0)) + JOINT * m.fins_k_w[side]
        # unknown: plate, fins, chassis above the room
        g1, g2, g3 = 1.0 / pipe, 1.0 / float(_fins(m, side, rpm)), 1.0 / m.board_k_w
        g4 = 1.0 / m.chassis_k_w
        a = np.array([[g1, -g1, 0.0],
                      [-g1, g1 + g2 + g3, -g3 - g2 * m.recirculated],
                      [0.0, -g3, g3 + g4]])  # fmt: skip
        plate, fins, _ = np.linalg.solve(a, np.array([into, 0.0, 0.0]))
        flow = (plate - fins) * g1
    return power_w * (m.die_k_w + m.paste_k_w[side]), float(plate)


def _simulated(machines: list[_Machine], side: int, rng: np.random.Generator) -> list[FloatArray]:
    """[sensed temperature, power, fan speed], each of shape (samples at DT, machines)."""

    def of(name: str) -> FloatArray:
        values = [getattr(m, name) for m in machines]
        return np.array([v[side] if isinstance(v, tuple) else v for v in values], dtype=np.float64)

    paste, fins, joint = of("die_k_w") + of("paste_k_w"), of("fins_k_w"), JOINT * of("fins_k_w")
    pipe, dry, board, chassis, back = (
        of(n) for n in ("pipe_k_w", "dry_from_w", "board_k_w", "chassis_k_w", "recirculated")
    )
    full, low, exponent, still = (of(n) for n in ("fan_full", "fan_low", "fan_exponent", "still_share"))
    start, stop, levels, fan_lag = (of(n) for n in ("fan_from_c", "fan_to_c", "fan_steps", "fan_lag_s"))
    idle, load, leak, other, lag = (of(n) for n in ("idle_w", "load_w", "leak", "other_w", "lag_s"))
    room, drift, c = of("room_c"), of("drift_k"), np.array([m.capacity for m in machines]).T
    count = int((IDLE_S + LOAD_S + COOL_S) / DT)
    t = np.repeat(room[None, :], 5, axis=0) + rng.uniform(0.0, 3.0, len(machines))
    sensed, smooth, rpm = t[0].copy(), t[0].copy(), low * full
    out = [np.empty((count, len(machines))) for _ in range(3)]
    for k in range(count):
        air_room = room + drift * k / count
        busy = IDLE_S <= k * DT < IDLE_S + LOAD_S
        power = (load if busy else idle) * (1.0 + leak * (t[0] - 60.0) / 40.0)
        smooth = smooth + (sensed - smooth) * DT / fan_lag
        share = np.clip((smooth - start) / (stop - start), 0.0, 1.0)
        stepped = np.maximum(levels, 1.0)
        share = np.where(levels > 0, np.round(share * stepped) / stepped, share)
        rpm = rpm + ((low + (1.0 - low) * share) * full - rpm) * DT / 1.5
        into = (t[0] - t[1]) / paste
        flow = (t[1] - t[2]) / pipe
        flow = flow / (1.0 + DRYING * np.maximum(flow / dry - 1.0, 0.0))
        passed = (t[2] - t[3]) / joint
        air = air_room + back * (t[4] - air_room)
        blown = (t[3] - air) * (still + (1.0 - still) * (rpm / full) ** exponent) / fins
        lost = (t[3] - t[4]) / board
        to_room = (t[4] - air_room) / chassis
        heat = [
            power - into,
            into + (other if busy else 0.0) - flow,
            flow - passed,
            passed - blown - lost,
            lost - to_room,
        ]
        t = t + DT / c * np.array(heat)
        sensed = sensed + (t[0] - sensed) * DT / np.maximum(lag, DT)
        for series, value in zip(out, (sensed, power, rpm), strict=True):
            series[k] = value
    return out


def _logged(
    m: _Machine, side: int, series: list[FloatArray], logger: int, fan: bool, clock: bool, rng: np.random.Generator
) -> HeatTrace:
    """As one of four loggers writes it."""
    every = (1.0, 0.5, 2.0, 5.0)[logger]
    time = np.arange(every, series[0].size * DT - 1.0, every)
    time = time + (rng.normal(0.0, 0.15, time.size) if logger == 3 else 0.0)
    if logger == 3:
        time = time[rng.random(time.size) > 0.02]
    at = np.clip((time / DT).astype(int), 0, series[0].size - 1)
    late = np.clip(at - (int(5.0 / DT) if logger == 3 else 0), 0, None)
    sensed, power, rpm = series
    summed = np.concatenate([[0.0], np.cumsum(power)])
    width = int(every / DT)
    mean = (summed[late + 1] - summed[np.maximum(late + 1 - width, 0)]) / np.minimum(width, late + 1)
    unit, watts = (1.0, 0.125, 1.0, 0.5)[logger], (0.1, 0.01, 1.0, 0.1)[logger]
    temp = np.round((sensed[at] + rng.normal(0.0, 0.2, at.size)) / unit) * unit
    drawn = np.round(mean * (1.0 + rng.normal(0.0, 0.01, at.size)) / watts) * watts
    busy = (time > IDLE_S) & (time <= IDLE_S + LOAD_S)
    return HeatTrace(
        time, temp, drawn,
        np.where(busy, 3000.0, 1200.0) + rng.normal(0.0, 15.0, at.size) if clock else None,
        np.round(rpm[at] / 10.0) * 10.0 if fan else None, np.where(busy, 1.0, 0.03),
        round(m.room_c[side] + 0.5 * m.drift_k[side] + float(rng.normal(0.0, 0.6)), 1),
    )  # fmt: skip
