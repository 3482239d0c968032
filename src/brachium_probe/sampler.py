"""Samples everything that the machine can say about its heat, power, load and waiting, at once."""

from __future__ import annotations

import re

from brachium_probe import counters, graphics
from brachium_probe.sensors import FanSensor, Temperature, find_fans, find_temperatures, limits_c, main_temperature
from brachium_probe.tree import Tree

MARGIN_K = 3.0


class Channel:
    """One sampled quantity: key, unit, and what it is read from."""

    def __init__(self, key: str, unit: str, source: str) -> None:
        self.key, self.unit, self.source = key, unit, source


class SystemSampler:
    """Reads a system tree. A value that cannot be read is absent, never zero; `missing` names it with the remedy.

    `own_pids` are the processes of the running test: user time of all others is background load.
    `watched_disk` is the drive under test; without one the busiest drive counts.
    `limit_c` overrides the limit of the processor's sensors.
    """

    def __init__(self, tree: Tree, limit_c: float | None = None, watched_disk: str = "") -> None:
        self.tree, self.watched_disk = tree, watched_disk
        self.own_pids: list[int] = []
        self.temperatures: list[Temperature] = find_temperatures(tree)
        self.main = main_temperature(self.temperatures)
        self.fans: list[FanSensor] = find_fans(tree)
        self._energy = counters.EnergyCounter(tree)
        self._energy.read_j()
        self.limits = limits_c(self.temperatures, MARGIN_K)
        if limit_c is not None:
            self.limits.update({t.name: limit_c for t in self.temperatures if t.is_processor})
        self._graphics = graphics.GraphicsSensors(tree)
        self._clock_files = counters.clock_files(tree)
        self._battery = _battery_file(tree)
        self._disks = [watched_disk] if watched_disk else counters.disks(tree)
        self._last: dict[str, float] = {}
        self._last_at: dict[str, float] = {}
        self.over_limit = ""
        self._channels = self._find_channels()

    def channels(self) -> list[Channel]:
        return self._channels

    def missing(self) -> list[tuple[str, str]]:
        """(what, why and what would help) of everything that is not sampled here."""
        have = {c.key for c in self._channels}
        out = []
        if "temp_c" not in have:
            out.append(("chip temperature", "the kernel shows no processor sensor: no heat figures; load its driver"))
        if "power_w" not in have:
            refused = any("energy_uj" in name for name in self.tree.refused)
            out.append(("power", "the energy counter may only be read with more rights: start as root"
                        if refused else "no energy counter here: no resistance in K/W"))  # fmt: skip
        if "fan_rpm" not in have:
            out.append(("fan speed", "no tachometer is shown: temperature stands in for it"))
        if "clock_mhz" not in have:
            out.append(("clock", "the kernel shows no clock of the processor"))
        if "throttle_count" not in have:
            out.append(("throttle counters", "this processor or kernel keeps none"))
        if "io_stall_frac" not in have:
            out.append(("pressure stalls", "the kernel keeps none; starting it with psi=1 may help"))
        return out

    def sample(self, now_s: float) -> dict[str, float]:
        """All values at a time [s]; rates are means since the last call."""
        out: dict[str, float] = {}
        self.over_limit = ""
        for sensor in self.temperatures:
            self._temperature(sensor, out)
        speeds = [s for s in (fan.read_rpm(self.tree) for fan in self.fans) if s is not None]
        if speeds:
            out["fan_rpm"] = max(speeds)
        clock = self._clock_mhz()
        if clock is not None:
            out["clock_mhz"] = clock
        self._rate(out, "power_w", self._energy.read_j(), now_s, 1.0)
        throttles = counters.throttle_count(self.tree)
        if throttles is not None:
            out["throttle_count"] = throttles
        used = counters.memory_used_frac(self.tree)
        if used is not None:
            out["memory_used_frac"] = used
        charge = self.tree.number(self._battery) if self._battery else None
        if charge is not None:
            out["battery_frac"] = charge / 100.0
        for key, resource, kind in STALLS:
            self._rate(out, key, counters.pressure_s(self.tree, resource, kind), now_s, 1.0)
        out.update(self._graphics.read())
        self._processor(out)
        self._drives(out, now_s)
        return out

    def _temperature(self, sensor: Temperature, out: dict[str, float]) -> None:
        value = sensor.read_c(self.tree)
        if value is None:
            return
        out[_key(sensor, self.main)] = value
        limit = self.limits.get(sensor.name)
        if limit is not None and value >= limit:
            self.over_limit = f"{sensor.title} read {value:.1f} °C, the limit is {limit:.1f} °C"

    def _clock_mhz(self) -> float | None:
        """Mean over the processors: the kernel's estimate where it has one, else the list of processors."""
        values = [v for v in (self.tree.number(f) for f in self._clock_files) if v]
        if values:
            return sum(values) / len(values) / 1000.0
        found = re.findall(r"^cpu MHz\s*:\s*([\d.]+)", self.tree.text("/proc/cpuinfo") or "", re.MULTILINE)
        return sum(float(f) for f in found) / len(found) if found else None

    def _processor(self, out: dict[str, float]) -> None:
        times = counters.processor_times(self.tree)
        if times is None:
            return
        passed = self._step("cpu_total", times.total)
        busy, user = self._step("cpu_busy", times.busy), self._step("cpu_user", times.user)
        steal, own = self._step("cpu_steal", times.steal), self._step("own_user", counters.user_time_s(self.own_pids))
        if not passed:
            return
        for key, value in (
            ("util_frac", busy),
            ("steal_frac", steal),
            ("background_frac", (user or 0.0) - (own or 0.0)),
        ):
            out[key] = min(max((value or 0.0) / passed, 0.0), 1.0)

    def _drives(self, out: dict[str, float], now_s: float) -> None:
        rates: dict[str, float] = {}
        for key, value, unit in counters.drive_counters(self.tree, self._disks):
            self._rate(rates, key, value, now_s, unit)
        out.update(counters.drive_figures(rates))

    def _step(self, key: str, value: float) -> float | None:
        """Difference to the last reading; None the first time and where a counter fell back."""
        last = self._last.get(key)
        self._last[key] = value
        return value - last if last is not None and value >= last else None

    def _rate(self, out: dict[str, float], key: str, value: float | None, now_s: float, unit: float) -> None:
        if value is None:
            return
        passed = now_s - self._last_at.get(key, now_s)
        self._last_at[key] = now_s
        step = self._step(key, value)
        if step is not None and passed > 0:
            out[key] = step / passed / unit

    def _find_channels(self) -> list[Channel]:
        """What can be read here, found out by two readings."""
        first = self.sample(0.0)
        have = {**first, **self.sample(1.0)}
        if counters.processor_times(self.tree) is not None:
            have.update(dict.fromkeys(("util_frac", "steal_frac", "background_frac"), 0.0))
        self._last.clear()
        self._last_at.clear()
        out = [Channel(_key(t, self.main), "°C", t.title) for t in self.temperatures if _key(t, self.main) in have]
        return out + [Channel(key, unit, source) for key, unit, source in FIXED if key in have]


