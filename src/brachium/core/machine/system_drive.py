"""Which drive the system is started from."""

from __future__ import annotations

from collections.abc import Mapping

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


def system_target(machine: Machine, new: Mapping[str, Drive], later: Configuration) -> tuple[str, Drive] | None:
    """Where the system goes when drives `new` (by place) are fitted and the machine is `later`; None where it stays.

    A system whose own drive leaves its place goes to a new one in any case: to the fastest that the machine starts
    from. Else it goes to a new drive that is faster than all others, and that nobody gave another role.
    """
    today = system_today(machine)
    free = {k: d for k, d in new.items() if d.role in (None, DriveRole.SYSTEM)} or dict(new)
    if not free:
        return None
    if today is None or later.drives().get(today[0]) is not today[1]:
        return system_drive(machine, Configuration(free)) or next(iter(free.items()))
    fastest = system_drive(machine, later)
    return fastest if fastest is not None and fastest[0] in free else None
