"""The machine that a scan describes, and a record filled with it where it holds nothing yet."""

from __future__ import annotations

import re
from dataclasses import replace

from brachium.core.base.units import drive_size, gib
from brachium.core.base.why import Origin
from brachium.core.machine.assumptions import DISK_RATES, NVME_RATES, SATA_SSD_RATES
from brachium.core.machine.links import PCIE_LANE_MB_S, SATA_MB_S
from brachium.core.machine.machine import (
    DriveBay,
    Fitted,
    Identity,
    Machine,
    MachineKind,
    MemoryPlatform,
    ModuleSlot,
    Processor,
)
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import (
    BayForm,
    Drive,
    DriveInterface,
    MemoryForm,
    MemoryGeneration,
    MemoryModule,
)
from brachium.core.machine.platform import BATTERY
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.scan import Scan, ScannedDrive, ScannedModule, ScannedPack, ScannedPlace

KINDS = {
    "laptop": MachineKind.LAPTOP,
    "notebook": MachineKind.LAPTOP,
    "sub-notebook": MachineKind.LAPTOP,
    "portable": MachineKind.LAPTOP,
    "convertible": MachineKind.LAPTOP,
    "detachable": MachineKind.LAPTOP,
    "tablet": MachineKind.LAPTOP,
    "tower": MachineKind.TOWER,
    "mini tower": MachineKind.TOWER,
    "desktop": MachineKind.SMALL_DESKTOP,
    "low-profile desktop": MachineKind.SMALL_DESKTOP,
    "flat desktop": MachineKind.SMALL_DESKTOP,
    "space-saving": MachineKind.SMALL_DESKTOP,
    "mini PC": MachineKind.SMALL_DESKTOP,
    "all-in-one": MachineKind.ALL_IN_ONE,
    "handheld": MachineKind.HANDHELD,
}
FORMS = {"DIMM": MemoryForm.DIMM, "SO-DIMM": MemoryForm.SO_DIMM, "row of chips": MemoryForm.SOLDERED}
GENERATIONS = {g.value for g in MemoryGeneration}
USUAL_VOLTS = {"DDR2": (1.8,), "DDR3": (1.5,), "DDR4": (1.2,), "DDR5": (1.1,)}


def machine_of(scan: Scan) -> Machine:
    """The machine as the scan alone describes it."""
    kind = KINDS.get(scan.text("case.kind"), MachineKind.LAPTOP if scan.batteries else MachineKind.SMALL_DESKTOP)
    threads, cores = scan.field("processor.threads"), scan.field("processor.cores")
    slots, modules = _memory(scan.places, _own_words(scan))
    bays, drives = _drives(scan.drives, kind)
    channels = len({s.channel for s in slots}) or 2
    return Machine(
        kind,
        Identity(
            scan.text("identity.maker"),
            scan.text("identity.model"),
            scan.text("identity.serial"),
            None,
            scan.text("firmware.version"),
            scan.text("system.name"),
        ),
        Processor(
            scan.text("processor.name"), int(cores.value) if cores else None, int(threads.value) if threads else None
        ),
        MemoryPlatform(channels, published_max_bytes=scan.memory_max_bytes),
        slots,
        bays,
        (*modules, *drives, *_battery(scan)),
        origins=_origins(scan),
    )


