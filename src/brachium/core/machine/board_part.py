"""Boards as parts: what a case, a supply and the parts that are kept look at."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from brachium.core.base.own_words import OwnWords
from brachium.core.machine.memory_part import MemoryForm, MemoryGeneration


@dataclass(frozen=True)
class BoardPart:
    """A main board. Sizes of memory in byte, power of its supply stage [W].

    `form` is the standard outline, `standoffs` how many screw holes it has, `own_plugs` that main or processor power
    comes by a maker's own plug. `revision` tells sockets apart that are alike in their holes; `fill_order` are the
    memory slots, counted from 1, in the order in which they are to be filled; `place_channels` the channel of each
    place in turn, counted from 1, empty = not known; `functions` what its firmware offers that a system may ask for,
    such as TPM 2.0.
    """

    name: str
    form: str
    socket: str
    memory_form: MemoryForm
    memory_generation: MemoryGeneration
    slots: int
    slot_max_bytes: int | None = None
    memory_mts: int | None = None
    families: tuple[str, ...] = ()
    firmware: str = ""
    cooler_pattern: str = ""
    standoffs: int | None = None
    cutout: bool | None = None
    own_plugs: bool | None = None
    front_header: bool | None = None
    sata_ports: int | None = None
    m2_places: int | None = None
    boot_modes: tuple[str, ...] | None = None
    processor_power_w: float | None = None
    revision: str = ""
    fill_order: tuple[int, ...] = ()
    place_channels: tuple[int, ...] = ()
    functions: tuple[str, ...] | None = None
    kind: Literal["board"] = "board"

    def __post_init__(self) -> None:
        object.__setattr__(self, "firmware", OwnWords(self.firmware))  # a version is no decimal number
