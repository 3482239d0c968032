"""A simulated machine under test: physics, drive, memory and the disturbances of real sessions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from brachium.core.base.late_numpy import np
from brachium.core.measure.conditions import Conditions
from brachium.devices.protocols import ChannelInfo
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.physics import STEP_S, Thermals, ThermalState

IDLE_UTIL = 0.012


@dataclass(frozen=True)
class OwnTask:
    """The owner's task: processor seconds at full clock, working set [GiB], page touches that could miss, reads of its
    own, how busy it keeps the graphics (0 = there is none to speak of), seconds in which it waits for the network."""

    cpu_s: float = 62.0
    working_set_gib: float = 6.6
    touches: float = 38_000.0
    reads: float = 0.0
    graphics: float = 0.0
    waits_s: float = 0.0


@dataclass(frozen=True)
class SimulatedSpec:
    """Parameters of a simulated machine; faults are changed parameters. Rates in MB/s."""

    thermals: Thermals
    drive: SimulatedDrive
    memory_gib: float
    memory_peak_mb_s: float
    memory_draw_mb_s: float = 19_500.0
    threads: int = 8
    task: OwnTask = field(default_factory=OwnTask)
    conditions: Conditions = field(default_factory=Conditions)
    session_spread: float = 0.008
    repeat_spread: float = 0.006
    seed: int = 1
    bad_words: int = 0
    idle_util: float = IDLE_UTIL
    graphics: bool = False  # whether its graphics can be sampled
    graphics_speed: float = 1.0  # of its chip, against a plain one inside a processor
    graphics_gib: float = 1.0  # memory that its chip may use


CHANNELS: tuple[ChannelInfo, ...] = (
    ChannelInfo("temp_c", "°C", "simulated package sensor, whole degrees"),
    ChannelInfo("clock_mhz", "MHz", "simulated mean core clock"),
    ChannelInfo("power_w", "W", "simulated energy counter"),
    ChannelInfo("fan_rpm", "1/min", "simulated fan tachometer"),
    ChannelInfo("util_frac", "1", "simulated utilisation"),
    ChannelInfo("throttle_count", "1", "simulated throttle counter"),
    ChannelInfo("memory_used_frac", "1", "simulated memory in use"),
    ChannelInfo("disk_busy_frac", "1", "simulated drive busy time"),
    ChannelInfo("disk_mb_s", "MB/s", "simulated drive throughput"),
    ChannelInfo("io_stall_frac", "1", "simulated storage pressure, whole task waiting"),
)


GRAPHICS_HEAT = (
    ChannelInfo("gpu_temp_c", "°C", "simulated graphics sensor, whole degrees"),
    ChannelInfo("gpu_power_w", "W", "simulated power of the graphics chip"),
)
GRAPHICS_BUSY = ChannelInfo("gpu_util_frac", "1", "simulated graphics utilisation")


class SimulatedMachine:
    """The machine's state; time passes only through `advance`. Same spec and seed give the same samples."""

    def __init__(self, spec: SimulatedSpec) -> None:
        self.spec = spec
        self.session = 0
        self.time_s = 0.0
        self.begin_session()

    def begin_session(self) -> None:
        """Restart: new session offsets, everything calm, the room a little different."""
        self.session += 1
        self.rng = np.random.default_rng([self.spec.seed, self.session])
        self.state = ThermalState(self.spec.thermals)
        self.offset = float(np.exp(self.rng.normal(0.0, self.spec.session_spread)))
        self.drive_offset = float(np.exp(self.rng.normal(0.0, 2.0 * self.spec.session_spread)))
        self.track = float(self.rng.uniform(0.15, 0.35))
        self.disk_busy, self.disk_mb_s, self.io_stall = 0.01, 0.1, 0.0
        self.memory_used = min(1.9 / self.spec.memory_gib, 0.97)
        self._energy_j = 0.0
        self._since_s = 0.0
        self._idle_util = self.spec.idle_util
        if self.spec.idle_util > IDLE_UTIL:
            self.state.util = self.spec.idle_util  # what works beside does so from the start
        self.gpu_util = 0.02

    @property
    def clock_ratio(self) -> float:
        """Present clock over full clock."""
        return self.state.clock_mhz / self.spec.thermals.silicon.max_mhz

    def set_util(self, util: float) -> None:
        self.state.util = util

    def rest(self) -> None:
        self.set_util(self._idle_util)
        self.gpu_util = 0.02
        self.disk_busy, self.disk_mb_s, self.io_stall = 0.01, 0.1, 0.0
        self.memory_used = min(1.9 / self.spec.memory_gib, 0.97)

    def step(self, dt_s: float = STEP_S) -> None:
        self.state.graphics_util = self.gpu_util
        self.state.step(dt_s)
        self.time_s += dt_s
        self._energy_j += self.state.power_w * dt_s
        self._since_s += dt_s

    def noise(self) -> float:
        return float(np.exp(self.rng.normal(0.0, self.spec.repeat_spread)))

    def sample(self) -> Mapping[str, float]:
        """All sensors now; power is the mean since the last sample, as an energy counter gives it."""
        state, rng = self.state, self.rng
        power = self._energy_j / self._since_s if self._since_s > 0 else state.power_w
        self._energy_j = self._since_s = 0.0
        values = {
            "temp_c": float(round(state.sensed_c + rng.normal(0.0, 0.2))),
            "clock_mhz": float(max(state.clock_mhz + rng.normal(0.0, 12.0), 100.0)),
            "power_w": float(power * (1.0 + rng.normal(0.0, 0.008))),
            "fan_rpm": 10.0 * round(state.fan_rpm / 10.0),
            "util_frac": _share(state.util + rng.normal(0.0, 0.004)),
            "throttle_count": float(state.throttle_events),
            "memory_used_frac": _share(self.memory_used + rng.normal(0.0, 0.004)),
            "disk_busy_frac": _share(self.disk_busy + rng.normal(0.0, 0.01)),
            "disk_mb_s": float(max(self.disk_mb_s * (1.0 + rng.normal(0.0, 0.05)), 0.0)),
            "io_stall_frac": _share(self.io_stall + rng.normal(0.0, 0.01)),
        }
        if self.spec.graphics:
            values["gpu_util_frac"] = _share(self.gpu_util + rng.normal(0.0, 0.01))
        if self.spec.thermals.graphics_w:
            values["gpu_temp_c"] = float(round(state.graphics_c + rng.normal(0.0, 0.2)))
            values["gpu_power_w"] = float(state.graphics_power_w * (1.0 + rng.normal(0.0, 0.01)))
        return values


def _share(value: float) -> float:
    """Kept within 0..1; plain comparisons, for a sample has many of them."""
    return float(min(max(value, 0.0), 1.0))
