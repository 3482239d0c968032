"""Memory modules as parts: form, generation, buffering, ranks and chips."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal


class MemoryForm(StrEnum):
    DIMM = "DIMM"
    SO_DIMM = "SO-DIMM"
    SOLDERED = "soldered"


class MemoryGeneration(StrEnum):
    DDR2 = "DDR2"
    DDR3 = "DDR3"
    DDR4 = "DDR4"
    DDR5 = "DDR5"
    LPDDR3 = "LPDDR3"
    LPDDR4 = "LPDDR4"
    LPDDR5 = "LPDDR5"


class Buffering(StrEnum):
    UNBUFFERED = "unbuffered"
    REGISTERED = "registered"
    LOAD_REDUCED = "load-reduced"


@dataclass(frozen=True)
class MemoryModule:
    """A memory module. `volts` are the voltages it is rated for (JEDEC: DDR3 1.5 V, DDR3L 1.35 V and 1.5 V).

    `ranks` as on its label (1Rx8: 1); `height_mm` matters under a cooler that reaches over it.
    """

    name: str
    form: MemoryForm
    generation: MemoryGeneration
    size_bytes: int
    speed_mts: int
    volts: tuple[float, ...]
    buffering: Buffering = Buffering.UNBUFFERED
    ecc: bool = False
    ranks: int | None = None
    height_mm: float | None = None
    kind: Literal["memory"] = "memory"
