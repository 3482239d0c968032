"""Temperatures and fans from the kernel's hwmon and thermal trees; found by name and label, never by number."""

from __future__ import annotations

import re

from brachium_probe.tree import Tree

CHIP_NAMES = ("coretemp", "k10temp", "zenpower", "cpu_thermal", "x86_pkg_temp")
PACKAGE_LABELS = ("Package id 0", "Tdie", "Tctl")
LOW_C, HIGH_C = -20.0, 130.0
LIMIT_LOW_C, LIMIT_HIGH_C = 50.0, 130.0


class Temperature:
    """One temperature sensor. `crit_c` is the critical value that it names, None where it names none."""

    def __init__(self, chip: str, label: str, name: str, crit_c: float | None) -> None:
        self.chip, self.label, self.name, self.crit_c = chip, label, name, crit_c

    @property
    def title(self) -> str:
        return f"{self.chip} {self.label}".strip()

    @property
    def is_processor(self) -> bool:
        return self.chip in CHIP_NAMES

    def read_c(self, tree: Tree) -> float | None:
        """Degrees Celsius; None where it cannot be read or is absurd."""
        value = tree.number(self.name)
        if value is None:
            return None
        value /= 1000.0
        return value if LOW_C < value < HIGH_C else None


class FanSensor:
    """One fan tachometer."""

    def __init__(self, chip: str, label: str, name: str) -> None:
        self.chip, self.label, self.name = chip, label, name

    @property
    def title(self) -> str:
        return f"{self.chip} {self.label}".strip()

    def read_rpm(self, tree: Tree) -> float | None:
        value = tree.number(self.name)
        return value if value is not None and 0.0 <= value < 30_000.0 else None


def find_temperatures(tree: Tree) -> list[Temperature]:
    """Every sensor that now reads something believable: hwmon first, thermal zones where hwmon has no processor."""
    found = [t for folder in _hwmon(tree) for t in _temperatures_of(tree, folder)]
    found = [t for t in found if t.read_c(tree) is not None]
    if not any(t.is_processor for t in found):
        found += [t for t in _zones(tree) if t.read_c(tree) is not None]
    return found


def main_temperature(sensors: list[Temperature]) -> Temperature | None:
    """The processor's own: the package before single cores, a named processor zone before anything else."""
    own = [t for t in sensors if t.is_processor]
    for label in PACKAGE_LABELS:
        for sensor in own:
            if sensor.label == label:
                return sensor
    return own[0] if own else None


def find_fans(tree: Tree) -> list[FanSensor]:
    """Fans that turn now or can report: inputs of zero are kept, a fan may stand still when cold."""
    out = []
    for folder in _hwmon(tree):
        chip = tree.text(f"{folder}/name") or "hwmon"
        for entry in tree.names(folder):
            match = re.match(r"^fan(\d+)_input$", entry)
            if match and tree.number(f"{folder}/{entry}") is not None:
                label = tree.text(f"{folder}/fan{match.group(1)}_label") or f"fan {match.group(1)}"
                out.append(FanSensor(chip, label, f"{folder}/{entry}"))
    return out


def limits_c(sensors: list[Temperature], margin_k: float) -> dict[str, float]:
    """Where a load is stopped [degC], by sensor file: its own critical value less a margin.

    A sensor that names none is held to the lowest of those that its own chip names; one without either is not held.
    """
    by_chip: dict[str, float] = {}
    for sensor in sensors:
        if sensor.crit_c is not None:
            by_chip[sensor.chip] = min(by_chip.get(sensor.chip, sensor.crit_c), sensor.crit_c)
    out = {}
    for sensor in sensors:
        limit = sensor.crit_c if sensor.crit_c is not None else by_chip.get(sensor.chip)
        if limit is not None:
            out[sensor.name] = limit - margin_k
    return out


def _hwmon(tree: Tree) -> list[str]:
    out = []
    for entry in tree.names("/sys/class/hwmon"):
        folder = f"/sys/class/hwmon/{entry}"
        out.append(folder if tree.exists(f"{folder}/name") else f"{folder}/device")
    return out


def _temperatures_of(tree: Tree, folder: str) -> list[Temperature]:
    chip = tree.text(f"{folder}/name") or "hwmon"
    out = []
    for entry in tree.names(folder):
        match = re.match(r"^temp(\d+)_input$", entry)
        if match:
            stem = f"{folder}/temp{match.group(1)}"
            label = tree.text(f"{stem}_label") or f"temp {match.group(1)}"
            out.append(Temperature(chip, label, f"{folder}/{entry}", _limit(tree, f"{stem}_crit")))
    return out


def _zones(tree: Tree) -> list[Temperature]:
    out = []
    for entry in tree.names("/sys/class/thermal"):
        folder = f"/sys/class/thermal/{entry}"
        if entry.startswith("thermal_zone"):
            kind = tree.text(f"{folder}/type") or entry
            chip = "x86_pkg_temp" if kind == "x86_pkg_temp" else "cpu_thermal" if "cpu" in kind.lower() else kind
            out.append(Temperature(chip, kind, f"{folder}/temp", _critical_trip(tree, folder)))
    return out


def _critical_trip(tree: Tree, folder: str) -> float | None:
    for entry in tree.names(folder):
        match = re.match(r"^trip_point_(\d+)_type$", entry)
        if match and tree.text(f"{folder}/{entry}") == "critical":
            return _limit(tree, f"{folder}/trip_point_{match.group(1)}_temp")
    return None


def _limit(tree: Tree, name: str) -> float | None:
    """A critical value in degrees Celsius; placeholders such as -273150 and 65261850 count as absent."""
    value = tree.number(name)
    if value is None:
        return None
    value /= 1000.0
    return value if LIMIT_LOW_C <= value <= LIMIT_HIGH_C else None
