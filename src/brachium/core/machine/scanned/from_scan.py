"""The machine that a scan describes, and a record filled with it where it holds nothing yet."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any, TypeVar

from brachium.core.base.text import phrase
from brachium.core.base.units import gib
from brachium.core.base.why import Origin
from brachium.core.machine.channels import channels_of
from brachium.core.machine.facts.open_facts import UNSAID
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import (
    DriveBay,
    Fitted,
    Identity,
    Machine,
    MemoryPlatform,
    ModuleSlot,
    Processor,
)
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.origins import is_said
from brachium.core.machine.parts import Drive, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.platform import (
    BATTERY,
    RADIO,
    SECOND_BATTERY,
    Board,
    BootMode,
    CardSlot,
    FirmwareSettings,
    InstalledSystem,
    Platform,
)
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.scanned.places_on_links import card_places, drive_places, graphics_chip, radio_card
from brachium.core.machine.scanned.scan import Scan, ScannedBattery, ScannedModule, ScannedPack, ScannedPlace

R = TypeVar("R", Identity, Processor, MemoryPlatform, Board, InstalledSystem, FirmwareSettings)
KINDS = {
    "laptop": MachineKind.LAPTOP, "notebook": MachineKind.LAPTOP, "sub-notebook": MachineKind.LAPTOP,
    "portable": MachineKind.LAPTOP, "convertible": MachineKind.TABLET, "detachable": MachineKind.TABLET,
    "tablet": MachineKind.TABLET, "tower": MachineKind.TOWER, "mini tower": MachineKind.TOWER,
    "desktop": MachineKind.SMALL_DESKTOP, "low-profile desktop": MachineKind.SMALL_DESKTOP,
    "flat desktop": MachineKind.SMALL_DESKTOP, "space-saving": MachineKind.SMALL_DESKTOP,
    "mini PC": MachineKind.MINI_PC, "stick PC": MachineKind.MINI_PC, "all-in-one": MachineKind.ALL_IN_ONE,
    "handheld": MachineKind.HANDHELD, "main server": MachineKind.STORAGE_BOX, "rack mount": MachineKind.STORAGE_BOX,
    "storage chassis": MachineKind.STORAGE_BOX, "blade": MachineKind.STORAGE_BOX,
}  # fmt: skip
FORMS = {"DIMM": MemoryForm.DIMM, "SO-DIMM": MemoryForm.SO_DIMM, "row of chips": MemoryForm.SOLDERED,
         "die": MemoryForm.SOLDERED, "RIMM": MemoryForm.RIMM, "FB-DIMM": MemoryForm.DIMM}  # fmt: skip
GENERATIONS = {g.value for g in MemoryGeneration}
USUAL_VOLTS = {"DDR2": (1.8,), "DDR3": (1.5,), "DDR4": (1.2,), "DDR5": (1.1,)}
TEXTS = {"maker": "identity.maker", "model": "identity.model", "serial": "identity.serial",
         "firmware": "firmware.version", "system": "system.name"}  # fmt: skip
MODES = {"UEFI": BootMode.UEFI, "legacy": BootMode.LEGACY}


def machine_of(scan: Scan) -> Machine:
    """The machine as the scan alone describes it; what it does not say stays not known."""
    kind = KINDS.get(scan.text("case.kind"), MachineKind.NOT_KNOWN)
    slots, modules = _memory(scan.places, _own_words(scan))
    bays, drives = drive_places(scan, kind)
    cards, card_parts = card_places(scan)
    channels = {s.channel for s in slots}
    machine = Machine(
        kind, _identity(scan), _processor(scan),
        MemoryPlatform(None if None in channels else len(channels) or None, published_max_bytes=scan.memory_max_bytes),
        slots, bays,
        (*modules, *drives, *card_parts, *graphics_chip(scan, kind), *_batteries(scan), *radio_card(scan)),
        platform=_platform(scan, cards),
    )  # fmt: skip
    return replace(machine, origins=_origins(scan, machine))


def _identity(scan: Scan) -> Identity:
    told: dict[str, Any] = {name: scan.text(key) for name, key in TEXTS.items()}
    return Identity(**told)


def _processor(scan: Scan) -> Processor:
    return Processor(
        scan.text("processor.name"), _whole(scan, "processor.cores"), _whole(scan, "processor.threads"),
        base_mhz=_whole(scan, "processor.base_mhz"), boost_mhz=_whole(scan, "processor.max_mhz"),
        count=_whole(scan, "processor.count"),
    )  # fmt: skip


def _whole(scan: Scan, key: str) -> int | None:
    found = scan.field(key)
    return int(found.value) if found is not None and isinstance(found.value, int | float) else None


def _platform(scan: Scan, cards: tuple[CardSlot, ...]) -> Platform:
    """Socket, start modes and card slots, as far as they are told."""
    socket = scan.text("processor.socket")
    soldered = socket == "soldered" or socket.startswith("BGA")
    board = Board(
        soldered=soldered if socket else None, socket=socket if socket and not soldered else None,
        boot_modes=(BootMode.LEGACY,) if scan.text("firmware.uefi_capable") == "no" else None,
    )  # fmt: skip
    secure = scan.text("firmware.secure_start")
    return Platform(
        board, cards=cards, system=InstalledSystem(boot_mode=MODES.get(scan.text("firmware.mode"))),
        settings=FirmwareSettings(secure_start=secure == "on" if secure else None),
    )  # fmt: skip


def filled_from_scan(machine: Machine, scan: Scan) -> Machine:
    """The record with everything filled in that it does not hold yet; what it holds stays."""
    seen = machine_of(scan)
    out = replace(
        machine, identity=filled(machine.identity, seen.identity), processor=filled(machine.processor, seen.processor),
        memory=filled(machine.memory, seen.memory),
        platform=replace(
            machine.platform, board=filled(machine.platform.board, seen.platform.board),
            system=filled(machine.platform.system, seen.platform.system),
            settings=filled(machine.platform.settings, seen.platform.settings),
        ),
    )  # fmt: skip
    fresh = not machine.slots and not machine.bays
    if seen.kind is not MachineKind.NOT_KNOWN and (fresh or machine.kind is MachineKind.NOT_KNOWN):
        out = replace(out, kind=seen.kind)
    if not machine.slots:
        out = replace(out, slots=seen.slots, fitted=_with(out.fitted, seen, seen.slots))
    if not machine.bays:
        out = replace(out, bays=seen.bays, fitted=_with(out.fitted, seen, seen.bays))
    if not machine.platform.cards:
        out = replace(out, platform=replace(out.platform, cards=seen.platform.cards),
                      fitted=_with(out.fitted, seen, seen.platform.cards))  # fmt: skip
    for place in (BATTERY, SECOND_BATTERY, RADIO):
        if place not in out.configuration().parts:
            out = out.with_part(place, seen.configuration().parts.get(place))
    return replace(out, origins={**_new_origins(machine, out, seen), **machine.origins})


def filled(record: R, seen: R) -> R:
    """A record with those fields taken from another that it does not say itself."""
    told = {f.name: getattr(seen, f.name) for f in fields(record) if getattr(seen, f.name) not in UNSAID}
    return replace(record, **{k: v for k, v in told.items() if getattr(record, k) in UNSAID})


def _new_origins(before: Machine, after: Machine, seen: Machine) -> dict[str, Origin]:
    """Origins of the scan for what the scan filled in; what the record said itself keeps its own."""
    changed = {k for k in seen.origins if not is_said(before, before.configuration().parts, k)}
    return {k: seen.origins[k] for k in changed if is_said(after, after.configuration().parts, k)}


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
    labels = [p.locator or "" for p in places]
    channels = channels_of([phrase("{bank} {locator}", bank=p.bank or "", locator=p.locator or "") for p in places])
    for index, (place, own_id) in enumerate(zip(places, _own_ids(places), strict=True)):
        unique = place.locator and labels.count(place.locator) == 1
        slot = _slot(
            place, own_id, str(place.locator if unique else phrase("Memory slot {index}", index=index + 1)), places
        )
        if slot is None:
            continue
        slot = replace(slot, channel=channels[index])
        slots.append(slot)
        if place.size_bytes:
            fitted.append(Fitted(slot.id, _module(place, slot, own_words.get(place.handle))))
    return tuple(slots), tuple(fitted)


def _slot(place: ScannedPlace, own_id: str, label: str, places: tuple[ScannedPlace, ...]) -> ModuleSlot | None:
    """A place; kind and form of an empty one are those of the others; None where nothing tells them."""
    types = (place.type, *(p.type for p in places))
    generation = next((t for t in types if t in GENERATIONS), None)
    low_power = str(place.type or "").startswith("LPDDR")
    own = "row of chips" if low_power and place.form not in FORMS else place.form
    shape = next((f for f in (own, *(p.form for p in places)) if f in FORMS), None)
    if generation is None or shape is None:
        return None
    soldered = None if place.perhaps_soldered else FORMS[shape] is MemoryForm.SOLDERED
    return ModuleSlot(own_id, label, FORMS[shape], MemoryGeneration(generation), soldered=soldered)


def place_id(place: ScannedPlace) -> str:
    return f"memory-{place.handle:04x}"


def _own_ids(places: tuple[ScannedPlace, ...]) -> list[str]:
    """Ids of places; of those that carry the same handle the later ones are numbered."""
    names = [place_id(p) for p in places]
    return [n if names.index(n) == k else f"{n}-{names[: k + 1].count(n)}" for k, n in enumerate(names)]


def _module(place: ScannedPlace, slot: ModuleSlot, own: ScannedModule | None) -> MemoryModule:
    """The module's own data count where they are sound: the firmware names only the voltage and speed it runs at."""
    if own is None or own.generation != slot.generation.value:
        own = ScannedModule("", slot.generation.value)
    speed = own.speed_mts or place.speed_mts or place.configured_mts
    buffering = own.buffering or place.buffering
    size, part = place.size_bytes or 0, place.part or own.part
    name = phrase(
        "{size} {generation}{more}",
        size=gib(size),
        generation=slot.generation,
        more=phrase("-{speed}", speed=speed) if speed else "",
    ) + (phrase(", {part}", part=part) if part else "")
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


