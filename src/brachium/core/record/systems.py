"""Systems that a machine may be planned to run: their floors, memory ceilings and the end of their support."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.units import GB, GIB
from brachium.core.machine.platform import BootMode


@dataclass(frozen=True)
class SystemSpec:
    """A system: bits, least memory and drive [byte], least cores, what processor and firmware must offer, memory
    ceiling [byte], last day of security support (ISO date, empty = not known)."""

    id: str
    title: str
    bits: int = 64
    memory_bytes: int = 0
    drive_bytes: int = 0
    cores: int = 1
    features: tuple[str, ...] = ()
    functions: tuple[str, ...] = ()
    boot_mode: BootMode | None = None
    ceiling_bytes: int | None = None
    support_ends: str = ""


SYSTEMS: tuple[SystemSpec, ...] = (
    SystemSpec("locked-64", "64-bit desktop system that asks for UEFI and TPM 2.0", 64, 4 * GIB, 64 * GB, 2,
               ("64-bit", "NX", "SSE4.2", "POPCNT"), ("TPM 2.0",), BootMode.UEFI),
    SystemSpec("desktop-64", "64-bit desktop system", 64, 4 * GIB, 25 * GB, 2, ("64-bit", "NX")),
    SystemSpec("light-64", "Light 64-bit system", 64, 2 * GIB, 12 * GB, 1, ("64-bit",)),
    SystemSpec("light-32", "Light 32-bit system", 32, GIB, 8 * GB, 1, (), (), None, 64 * GIB),
)  # fmt: skip


def system_of(system_id: str, table: tuple[SystemSpec, ...]) -> SystemSpec | None:
    return next((s for s in table if s.id == system_id), None)
