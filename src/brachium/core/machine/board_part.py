"""Boards as parts: what a case, a supply and the parts that are kept look at."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration


@dataclass(frozen=True)
class BoardPart:
    """A main board. Sizes of memory in byte, power of its supply stage [W].

    `form` is the standard outline, `standoffs` how many screw places it has, `own_plugs` that main or processor power
    comes by a maker's own plug. `revision` tells sockets apart that are alike in their holes; `fill_order` are the
    memory places, counted from 1, in the order in which they are to be filled.
    """

    name: str
    form: str
    socket: str
    memory_form: MemoryForm
    memory_generation: MemoryGeneration
    slots: int = 2
    slot_max_bytes: int | None = None
    memory_mts: int | None = None
    families: tuple[str, ...] = ()
    firmware: str = ""
    cooler_pattern: str = ""
    standoffs: int | None = None
    cutout: bool | None = None
    own_plugs: bool = False
    front_header: bool = True
    sata_ports: int = 4
    m2_places: int = 0
    boot_modes: tuple[str, ...] = ("UEFI",)
    processor_power_w: float | None = None
    revision: str = ""
    fill_order: tuple[int, ...] = ()
    kind: Literal["board"] = "board"