def filled_from_scan(machine: Machine, scan: Scan) -> Machine:
    """The record with everything filled in that it does not hold yet; what it holds stays."""
    seen = machine_of(scan)
    changes = {
        k: getattr(seen.identity, k)
        for k in ("maker", "model", "serial", "firmware", "system")
        if not getattr(machine.identity, k)
    }
    out = replace(machine, identity=replace(machine.identity, **changes))
    chip = machine.processor
    out = replace(
        out,
        processor=replace(
            chip,
            name=chip.name or seen.processor.name,
            cores=chip.cores or seen.processor.cores,
            threads=chip.threads or seen.processor.threads,
        ),
    )
    fresh = not machine.slots and not machine.bays
    if fresh:
        out = replace(out, kind=seen.kind)
    if not machine.slots:
        out = replace(out, slots=seen.slots, memory=seen.memory, fitted=_with(out.fitted, seen, seen.slots))
    if not machine.bays:
        out = replace(out, bays=seen.bays, fitted=_with(out.fitted, seen, seen.bays))
    if BATTERY not in out.configuration().parts:
        out = out.with_part(BATTERY, seen.configuration().parts.get(BATTERY))
    origins = {k: v for k, v in seen.origins.items() if k not in machine.origins}
    return replace(out, origins={**machine.origins, **origins})


def _own_words(scan: Scan) -> dict[int, ScannedModule]:
    """What each filled place's module says of itself, by the place's handle.

    Bus addresses rise in the order of the places (JEDEC: the socket sets the address), so modules and filled places are
    paired in order; only where every size agrees, because a module the kernel does not show would shift the rest.
    """
    filled_places = [p for p in scan.places if p.size_bytes]
    if [p.size_bytes for p in filled_places] != [m.size_bytes for m in scan.modules]:
        return {}
    return {p.handle: m for p, m in zip(filled_places, scan.modules, strict=True) if m.checksum_ok}


def _memory(
    places: tuple[ScannedPlace, ...], own_words: dict[int, ScannedModule]
) -> tuple[tuple[ModuleSlot, ...], tuple[Fitted, ...]]:
    slots, fitted = [], []
    known = next((p.type for p in places if p.type in GENERATIONS), None)
    form = next((p.form for p in places if p.form in FORMS), None)
    labels = [p.locator or "" for p in places]
    for index, (place, own_id) in enumerate(zip(places, _own_ids(places), strict=True)):
        generation = place.type if place.type in GENERATIONS else known
        shape = place.form if place.form in FORMS else form
        if generation is None or shape is None:
            continue
        unique = place.locator and labels.count(place.locator) == 1
        label = place.locator if unique else f"Memory place {index + 1}"
        slot = ModuleSlot(own_id, str(label), FORMS[shape], MemoryGeneration(generation), _channel(place))
        slots.append(slot)
        if place.size_bytes:
            fitted.append(Fitted(slot.id, _module(place, slot, own_words.get(place.handle))))
    return tuple(slots), tuple(fitted)


def place_id(place: ScannedPlace) -> str:
    return f"memory-{place.handle:04x}"


def _own_ids(places: tuple[ScannedPlace, ...]) -> list[str]:
    """Ids of places; of those that carry the same handle the later ones are numbered."""
    names = [place_id(p) for p in places]
    return [n if names.index(n) == k else f"{n}-{names[: k + 1].count(n)}" for k, n in enumerate(names)]


def _channel(place: ScannedPlace) -> int | None:
    """From the firmware's own words where they name a channel; the order of the places tells nothing."""
    match = re.search(r"ch(?:annel|an)?[-_ ]?([A-H]|\d)", f"{place.locator or ''} {place.bank or ''}", re.IGNORECASE)
    if match is None:
        return None
    letter = match.group(1).upper()
    return int(letter) if letter.isdigit() else ord(letter) - ord("A")


def _module(place: ScannedPlace, slot: ModuleSlot, own: ScannedModule | None) -> MemoryModule:
    """The module's own data count where they are sound: the firmware names only the voltage and speed it runs at."""
    if own is None or own.generation != slot.generation.value:
        own = ScannedModule("", slot.generation.value)
    speed = own.speed_mts or place.speed_mts or place.configured_mts
    buffering = own.buffering or place.buffering
    size, part = place.size_bytes or 0, place.part or own.part
    name = f"{gib(size)} {slot.generation}{f'-{speed}' if speed else ''}" + (f", {part}" if part else "")
    return MemoryModule(
        name, slot.form, slot.generation, size, speed, own.volts or _firmware_volts(place, slot),
        Buffering(buffering) if buffering else None,
        own.ecc if own.ecc is not None else place.ecc, own.ranks or place.ranks, chip_width=own.width, cas=own.cas,
    )  # fmt: skip


