"""A machine that comes back: what changed since it was handed over, and whether the shop's warranty still runs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from itertools import zip_longest

from brachium.core.base.text import phrase
from brachium.core.machine.machine import Machine
from brachium.core.machine.part_words import short_words
from brachium.core.machine.parts import Drive
from brachium.core.machine.scanned.from_scan import machine_of
from brachium.core.machine.scanned.scan import Scan
from brachium.core.machine.scanned.scan_differences import ScanDifference, scan_differences
from brachium.core.record.job import Job


@dataclass(frozen=True)
class Comeback:
    """Differences between the hand-over record and a fresh scan; what was touched then; the warranty in words."""

    changed: tuple[ScanDifference, ...]
    touched: tuple[str, ...]
    warranty: str


def comeback_of(job: Job, scan: Scan, titles: tuple[str, ...], today: str) -> Comeback | None:
    """None where the machine was never handed over. `titles` are the parts and services of the work done then."""
    if job.handed_machine is None:
        return None
    bays = {f"place:{b.id}" for b in job.handed_machine.bays}
    found = tuple(d for d in scan_differences(job.handed_machine, scan) if d.key not in bays)
    changed = (*found, *drives_changed(job.handed_machine, scan))
    return Comeback(changed, titles, warranty_words(job.warranty_until, today))


def drives_changed(machine: Machine, scan: Scan) -> tuple[ScanDifference, ...]:
    """Drives that are gone and drives that came, by size and kind: a scan names places otherwise than a person."""
    if not scan.drives:
        return ()
    gone = list(machine.configuration().drives().values())
    come = []
    for drive in machine_of(scan).configuration().drives().values():
        twin = next((g for g in gone if _alike(g, drive)), None)
        if twin is not None:
            gone.remove(twin)
        else:
            come.append(drive)
    pairs = zip_longest(gone, come)
    return tuple(
        ScanDifference("drives", "Drive", short_words(a) if a else "none", short_words(b) if b else "none")
        for a, b in pairs
    )


def _alike(a: Drive, b: Drive) -> bool:
    return abs(a.size_bytes - b.size_bytes) < 0.03 * a.size_bytes and a.rotational == b.rotational


def warranty_words(until: str, today: str) -> str:
    """Whether the shop's warranty still runs; empty where no date was promised."""
    if not until:
        return ""
    try:
        left = (date.fromisoformat(until[:10]) - date.fromisoformat(today[:10])).days
    except ValueError:
        return ""
    if left < 0:
        return phrase("warranty ended {left} days ago, on {until}", left=-left, until=until[:10])
    return phrase("under warranty until {until}, {left} days more", until=until[:10], left=left)
