"""Which drive the system is started from."""

from __future__ import annotations

from brachium.core.machine.drive_part import Drive, DriveInterface, DriveRole
from brachium.core.machine.machine import Configuration, Machine


def system_drive(machine: Machine, config: Configuration) -> tuple[str, Drive] | None:
    """The fastest-latency drive fitted: where system and swap will live, with its place."""
    drives = config.drives()
    if machine.platform.board.nvme_start is False:  # those hold data only (STO-BOOT)
        drives = {k: d for k, d in drives.items() if d.interface is not DriveInterface.NVME}
    if not drives:
        return None
    place = min(drives, key=lambda k: drives[k].read_latency_ms)
    return place, drives[place]


def system_today(machine: Machine) -> tuple[str, Drive] | None:
    """The drive that holds the system now: by its role; else the fastest of those that nobody gave another role, and
    never the small one of a cache pair."""
    config = machine.configuration()
    drives = config.drives()
    by_role = {k: d for k, d in drives.items() if d.role is DriveRole.SYSTEM}
    if by_role:
        return next(iter(by_role.items()))
    small = {min(pair, key=lambda k: drives[k].size_bytes) for pair in machine.platform.cache_pairs
             if len(pair) > 1 and all(k in drives for k in pair)}  # fmt: skip
    loose = {k: d for k, d in drives.items() if d.role is None and k not in small}
    return system_drive(machine, Configuration(loose)) or system_drive(machine, config)
