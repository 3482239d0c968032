"""Parts that can sit in a machine's places, and services done to it. All by standard class, brandless."""

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


class DriveInterface(StrEnum):
    SATA = "SATA"
    NVME = "NVMe"
    PATA = "parallel ATA"


class BayForm(StrEnum):
    IN_2_5 = "2.5 in"
    IN_3_5 = "3.5 in"
    M2 = "M.2"
    OPTICAL = "optical 9.5 mm"


@dataclass(frozen=True)
class MemoryModule:
    """A memory module. `volts` are the voltages it is rated for (JEDEC: DDR3 1.5 V, DDR3L 1.35 V and 1.5 V)."""

    name: str
    form: MemoryForm
    generation: MemoryGeneration
    size_bytes: int
    speed_mts: int
    volts: tuple[float, ...]
    kind: Literal["memory"] = "memory"


@dataclass(frozen=True)
class Drive:
    """A drive. Sequential rates at the outer and inner tracks [MB/s]; latency of one 4 KiB read [ms]."""

    name: str
    interface: DriveInterface
    form: BayForm
    height_mm: float | None
    size_bytes: int
    rotational: bool
    outer_mb_s: float
    inner_mb_s: float
    read_latency_ms: float
    kind: Literal["drive"] = "drive"


Part = MemoryModule | Drive


class Service(StrEnum):
    """Work on the machine that is not a part."""

    NEW_PASTE = "new paste"
    CLEAN_FINS = "fins and fan cleaned"
