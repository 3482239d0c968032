"""Names and units of facts by the names of their fields, figures as people type them, ranges that can be.

A figure outside its range is asked back, never judged: most are off by a thousand (MHz for GHz, byte for GiB).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum

from brachium.core.base.text import phrase, upper_first
from brachium.core.base.typed_numbers import typed_float
from brachium.core.base.units import GB, GIB, MIB


@dataclass(frozen=True)
class Scale:
    """A unit: its sign, how many of the record's own it is, and the least and most that can be, in the sign's unit."""

    sign: str
    factor: float = 1.0
    least: float = 0.0
    most: float = 1e9


class Unit(Enum):
    """Units of facts."""

    NONE = Scale("")
    MEMORY = Scale("GiB", GIB, 1 / 1024, 4096)
    DISK = Scale("GB", GB, 0.001, 100_000)
    WATT = Scale("W", 1, 0.1, 3000)
    VOLT = Scale("V", 1, 0.5, 60)
    AMPERE = Scale("A", 1, 0.01, 150)
    WATT_HOUR = Scale("Wh", 1, 0.5, 500)
    MILLIMETRE = Scale("mm", 1, 0.1, 1000)
    AREA = Scale("mm²", 1, 1, 10_000)
    TRANSFERS = Scale("MT/s", 1, 60, 20_000)
    CLOCK = Scale("MHz", 1, 1, 10_000)
    CELSIUS = Scale("°C", 1, 20, 130)
    RATE = Scale("MB/s", 1, 1, 70_000)
    MILLISECOND = Scale("ms", 1, 0.001, 1000)
    NANOSECOND = Scale("ns", 1, 1, 500)
    SECOND = Scale("s", 1, 0.1, 3600)
    GIGABIT = Scale("Gbit", 1, 0.01, 128)
    NETWORK = Scale("Mbit/s", 1, 1, 100_000)
    TURNS = Scale("1/min", 1, 100, 30_000)
    INCH = Scale("in", 1, 3, 100)
    YEAR = Scale("", 1, 1975, 2100)
    BIT = Scale("bit", 1, 1, 4096)
    BYTE = Scale("byte", 1, 256, 16_384)
    DENSITY = Scale("g/cm³", 1, 0.5, 12)
    COUNT = Scale("", 1, 0, 1024)


ENDINGS: tuple[tuple[str, Unit], ...] = (
    ("_bytes", Unit.MEMORY), ("_wh", Unit.WATT_HOUR), ("_mm2", Unit.AREA), ("_mm", Unit.MILLIMETRE),
    ("_mts", Unit.TRANSFERS), ("_mhz", Unit.CLOCK), ("_mb_s", Unit.RATE), ("_mbit_s", Unit.NETWORK),
    ("_ms", Unit.MILLISECOND), ("_gbit", Unit.GIGABIT), ("_rpm", Unit.TURNS), ("_g_cm3", Unit.DENSITY),
    ("_in", Unit.INCH), ("_w", Unit.WATT), ("_v", Unit.VOLT), ("_a", Unit.AMPERE), ("_c", Unit.CELSIUS),
    ("_s", Unit.SECOND), ("_bits", Unit.BIT),
)  # fmt: skip
OWN = {"volts": Unit.VOLT, "amps": Unit.AMPERE, "year": Unit.YEAR, "sector_bytes": Unit.BYTE, "bits": Unit.BIT,
       "chip_width": Unit.BIT, "panel_px": Unit.NONE, "access_ns": Unit.NANOSECOND,
       "lengths_mm": Unit.MILLIMETRE}  # fmt: skip
NO_UNITS = ("single_rate", "all_rate", "graphics_rate")
TITLES = {
    "fan_max_rpm": "Fan, full speed", "design_power_w": "Design power", "power_w": "Power", "boost_s": "May boost for",
    "published_max_bytes": "Published maximum", "controller_max_bytes": "Controller's limit",
    "board_max_mts": "Board's speed", "processor_max_mts": "Processor's speed", "takes_ecc": "Runs ECC",
    "buffering": "Buffering", "link_mb_s": "Link, after coding", "uplink_mb_s": "Shared link", "ecc": "ECC",
    "max_bytes": "Largest module", "size_bytes": "Size", "speed_mts": "Rate", "volts": "Voltage", "cas": "CAS latency",
    "outer_mb_s": "Rate, outer tracks", "inner_mb_s": "Rate, inner tracks", "read_latency_ms": "Latency of one read",
    "panel_px": "Panel, pixels", "panel_in": "Panel, diagonal", "used_bytes": "In use", "full_wh": "When full",
    "design_wh": "By design", "rated_12v_w": "Rated, 12 V", "rated_w": "Rated", "usb_c": "By USB-C",
    "ceiling_bytes": "Edition's memory ceiling", "pin3_power": "3.3 V on pin 3", "own_plugs": "Maker's own plugs",
    "cooler_mm": "Room for a cooler", "adapter_w": "Adapter it asks for", "adapter_v": "Adapter's voltage",
    "chip_max_gbit": "Densest chip", "ranks_max": "Most ranks a channel", "graphics_share_bytes": "Kept by graphics",
    "ata_bits": "Address bits", "needs": "Needs first", "needs_at_hand": "Bracket at hand", "limit_c": "Limit",
    "single_rate": "Work rate, one thread", "all_rate": "Work rate, all threads", "excludes": "Switches off",
    "date_cell_weak": "Date battery weak", "bulging_caps": "Bulging capacitors", "boards": "Takes boards",
    "steps": "Firmware versions, in order", "needs_uefi": "Needs UEFI", "bus_bits": "Memory bus",
    "held_by": "Held shut by", "screws": "Screws that hold it shut", "screw_head": "Their head", "lid_ribbon":
    "A ribbon holds the lid", "glass_glued": "Glass glued in front", "optical_over": "Optical drive lies over",
    "shroud": "Fan shroud lies over", "cooler_hold": "Cooler held by", "trim_breaks": "Trim that breaks",
    "pad_on": "Lies on",
    "nvme_start": "Starts from NVMe", "memory_mts": "Memory rate", "base_mhz": "Base clock", "boost_mhz": "Boost clock",
}  # fmt: skip


def unit_of(name: str, of_drive: bool) -> Unit:
    """The unit of a field; sizes of drives count in GB, of memory in GiB."""
    if name in OWN:
        return OWN[name]
    if name in NO_UNITS:
        return Unit.NONE
    if name == "used_bytes" or (name == "size_bytes" and of_drive):
        return Unit.DISK
    return next((unit for ending, unit in ENDINGS if name.endswith(ending)), Unit.NONE)


def fact_title(name: str) -> str:
    """A field's name for people."""
    if name in TITLES:
        return TITLES[name]
    plain = re.sub(r"_(mm2?|w|v|a|c|s|ms|in|mts|mhz|mb_s|mbit_s|bytes|gbit|rpm|wh)$", "", name)
    words = plain.replace("_", " ")
    return upper_first(words)


