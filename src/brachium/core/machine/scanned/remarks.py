"""What stands out in a scan and is worth a look before anything is bought: slow links, worn battery, idle speed."""

from __future__ import annotations

import re
from dataclasses import dataclass

from brachium.core.base.text import phrase
from brachium.core.base.units import gib, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.machine.assumptions import MISSING_MEMORY, WORN
from brachium.core.machine.kinds import PORTABLE
from brachium.core.machine.machine import Machine
from brachium.core.machine.scanned.scan import Scan, ScannedDrive, ScannedPlace


@dataclass(frozen=True)
class Remark:
    """One sentence with its reason."""

    text: str
    because: Because


def remarks(machine: Machine, scan: Scan) -> tuple[Remark, ...]:
    """Everything that stands out, the cheapest to check first."""
    found = [
        *(_drive_link(d) for d in scan.drives), *(_memory_speed(scan, p) for p in scan.places),
        _battery(machine, scan), _memory_seen(scan),
    ]  # fmt: skip
    return tuple(r for r in found if r is not None)


def _drive_link(drive: ScannedDrive) -> Remark | None:
    """SATA speeds and NVMe links as the kernel words them; an idle NVMe link may have clocked its generation down, so
    only missing lanes count there (PCI Express base specification: speed changes with power state, width does not)."""
    if not drive.link or not drive.link_max or drive.link == drive.link_max:
        return None
    if drive.kind == "NVMe" and _lanes(drive.link) >= _lanes(drive.link_max):
        return None
    text = phrase(
        "Drive {drive} runs at {link}, it could at {link_max}",
        drive=drive.name,
        link=drive.link,
        link_max=drive.link_max,
    )
    why = (
        "A link that came up slower than both ends can is often a bad cable or contact, or a slow port. "
        "Interface-error counters that rise under load say which; they never go back by themselves."
        if drive.kind == "SATA" else "The slot gives the drive fewer lanes than it has."
    )  # fmt: skip
    facts = (Fact("link now", drive.link, Origin.SCANNED), Fact("the drive's own", drive.link_max, Origin.SCANNED))
    return Remark(text, Because(text, "STO-LINK", why, facts, "", "Another cable, then another port."))


def _lanes(link: str) -> int:
    match = re.search(r"x(\d+)", link)
    return int(match.group(1)) if match else 0


def _memory_speed(scan: Scan, place: ScannedPlace) -> Remark | None:
    rated, runs = place.speed_mts, place.configured_mts
    if not rated or not runs or runs >= rated:
        return None
    text = phrase(
        "{locator} runs at {runs} MT/s, its module is rated {rated}",
        locator=place.locator or "A memory slot",
        runs=runs,
        rated=rated,
    )
    why = "The slowest of modules, board and processor sets the speed of all; a memory profile may be off."
    facts = (
        Fact("runs at", phrase("{runs} MT/s", runs=runs), Origin.SCANNED),
        Fact("rated", phrase("{rated} MT/s", rated=rated), Origin.SCANNED),
    )
    return Remark(text, Because(text, "MEM-SPEED", why, facts, "", "A faster limit, or the profile switched on."))


def _battery(machine: Machine, scan: Scan) -> Remark | None:
    if machine.kind not in PORTABLE:
        return None
    present = [b for b in scan.batteries if b.present]
    if not present:
        text = "No battery is seen"
        why = "A laptop without a working battery may hold itself to a share of its speed, however cool it is."
        none = (Fact("batteries", "none", Origin.SCANNED),)
        return Remark(text, Because(text, "BAT-STATE", why, none, "", "A working battery, before any measurement."))
    worn = next((b for b in present if b.health is not None and b.health < WORN), None)
    if worn is None or worn.health is None:
        return None
    text = phrase("The battery holds {health} of what it was built for", health=percent(worn.health))
    facts = (
        Fact("full now", phrase("{full:.1f} {worn}", full=worn.full, worn=worn.unit), Origin.SCANNED),
        Fact("design", phrase("{design:.1f} {worn}", design=worn.design, worn=worn.unit), Origin.SCANNED),
        Fact("cycles", str(worn.cycles or "not counted"), Origin.SCANNED),
    )
    why = "Below 60 % a new one is advised; a cell that swells stops the job."
    return Remark(text, Because(text, "BAT-STATE", why, facts))


def _memory_seen(scan: Scan) -> Remark | None:
    """The system sees less than is fitted: graphics and firmware keep some; more than that has another reason."""
    usable = scan.field("memory.usable_bytes")
    fitted = sum(p.size_bytes or 0 for p in scan.places)
    if usable is None or not fitted or int(usable.value) >= (1.0 - MISSING_MEMORY) * fitted:
        return None
    text = phrase("The system uses {int} of {fitted} fitted", int=gib(int(usable.value)), fitted=gib(fitted))
    why = (
        "Graphics and firmware keep a little. More is missing with a 32-bit system, a limit, or half a module unusable."
    )
    facts = (Fact("usable", gib(int(usable.value)), Origin.SCANNED), Fact("fitted", gib(fitted), Origin.SCANNED))
    return Remark(text, Because(text, "MEM-TOTAL", why, facts))
