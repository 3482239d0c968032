"""Counters of the kernel that only mean something as a difference: energy, throttling, pressure, processor, drives."""

from __future__ import annotations

import os
import re

from brachium_probe.tree import Tree, number_in

SECTOR_BYTES = 512
TICKS_S = float(os.sysconf("SC_CLK_TCK"))
NOT_DISKS = re.compile(r"^(loop|ram|zram|dm-|md|sr|fd|nbd)")


def clock_files(tree: Tree) -> list[str]:
    """Where the kernel shows the clock of each processor [kHz]; empty where it does not."""
    folder = "/sys/devices/system/cpu"
    names = [f"{folder}/{e}/cpufreq/scaling_cur_freq" for e in tree.names(folder) if re.match(r"^cpu\d+$", e)]
    return [n for n in names if tree.number(n)]


class EnergyCounter:
    """Package energy of the processor [J], over its wrap-around. Only packages are added: cores lie inside them."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree
        self.zones = [
            f"/sys/class/powercap/{entry}"
            for entry in tree.names("/sys/class/powercap")
            if re.match(r"^intel-rapl:\d+$", entry)
            and (tree.text(f"/sys/class/powercap/{entry}/name") or "").startswith("package")
        ]
        self._last: dict[str, float] = {}
        self._total_j = 0.0

    def read_j(self) -> float | None:
        """Energy since the first reading; None where no counter can be read."""
        readable = False
        for zone in self.zones:
            now = self._tree.number(f"{zone}/energy_uj")
            if now is None:
                continue
            readable = True
            last = self._last.get(zone, now)
            step = now - last
            if step < 0:
                step += self._tree.number(f"{zone}/max_energy_range_uj") or -step
            self._total_j += step / 1e6
            self._last[zone] = now
        return self._total_j if readable else None


def throttle_count(tree: Tree) -> float | None:
    """Throttle events since the start, each core and each package once; None where the kernel keeps none."""
    seen: dict[tuple[str, ...], float] = {}
    for entry in tree.names("/sys/devices/system/cpu"):
        if not re.match(r"^cpu\d+$", entry):
            continue
        folder = f"/sys/devices/system/cpu/{entry}"
        package = tree.text(f"{folder}/topology/physical_package_id") or "0"
        core = tree.text(f"{folder}/topology/core_id") or entry
        for kind, key in (("core", ("core", package, core)), ("package", ("package", package))):
            value = tree.number(f"{folder}/thermal_throttle/{kind}_throttle_count")
            if value is not None:
                seen[key] = max(seen.get(key, 0.0), value)
    return sum(seen.values()) if seen else None


def pressure_s(tree: Tree, resource: str, kind: str) -> float | None:
    """Stalled time since the start [s] of `cpu`, `io` or `memory`; kind `some` or `full`."""
    for line in (tree.text(f"/proc/pressure/{resource}") or "").splitlines():
        words = line.split()
        if words and words[0] == kind:
            match = re.search(r"total=(\d+)", line)
            total = number_in(match.group(1)) if match else None
            return total / 1e6 if total is not None else None
    return None


class ProcessorTimes:
    """Processor time since the start [s], summed over all processors."""

    def __init__(self, total: float, busy: float, user: float, steal: float) -> None:
        self.total, self.busy, self.user, self.steal = total, busy, user, steal


def processor_times(tree: Tree) -> ProcessorTimes | None:
    """From /proc/stat; waiting for drives and time taken by a host count as not busy, guests are within user."""
    for line in (tree.text("/proc/stat") or "").splitlines():
        if line.startswith("cpu "):
            read = [number_in(x) for x in line.split()[1:9]]
            v = [x / TICKS_S for x in read if x is not None]
            if len(v) < 8:
                return None
            total = sum(v)
            return ProcessorTimes(total, total - v[3] - v[4] - v[7], v[0] + v[1], v[7])
    return None


def user_time_s(pids: list[int]) -> float:
    """User time [s] of these processes, of what they started, and of this process's children that have ended."""
    return os.times().children_user + sum(_user_s(pid) for pid in pids)


def _user_s(pid: int, depth: int = 3) -> float:
    """Of a process, its ended children, and those that still run, down to a depth (proc(5), fields 14 and 16)."""
    try:
        with open(f"/proc/{pid}/stat", "rb") as file:
            fields = file.read().rpartition(b")")[2].split()
        total = (float(fields[11]) + float(fields[13])) / TICKS_S
        with open(f"/proc/{pid}/task/{pid}/children", "rb") as file:
            below = [int(p) for p in file.read().split()] if depth else []
    except (OSError, IndexError, ValueError):
        return 0.0
    return total + sum(_user_s(p, depth - 1) for p in below)


def memory_used_frac(tree: Tree) -> float | None:
    """Share of memory that is not available for new programs."""
    values = {}
    for line in (tree.text("/proc/meminfo") or "").splitlines():
        name, _, rest = line.partition(":")
        value = number_in(rest.split()[0]) if rest.split() else None
        if value is not None and value >= 0.0:
            values[name] = value
    if not values.get("MemTotal") or "MemAvailable" not in values:
        return None
    share = 1.0 - values["MemAvailable"] / values["MemTotal"]
    return share if 0.0 <= share <= 1.0 else None


def memory_total_bytes(tree: Tree) -> int | None:
    match = re.search(r"^MemTotal:\s+(\d+) kB", tree.text("/proc/meminfo") or "", re.MULTILINE)
    total = number_in(match.group(1)) if match else None
    return int(total) * 1024 if total else None


def disks(tree: Tree) -> list[str]:
    """Whole drives, without partitions, loops and memory disks."""
    return [d for d in tree.names("/sys/block") if not NOT_DISKS.match(d)]


class DiskTimes:
    """Busy time [s] and moved bytes of one drive since the start."""

    def __init__(self, busy_s: float, moved_bytes: float) -> None:
        self.busy_s, self.moved_bytes = busy_s, moved_bytes


def disk_times(tree: Tree) -> dict[str, DiskTimes]:
    """From /proc/diskstats: column 13 is the busy time in ms, sectors are 512 bytes (14, 18 or 20 columns)."""
    out = {}
    for line in (tree.text("/proc/diskstats") or "").splitlines():
        words = line.split()
        if len(words) >= 14:
            read = [number_in(words[k]) for k in (5, 9, 12)]
            if None not in read:
                first, second, busy = (x or 0.0 for x in read)
                out[words[2]] = DiskTimes(busy / 1000.0, (first + second) * SECTOR_BYTES)
    return out


def drive_counters(tree: Tree, disks_: list[str]) -> list[tuple[str, float, float]]:
    """(key, value, what its rate is divided by) of busy seconds and moved bytes of these drives."""
    times = disk_times(tree)
    out = []
    for disk in (d for d in disks_ if d in times):
        out += [(f"busy {disk}", times[disk].busy_s, 1.0), (f"moved {disk}", times[disk].moved_bytes, 1e6)]
    return out


def drive_figures(rates: dict[str, float]) -> dict[str, float]:
    """Busy share of the busiest drive and MB/s of all, from rates by those keys; absent where there are none."""
    busy = [v for k, v in rates.items() if k.startswith("busy ")]
    moved = [v for k, v in rates.items() if k.startswith("moved ")]
    out = {"disk_busy_frac": min(max(busy), 1.0)} if busy else {}
    return {**out, "disk_mb_s": sum(moved)} if moved else out
