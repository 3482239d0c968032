"""What a day of use looks like, every 15 s: processor by its threads, waiting, memory, drives, network, heat, graphics.

Once a second only processors, graphics and network are read, because how much of a second one thread or all of them
worked, and how fast the line is, is lost in a longer mean; everything else is a counter or slow. Counts only: no names
of programs, files or sites.
"""

from __future__ import annotations

import os
import re
import time
from typing import Dict, List

from brachium_probe import counters, graphics
from brachium_probe.sensors import find_temperatures, main_temperature
from brachium_probe.tree import Tree, number_in

CHANNELS = (
    ("clock_h", "h", "local time of day"),
    ("cores_busy", "cores", "/proc/stat, mean number of busy processors"),
    ("one_thread_frac", "1", "/proc/stat, one processor busy and not all"),
    ("all_threads_frac", "1", "/proc/stat, all processors busy"),
    ("io_stall_frac", "1", "/proc/pressure/io, whole tasks waiting"),
    ("io_some_frac", "1", "/proc/pressure/io, some tasks waiting"),
    ("memory_stall_frac", "1", "/proc/pressure/memory, whole tasks waiting"),
    ("cpu_stall_frac", "1", "/proc/pressure/cpu, some tasks waiting"),
    ("memory_gib", "GiB", "/proc/meminfo, not available to others"),
    ("memory_total_gib", "GiB", "/proc/meminfo"),
    ("swap_gib", "GiB", "/proc/meminfo, swapped out"),
    ("major_faults_s", "1/s", "/proc/vmstat, pages that had to be read"),
    ("swap_in_mb_s", "MB/s", "/proc/vmstat, pages that came back"),
    ("disk_busy_frac", "1", "/proc/diskstats, the busiest drive"),
    ("disk_mb_s", "MB/s", "/proc/diskstats, all drives"),
    ("network_mb_s", "MB/s", "/proc/net/dev, both ways, without the loopback"),
    ("network_peak_mb_s", "MB/s", "/proc/net/dev, the busiest second"),
    ("clock_mhz", "MHz", "cpufreq, mean of the processors"),
    ("temp_c", "°C", "processor sensor"),
    *graphics.CHANNELS,
)
PAGE_BYTES = float(os.sysconf("SC_PAGE_SIZE"))
LEAST_S = 1.0  # a peak is told by the second, also where two looks come nearer to each other


class BusySeconds:
    """What is read by the second: `look` once a second, `mean` gives what came together since the last call."""

    def __init__(self, tree: Tree, sensors: graphics.GraphicsSensors) -> None:
        self._tree, self._graphics = tree, sensors
        self._last: List[tuple[float, float]] = []
        self._sums, self._count = [0.0, 0.0, 0.0], 0
        self._drawn: List[float] = []
        self._bytes: float | None = None
        self._peak = self._looked_s = 0.0

    def look(self) -> None:
        """One reading of all processors, of graphics and of the network."""
        drawn = self._graphics.busy_frac()
        if drawn is not None:
            self._drawn.append(drawn)
        moved, now_s = network_bytes(self._tree), time.monotonic()
        if moved is not None and self._bytes is not None:
            self._peak = max(self._peak, (moved - self._bytes) / max(now_s - self._looked_s, LEAST_S) / 1e6)
        self._bytes, self._looked_s = moved, now_s
        self._processors(drawn or 0.0)

    def _processors(self, drawn: float) -> None:
        now = _processors(self._tree)
        if len(now) == len(self._last):
            shares = []
            for (busy, total), (old_busy, old_total) in zip(now, self._last):
                passed = total - old_total
                if passed > 0:
                    shares.append(min(max((busy - old_busy) / passed, 0.0), 1.0))
            if shares:
                cores, one, together = by_threads(shares)
                one = min(one, max(1.0 - together - drawn, 0.0))  # what only feeds the graphics limits nothing
                for k, value in enumerate((cores, one, together)):
                    self._sums[k] += value
                self._count += 1
        self._last = now

    def mean(self) -> tuple[float, float, float] | None:
        """(processors busy, share of time with one thread's worth, with all of them); None before two readings."""
        count, sums = self._count, self._sums
        self._sums, self._count = [0.0, 0.0, 0.0], 0
        return (sums[0] / count, sums[1] / count, sums[2] / count) if count else None

    def drawn(self) -> float | None:
        """Mean share of the seconds in which graphics was busy; None where nobody can say."""
        values, self._drawn = self._drawn, []
        return sum(values) / len(values) if values else None

    def peak_mb_s(self) -> float:
        """Most that came and went over the network in one second [MB/s]."""
        found, self._peak = self._peak, 0.0
        return max(found, 0.0)

    def forget(self) -> None:
        """After a sleep: the next reading begins anew."""
        self._last, self._bytes = [], None


