"""What nobody has said yet of a machine, of what rules usually ask."""

from __future__ import annotations

from collections.abc import Iterator

from brachium.core.base.text import phrase
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import BayForm, Drive, MemoryModule, Part

OF_MODULES = ("speed_mts", "volts", "buffering", "ecc", "ranks", "chip_width")
UNSAID = (None, "", ())


def open_facts(machine: Machine) -> tuple[str, ...]:
    """Their keys, the kind first."""
    return (*_of_the_whole(machine), *_of_places(machine), *_of_parts(machine))


def _of_the_whole(machine: Machine) -> Iterator[str]:
    if machine.kind is MachineKind.NOT_KNOWN:
        yield "kind"
    yield from _unsaid("identity", machine.identity, ("model", "firmware"))
    yield from _unsaid("processor", machine.processor, ("name", "cores", "base_mhz", "design_power_w", "limit_c"))
    yield from _unsaid("memory", machine.memory, ("published_max_bytes",))


def _of_places(machine: Machine) -> Iterator[str]:
    if not machine.slots:
        yield "slots"
    if not machine.bays:
        yield "bays"
    for slot in machine.slots:
        yield from _unsaid(f"slots.{slot.id}", slot, ("channel", "max_bytes"))
    for bay in machine.bays:
        asked = ("link_mb_s", "max_height_mm") if bay.form is BayForm.IN_2_5 else ("link_mb_s",)
        yield from _unsaid(f"bays.{bay.id}", bay, asked)


def _of_parts(machine: Machine) -> Iterator[str]:
    for place, part in machine.configuration().parts.items():
        yield from _unsaid(f"parts.{place}", part, _asked_of(part))


def _asked_of(part: Part) -> tuple[str, ...]:
    if isinstance(part, MemoryModule):
        return OF_MODULES
    return ("height_mm",) if isinstance(part, Drive) and part.form is BayForm.IN_2_5 else ()


def _unsaid(stem: str, record: object, names: tuple[str, ...]) -> Iterator[str]:
    return (phrase("{stem}.{name}", stem=stem, name=name) for name in names if getattr(record, name) in UNSAID)