class OutOfRangeError(ValueError):
    """A figure that cannot be; its text says what can."""


FIGURE = re.compile(r"\s*([-+]?[\d.,]+(?:e[-+]?\d+)?)\s*([A-Za-z°µ²³/]*)\s*", re.IGNORECASE)
PREFIXES = {"GiB": {"gib": 1.0, "gb": 1.0, "g": 1.0, "mib": MIB / GIB, "mb": MIB / GIB, "m": MIB / GIB, "tib": 1024.0,
                    "tb": 1024.0, "t": 1024.0}, "GB": {"gb": 1.0, "g": 1.0, "tb": 1000.0, "t": 1000.0, "mb": 0.001},
            "MHz": {"mhz": 1.0, "ghz": 1000.0}, "mm": {"mm": 1.0, "cm": 10.0}, "A": {"a": 1.0, "ma": 0.001},
            "W": {"w": 1.0, "mw": 0.001}}  # fmt: skip


def figure(text: str, unit: Unit) -> float:
    """What was typed, in the record's own unit. Raises ValueError with a sentence for people."""
    scale = unit.value
    match = FIGURE.fullmatch(text)
    if match is None:
        raise ValueError(phrase("A number{more}.", more=phrase(" in {scale}", scale=scale.sign) if scale.sign else ""))
    written = match[2].lower()
    known = PREFIXES.get(scale.sign, {scale.sign.lower(): 1.0})
    if written and written not in known:
        raise ValueError(phrase("In {scale}.", scale=scale.sign) if scale.sign else "A number without a unit.")
    try:
        value = typed_float(match[1]) * known.get(written, 1.0)
    except ValueError:
        raise ValueError(
            phrase("A number{more}.", more=phrase(" in {scale}", scale=scale.sign) if scale.sign else "")
        ) from None
    if not scale.least <= value <= scale.most:
        span = phrase("{least:g} to {most:g} {scale}", least=scale.least, most=scale.most, scale=scale.sign).rstrip()
        raise OutOfRangeError(
            phrase(
                "{value:g} {scale} cannot be: {span}. A thousand times off?", value=value, scale=scale.sign, span=span
            )
        )
    return value * scale.factor


def figure_words(value: float, unit: Unit) -> str:
    """A figure of the record in its unit, without it: `4`, `0.5`, `1333`."""
    return phrase("{value:.6g}", value=value / unit.value.factor)