STALLS = (
    ("io_stall_frac", "io", "full"),
    ("memory_stall_frac", "memory", "full"),
    ("cpu_stall_frac", "cpu", "some"),
)
FIXED = (
    ("clock_mhz", "MHz", "cpufreq, mean of the processors"),
    ("power_w", "W", "package energy counter"),
    ("fan_rpm", "1/min", "hwmon, fastest fan"),
    ("util_frac", "1", "/proc/stat"),
    ("background_frac", "1", "/proc/stat, user time of other programs"),
    ("steal_frac", "1", "/proc/stat, taken by the host"),
    ("throttle_count", "1", "thermal_throttle, cores and packages"),
    ("memory_used_frac", "1", "/proc/meminfo"),
    ("battery_frac", "1", "charge of the machine's own battery"),
    ("disk_busy_frac", "1", "/proc/diskstats"),
    ("disk_mb_s", "MB/s", "/proc/diskstats"),
    ("io_stall_frac", "1", "/proc/pressure/io, whole tasks waiting"),
    ("memory_stall_frac", "1", "/proc/pressure/memory, whole tasks waiting"),
    ("cpu_stall_frac", "1", "/proc/pressure/cpu, some tasks waiting"),
    *graphics.CHANNELS,
)


def _key(sensor: Temperature, main: Temperature | None) -> str:
    if sensor is main:
        return "temp_c"
    return "temp_c/" + re.sub(r"[^a-z0-9]+", "-", sensor.title.lower()).strip("-")


def _battery_file(tree: Tree) -> str:
    """The charge of the machine's own battery; empty where none is fitted (a mouse's cell is not one)."""
    for entry in tree.names("/sys/class/power_supply"):
        folder = f"/sys/class/power_supply/{entry}"
        own = tree.text(f"{folder}/type") == "Battery" and tree.text(f"{folder}/scope") != "Device"
        if own and tree.text(f"{folder}/present") != "0" and tree.number(f"{folder}/capacity") is not None:
            return f"{folder}/capacity"
    return ""