def _batteries(scan: Scan) -> tuple[Fitted, ...]:
    """The batteries that the machine reads [Wh]; told in charge without a voltage they stay unknown."""
    present = [b for b in scan.batteries if b.present][:2]
    packs = [p for p in scan.packs if p.name or p.design_mwh]
    places = (BATTERY, SECOND_BATTERY)
    return tuple(
        Fitted(place, _battery(read, packs[k] if k < len(packs) else ScannedPack()))
        for k, (place, read) in enumerate(zip(places, present, strict=False))
    )


def _battery(read: ScannedBattery, pack: ScannedPack) -> Battery:
    design = read.design if read.unit == "Wh" else read.design_wh
    full = read.full if read.unit == "Wh" else read.full_wh
    if design is None and pack.design_mwh:
        design = pack.design_mwh / 1000.0
    if full is None and design is not None and read.health is not None:
        full = design * read.health
    return Battery(pack.name or read.name or "Battery", full, design, read.volts)


def _with(
    fitted: tuple[Fitted, ...],
    seen: Machine,
    places: tuple[ModuleSlot, ...] | tuple[DriveBay, ...] | tuple[CardSlot, ...],
) -> tuple[Fitted, ...]:
    ids = {p.id for p in places}
    return (*(f for f in fitted if f.place_id not in ids), *(f for f in seen.fitted if f.place_id in ids))


