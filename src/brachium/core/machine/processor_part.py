"""Processors as parts: what a socket, a cooler, the memory and the system look at."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from brachium.core.base.own_words import OwnWords
from brachium.core.machine.memory_part import MemoryGeneration


@dataclass(frozen=True)
class ProcessorPart:
    """A processor. Power [W], clocks [MHz], limit [degC], memory [MT/s]; rated work rates in one unit of the table.

    `revision` tells sockets apart that are alike in their holes; `first_firmware` is the first version that knows it;
    `features` are the instructions and functions a system may ask for, None = not known. Of a used one `contacts_ok`
    says whether its pins or the socket's were looked at, and `sample` that it is an engineering sample.
    """

    name: str
    socket: str
    power_w: float | None = None
    cores: int | None = None
    threads: int | None = None
    single_rate: float | None = None
    all_rate: float | None = None
    revision: str = ""
    family: str = ""
    first_firmware: str = ""
    graphics: bool | None = None
    memory: tuple[MemoryGeneration, ...] | None = None
    memory_mts: int | None = None
    memory_channels: int | None = None
    features: tuple[str, ...] | None = None
    limit_c: float | None = None
    used: bool = False
    contacts_ok: bool | None = None
    sample: bool = False
    base_mhz: float | None = None
    boost_mhz: float | None = None
    boost_power_w: float | None = None
    boost_s: float | None = None
    graphics_rate: float | None = None
    kind: Literal["processor"] = "processor"

    def __post_init__(self) -> None:
        object.__setattr__(self, "first_firmware", OwnWords(self.first_firmware))  # a version is no decimal number
