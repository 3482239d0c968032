"""The edit-suite tower of Saltmarsh FM: all memory on one channel, a cache pair of small SSD and disk."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.cooling_parts import AirPath, Cooler, FanPlug
from brachium.core.machine.drive_part import M2Key
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.locks import Locks, LockState
from brachium.core.machine.machine import (
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
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
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
)
from brachium.core.machine.power_parts import Supply
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.measure.conditions import Conditions
from brachium.core.record.checks import CheckDone
from brachium.core.record.job import SIMULATED, DataSafe, DataState, Job
from brachium.core.record.target import Target
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.faults import Faults
from brachium.devices.simulated.machine import OwnTask
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals

JOB_ID = "edit-suite-tower"

_MODULE = MemoryModule(
    "Plover 8 GiB DDR4-2400", MemoryForm.DIMM, MemoryGeneration.DDR4, 8 * GIB, 2400, (1.2,), Buffering.UNBUFFERED, False
)
_DISK = Drive("Sandpiper 2 TB disk, 7200 /min", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 2000 * GB, True,
              190.0, 90.0, 12.0)  # fmt: skip
_CACHE = Drive("Sandpiper 60 GB SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 60 * GB, False, 480.0, 480.0, 0.11)
_CHIP = ProcessorPart(
    "Kestrion D8-65", "KM-2", 65.0, 8, 16, 118.0, 910.0, "r2", "D8", "1.00", True, (MemoryGeneration.DDR4,), 2666, 2,
    ("64-bit", "NX", "SSE4.2", "POPCNT", "AVX2"), 95.0,
)  # fmt: skip
_COOLER = Cooler("Fenfold S65", ("KM-2",), 68.0, 65.0, AirPath.DOWN)
_SUPPLY = Supply("Vantry 320 W", "long", 320.0, 264.0, False, False)

MACHINE = Machine(
    kind=MachineKind.TOWER,
    identity=Identity("Vantry", "Gannet T6", "VT-T6-11903", 2017, "2.07", "Linux, 64-bit"),
    processor=Processor("Kestrion D8-65", 8, 16, 65.0, 95.0),
    memory=MemoryPlatform(2, 2666, 2666, 64 * GIB, 64 * GIB, False,
                          fill_first=("slot-1", "slot-3", "slot-2", "slot-4")),
    slots=tuple(
        ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.DIMM, MemoryGeneration.DDR4, (k - 1) // 2, 16 * GIB)
        for k in (1, 2, 3, 4)
    ),
    bays=(
        DriveBay("bay-1", "Drive bay 1", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0),
        DriveBay("bay-2", "Drive bay 2", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),
        DriveBay("m2", "M.2 slot", DriveInterface.NVME, BayForm.M2, None, 3940.0, key=M2Key.M, lengths_mm=(60, 80),
                 double_sided=True, air=True),
    ),
    fitted=(Fitted("slot-1", _MODULE), Fitted("slot-2", _MODULE), Fitted("bay-1", _DISK), Fitted("bay-2", _CACHE),
            Fitted("socket", _CHIP), Fitted("cooler", _COOLER), Fitted("supply", _SUPPLY)),
    leads=(
        Lead("lead-1", "SATA power 1", LeadKind.SATA, "bay-1"),
        Lead("lead-2", "SATA power 2", LeadKind.SATA, "bay-2"),
        Lead("lead-3", "4-pin drive power 1", LeadKind.DRIVE_4),
        Lead("lead-4", "8-pin processor power 1", LeadKind.PROCESSOR_8),
    ),
    platform=Platform(
        Board(False, "KM-2", "r2", ("D8",), ("2.07", "2.10", "2.14"), 65.0, (BootMode.UEFI,), True, DriveMode.AHCI,
              ("UEFI", "TPM 2.0"), False, True, 1000.0, form="wide"),
        Case(155.0, AirPath.ALONG, ("wide",), 9, True, "long", False),
        Contacts(1400.0, False, False, False, None, 1, True),
        (CardSlot("card-1", "Card slot 1", 16, 16, 3, False, 280.0, 2), CardSlot("card-2", "Card slot 2", 4, 4, 3,
                                                                                  True,
                                                                               170.0, 1)),
        (FanHeader("fan-1", "Case fan, rear", FanPlug.PIN_4, 1.0, 120.0, 25.0, False),),
        system=InstalledSystem(64, boot_mode=BootMode.UEFI),
        cache_pairs=(("bay-1", "bay-2"),),
    ),
    origins={"identity.model": Origin.SCANNED, "identity.serial": Origin.SCANNED, "slots": Origin.SCANNED,
             "bays": Origin.SCANNED, "memory.published_max_bytes": Origin.CATALOGUE},
)  # fmt: skip

_BEFORE = Conditions(
    room_c=21.8, room_note="at the intake", boot_medium="installed system", mains=True, power_profile="balanced",
    fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="2.07", free_space_frac=0.82,
)  # fmt: skip
SIMULATION = Simulation(
    MACHINE,
    Thermals(
        Silicon(max_mhz=3900.0, idle_w=9.0, dynamic_w=58.0, limit_c=95.0, power_limit_w=95.0),
        Cooling(paste_k_w=0.22, pipe_k_w=0.08, fins_k_w=0.38, fan_ref_rpm=1800.0, fins_j_k=420.0),
        FanCurve(45.0, 80.0, 700.0, 1900.0),
        room_drift_k_h=0.3,
    ),
    Faults(dust=1.1),
    _BEFORE,
    replace(_BEFORE, room_c=22.3),
    task=OwnTask(84.0, 9.5, 21_000.0),
    memory_draw_mb_s=34_000.0,
    seed=51,
)

TARGETS = (
    Target("own_task", "renders the half-hour magazine in under 70 s", 70.0, "s", True),
    Target("start_up", "starts in under 20 s", 20.0, "s", True),
)


def edit_suite_job() -> Job:
    """Measured, and waiting for a choice."""
    return Job(
        JOB_ID, "Edit-suite tower", MACHINE, "cutting and mixing long programmes", "video", Decimal("260"),
        Decimal("32"), "2026-12-04", TARGETS,
        ("Both memory modules sit on the first channel",
         "Disk and small SSD work as a cache pair: dissolve it before either is pulled",
         "Owner asks for a 105 W processor; cooler and board are built for 65 W"),
        findings=(Finding("dust", "cooler", Severity.SLIGHT),
                  Finding("screw", "drives", Severity.SLIGHT, "one of four")),
        tried=(TestResult("starts", TrialOutcome.WORKS), TestResult("system", TrialOutcome.WORKS),
               TestResult("graphics", TrialOutcome.WORKS), TestResult("front", TrialOutcome.WORKS)),
        data_safe=DataSafe(DataState.BACKED_UP, "edit desk", "2026-11-24 17:40", "shared drive", "1.3 TB",
                           "listing compared, ten files opened", True),
        bench=SIMULATED, simulated_as=JOB_ID, locks=Locks(LockState.NONE, LockState.NONE),
        checks=(CheckDone(COMPLAINT.id, "slow in heavy or long work", 1.0),),
    )  # fmt: skip