def _origins(scan: Scan, machine: Machine) -> dict[str, Origin]:
    """Scanned for what the scan says; rates of a drive's class, and voltages of a kind, are assumed."""
    said = {"kind": machine.kind is not MachineKind.NOT_KNOWN}
    board, system, settings = machine.platform.board, machine.platform.system, machine.platform.settings
    stems = {"identity": machine.identity, "processor": machine.processor, "memory": machine.memory,
             "platform.board": board, "platform.system": system, "platform.settings": settings}  # fmt: skip
    for stem, record in stems.items():
        said |= {phrase("{stem}.{name}", stem=stem, name=f.name): is_said(record, {}, f.name) for f in fields(record)}  # type: ignore[arg-type]
    out = {key: Origin.SCANNED for key, yes in said.items() if yes}
    out |= {f"slots.{s.id}": Origin.SCANNED for s in machine.slots}
    out |= {f"bays.{b.id}": Origin.SCANNED for b in machine.bays}
    out |= {f"platform.cards.{c.id}": Origin.SCANNED for c in machine.platform.cards}
    out |= {f"parts.{f.place_id}": Origin.SCANNED for f in machine.fitted}
    return out | {key: Origin.ASSUMED for f in machine.fitted for key in _assumed(scan, f)}


def _assumed(scan: Scan, fitted: Fitted) -> tuple[str, ...]:
    """Keys of a fitted part that no scan tells."""
    stem = f"parts.{fitted.place_id}"
    if isinstance(fitted.part, Drive):
        return tuple(phrase("{stem}.{k}", stem=stem, k=k) for k in ("outer_mb_s", "inner_mb_s", "read_latency_ms"))
    if not isinstance(fitted.part, MemoryModule):
        return ()
    own = _own_words(scan)
    place = next((p for p in scan.places if place_id(p) == fitted.place_id), None)
    told = place is None or place.configured_mv or (place.handle in own and own[place.handle].volts)
    return () if told else (f"{stem}.volts",)
