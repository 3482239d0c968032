"""Which column of a foreign log is what, and in which unit."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np

ROLES = ("time", "temp", "power", "clock", "fan", "util", "room", "gpu_power", "gpu_util")
GRAPHICS = ("gpu", "graphics")
ROLE_NAMES = {
    "time": "time", "temp": "chip temperature", "power": "power", "clock": "clock", "fan": "fan speed",
    "util": "utilisation", "room": "room temperature", "gpu_power": "graphics power", "gpu_util": "graphics busy",
}  # fmt: skip
_WORDS = {
    "time": ("time", "elapsed", "t_s", "timestamp", "seconds", "sec"),
    "room": ("ambient", "room", "intake"),
    "temp": ("temp", "chip", "die", "package_c", "core_c", "°c", "°f"),
    "power": ("power", "watt", "package", "pkg", "_w", "mw"),
    "clock": ("clock", "freq", "mhz", "ghz"),
    "fan": ("fan", "rpm", "1/min"),
    "util": ("util", "load", "busy", "usage", "%"),
}
_ORDER = ("gpu_util", "gpu_power", "room", "fan", "clock", "util", "time", "power", "temp")


@dataclass(frozen=True)
class Unit:
    """A unit with its conversion to the program's own unit of that role."""

    name: str
    convert: Callable[[FloatArray], FloatArray]


def _same(x: FloatArray) -> FloatArray:
    return x


_UNITS: dict[str, dict[str, Unit]] = {
    "temp": {
        "c": Unit("°C", _same),
        "f": Unit("°F", lambda x: (x - 32.0) / 1.8),
        "k": Unit("K", lambda x: x - 273.15),
    },
    "power": {"w": Unit("W", _same), "mw": Unit("mW", lambda x: x / 1000.0)},
    "clock": {
        "mhz": Unit("MHz", _same),
        "ghz": Unit("GHz", lambda x: x * 1000.0),
        "khz": Unit("kHz", lambda x: x / 1000.0),
    },
    "fan": {"rpm": Unit("1/min", _same)},
    "util": {"pct": Unit("%", lambda x: x / 100.0), "frac": Unit("fraction", _same)},
    "time": {"s": Unit("s", _same), "ms": Unit("ms", lambda x: x / 1000.0), "min": Unit("min", lambda x: x * 60.0)},
}
_UNITS |= {"room": _UNITS["temp"], "gpu_power": _UNITS["power"], "gpu_util": _UNITS["util"]}
PLAUSIBLE = {
    "temp": (0.0, 125.0), "room": (-10.0, 50.0), "power": (0.0, 600.0), "clock": (100.0, 8000.0),
    "fan": (0.0, 20_000.0), "util": (0.0, 1.1), "gpu_power": (0.0, 900.0), "gpu_util": (0.0, 1.1),
}  # fmt: skip
_PATTERNS: dict[str, tuple[tuple[str, str], ...]] = {
    "temp": ((r"(°\s*f\b|_f\b|\bdegf\b|fahrenheit)", "f"), (r"(\bkelvin\b|\[k\]|_k\b)", "k"),
             (r"(°\s*c\b|_c\b|\bdegc\b|celsius)", "c")),
    "power": ((r"(\bmw\b|_mw\b|milliwatt)", "mw"), (r"(\bw\b|_w\b|watt)", "w")),
    "clock": ((r"ghz", "ghz"), (r"mhz", "mhz"), (r"khz", "khz")),
    "fan": ((r"(rpm|1/min)", "rpm"),),
    "util": ((r"(%|pct|percent)", "pct"), (r"(frac|0\.\.1)", "frac")),
    "time": ((r"(\bms\b|_ms\b|millisecond)", "ms"), (r"(\bmin\b|_min\b|minute)", "min"), (r"(\bs\b|_s\b|sec)", "s")),
}  # fmt: skip
_PATTERNS |= {"room": _PATTERNS["temp"], "gpu_power": _PATTERNS["power"], "gpu_util": _PATTERNS["util"]}


def assign_roles(headers: list[str]) -> dict[str, int]:
    """Column index per role; the most telling words first, each column once.

    What is named after the graphics is the graphics' own: it is never taken for the processor's.
    """
    out: dict[str, int] = {}
    lows = [h.lower() for h in headers]
    for role in _ORDER:
        wanted = role.removeprefix("gpu_")
        for index, low in enumerate(lows):
            graphics = any(word in low for word in GRAPHICS)
            fits = any(word in low for word in _WORDS[wanted]) and graphics == (role != wanted)
            if index not in out.values() and fits:
                out[role] = index
                break
    return out


def unit_names(role: str) -> tuple[str, ...]:
    return tuple(_UNITS.get(role, {}))


def unit_for(role: str, header: str, values: FloatArray, stated: str = "") -> Unit:
    """The unit: as stated, else from the header, else from the size of the numbers."""
    known = _UNITS[role]
    if stated:
        return known[stated]
    low = header.lower()
    for pattern, key in _PATTERNS[role]:
        if re.search(pattern, low):
            return known[key]
    return known[_by_size(role, values)]


def _by_size(role: str, values: FloatArray) -> str:
    role = role.removeprefix("gpu_")
    high = float(np.nanmax(values)) if np.isfinite(values).any() else 0.0
    if role in ("temp", "room"):
        return "f" if high > 125.0 else "c"
    if role == "power":
        return "mw" if high > 1000.0 else "w"
    if role == "clock":
        return "ghz" if high < 20.0 else "khz" if high > 100_000.0 else "mhz"
    if role == "util":
        return "frac" if high <= 1.5 else "pct"
    return {"fan": "rpm", "time": "s"}[role]


@dataclass(frozen=True)
class Reading:
    """How to read a log: units by role ("temp": "f"), columns by role and header ("" = leave out), what is needed."""

    units: Mapping[str, str] = field(default_factory=dict)
    columns: Mapping[str, str] = field(default_factory=dict)
    required: tuple[str, ...] = ("time", "temp")


@dataclass(frozen=True)
class LogReadings:
    """How logs are to be read, by what tells one logger's heading from another's, the latest first."""

    by_heading: Mapping[str, Reading] = field(default_factory=dict)
