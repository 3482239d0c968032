"""What a scan tells reaches the record without loss or invention, each fact with its origin."""

from __future__ import annotations

from dataclasses import replace

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level
from brachium.core.machine.card_parts import Card, RadioCard
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.parts import BayForm, DriveInterface, MemoryForm
from brachium.core.machine.platform import BootMode
from brachium.core.machine.scanned.from_scan import filled_from_scan, machine_of
from brachium.core.machine.scanned.scan import (
    Scan,
    ScannedBattery,
    ScannedDevice,
    ScannedDrive,
    ScannedField,
    ScannedPlace,
    ScannedSlot,
)
from brachium.core.plan.asked_part import read_part
from brachium.core.plan.candidates import CatalogueItem, Group, candidates


def _fields(**values: str | int) -> tuple[ScannedField, ...]:
    return tuple(ScannedField(k.replace("__", "."), v, str(v), "") for k, v in values.items())


SERVER = Scan(
    _fields(case__kind="rack mount", processor__name="Kestrion W8", processor__cores=16, processor__threads=32,
            processor__count=2, processor__base_mhz=2600, processor__max_mhz=3400, processor__socket="LGA2011",
            firmware__mode="UEFI", firmware__secure_start="off"),
    (ScannedPlace(1, 16 * GIB, "DIMM", "DDR3", "P0 CHANNEL A", None, 1600, 1333, 1350, "part", True, 2, "registered"),
     ScannedPlace(2, 0, "DIMM", "DDR3", "P0 CHANNEL B"), ScannedPlace(3, 0, None, None, "P1 CHANNEL A")),
    (ScannedDrive("sda", "SAS", 600 * GB, None, None, None, True), ScannedDrive("sdb", "USB", 32 * GB),
     ScannedDrive("mmcblk0", "eMMC", 64 * GB, None, None, None, False)),
    (ScannedBattery(True, 20.0, 40.0, "Wh", 0.5), ScannedBattery(True, None, None, "Ah", 0.9)),
    slots=(ScannedSlot("SLOT1", "PCIe gen 3", 16, "in use", "0000:01:00.0"), ScannedSlot("SLOT2", "PCIe", 4, "free"),
           ScannedSlot("M2_1", "M.2 socket 3 (key M)", None, "free"), ScannedSlot("PCI1", "PCI", None, "free")),
    devices=(ScannedDevice("0000:01:00.0", "graphics", "gen 1 x8", "gen 3 x16", None, "abcd:0001"),
             ScannedDevice("0000:03:00.0", "radio", None, None, None, "abcd:0002")),
)  # fmt: skip


def test_everything_that_is_told_reaches_the_record() -> None:
    machine = machine_of(SERVER)
    chip = machine.processor
    assert machine.kind is MachineKind.STORAGE_BOX
    assert (chip.cores, chip.count, chip.base_mhz, chip.boost_mhz) == (16, 2, 2600, 3400)
    assert (machine.platform.board.socket, machine.platform.board.soldered) == ("LGA2011", False)
    assert machine.platform.system.boot_mode is BootMode.UEFI and machine.platform.settings.secure_start is False
    assert [s.channel for s in machine.slots] == [0, 1, 2] and machine.slots[2].form is MemoryForm.DIMM
    module = machine.configuration().parts[machine.slots[0].id]
    assert isinstance(module, MemoryModule)
    assert (module.buffering, module.ecc, module.ranks, module.volts) == ("registered", True, 2, (1.35,))
    kinds = {b.id: (b.interface, b.form) for b in machine.bays}
    assert kinds == {"drive-sda": (DriveInterface.SAS, BayForm.IN_3_5), "m2-1": (DriveInterface.NVME, BayForm.M2),
                     "drive-mmcblk0": (DriveInterface.EMMC, BayForm.SOLDERED)}  # fmt: skip
    assert [(c.label, c.lanes, c.generation) for c in machine.platform.cards] == [("SLOT1", 16, 3), ("SLOT2", 4, None)]
    card, radio = machine.configuration().parts["card-1"], machine.configuration().parts["radio"]
    assert isinstance(card, Card) and (card.lanes, card.generation, card.power_w) == (16, 3, None)
    assert isinstance(radio, RadioCard) and (radio.id, radio.key) == ("abcd:0002", None)
    batteries = [machine.configuration().parts[k] for k in ("battery", "battery-2")]
    assert [(getattr(b, "full_wh", 0), getattr(b, "design_wh", 0)) for b in batteries] == [(20.0, 40.0), (None, None)]


