"""Cards as parts: graphics and other expansion cards, and radio cards."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from brachium.core.machine.drive_part import DriveInterface


class RadioKey(StrEnum):
    """Edge keys of radio cards (M.2, keys A and E)."""

    A = "A"
    E = "E"
    A_E = "A+E"


@dataclass(frozen=True)
class Card:
    """An expansion card: lanes and generation of its PCIe edge, length [mm], thickness in places, draw [W].

    Of graphics: memory [byte] and its bus [bit], outputs, driver.

    None = not known. `plugs` are the supply plugs it needs; `needs_uefi` = its firmware shows no picture under the old
    start mode, `legacy_only` = none under UEFI start. `carries` is the kind of M.2 drive that it has a place for, and
    `carries_lengths_mm` the lengths of it; `network_mbit_s` the rate of a network card's port [Mbit/s].
    """

    name: str
    lanes: int | None
    generation: int | None
    power_w: float | None = None
    plugs: tuple[str, ...] | None = None
    length_mm: float | None = None
    thickness: int | None = None
    low_profile: bool | None = None
    display: bool | None = None
    needs_uefi: bool | None = None
    graphics_rate: float | None = None
    memory_bytes: int | None = None
    bus_bits: int | None = None
    outputs: tuple[str, ...] | None = None
    driver: str = ""
    legacy_only: bool | None = None
    carries: DriveInterface | None = None
    carries_lengths_mm: tuple[int, ...] | None = None
    network_mbit_s: float | None = None
    kind: Literal["card"] = "card"


@dataclass(frozen=True)
class RadioCard:
    """A radio card: edge key, antennas it needs, their plug, and the id by which firmware may allow it.

    `processor_bus`: half of its logic sits in the processor; it works in places wired to one alone.
    """

    name: str
    key: RadioKey | None
    antennas: int | None = None
    plug: str = ""
    id: str = ""
    processor_bus: bool | None = None
    kind: Literal["radio"] = "radio"
