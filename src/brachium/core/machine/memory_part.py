"""Memory modules as parts: form, generation, buffering, ranks and chips."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal


class MemoryForm(StrEnum):
    DIMM = "DIMM"
    SO_DIMM = "SO-DIMM"
    RIMM = "RIMM"  # of a serial channel: every place holds a module or a filler
    SOLDERED = "soldered"


class MemoryGeneration(StrEnum):
    SDR = "SDR"
    RDRAM = "RDRAM"
    DDR = "DDR"
    DDR2 = "DDR2"
    DDR3 = "DDR3"
    DDR4 = "DDR4"
    DDR5 = "DDR5"
    LPDDR2 = "LPDDR2"
    LPDDR3 = "LPDDR3"
    LPDDR4 = "LPDDR4"
    LPDDR5 = "LPDDR5"


class Buffering(StrEnum):
    UNBUFFERED = "unbuffered"
    REGISTERED = "registered"
    LOAD_REDUCED = "load-reduced"
    FULLY_BUFFERED = "fully buffered"


@dataclass(frozen=True)
class MemoryModule:
    """A memory module; None and no voltages = not known. Rate [MT/s], CAS latency [clocks], chip width [bit].

    `volts` are the voltages it is rated for (JEDEC: DDR3 1.5 V, DDR3L 1.35 V and 1.5 V). `ranks` and `chip_width` as on
    its label (1Rx8: 1 and 8); `height_mm` matters under a cooler that reaches over it; `access_ns` is the grade of a
    serial channel (800-40: 40 ns). `standard_mts` is the rate without a memory profile, where the rated one needs one.
    """

    name: str
    form: MemoryForm
    generation: MemoryGeneration
    size_bytes: int
    speed_mts: int | None = None
    volts: tuple[float, ...] = ()
    buffering: Buffering | None = None
    ecc: bool | None = None
    ranks: int | None = None
    chip_width: int | None = None
    cas: float | None = None
    height_mm: float | None = None
    access_ns: int | None = None
    standard_mts: int | None = None
    kind: Literal["memory"] = "memory"
