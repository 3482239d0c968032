"""A part in a few words by its standard class, without makers."""

from __future__ import annotations

from brachium.core.base.text import joined, phrase
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
            return phrase(
                "{size_bytes} {generation}{low}{rate}",
                size_bytes=gib(part.size_bytes),
                generation=part.generation,
                low=low,
                rate=_rate(part),
            )
        case Drive():
            return phrase(
                "{size_bytes} {which}",
                size_bytes=drive_size(part.size_bytes),
                which="disk" if part.rotational else "SSD",
            )
        case ProcessorPart():
            return (
                _joined(phrase("{cores} cores", cores=part.cores) if part.cores else "", _watts(part.power_w))
                or part.name
            )
        case Cooler() | Supply() | Adapter():
            return _watts(part.rated_w) or part.name
        case Fan():
            return _joined(phrase("{size_mm:g} mm", size_mm=part.size_mm) if part.size_mm else "", part.plug)
        case Card():
            edge = (
                phrase("gen {generation} x{lanes}", generation=part.generation, lanes=part.lanes)
                if part.generation and part.lanes
                else ""
            )
            memory = gib(part.memory_bytes) if part.memory_bytes and not edge else ""
            return _joined(edge or memory, _watts(part.power_w)) or part.name
        case RadioCard():
            return phrase("key {key}", key=part.key)
        case Battery():
            design = phrase("{design_wh:g} Wh when new", design_wh=part.design_wh) if part.design_wh else part.name
            return phrase("{full_wh:g} Wh", full_wh=part.full_wh) if part.full_wh else design
        case Pad():
            return phrase("{thickness_mm:g} mm pad", thickness_mm=part.thickness_mm)
        case Paste():
            return part.paste
        case _:
            return phrase("{form}, {socket}", form=part.form, socket=part.socket)


def part_title(part: Part) -> str:
    """For lists: `4 GiB DDR3-1600 SO-DIMM`, `500 GB SATA disk, 2.5 in`, `Cooler, 65 W`."""
    if isinstance(part, MemoryModule):
        return phrase(
            "{size_bytes} {generation}{rate} {form}",
            size_bytes=gib(part.size_bytes),
            generation=part.generation,
            rate=_rate(part),
            form=part.form,
        )
    if isinstance(part, Drive):
        kind = "disk" if part.rotational else "SSD"
        return phrase(
            "{size_bytes} {interface} {kind}, {form}",
            size_bytes=drive_size(part.size_bytes),
            interface=part.interface,
            kind=kind,
            form=part.form,
        )
    return phrase("{kind}, {short_words}", kind=part.kind.capitalize(), short_words=short_words(part))


def _rate(part: MemoryModule) -> str:
    return phrase("-{speed_mts}", speed_mts=part.speed_mts) if part.speed_mts else ""


def _watts(value: float | None) -> str:
    return phrase("{value:g} W", value=value) if value else ""


def _joined(*words: str) -> str:
    return joined(", ", (w for w in words if w))
