"""A quick line put into the record of a machine: its places, what sits in them, what is said of the whole.

What the line says has origin typed, or label where a module's printed grade says it; what comes with the kind of
machine is typical; the rest stays not known and is listed as open.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from brachium.core.base.units import MIB
from brachium.core.base.why import Origin
from brachium.core.label.drive_label import DriveLabel
from brachium.core.label.graphics_label import GraphicsLabel
from brachium.core.label.machine_words import MachineWords
from brachium.core.label.module_label import ModuleLabel
from brachium.core.label.parts_of_labels import (
    adapter_of,
    battery_of,
    card_of,
    drive_of,
    module_of,
    processor_of,
    supply_of,
)
from brachium.core.label.power_label import AdapterLabel, BatteryLabel, SupplyLabel
from brachium.core.label.processor_label import ProcessorLabel
from brachium.core.label.quick_line import QuickLine, QuickPiece
from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.machine.leads import leads_of
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import (
    BayForm,
    Drive,
    DriveInterface,
    MemoryForm,
    MemoryGeneration,
    Part,
)
from brachium.core.machine.places import PLACE_KINDS
from brachium.core.machine.platform import ADAPTER, BATTERY, GRAPHICS, SUPPLY
from brachium.core.machine.typical_places import (
    BEFORE_SATA,
    USUAL,
    WITH_M2,
    with_bay,
    with_card_place,
    with_slot,
    with_typical_places,
)

INCH = (BayForm.IN_2_5, BayForm.IN_3_5)
PRINTED = "PC"  # a grade as it is printed on the module begins so


@dataclass(frozen=True)
class Recorded:
    """The machine with the line in it; by piece the keys that it filled, and in words what could not be recorded."""

    machine: Machine
    keys: tuple[tuple[str, ...], ...]
    unrecorded: tuple[str, ...]


def record_line(machine: Machine, line: QuickLine) -> Recorded:
    """Fill the record with a line; what it holds already stays unless the line says otherwise."""
    writer = _Writer(machine, line)
    writer.write()
    return Recorded(writer.machine, tuple(tuple(k) for k in writer.keys), tuple(writer.unrecorded))


class _Writer:
    """One line on its way into one record."""

    def __init__(self, machine: Machine, line: QuickLine) -> None:
        self.machine, self._line = machine, line
        self.keys: list[list[str]] = [[] for _ in line.pieces]
        self.unrecorded: list[str] = []
        self._generation: MemoryGeneration | None = None

    def write(self) -> None:
        """The whole before the places, the places before what sits in them."""
        for index, piece in enumerate(self._line.pieces):
            if isinstance(piece.reading, MachineWords):
                self._whole(index, piece.reading)
        self._usual_places()
        for index, piece in enumerate(self._line.pieces):
            self._piece(index, piece)

    def _usual_places(self) -> None:
        """What the kind usually has, as many memory slots as the line says or its modules need."""
        modules = [p.reading for p in self._line.of("memory") if isinstance(p.reading, ModuleLabel)]
        known = next((s.generation for s in self.machine.slots), None)
        self._generation = next((m.generation for m in modules if m.generation is not None), known)
        words = self._words_on_places()
        pluggable = sum(m.count for m in modules if m.form is not MemoryForm.SOLDERED)
        said = words.memory_places if words is not None else None
        if said is not None and pluggable > said:
            self.unrecorded.append(f"{said} memory slots were said and {pluggable} modules: count them")
        self.machine = with_typical_places(self.machine, self._generation, _places_said(words, pluggable))

    def _words_on_places(self) -> MachineWords | None:
        whole = [p.reading for p in self._line.of("machine") if isinstance(p.reading, MachineWords)]
        said = [w for w in whole if w.memory_places or w.memory_free is not None]
        free = sum(w.memory_free or 0 for w in said)  # each piece names its own: `slot 2 free; slot 4 free`
        return (
            replace(said[0], memory_free=free) if said and said[0].memory_free is not None else next(iter(said), None)
        )

    def _piece(self, index: int, piece: QuickPiece) -> None:
        match piece.reading:
            case ModuleLabel() as label:
                self._modules(index, piece, label)
            case DriveLabel() as label:
                self._drive(index, piece, label)
            case ProcessorLabel() as label:
                self._processor(index, label)
            case GraphicsLabel() as label:
                self._graphics(index, label)
            case BatteryLabel() as label:
                self._part(index, BATTERY, battery_of(label))
                self._battery_place(index, label)
            case AdapterLabel() as label:
                self._part(index, ADAPTER, adapter_of(label))
            case SupplyLabel() as label:
                self._supply(index, label)

    def _say(self, index: int, key: str, origin: Origin = Origin.TYPED) -> None:
        self.machine = replace(self.machine, origins={**self.machine.origins, key: origin})
        self.keys[index].append(key)

    def _whole(self, index: int, words: MachineWords) -> None:
        """What is said of the machine as a whole."""
        machine = self.machine
        identity = _said(words, "maker", "model", "year", "firmware")
        memory: dict[str, Any] = {"published_max_bytes": words.memory_max_mib * MIB} if words.memory_max_mib else {}
        system, panel = _said(words, "bits", "boot_mode"), _said(words, "panel_px", "panel_in")
        platform = replace(machine.platform, system=replace(machine.platform.system, **system), **panel)
        self.machine = replace(
            machine, kind=words.kind or machine.kind, identity=replace(machine.identity, **identity),
            memory=replace(machine.memory, **memory),
            platform=platform,
        )  # fmt: skip
        said = (("identity", identity), ("memory", memory), ("platform.system", system), ("platform", panel))
        for key in (*_said(words, "kind"), *(f"{stem}.{k}" for stem, values in said for k in values)):
            self._say(index, key)
        for kind_id in words.places:
            self._empty_place(index, kind_id)

    def _empty_place(self, index: int, kind_id: str) -> None:
        kind = {k.id: k for k in PLACE_KINDS}[kind_id]
        if kind.card_lanes:
            self.machine, place = with_card_place(self.machine, kind.card_lanes, Origin.TYPED)
            self.keys[index].append(f"platform.cards.{place}")
        elif kind.bay is not None:
            self.machine, place = with_bay(self.machine, *kind.bay, Origin.TYPED)
            self.keys[index].append(f"bays.{place}")

    def _modules(self, index: int, piece: QuickPiece, label: ModuleLabel) -> None:
        """Modules into the first free places of their form; a place is made where there is none."""
        generation = label.generation or self._generation
        if generation is None or label.size_mib is None:
            lacking = "its size" if label.size_mib is None else "its kind (DDR3, DDR4 ...)"
            self.unrecorded.append(f"“{piece.text}”: say {lacking}, and it can be recorded")
            return
        usual = USUAL.get(self.machine.kind)
        form = label.form or next((s.form for s in self.machine.slots), None) or (usual.memory if usual else None)
        if form is None:
            self.unrecorded.append(f"“{piece.text}”: say the kind of machine or of module (DIMM, SO-DIMM)")
            return
        part = module_of(replace(label, form=form, generation=generation))
        printed = any(words.upper().startswith(PRINTED) for words, _ in piece.understood)
        for _ in range(label.count):
            place = self._memory_place(form, generation)
            self._fit(index, place, part, label, Origin.LABEL if printed else Origin.TYPED)
            for name in ("form", "generation"):
                if getattr(label, name) is None:
                    self._typical(f"parts.{place}.{name}")

    def _memory_place(self, form: MemoryForm, generation: MemoryGeneration) -> str:
        """A free place of the form; typical places of another form were a wrong guess and take the module's."""
        parts = self.machine.configuration().parts
        free = [s for s in self.machine.slots if s.id not in parts and s.id not in self.machine.bad_places]
        exact = next((s for s in free if s.form is form), None)
        typical = next((s for s in free if self.machine.origins.get(f"slots.{s.id}") is Origin.TYPICAL
                        and form is not MemoryForm.SOLDERED and s.form is not MemoryForm.SOLDERED), None)  # fmt: skip
        if exact is not None:
            return exact.id
        if typical is not None:
            slots = tuple(replace(s, form=form, generation=generation) if s.form is typical.form else s
                          for s in self.machine.slots)  # fmt: skip
            self.machine = replace(self.machine, slots=slots)
            return typical.id
        self.machine, place = with_slot(self.machine, form, generation, Origin.TYPED)
        return place

    def _drive(self, index: int, piece: QuickPiece, label: DriveLabel) -> None:
        """A drive into the first free bay that takes it; a bay is made where there is none."""
        if label.size_bytes is None:
            self.unrecorded.append(f"“{piece.text}”: say its size, and it can be recorded")
            return
        if label.rotational is None:
            self.unrecorded.append(f"“{piece.text}”: say disk or SSD, and it can be recorded")
            return
        form = label.form or _usual_form(self.machine.kind, label)
        interface = label.interface or _usual_interface(form, self._generation)
        for _ in range(label.count):
            self._one_drive(index, label, interface, form)

    def _one_drive(self, index: int, label: DriveLabel, interface: DriveInterface, form: BayForm) -> None:
        place = self._bay(interface, form)
        self._fit(index, place, drive_of(replace(label, form=form, interface=interface)), label, Origin.TYPED)
        for name in ("form", "interface"):
            if getattr(label, name) is None:
                self._typical(f"parts.{place}.{name}")
        for name in ("outer_mb_s", "inner_mb_s", "read_latency_ms"):
            self._typical(f"parts.{place}.{name}")

    def _bay(self, interface: DriveInterface, form: BayForm) -> str:
        parts = self.machine.configuration().parts
        for bay in self.machine.bays:
            if bay.id not in parts and bay.form is form and interface in (bay.interface, *bay.also):
                return bay.id
        free = [b for b in self.machine.bays if b.id not in parts and b.form in INCH]
        typical = [b for b in free if form in INCH and self.machine.origins.get(f"bays.{b.id}") is Origin.TYPICAL]
        if typical:  # a typical bay of the other size was a wrong guess
            bays = tuple(
                replace(b, form=form, interface=interface) if b is typical[0] else b for b in self.machine.bays
            )
            self.machine = replace(self.machine, bays=bays)
            return typical[0].id
        self.machine, place = with_bay(self.machine, interface, form, Origin.TYPED)
        return place

    def _processor(self, index: int, label: ProcessorLabel) -> None:
        values = processor_of(label)
        board = _said(label, "socket", "soldered")
        platform = replace(self.machine.platform, board=replace(self.machine.platform.board, **board))
        self.machine = replace(
            self.machine, processor=replace(self.machine.processor, **values), platform=platform
        )  # fmt: skip
        for key in (*(f"processor.{k}" for k in values), *(f"platform.board.{k}" for k in board)):
            self._say(index, key)

    def _graphics(self, index: int, label: GraphicsLabel) -> None:
        """A card into the first free card slot; of a portable a chip of its own on the board."""
        if self.machine.kind in PORTABLE:
            self._part(index, GRAPHICS, card_of(label))
            return
        parts = self.machine.configuration().parts
        free = [
            c.id for c in self.machine.platform.cards if c.id not in parts and (c.lanes or 16) >= (label.lanes or 1)
        ]
        if not free:
            self.machine, place = with_card_place(self.machine, label.lanes or 16, Origin.TYPICAL)
            free = [place]
        self._fit(index, free[0], card_of(label), label, Origin.TYPED)

    def _battery_place(self, index: int, label: BatteryLabel) -> None:
        if label.inside is not None:
            power = replace(self.machine.platform.power, battery_inside=label.inside)
            self.machine = replace(self.machine, platform=replace(self.machine.platform, power=power))
            self._say(index, "platform.power.battery_inside")

    def _supply(self, index: int, label: SupplyLabel) -> None:
        part = supply_of(label)
        self._part(index, SUPPLY, part)
        if not self.machine.leads and part.connectors:
            fed = [f.place_id for f in self.machine.fitted if isinstance(f.part, Drive)]
            self.machine = replace(self.machine, leads=leads_of(part.connectors, fed))
            self._say(index, "leads")

    def _part(self, index: int, place: str, part: Part) -> None:
        self.machine = self.machine.with_part(place, part)
        self._say(index, f"parts.{place}")

    def _fit(self, index: int, place: str, part: Part, label: object, origin: Origin) -> None:
        self.machine = self.machine.with_part(place, part)
        self._place_is_there(place)
        self.keys[index].append(f"parts.{place}")
        said = {k for _, names in getattr(label, "understood", ()) for k in names}
        for name in said & set(vars(part)):
            self.machine = replace(self.machine, origins={**self.machine.origins, f"parts.{place}.{name}": origin})

    def _place_is_there(self, place: str) -> None:
        """What sits in a typical place proves it."""
        keys = (f"slots.{place}", f"bays.{place}", f"platform.cards.{place}")
        seen = {k: Origin.TYPED for k in keys if self.machine.origins.get(k) is Origin.TYPICAL}
        self.machine = replace(self.machine, origins={**self.machine.origins, **seen})

    def _typical(self, key: str) -> None:
        self.machine = replace(self.machine, origins={**self.machine.origins, key: Origin.TYPICAL})


