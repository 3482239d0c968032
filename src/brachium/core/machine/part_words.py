"""A part in a few words by its standard class, without makers."""

from __future__ import annotations

from brachium.core.base.units import drive_size, gib
from brachium.core.machine.card_parts import Card, RadioCard
from brachium.core.machine.cooling_parts import Cooler, Fan, Pad, Paste
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.parts import Drive, Part
from brachium.core.machine.power_parts import Adapter, Battery, Supply
from brachium.core.machine.processor_part import ProcessorPart


# complex: one case a kind of part
def short_words(part: Part) -> str:
    """For a place on the board: `4 GiB DDR3L-1600`, `500 GB disk`, `4 cores, 65 W`."""
    match part:
        case MemoryModule():
            low = "L" if part.generation == "DDR3" and 1.35 in part.volts else ""
            return f"{gib(part.size_bytes)} {part.generation}{low}{_rate(part)}"
        case Drive():
            return f"{drive_size(part.size_bytes)} {'disk' if part.rotational else 'SSD'}"
        case ProcessorPart():
            return _joined(f"{part.cores} cores" if part.cores else "", _watts(part.power_w)) or part.name
        case Cooler() | Supply() | Adapter():
            return _watts(part.rated_w) or part.name
        case Fan():
            return _joined(f"{part.size_mm:g} mm" if part.size_mm else "", part.plug)
        case Card():
            edge = f"gen {part.generation} x{part.lanes}" if part.generation and part.lanes else ""
            memory = gib(part.memory_bytes) if part.memory_bytes and not edge else ""
            return _joined(edge or memory, _watts(part.power_w)) or part.name
        case RadioCard():
            return f"key {part.key}"
        case Battery():
            design = f"{part.design_wh:g} Wh when new" if part.design_wh else part.name
            return f"{part.full_wh:g} Wh" if part.full_wh else design
        case Pad():
            return f"{part.thickness_mm:g} mm pad"
        case Paste():
            return part.paste
        case _:
            return f"{part.form}, {part.socket}"


def part_title(part: Part) -> str:
    """For lists: `4 GiB DDR3-1600 SO-DIMM`, `500 GB SATA disk, 2.5 in`, `Cooler, 65 W`."""
    if isinstance(part, MemoryModule):
        return f"{gib(part.size_bytes)} {part.generation}{_rate(part)} {part.form}"
    if isinstance(part, Drive):
        kind = "disk" if part.rotational else "SSD"
        return f"{drive_size(part.size_bytes)} {part.interface} {kind}, {part.form}"
    return f"{part.kind.capitalize()}, {short_words(part)}"


def _rate(part: MemoryModule) -> str:
    return f"-{part.speed_mts}" if part.speed_mts else ""


def _watts(value: float | None) -> str:
    return f"{value:g} W" if value else ""


def _joined(*words: str) -> str:
    return ", ".join(w for w in words if w)