def test_each_fact_says_that_it_was_scanned_and_what_nobody_told_that_it_is_assumed() -> None:
    machine = machine_of(SERVER)
    for key in ("kind", "processor.count", "platform.board.socket", "slots.memory-0001", "bays.drive-sda",
                "parts.memory-0001.buffering", "platform.cards.card-1", "parts.radio.id"):  # fmt: skip
        assert machine.origin(key) is Origin.SCANNED, key
    for key in ("parts.drive-sda.outer_mb_s", "processor.limit_c", "identity.model", "parts.card-1.power_w",
                "memory.published_max_bytes", "parts.memory-0001.height_mm"):  # fmt: skip
        assert machine.origin(key) is Origin.ASSUMED, key
    by_hand = Machine(kind=MachineKind.TOWER, processor=replace(Machine().processor, cores=12))
    both = filled_from_scan(by_hand, SERVER)
    assert (both.processor.cores, both.origin("processor.cores")) == (12, Origin.TYPED), "what was typed stands"
    assert both.origin("processor.threads") is Origin.SCANNED and both.platform.cards == machine.platform.cards


def test_an_unknown_kind_stays_unknown_and_is_taken_from_a_later_scan() -> None:
    nameless = machine_of(replace(SERVER, fields=()))
    assert nameless.kind is MachineKind.NOT_KNOWN and nameless.origin("kind") is Origin.ASSUMED
    assert filled_from_scan(nameless, SERVER).kind is MachineKind.STORAGE_BOX


def test_soldered_memory_is_never_offered_and_what_only_looks_so_is_asked() -> None:
    soldered = ScannedPlace(1, 4 * GIB, "row of chips", "LPDDR3", "Channel A")
    odd = ScannedPlace(2, 4 * GIB, "SO-DIMM", "DDR3", "Channel B", perhaps_soldered=True)
    machine = machine_of(Scan(places=(soldered, odd)))
    assert [s.soldered for s in machine.slots] == [True, None]
    asked = read_part(machine, "8GB PC3L-12800S")
    assert asked.part is not None
    (found,) = candidates(machine, (CatalogueItem("x", Group.MEMORY, "x", 0, 1, asked.part),))  # type: ignore[arg-type]
    assert found.places == (machine.slots[1].id,), "the soldered place is none"
    config = machine.configuration().with_changes({machine.slots[1].id: asked.part})
    forms = {v.places[0]: v for v in evaluate(ALL_RULES, machine, config) if v.rule == "MEM-FORM"}
    assert forms[machine.slots[0].id].level is Level.FITS, "what runs here today fits"
    form = forms[machine.slots[1].id]
    assert form.level is Level.NOT_KNOWN and form.gap is not None and form.gap.key.endswith(".soldered")
    low = machine_of(Scan(places=(ScannedPlace(1, 8 * GIB, None, "LPDDR4"),)))
    assert low.slots[0].form is MemoryForm.SOLDERED, "low-power memory has no other form"


def test_graphics_on_its_own_link_is_the_chip_of_a_machine_without_card_places() -> None:
    chip = ScannedDevice("0000:01:00.0", "graphics", "gen 3 x8", "gen 3 x16", None, "abcd:0001")
    inside = ScannedDevice("0000:00:02.0", "graphics", None, None, None, "abcd:0003")
    for kind, devices, there in (
        ("notebook", (inside, chip), True), ("notebook", (inside,), False), ("tower", (chip,), False),
    ):  # fmt: skip
        scan = Scan(_fields(case__kind=kind), (), (), (), devices=devices)
        found = machine_of(scan).configuration().parts.get("graphics")
        assert (found is not None) is there, kind
        if isinstance(found, Card):
            assert (found.lanes, found.display, found.memory_bytes) == (16, True, None)
            assert machine_of(scan).origin("parts.graphics.lanes") is Origin.SCANNED