def by_threads(shares: List[float]) -> tuple[float, float, float]:
    """(processors busy, one thread, all threads) of a second, from the busy share of each processor.

    What most of them were busy together counts as all; what is left over of the work, up to one processor, as one
    thread. A thread that wanders from one processor to another stays one.
    """
    ordered = sorted(shares)
    together = ordered[0] if len(ordered) <= 2 else ordered[(len(ordered) - 1) // 3]
    left = sum(shares) - together * len(shares)
    return sum(shares), min(max(left, 0.0), 1.0 - together), together


class WatchSampler:
    """Every 15 s one row; a value that cannot be read is absent."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree
        self._graphics = graphics.GraphicsSensors(tree)
        self.busy = BusySeconds(tree, self._graphics)
        self._main = main_temperature(find_temperatures(tree))
        self._disks = counters.disks(tree)
        self._clock = counters.clock_files(tree)
        self._last: Dict[str, float] = {}

    def forget(self) -> None:
        """Counters begin anew, as after a sleep."""
        self._last.clear()
        self.busy.forget()

    def row(self, passed_s: float, wall_s: float) -> Dict[str, float]:
        """Values by channel; rates over the seconds that passed since the last row."""
        at = time.localtime(wall_s)
        out = {"clock_h": at.tm_hour + at.tm_min / 60.0 + at.tm_sec / 3600.0}
        cores = self.busy.mean()
        if cores is not None:
            out["cores_busy"], out["one_thread_frac"], out["all_threads_frac"] = cores
        for key, resource, kind in (
            ("io_stall_frac", "io", "full"),
            ("io_some_frac", "io", "some"),
            ("memory_stall_frac", "memory", "full"),
            ("cpu_stall_frac", "cpu", "some"),
        ):
            self._rate(out, key, counters.pressure_s(self._tree, resource, kind), passed_s, 1.0)
        self._memory(out, passed_s)
        self._drives(out, passed_s)
        self._rate(out, "network_mb_s", network_bytes(self._tree), passed_s, 1e6)
        if "network_mb_s" in out:
            out["network_peak_mb_s"] = max(self.busy.peak_mb_s(), out["network_mb_s"])
        clocks = [v for v in (self._tree.number(f) for f in self._clock) if v]
        if clocks:
            out["clock_mhz"] = sum(clocks) / len(clocks) / 1000.0
        temp = self._main.read_c(self._tree) if self._main is not None else None
        if temp is not None:
            out["temp_c"] = temp
        out.update(self._graphics.read())
        drawn = self.busy.drawn()
        if drawn is not None:
            out["gpu_util_frac"] = drawn
        return out

    def _memory(self, out: Dict[str, float], passed_s: float) -> None:
        lines = (self._tree.text("/proc/meminfo") or "").splitlines()
        found = {}
        for line in lines:
            words = line.split()
            value = number_in(words[1]) if len(words) > 1 else None
            if value is not None:
                found[words[0].rstrip(":")] = value / 2**20
        if "MemTotal" in found and "MemAvailable" in found:
            out["memory_total_gib"] = found["MemTotal"]
            out["memory_gib"] = max(found["MemTotal"] - found["MemAvailable"], 0.0)
        if "SwapTotal" in found and "SwapFree" in found:
            out["swap_gib"] = max(found["SwapTotal"] - found["SwapFree"] - found.get("SwapCached", 0.0), 0.0)
        counted = {}
        for line in (self._tree.text("/proc/vmstat") or "").splitlines():
            words = line.split()
            if len(words) == 2 and words[0] in ("pgmajfault", "pswpin"):
                counted[words[0]] = number_in(words[1])
        self._rate(out, "major_faults_s", counted.get("pgmajfault"), passed_s, 1.0)
        self._rate(out, "swap_in_mb_s", counted.get("pswpin"), passed_s, 1e6 / PAGE_BYTES)

    def _drives(self, out: Dict[str, float], passed_s: float) -> None:
        rates: Dict[str, float] = {}
        for key, value, unit in counters.drive_counters(self._tree, self._disks):
            self._rate(rates, key, value, passed_s, unit)
        out.update(counters.drive_figures(rates))

    def _rate(self, out: Dict[str, float], key: str, value: float | None, passed_s: float, unit: float) -> None:
        if value is None:
            return
        last = self._last.get(key)
        self._last[key] = value
        if last is not None and value >= last and passed_s > 0:
            share = (value - last) / passed_s / unit
            out[key] = min(share, 1.0) if key.endswith("_frac") else share


def network_bytes(tree: Tree) -> float | None:
    """Bytes received and sent since the start by all ports but the loopback; None where the kernel does not say."""
    total = None
    for line in (tree.text("/proc/net/dev") or "").splitlines():
        name, mark, rest = line.partition(":")
        words = rest.split()
        if mark and name.strip() != "lo" and len(words) >= 9:
            read = number_in(words[0]), number_in(words[8])
            if read[0] is not None and read[1] is not None:
                total = (total or 0.0) + read[0] + read[1]
    return total


def _processors(tree: Tree) -> List[tuple[float, float]]:
    """(busy, total) ticks of every processor since the start; waiting for a drive is not busy."""
    out = []
    for line in (tree.text("/proc/stat") or "").splitlines():
        if re.match(r"cpu\d", line):
            ticks = [float(w) for w in line.split()[1:9]]
            if len(ticks) == 8:
                total = sum(ticks)
                out.append((total - ticks[3] - ticks[4] - ticks[7], total))
    return out
