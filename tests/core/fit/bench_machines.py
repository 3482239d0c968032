"""Two machines whose every fact is recorded, and the parts that the cases put into them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from brachium.core.base.units import GB, GIB
from brachium.core.fit.circumstances import Circumstances, HeatFacts
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.fill import with_fact
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.machine.board_part import BoardPart
from brachium.core.machine.card_parts import Card, RadioCard, RadioKey
from brachium.core.machine.cooling_parts import AirPath, Cooler, Fan, FanPlug, Paste, PasteKind
from brachium.core.machine.drive_part import BayForm, Drive, DriveInterface, M2Key
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.locks import Locks, LockState
from brachium.core.machine.machine import (
    Derate,
    DriveBay,
    Fitted,
    Identity,
    Lead,
    LeadKind,
    Machine,
    MemoryPlatform,
    ModuleSlot,
    Processor,
)
from brachium.core.machine.memory_part import Buffering, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.parts import Part
from brachium.core.machine.platform import (
    Board,
    BootMode,
    CardSlot,
    Case,
    Contacts,
    DriveMode,
    FanHeader,
    InstalledSystem,
    Platform,
    PowerInput,
    RadioPlace,
)
from brachium.core.machine.power_parts import Adapter, Battery, Supply
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind

D3 = MemoryModule(
    "m",
    MemoryForm.DIMM,
    MemoryGeneration.DDR3,
    4 * GIB,
    1600,
    (1.5,),
    Buffering.UNBUFFERED,
    False,
    ranks=2,
    chip_width=8,
)
SO3 = replace(D3, form=MemoryForm.SO_DIMM, volts=(1.35, 1.5))
DISK = Drive("disk", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 1000 * GB, True, 150.0, 75.0, 12.0)
SSD = Drive("ssd", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 480 * GB, False, 540.0, 540.0, 0.09)
NVME = Drive("nvme", DriveInterface.NVME, BayForm.M2, None, 500 * GB, False, 3000.0, 3000.0, 0.05, M2Key.M, 80, False)
PATA = Drive("pata", DriveInterface.PATA, BayForm.IN_3_5, 26.1, 80 * GB, True, 30.0, 20.0, 14.0)
CHIP = ProcessorPart(
    "D4-84", "KM-2", 84.0, 4, 8, 110.0, 420.0, "r2", "D4", "2.0", True, (MemoryGeneration.DDR3,), 1600, 2,
    ("64-bit", "NX", "SSE4.2", "POPCNT"), 90.0,
)  # fmt: skip
OLD_CHIP = replace(CHIP, name="D4-65", power_w=65.0, first_firmware="1.0", all_rate=330.0)
COOLER = Cooler("tower cooler", ("KM-2", "KM-1"), 120.0, 95.0, AirPath.ALONG, 40.0)
STOCK = Cooler("stock cooler", ("KM-2",), 60.0, 84.0, AirPath.DOWN)
FAN = Fan("fan", FanPlug.PIN_4, 120.0, 25.0, 0.2)
CARD = Card("card", 16, 3, 60.0, (), 170.0, 1, False, True, False)
SUPPLY = Supply("supply", "long", 400.0, 360.0, False, False)
BOARD = BoardPart("board", "wide", "KM-2", MemoryForm.DIMM, MemoryGeneration.DDR3, 4, 8 * GIB, 1600, ("D4",), "2.0",
                  "KM-2", 9, True, False, True, 4, 1, ("legacy", "UEFI"), 95.0,
                  place_channels=(1, 2, 1, 2))  # fmt: skip
RADIO = RadioCard("radio", RadioKey.E, 2, "small", "9a1")
ADAPTER = Adapter("adapter", 65.0, True, volts=19.5, plug="own", polarity="centre +")
BATTERY = Battery("battery", 40.0, 50.0, 11.1, "7 contacts")
PASTE, GALLIUM = Paste("paste", PasteKind.PLAIN, 2.6, "dries in three years"), Paste("metal", PasteKind.GALLIUM)

TOWER = Machine(
    MachineKind.TOWER,
    Identity("Marl", "Bench 1", "1", 2013, "1.5", "Linux, 64-bit"),
    Processor("D4-65", 4, 8, 65.0, 90.0, True, 100.0, 330.0, 64),
    MemoryPlatform(2, 1600, 1600, 16 * GIB, 32 * GIB, False, (Buffering.UNBUFFERED,), False, 4.0, 4, False,
                   ("slot-1", "slot-3", "slot-2", "slot-4"), (Derate(1, 2, 1600), Derate(2, 2, 1333)), True,
                   takes_profiles=True),
    tuple(ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.DIMM, MemoryGeneration.DDR3, (k - 1) // 2, 8 * GIB)
          for k in (1, 2, 3, 4)),
    (
        DriveBay("bay-1", "Drive bay 1", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0),
        DriveBay("bay-2", "Drive bay 2", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),
        DriveBay("m2", "M.2 slot", DriveInterface.NVME, BayForm.M2, None, 3938.0, key=M2Key.M, lengths_mm=(60, 80),
                 double_sided=False, air=True, excludes=("bay-2",)),
        DriveBay("old", "Parallel bay", DriveInterface.PATA, BayForm.IN_3_5, 26.1, 133.0, ata_bits=28, cable_wires=40,
                 cable="a"),
    ),
    (Fitted("slot-1", D3), Fitted("slot-3", D3), Fitted("bay-1", DISK), Fitted("socket", OLD_CHIP),
     Fitted("cooler", STOCK), Fitted("supply", SUPPLY)),
    (Lead("l1", "SATA power 1", LeadKind.SATA, "bay-1"), Lead("l2", "SATA power 2", LeadKind.SATA),
     Lead("l3", "6-pin card power", LeadKind.CARD_6)),
    platform=Platform(
        Board(False, "KM-2", "r2", ("D4",), ("1.5", "1.8", "2.0"), 95.0, (BootMode.LEGACY, BootMode.UEFI), True,
              DriveMode.AHCI, ("UEFI",), False, True, 1000.0, cooler_pattern="KM-2", form="wide",
              drive_modes=(DriveMode.LEGACY, DriveMode.AHCI)),
        Case(130.0, AirPath.ALONG, ("wide",), 9, True, "long", False),
        Contacts(900.0, False, False, False, 1.0, 1, False),
        (CardSlot("card-1", "Card slot 1", 16, 16, 3, False, 250.0, 2),
         CardSlot("card-2", "Card slot 2", 4, 4, 2, False, 250.0, 1, 25.0)),
        (FanHeader("fan-1", "Case fan", FanPlug.PIN_4, 1.0, 120.0, 25.0, False),),
        RadioPlace(RadioKey.E, 2, "small", ()),
        PowerInput(),
        InstalledSystem(64, True, None, BootMode.UEFI, 200 * GB),
    ),
)  # fmt: skip

LAPTOP = Machine(
    MachineKind.LAPTOP,
    Identity("Marl", "Lap 1", "1", 2014, "1.5", "Linux, 64-bit"),
    Processor("M4-35", 4, 8, 35.0, 95.0, True, 90.0, 250.0, 64),
    MemoryPlatform(2, 1600, 1600, 16 * GIB, 32 * GIB, True, (Buffering.UNBUFFERED,), False, 4.0, 4, False, (), (),
                   True),
    tuple(ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.SO_DIMM, MemoryGeneration.DDR3, k - 1, 8 * GIB)
          for k in (1, 2)),
    (
        DriveBay("bay-main", "Main drive bay", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),
        DriveBay("bay-optical", "Optical bay", DriveInterface.SATA, BayForm.OPTICAL, 9.5, 150.0, "9.5 mm caddy"),
    ),
    (Fitted("slot-1", SO3), Fitted("bay-main", replace(DISK, form=BayForm.IN_2_5, height_mm=9.5))),
    platform=Platform(
        Board(True, boot_modes=(BootMode.UEFI,), nvme_start=False, drive_mode=DriveMode.AHCI, functions=("UEFI",),
              network_mbit_s=100.0, drive_modes=(DriveMode.LEGACY, DriveMode.AHCI)),
        Case(),
        Contacts(180.0, True, False, True, 1.0, 2, True),
        radio=RadioPlace(RadioKey.E, 2, "small", ("9a1",)),
        power=PowerInput(65.0, True, adapter_v=19.5, plug="own", polarity="centre +"),
        system=InstalledSystem(64, True, None, BootMode.UEFI, 200 * GB),
    ),
)  # fmt: skip
PROVEN = (CompatibilityClaim("D4-84", "Bench 1", (Source(SourceKind.MAKER),)),)
AROUND = Circumstances(
    "2026-11-24", Locks(LockState.NONE, LockState.NONE, LockState.NONE, LockState.NONE), 200 * GB, claims=PROVEN,
    heat=HeatFacts(0.6, 22.0),
)  # fmt: skip
MACHINES = {"tower": TOWER, "laptop": LAPTOP}


@dataclass(frozen=True)
class FitCase:
    """One case: what is planned on which machine with which facts changed, and what a rule says of it."""

    rule: str
    level: Level | None  # None = the rule has nothing to say
    says: str
    plan: Mapping[str, Part | None] = field(default_factory=dict)
    facts: Mapping[str, object] = field(default_factory=dict)
    around: Mapping[str, object] = field(default_factory=dict)
    on: str = "tower"
    figure: str = ""  # what stands in its result or among what went in

    def machine(self) -> Machine:
        machine = MACHINES[self.on]
        for key, value in self.facts.items():
            machine = machine.with_part(key.removeprefix("fitted."), value) if key.startswith("fitted.") else with_fact(  # type: ignore[arg-type]
                machine, key, value)  # fmt: skip
        return machine

    def all_of_rule(self, machine: Machine) -> tuple[Verdict, ...]:
        """Everything that the case's rule says of its plan on a machine."""
        rules = tuple(r for r in ALL_RULES if r.id == self.rule)
        config = machine.configuration().with_changes(self.plan)
        return evaluate(rules, machine, config, replace(AROUND, **dict(self.around)))  # type: ignore[arg-type]

    def about(self, verdict: Verdict, machine: Machine) -> Verdict | None:
        """What the same rule says of the same places on a machine."""
        config = machine.configuration().with_changes(self.plan)
        rules = tuple(r for r in ALL_RULES if r.id == verdict.rule)
        said = evaluate(rules, machine, config, replace(AROUND, **dict(self.around)))  # type: ignore[arg-type]
        return next((v for v in said if (v.rule, v.places) == (verdict.rule, verdict.places)), None)

    def verdicts(self, machine: Machine | None = None) -> dict[str, Verdict]:
        """The worst verdict of each rule, of equals the one about what is planned."""
        machine = machine or self.machine()
        config = machine.configuration().with_changes(self.plan)
        out: dict[str, Verdict] = {}
        for v in evaluate(ALL_RULES, machine, config, replace(AROUND, **dict(self.around))):  # type: ignore[arg-type]
            rank = (v.level, bool(set(v.places) & set(self.plan)))
            known = out.get(v.rule)
            if known is None or rank > (known.level, bool(set(known.places) & set(self.plan))):
                out[v.rule] = v
        return out