def _firmware_volts(place: ScannedPlace, slot: ModuleSlot) -> tuple[float, ...]:
    """Voltage that the firmware names [V]; else the only one of the kind; DDR3 has two, so that it stays unknown."""
    if place.configured_mv:
        return (place.configured_mv / 1000.0,)
    return USUAL_VOLTS.get(slot.generation.value, ()) if slot.generation is not MemoryGeneration.DDR3 else ()


def _drives(drives: tuple[ScannedDrive, ...], kind: MachineKind) -> tuple[tuple[DriveBay, ...], tuple[Fitted, ...]]:
    bays, fitted = [], []
    for drive in drives:
        if drive.kind not in ("SATA", "NVMe") or not drive.size_bytes:
            continue
        turning = bool(drive.rotational)
        form = (
            BayForm.M2
            if drive.kind == "NVMe"
            else BayForm.IN_3_5
            if turning and kind is MachineKind.TOWER
            else BayForm.IN_2_5
        )
        interface = DriveInterface.NVME if drive.kind == "NVMe" else DriveInterface.SATA
        bay = DriveBay(f"drive-{drive.name}", f"Drive {drive.name}", interface, form, None, link_mb_s(drive))
        bays.append(bay)
        rates = DISK_RATES if turning else NVME_RATES if drive.kind == "NVMe" else SATA_SSD_RATES
        name = drive.model or f"{drive_size(drive.size_bytes)} {'disk' if turning else 'SSD'}"
        fitted.append(Fitted(bay.id, Drive(name, interface, form, None, drive.size_bytes, turning, *rates)))
    return tuple(bays), tuple(fitted)


def link_mb_s(drive: ScannedDrive) -> float | None:
    """Payload of a drive's link [MB/s]; an idle NVMe link may have clocked down, so its maximum counts."""
    if drive.kind == "SATA":
        return SATA_MB_S.get(drive.link or "")
    match = re.match(r"gen (\d) x(\d+)$", drive.link_max or drive.link or "")
    return PCIE_LANE_MB_S.get(int(match.group(1)), 0.0) * int(match.group(2)) or None if match else None


def _battery(scan: Scan) -> tuple[Fitted, ...]:
    """The battery that the machine reads [Wh]; told in charge without a voltage it stays unknown."""
    read = next((b for b in scan.batteries if b.present), None)
    if read is None:
        return ()
    pack = next((p for p in scan.packs if p.name or p.design_mwh), ScannedPack())
    design, full = (read.design, read.full) if read.unit == "Wh" else (read.design_wh, None)
    if design is None and pack.design_mwh:
        design = pack.design_mwh / 1000.0
    if full is None and design is not None and read.health is not None:
        full = design * read.health
    return (Fitted(BATTERY, Battery(pack.name or "Battery", full, design)),)


def _with(
    fitted: tuple[Fitted, ...], seen: Machine, places: tuple[ModuleSlot, ...] | tuple[DriveBay, ...]
) -> tuple[Fitted, ...]:
    ids = {p.id for p in places}
    return (*(f for f in fitted if f.place_id not in ids), *(f for f in seen.fitted if f.place_id in ids))


def _origins(scan: Scan) -> dict[str, Origin]:
    names = {
        "identity.maker": "identity.maker",
        "identity.model": "identity.model",
        "identity.serial": "identity.serial",
        "firmware.version": "identity.firmware",
        "system.name": "identity.system",
        "processor.name": "processor",
    }
    out = {there: Origin.SCANNED for key, there in names.items() if scan.field(key) is not None}
    if scan.places:
        out |= {"slots": Origin.SCANNED, "memory.published_max_bytes": Origin.SCANNED}
    if scan.drives:
        out["bays"] = Origin.SCANNED
    return out
