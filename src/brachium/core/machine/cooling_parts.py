"""Coolers, fans, thermal pads and pastes as parts."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal


class AirPath(StrEnum):
    """Where a cooler sends its air."""

    DOWN = "down onto the board"
    ALONG = "along the board"
    OUT = "out through a duct"


class FanPlug(StrEnum):
    PIN_3 = "3-pin"
    PIN_4 = "4-pin"
    OWN = "the maker's own"


class PasteKind(StrEnum):
    PLAIN = "not conductive"
    CONDUCTIVE = "electrically conductive"
    GALLIUM = "gallium alloy"
    PHASE_CHANGE = "phase-change sheet"


@dataclass(frozen=True)
class Cooler:
    """A processor cooler: mounting patterns it has, height over the board [mm], rated power [W].

    `over_memory_mm` is the room it leaves above a memory slot, None = it does not reach over one; `back_plate` that
    it is screwed to a plate of its own behind the board.
    """

    name: str
    patterns: tuple[str, ...]
    height_mm: float | None = None
    rated_w: float | None = None
    air: AirPath | None = None
    over_memory_mm: float | None = None
    back_plate: bool | None = None
    kind: Literal["cooler"] = "cooler"


@dataclass(frozen=True)
class Fan:
    """A fan by plug, frame [mm], thickness [mm] and rated current [A]; `tells_speed` = it has a speed signal."""

    name: str
    plug: FanPlug
    size_mm: float | None = None
    thickness_mm: float | None = None
    current_a: float | None = None
    tells_speed: bool | None = None
    kind: Literal["fan"] = "fan"


@dataclass(frozen=True)
class Paste:
    """A thermal paste: its kind, density [g/cm3], and in words how it ages."""

    name: str
    paste: PasteKind
    density_g_cm3: float | None = None
    ageing: str = ""
    kind: Literal["paste"] = "paste"


class PadOn(StrEnum):
    """What a pad lies on."""

    CHIPS = "chips under the cooler"
    MEMORY = "memory modules"
    DRIVE = "a drive"


@dataclass(frozen=True)
class Pad:
    """A thermal pad by thickness [mm], and what it lies on; only chips under the cooler ask for the cooler to come
    off."""

    name: str
    thickness_mm: float
    kind: Literal["pad"] = "pad"
    pad_on: PadOn | None = None
