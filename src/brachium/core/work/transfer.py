"""Moving the system to a new drive: copied or installed afresh, how long it takes, what must hold before.

The program plans and records; it writes to no drive. A copy moves the used bytes at the slowest of old drive, bridge
and new drive, and a verifying pass reads both again. 15 % of the new drive stay free. Times of an installation are
usual ones.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from brachium.core.base.text import phrase
from brachium.core.base.units import drive_size, percent, shown_size
from brachium.core.drives.copy_time import copy_time
from brachium.core.fit.assumptions import FREE_SHARE
from brachium.core.fit.rules.storage import link_ceiling_mb_s, link_of
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Drive
from brachium.core.machine.platform import BootMode
from brachium.core.machine.system_drive import system_target, system_today
from brachium.core.plan.candidates import Candidate, Group, planned
from brachium.core.record.drive_records import Transfer, Way
from brachium.core.work.assumptions import ASSUMED_USED, COPY_ATTENDED, FRESH_ATTENDED, INSTALL_MIN, UPDATES_MIN

MBR_LIMIT = 2 << 40  # byte that an MBR partition table addresses with 512-byte sectors


NONE_READ: Mapping[str, int] = {}


@dataclass(frozen=True)
class Condition:
    """Something that must hold before: in words, whether it does (None = to be looked at), and what to do."""

    words: str
    holds: bool | None
    remedy: str = ""


@dataclass(frozen=True)
class TransferPlan:
    """Minutes of the move; `used_bytes` with whether it is assumed, the rate [MB/s] with what limits it."""

    way: Way
    old: Drive | None
    old_place: str
    new: Drive
    new_place: str
    used_bytes: int
    assumed: bool
    rate_mb_s: float
    limited_by: str
    copy_min: float
    verify_min: float
    attended_min: float
    conditions: tuple[Condition, ...]

    @property
    def unattended_min(self) -> float:
        """What runs by itself [min]."""
        return self.copy_min + self.verify_min

    @property
    def free_share(self) -> float:
        """Share of the new drive that stays free, below zero where it does not fit."""
        return 1.0 - self.used_bytes / self.new.size_bytes


def transfer_plan(
    machine: Machine, chosen: Sequence[Candidate], transfer: Transfer, used_bytes: int | None = None,
    failing: Collection[str] = (), bad_sectors: Mapping[str, int] = NONE_READ,
) -> TransferPlan | None:  # fmt: skip
    """The move that a plan asks for; None where the system stays on its drive. `used_bytes` as measured, else typed.

    `failing` are places of dying drives: what was on them comes back from the image that the plan takes first.
    """
    later = planned(machine, tuple(chosen))
    fitted = {a.place_id: a.part for c in chosen if c.group is Group.DRIVE for a in c.assignments
              if isinstance(a.part, Drive)}  # fmt: skip
    new = system_target(machine, fitted, later)
    if new is None:
        return None
    old_place, old = system_today(machine) or ("", None)
    used, assumed = _used(old, new[1], transfer, used_bytes)
    dying = old_place in failing
    way = _way(old, dying, transfer.way)
    bad = bad_sectors.get(old_place, 0)
    copy = copy_time(used, None if dying else old, new[1], transfer.bridge_mb_s, _link(machine, *new), bad)
    if way is not Way.FRESH:
        times = copy.minutes, copy.minutes - copy.bad_min, COPY_ATTENDED
    else:  # the owner's files are copied back afterwards
        times = INSTALL_MIN + UPDATES_MIN + transfer.programs_min + copy.minutes, 0.0, FRESH_ATTENDED
    return TransferPlan(
        way, old, old_place, new[1], new[0], used, assumed, copy.rate_mb_s,
        copy.limited_by, *times,
        _conditions(machine, old, new[1], used, way),
    )  # fmt: skip


def _way(old: Drive | None, dying: bool, asked: Way) -> Way:
    """How the system moves: afresh where there is no old drive, from the image where the old one is dying."""
    if old is None:
        return Way.FRESH
    return Way.IMAGE if dying and asked is Way.COPY else asked


def _link(machine: Machine, place: str, drive: Drive) -> float | None:
    """What the link of a bay carries in practice [MB/s]; None where it is not recorded."""
    bay = next((b for b in machine.bays if b.id == place), None)
    rate = link_of(bay, drive) if bay is not None else None
    return link_ceiling_mb_s(bay, rate, drive.interface) if bay is not None and rate is not None else None


def replaced_drives(machine: Machine, chosen: Sequence[Candidate]) -> tuple[tuple[str, Drive], ...]:
    """(place, drive) of every drive that a plan takes out of its place."""
    today = machine.configuration().drives()
    later = planned(machine, tuple(chosen)).drives()
    return tuple((place, drive) for place, drive in today.items() if later.get(place) is not drive)


def _used(old: Drive | None, new: Drive, transfer: Transfer, measured: int | None) -> tuple[int, bool]:
    if transfer.used_gib is not None:
        return int(transfer.used_gib * (1 << 30)), False
    if measured is not None:
        return measured, False
    return int(ASSUMED_USED * min(old.size_bytes if old is not None else new.size_bytes, new.size_bytes)), True


def _conditions(machine: Machine, old: Drive | None, new: Drive, used: int, way: Way) -> tuple[Condition, ...]:
    free = 1.0 - used / new.size_bytes
    out = [
        Condition(
            phrase(
                "{free} of the new drive stay free, {free_share} are wanted",
                free=percent(max(free, 0.0)),
                free_share=percent(FREE_SHARE),
            ),
            free >= FREE_SHARE,
            "thin the data out with the owner, or a larger drive",
        ),
        _table(machine, new, way),
        _mode(machine, way),
    ]
    if old is not None and way is not Way.FRESH and new.size_bytes < old.size_bytes:
        words = phrase(
            "the partitions fit on {size_bytes} instead of {size_bytes2}",
            size_bytes=drive_size(new.size_bytes),
            size_bytes2=drive_size(old.size_bytes),
        )
        out.append(Condition(words, None, "make the last partition smaller first, by the system's own tool"))
    if way is not Way.FRESH:
        out.append(Condition("partitions begin at whole MiB on the new drive", None, "let the copying tool align them"))
    return tuple(out)


def _table(machine: Machine, new: Drive, way: Way) -> Condition:
    mode = machine.platform.system.boot_mode
    large = new.size_bytes > MBR_LIMIT
    if not large:
        table = "GPT for UEFI, MBR or GPT for a legacy start"
        return Condition(
            phrase("partition table: {table}", table=table),
            True if way is Way.FRESH else None,
            "keep the table of the old one",
        )
    if mode is BootMode.LEGACY and BootMode.UEFI not in (machine.platform.board.boot_modes or ()):
        return Condition(
            phrase(
                "a legacy start uses only {mbr_limit} of {size_bytes}",
                mbr_limit=shown_size(MBR_LIMIT),
                size_bytes=shown_size(new.size_bytes),
            ),
            False,
            "a drive up to 2 TiB",
        )
    return Condition(
        phrase("GPT, because {size_bytes} are more than MBR addresses", size_bytes=shown_size(new.size_bytes)),
        None,
        "convert it first",
    )


def _mode(machine: Machine, way: Way) -> Condition:
    mode = machine.platform.system.boot_mode
    if way is Way.FRESH:
        modes = machine.platform.board.boot_modes
        best = "UEFI" if modes is None or BootMode.UEFI in modes else "legacy"
        return Condition(
            phrase("the stick is started in {best} mode", best=best),
            None,
            "choose the entry with that mode in the start menu",
        )
    if mode is None:
        return Condition("start mode of the old system", None, "read it in the system's information before copying")
    return Condition(
        phrase("the firmware keeps starting in {mode} mode", mode=mode),
        None,
        "the copy starts in the mode of the original only",
    )
