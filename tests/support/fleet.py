"""A fleet of simulated machines with known truth, far richer than the model that fits them.

Every seed gives another machine: laptop, small desktop or tower; its paste, fins, both or nothing changed between
before and after; heat pipe, hidden heat, chassis, drifting room, sensor lag and noise as they come.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from brachium.core.heat.claims import HeatVerdict, compare
from brachium.core.heat.trace import HeatTrace
from brachium.devices.simulated.physics import (
    Cooling,
    FanCurve,
    Silicon,
    Thermals,
    ThermalState,
    steady_rises_k,
)

POWERS_W = ((30.0, 45.0), (45.0, 70.0), (60.0, 110.0))
FAN_RPM = (4200.0, 1800.0, 1500.0)
IDLE_S, LOAD_S, COOL_S = 180, 600, 300


@dataclass(frozen=True)
class FleetPair:
    """One pair with its truth; `changed` is 0 nothing, 1 paste, 2 fins, 3 both."""

    before: HeatTrace
    after: HeatTrace
    cooling: tuple[Cooling, Cooling]
    changed: int

    def truth_k(self, verdict: HeatVerdict) -> tuple[float, float]:
        """True change of paste and airflow step [K] at the verdict's power and fan speed."""
        was = steady_rises_k(self.cooling[0], verdict.power_ref_w, verdict.fan_ref_rpm)
        now = steady_rises_k(self.cooling[1], verdict.power_ref_w, verdict.fan_ref_rpm)
        return was[0] - now[0], was[1] - now[1]


def record(thermals: Thermals, rng: np.random.Generator, load_s: int = LOAD_S, room_error_k: float = 0.6) -> HeatTrace:
    """Log one idle-load-cool-down stretch as a sensor program would."""
    state = ThermalState(thermals)
    rows = []
    for second in range(IDLE_S + load_s + COOL_S):
        state.util = 1.0 if IDLE_S <= second < IDLE_S + load_s else 0.02
        power = 0.0
        for _ in range(4):
            state.step(0.25)
            power += state.power_w / 4
        rows.append(
            (
                second + 1 + rng.normal(0, 0.03), np.round(state.sensed_c + rng.normal(0, 0.25)),
                power * (1 + rng.normal(0, 0.01)), state.clock_mhz + rng.normal(0, 20),
                round(state.fan_rpm / 10) * 10, state.util,
            )
        )  # fmt: skip
    a = np.array(rows)
    room = round(thermals.room_c + rng.normal(0, room_error_k), 1)
    return HeatTrace(a[:, 0], a[:, 1], a[:, 2], a[:, 3], a[:, 4], a[:, 5], room)


def make_pair(seed: int) -> FleetPair:
    """The pair of a seed."""
    rng = np.random.default_rng(seed)
    u = rng.uniform
    kind = seed % 3
    dynamic = u(*POWERS_W[kind])
    total = u(45, 70) / dynamic
    split = u(0.3, 0.6)
    fan_ref = FAN_RPM[kind]
    good = Cooling(
        paste_k_w=total * split * u(0.5, 0.9), pipe_k_w=total * 0.1 * u(0.5, 1.6), fins_k_w=total * (1 - split),
        fan_exponent=u(0.5, 0.85), fan_ref_rpm=fan_ref, fins_to_chassis_k_w=total * u(1.5, 8),
        chassis_to_room_k_w=u(0.8, 2.5), intake_share=u(0.03, 0.25), die_j_k=u(5, 12), plate_j_k=u(25, 90),
        fins_j_k=u(90, 400), chassis_j_k=u(500, 3000), pipe_flux_w=u(0, 15), hidden_frac=u(0, 0.15),
        hidden_load_w=u(0, 0.08) * dynamic,
    )  # fmt: skip
    silicon = Silicon(
        dynamic_w=dynamic, leakage_w=0.05 * dynamic, limit_c=u(92, 100), power_limit_w=999.0, idle_w=0.08 * dynamic
    )
    fan = FanCurve(u(40, 50), u(80, 92), fan_ref * u(0.35, 0.6), fan_ref * u(1, 1.2), u(3, 10))
    changed = int(rng.integers(0, 4))
    worse = replace(
        good,
        paste_k_w=good.paste_k_w * (u(1.3, 2.5) if changed in (1, 3) else 1.0),
        fins_k_w=good.fins_k_w * (u(1.15, 1.8) if changed in (2, 3) else 1.0),
    )
    room, lag = u(19, 27), u(0.3, 2.5)
    before = record(Thermals(silicon, worse, fan, room, u(-3, 3), lag), rng)
    after = record(Thermals(silicon, good, fan, room + u(-2.5, 2.5), u(-3, 3), lag), rng)
    return FleetPair(before, after, (worse, good), changed)


@dataclass(frozen=True)
class Outcome:
    """What became of one pair: errors, half-widths, claims; all in kelvin."""

    changed: int
    errors_k: tuple[float, float]
    halves_k: tuple[float, float]
    truths_k: tuple[float, float]
    claimed: tuple[bool, bool]


def judge_pair(seed: int) -> Outcome:
    """Fit a seed's pair and hold it against the truth."""
    pair = make_pair(seed)
    verdict = compare((pair.before,), (pair.after,))
    assert verdict.paste is not None and verdict.airflow is not None
    true = pair.truth_k(verdict)
    claims = (verdict.paste, verdict.airflow)
    return Outcome(
        pair.changed,
        (claims[0].value_k - true[0], claims[1].value_k - true[1]),
        (claims[0].half_width_k, claims[1].half_width_k),
        true,
        (claims[0].kind == "changed", claims[1].kind == "changed"),
    )
