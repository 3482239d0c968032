"""Sensors of graphics chips as the kernel shows them under /sys/class/drm: busy, clock, power, memory, temperature."""

from __future__ import annotations

import re

from brachium_probe.tree import Tree

CHANNELS = (
    ("gpu_util_frac", "1", "graphics busy time"),
    ("gpu_clock_mhz", "MHz", "graphics clock"),
    ("gpu_power_w", "W", "power of the graphics chip or card"),
    ("gpu_memory_frac", "1", "graphics memory in use"),
    ("gpu_temp_c", "°C", "graphics sensor"),
)


class GraphicsSensors:
    """The chip that tells most, where there are several; a value that it does not tell is absent."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree
        cards = [c for c in tree.names("/sys/class/drm") if re.match(r"^card\d+$", c)]
        told = [(len(_read(tree, f"/sys/class/drm/{c}")), c) for c in cards]
        best = max(told, key=lambda t: t[0], default=(0, ""))
        self._card = f"/sys/class/drm/{best[1]}" if best[0] else ""

    def busy_frac(self) -> float | None:
        """Busy share now; None where it is not told."""
        busy = self._tree.number(f"{self._card}/device/gpu_busy_percent") if self._card else None
        return busy / 100.0 if busy is not None and 0.0 <= busy <= 100.0 else None

    def read(self) -> dict[str, float]:
        """Values by channel key."""
        return _read(self._tree, self._card) if self._card else {}


def _read(tree: Tree, card: str) -> dict[str, float]:
    device = f"{card}/device"
    sensors = next((f"{device}/hwmon/{h}" for h in tree.names(f"{device}/hwmon")), "")
    out: dict[str, float] = {}
    busy = tree.number(f"{device}/gpu_busy_percent")
    if busy is not None and 0.0 <= busy <= 100.0:
        out["gpu_util_frac"] = busy / 100.0
    clock = _clock_mhz(tree, card, sensors)
    if clock is not None:
        out["gpu_clock_mhz"] = clock
    used, total = tree.number(f"{device}/mem_info_vram_used"), tree.number(f"{device}/mem_info_vram_total")
    if used is not None and total and 0.0 <= used <= total:
        out["gpu_memory_frac"] = used / total
    return {**out, **_power_and_heat(tree, sensors)} if sensors else out


def _power_and_heat(tree: Tree, sensors: str) -> dict[str, float]:
    out: dict[str, float] = {}
    found = (tree.number(f"{sensors}/{name}") for name in ("power1_average", "power1_input"))
    power = next((p for p in found if p is not None and 0.0 <= p < 2e9), None)
    if power is not None:
        out["gpu_power_w"] = power / 1e6
    temp = tree.number(f"{sensors}/temp1_input")
    if temp is not None and -20_000.0 < temp < 130_000.0:
        out["gpu_temp_c"] = temp / 1000.0
    return out


def _clock_mhz(tree: Tree, card: str, sensors: str) -> float | None:
    for name, unit in ((f"{card}/gt_act_freq_mhz", 1.0), (f"{card}/gt_cur_freq_mhz", 1.0)):
        value = tree.number(name)
        if value:
            return value * unit
    value = tree.number(f"{sensors}/freq1_input") if sensors else None
    return value / 1e6 if value else None