def _said(reading: object, *names: str) -> dict[str, Any]:
    """Those fields of a reading that it says."""
    return {k: v for k in names if (v := getattr(reading, k)) is not None}


def _places_said(words: MachineWords | None, modules: int) -> int | None:
    """How many memory slots a line says there are; None where it does not."""
    if words is None:
        return None
    if words.memory_places is not None:
        return max(words.memory_places, modules)
    return modules + (words.memory_free or 0) if modules else None


def _usual_form(kind: MachineKind, label: DriveLabel) -> BayForm:
    if label.interface is DriveInterface.NVME:
        return BayForm.M2
    if label.interface is DriveInterface.EMMC:
        return BayForm.SOLDERED
    standing = kind in (MachineKind.TOWER, MachineKind.WORKSTATION, MachineKind.STORAGE_BOX, MachineKind.RETRO,
                        MachineKind.SMALL_DESKTOP, MachineKind.ALL_IN_ONE)  # fmt: skip
    return BayForm.IN_3_5 if label.rotational and standing else BayForm.IN_2_5


def _usual_interface(form: BayForm, generation: MemoryGeneration | None) -> DriveInterface:
    if form is BayForm.M2:
        return DriveInterface.NVME if generation in WITH_M2 else DriveInterface.SATA
    return DriveInterface.PATA if generation in BEFORE_SATA else DriveInterface.SATA
