"""Drives as parts: interface, form, edge key, screws, rates."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal


class DriveInterface(StrEnum):
    SATA = "SATA"
    NVME = "NVMe"
    PATA = "parallel ATA"
    MSATA = "mSATA"
    PCIE_CARD = "PCIe card"
    BLADE = "maker's own blade"
    EMMC = "eMMC"
    SAS = "SAS"
    USB = "USB"


class BayForm(StrEnum):
    IN_2_5 = "2.5 in"
    IN_3_5 = "3.5 in"
    M2 = "M.2"
    OPTICAL = "optical 9.5 mm"
    OPTICAL_HIGH = "optical 12.7 mm"
    MINI_CARD = "mini card"
    CARD = "card"
    SOLDERED = "soldered"


class M2Key(StrEnum):
    """Edge keys of M.2 drives and places (PCI-SIG M.2, keys B and M)."""

    B = "B"
    M = "M"
    B_M = "B+M"


class DriveRole(StrEnum):
    """What a drive is there for; the verdict hangs on it."""

    SYSTEM = "system"
    DATA = "data"
    CACHE = "cache"
    ARRAY = "array member"
    SCRATCH = "scratch"


class Thread(StrEnum):
    """Screw threads of drives and bays."""

    M3 = "M3"
    COARSE = "6-32"
    M2 = "M2"
    M2_5 = "M2.5"


@dataclass(frozen=True)
class Drive:
    """A drive. Sequential rates at the outer and inner tracks [MB/s]; latency of one 4 KiB read [ms].

    `thread` None = the usual one of its form. `power_disable`: its pin 3 switches it off (SATA 3.2). `spreader`: a heat
    spreader or pad lies on its controller. `role` and `used_bytes` are of a drive that is in use.
    """

    name: str
    interface: DriveInterface
    form: BayForm
    height_mm: float | None
    size_bytes: int
    rotational: bool
    outer_mb_s: float
    inner_mb_s: float
    read_latency_ms: float
    key: M2Key | None = None
    length_mm: int | None = None
    double_sided: bool | None = None
    thread: Thread | None = None
    power_disable: bool | None = None
    spreader: bool | None = None
    sector_bytes: int | None = None
    role: DriveRole | None = None
    used_bytes: int | None = None
    kind: Literal["drive"] = "drive"
