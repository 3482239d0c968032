"""Parts as their labels describe them; what a label leaves open stays not known."""

from __future__ import annotations

from typing import Any

from brachium.core.base.units import MIB, drive_size, gib
from brachium.core.label.drive_label import DriveLabel
from brachium.core.label.graphics_label import GraphicsLabel
from brachium.core.label.module_label import ModuleLabel
from brachium.core.label.power_label import AdapterLabel, BatteryLabel, SupplyLabel
from brachium.core.label.processor_label import ProcessorLabel
from brachium.core.machine.assumptions import DISK_RATES, NVME_RATES, SATA_SSD_RATES
from brachium.core.machine.card_parts import Card
from brachium.core.machine.drive_part import Drive, DriveInterface
from brachium.core.machine.memory_part import MemoryGeneration, MemoryModule
from brachium.core.machine.power_parts import Adapter, Battery, Supply
from brachium.core.machine.processor_part import ProcessorPart

LOW_DDR3 = (1.5, 1.35)  # a module for the low voltage runs at both (JESD79-3-1A)


def module_of(label: ModuleLabel) -> MemoryModule:
    """One module of a label. Raises ValueError where form, generation or size is open."""
    if label.form is None or label.generation is None or label.size_mib is None:
        raise ValueError("form, generation and size of a module must be said")
    volts: tuple[float, ...] = () if label.volts is None else (label.volts,)
    if label.generation is MemoryGeneration.DDR3 and label.volts is not None and label.volts < LOW_DDR3[0]:
        volts = tuple(dict.fromkeys((*LOW_DDR3, label.volts)))
    size = label.size_mib * MIB
    rate = ("L" if LOW_DDR3[1] in volts else "") + (f"-{label.speed_mts}" if label.speed_mts else "")
    return MemoryModule(
        f"{gib(size)} {label.generation}{rate} {label.form}", label.form, label.generation, size, label.speed_mts,
        volts, label.buffering, label.ecc, label.ranks, label.chip_width, label.cas,
        access_ns=label.access_ns,
    )  # fmt: skip


def drive_of(label: DriveLabel) -> Drive:
    """The drive of a label, with the rates of its class. Raises ValueError where size, kind, form or link is open."""
    if label.size_bytes is None or label.rotational is None or label.form is None or label.interface is None:
        raise ValueError("size, interface, form and whether it is a disk must be said")
    rates = DISK_RATES if label.rotational else NVME_RATES if label.interface is DriveInterface.NVME else SATA_SSD_RATES
    name = f"{drive_size(label.size_bytes)} {label.interface} {'disk' if label.rotational else 'SSD'}"
    return Drive(
        name, label.interface, label.form, label.height_mm, label.size_bytes, label.rotational, *rates, label.key,
        label.length_mm, sector_bytes=label.sector_bytes,
    )  # fmt: skip


def processor_of(label: ProcessorLabel) -> dict[str, Any]:
    """Fields of the fitted processor that a line says."""
    names = {"name": label.name, "cores": label.cores, "threads": label.threads, "base_mhz": label.base_mhz,
             "boost_mhz": label.boost_mhz, "design_power_w": label.power_w, "boost_power_w": label.boost_power_w,
             "limit_c": label.limit_c, "graphics": label.graphics,
             "count": label.count if label.count > 1 else None}  # fmt: skip
    return {k: v for k, v in names.items() if v is not None}


def processor_part_of(label: ProcessorLabel) -> ProcessorPart:
    """A processor that is to go in. Raises ValueError where its socket is open."""
    if label.socket is None:
        raise ValueError("its socket must be said")
    name = label.name or f"Processor, socket {label.socket}"
    return ProcessorPart(
        name, label.socket, label.power_w, label.cores, label.threads, graphics=label.graphics, limit_c=label.limit_c,
        base_mhz=label.base_mhz, boost_mhz=label.boost_mhz, boost_power_w=label.boost_power_w,
    )  # fmt: skip


def card_of(label: GraphicsLabel) -> Card:
    """The graphics card of a line."""
    memory = label.memory_mib * MIB if label.memory_mib else None
    name = label.name or f"Graphics{f', {gib(memory)}' if memory else ''}"
    return Card(
        name, label.lanes, label.generation, label.power_w, label.plugs, label.length_mm, label.thickness,
        label.low_profile, memory_bytes=memory,
    )  # fmt: skip


def battery_of(label: BatteryLabel) -> Battery:
    """The battery of a label."""
    words = f"{label.design_wh:g} Wh" if label.design_wh else f"{label.volts:g} V" if label.volts else ""
    name = f"Battery, {words}" if words else "Battery"
    return Battery(name, label.full_wh, label.design_wh, label.volts, inside=label.inside)


def adapter_of(label: AdapterLabel) -> Adapter:
    """The adapter of a label; its profiles as `20x3.25`."""
    profiles = tuple(f"{v:g}x{a:g}" for v, a in label.profiles or ())
    usb = (label.volts, label.amps) if label.usb_c else (None, None)
    return Adapter(
        f"Adapter, {label.rated_w:g} W" if label.rated_w else "Adapter", label.rated_w, None, *usb, None, label.volts,
        label.amps, label.plug or "", label.polarity or "", profiles,
    )  # fmt: skip


def supply_of(label: SupplyLabel) -> Supply:
    """The power supply of a label; connectors one entry each."""
    plugs = tuple(kind for kind, count in label.connectors or () for _ in range(count))
    form = label.form or "not recorded"
    return Supply(
        f"Supply, {label.rated_w:g} W" if label.rated_w else "Supply", form, label.rated_w, label.rated_12v_w,
        connectors=plugs or None,
    )  # fmt: skip
