"""Physics of a simulated machine: four thermal nodes, a temperature-limited clock, a fan with lag.

Deliberately richer than the two-node model that analyses its logs: die, plate, fins and chassis exchange heat, the
intake air warms with the chassis, the heat pipe carries less at low flux, regulators and neighbours add heat that the
power reading does not see, the room drifts, leakage grows with temperature, the sensor lags and reads whole degrees.
Explicit Euler at 0.25 s is stable here because every node's fastest time constant is above 1 s.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

STEP_S = 0.25


@dataclass(frozen=True)
class Silicon:
    """Clocks [MHz] and power [W] of a simulated processor at full load and full clock."""

    max_mhz: float = 3400.0
    min_mhz: float = 800.0
    idle_w: float = 2.6
    dynamic_w: float = 33.0
    power_exponent: float = 2.3
    leakage_w: float = 1.6
    leakage_ref_c: float = 60.0
    leakage_scale_k: float = 38.0
    limit_c: float = 95.0
    critical_c: float = 110.0
    power_limit_w: float = 60.0
    cap_mhz: float | None = None  # what the power profile allows


@dataclass(frozen=True)
class Cooling:
    """Resistances [K/W] and capacities [J/K] of the heat path; faults move paste, fins and fan."""

    paste_k_w: float = 0.55
    pipe_k_w: float = 0.18
    fins_k_w: float = 0.95
    fan_exponent: float = 0.7
    fan_offset_frac: float = 0.18
    fan_ref_rpm: float = 4200.0
    fins_to_chassis_k_w: float = 6.0
    chassis_to_room_k_w: float = 1.8
    intake_share: float = 0.12
    pipe_flux_w: float = 0.0
    hidden_frac: float = 0.06
    hidden_load_w: float = 0.0
    die_j_k: float = 7.0
    plate_j_k: float = 38.0
    fins_j_k: float = 150.0
    chassis_j_k: float = 900.0
    graphics_paste_k_w: float = 0.5
    graphics_j_k: float = 9.0


@dataclass(frozen=True)
class FanCurve:
    """Fan target [1/min] over the sensed temperature [degC], first-order lag [s]."""

    low_c: float = 45.0
    high_c: float = 88.0
    low_rpm: float = 1900.0
    high_rpm: float = 4700.0
    lag_s: float = 7.0
    strength_frac: float = 1.0

    def target_rpm(self, temp_c: float) -> float:
        share = min(max((temp_c - self.low_c) / (self.high_c - self.low_c), 0.0), 1.0)
        return self.strength_frac * (self.low_rpm + share * (self.high_rpm - self.low_rpm))


@dataclass(frozen=True)
class Thermals:
    """Everything the physics of one configuration needs."""

    silicon: Silicon = field(default_factory=Silicon)
    cooling: Cooling = field(default_factory=Cooling)
    fan: FanCurve = field(default_factory=FanCurve)
    room_c: float = 23.0
    room_drift_k_h: float = 0.0
    sensor_lag_s: float = 0.8
    graphics_w: float = 0.0  # at full load of a graphics chip on the same plate; 0 = it has none of its own there


class ThermalState:
    """Mutable state of the machine; `step` advances it. Temperatures in degC, clock in MHz, power in W."""

    def __init__(self, thermals: Thermals) -> None:
        self.thermals = thermals
        self.util = 0.01
        self.clock_mhz = thermals.silicon.min_mhz
        self.power_w = thermals.silicon.idle_w
        self.throttle_events = 0
        self.room_c = thermals.room_c
        self._ceiling_mhz = thermals.silicon.max_mhz
        self._hot = False
        self.die_c, self.plate_c, self.fins_c, self.chassis_c = _idle_state(thermals)
        self.sensed_c = self.graphics_c = self.die_c
        self.graphics_util = 0.0
        self.fan_rpm = thermals.fan.target_rpm(self.die_c)

    def step(self, dt_s: float = STEP_S) -> None:
        """Advance by `dt_s` seconds (at most 0.5)."""
        self._govern(dt_s)
        self._power()
        self._heat(dt_s)
        fan = self.thermals.fan
        self.fan_rpm += (fan.target_rpm(self.sensed_c) - self.fan_rpm) * min(dt_s / fan.lag_s, 1.0)

    def _govern(self, dt_s: float) -> None:
        """Temperature-limited clock with hysteresis: down fast at the limit, up slowly 2 K below it."""
        chip = self.thermals.silicon
        if self.sensed_c >= chip.limit_c:
            if not self._hot:
                self.throttle_events += 1
            self._hot = True
            self._ceiling_mhz = max(self._ceiling_mhz - 260.0 * dt_s, chip.min_mhz)
        elif self.sensed_c < chip.limit_c - 2.0:
            self._hot = False
            self._ceiling_mhz = min(self._ceiling_mhz + 90.0 * dt_s, chip.max_mhz)
        if self.power_w > chip.power_limit_w:
            self._ceiling_mhz = max(self._ceiling_mhz - 400.0 * dt_s, chip.min_mhz)
        elif self.power_w > 0.96 * chip.power_limit_w:
            self._ceiling_mhz = min(self._ceiling_mhz, self.clock_mhz)
        wanted = chip.min_mhz + (chip.max_mhz - chip.min_mhz) * min(1.0, self.util * 7.0)
        self.clock_mhz = min(wanted, self._ceiling_mhz, chip.cap_mhz or chip.max_mhz)

    def _power(self) -> None:
        chip = self.thermals.silicon
        ratio = self.clock_mhz / chip.max_mhz
        leak = chip.leakage_w * math.exp((self.die_c - chip.leakage_ref_c) / chip.leakage_scale_k)
        self.power_w = chip.idle_w + leak + chip.dynamic_w * self.util * ratio**chip.power_exponent

    def _heat(self, dt_s: float) -> None:
        cool = self.thermals.cooling
        self.room_c += self.thermals.room_drift_k_h * dt_s / 3600.0
        room = self.room_c
        hidden = cool.hidden_frac * self.power_w + cool.hidden_load_w * self.util
        intake = room + cool.intake_share * (self.chassis_c - room)
        q_paste = (self.die_c - self.plate_c) / cool.paste_k_w
        q_pipe = (self.plate_c - self.fins_c) / pipe_resistance(cool, self.power_w)
        q_fins = (self.fins_c - intake) / fins_resistance(cool, self.fan_rpm)
        q_case = (self.fins_c - self.chassis_c) / cool.fins_to_chassis_k_w
        q_room = (self.chassis_c - room) / cool.chassis_to_room_k_w
        self.die_c += dt_s * (self.power_w - q_paste) / cool.die_j_k
        self.plate_c += dt_s * (q_paste + self._graphics(dt_s) - q_pipe) / cool.plate_j_k
        self.fins_c += dt_s * (q_pipe + hidden - q_fins - q_case) / cool.fins_j_k
        self.chassis_c += dt_s * (q_case + 0.15 * q_fins * cool.intake_share - q_room) / cool.chassis_j_k
        self.sensed_c += (self.die_c - self.sensed_c) * min(dt_s / self.thermals.sensor_lag_s, 1.0)

    def _graphics(self, dt_s: float) -> float:
        """Heat of the graphics chip into the plate [W]; its die follows its power."""
        if not self.thermals.graphics_w:
            return 0.0
        cool = self.thermals.cooling
        flow = (self.graphics_c - self.plate_c) / cool.graphics_paste_k_w
        self.graphics_c += dt_s * (self.graphics_power_w - flow) / cool.graphics_j_k
        return flow

    @property
    def graphics_power_w(self) -> float:
        """Of the graphics chip [W], with a little at rest."""
        return self.thermals.graphics_w * (0.04 + 0.96 * self.graphics_util)


def fins_resistance(cool: Cooling, fan_rpm: float) -> float:
    """Resistance from fins to air at a fan speed [K/W]."""
    offset = cool.fan_offset_frac * cool.fan_ref_rpm
    ratio = (max(fan_rpm, 0.0) + offset) / (cool.fan_ref_rpm + offset)
    return float(cool.fins_k_w * ratio ** (-cool.fan_exponent))


def pipe_resistance(cool: Cooling, power_w: float) -> float:
    """Resistance of the heat pipe [K/W]: higher at low flux, where it is only partly working."""
    return cool.pipe_k_w * (1.0 + cool.pipe_flux_w / (max(power_w, 0.0) + 8.0))


def steady_rises_k(cool: Cooling, power_w: float, fan_rpm: float) -> tuple[float, float]:
    """Exact steady rises under full load: (die over plate, plate over room) at a power and fan speed [K]."""
    r_fins = fins_resistance(cool, fan_rpm)
    s, r_c, r_r = cool.intake_share, cool.fins_to_chassis_k_w, cool.chassis_to_room_k_w
    # unknown rises F (fins), X (chassis): P = (F - sX)/r_fins + (F - X)/r_c; (F - X)/r_c + .15 s q_fins = X/r_r
    a11, a12 = 1 / r_fins + 1 / r_c, -s / r_fins - 1 / r_c
    a21, a22 = 1 / r_c + 0.15 * s / r_fins, -1 / r_c - 0.15 * s * s / r_fins - 1 / r_r
    det = a11 * a22 - a12 * a21
    total_w = power_w * (1.0 + cool.hidden_frac) + cool.hidden_load_w
    fins = total_w * a22 / det
    return power_w * cool.paste_k_w, fins + power_w * pipe_resistance(cool, power_w)


def _idle_state(thermals: Thermals) -> tuple[float, float, float, float]:
    """Start near the idle balance of a machine that has been on for a while."""
    chip = thermals.silicon
    leak = chip.leakage_w * math.exp((thermals.room_c + 10 - chip.leakage_ref_c) / chip.leakage_scale_k)
    power = chip.idle_w + leak
    die, plate = steady_rises_k(thermals.cooling, power, thermals.fan.target_rpm(thermals.room_c + 10))
    room = thermals.room_c
    plate_c = room + 0.8 * plate
    fins_c = plate_c - power * thermals.cooling.pipe_k_w
    return plate_c + die, plate_c, fins_c, room + 0.35 * (fins_c - room)
