"""Which drive the system is started from."""

from __future__ import annotations

from brachium.core.machine.machine import Configuration, Machine
from brachium.core.machine.parts import Drive, DriveInterface


def system_drive(machine: Machine, config: Configuration) -> tuple[str, Drive] | None:
    """The fastest-latency drive fitted: where system and swap will live, with its place."""
    drives = config.drives()
    if machine.platform.board.nvme_start is False:  # those hold data only (STO-BOOT)
        drives = {k: d for k, d in drives.items() if d.interface is not DriveInterface.NVME}
    if not drives:
        return None
    place = min(drives, key=lambda k: drives[k].read_latency_ms)
    return place, drives[place]
