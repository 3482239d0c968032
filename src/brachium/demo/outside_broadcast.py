"""The outside-broadcast laptop of Saltmarsh FM: cool, and yet slow, because its battery is missing."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.drive_part import M2Key
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.locks import Locks, LockState
from brachium.core.machine.machine import DriveBay, Fitted, Identity, Machine, MemoryPlatform, ModuleSlot, Processor
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.platform import Board, BootMode, Contacts, DriveMode, InstalledSystem, Platform, PowerInput
from brachium.core.measure.conditions import Conditions
from brachium.core.record.checks import CheckDone
from brachium.core.record.job import SIMULATED, DataSafe, DataState, Job
from brachium.core.record.provenance import ClaimState, MissingPiece, Provenance, SellerClaim
from brachium.core.record.target import Target
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.faults import Faults
from brachium.devices.simulated.machine import OwnTask
from brachium.devices.simulated.physics import Cooling, Silicon, Thermals

JOB_ID = "outside-broadcast-laptop"

_MODULE = MemoryModule(
    "Plover 8 GiB DDR4-2400",
    MemoryForm.SO_DIMM,
    MemoryGeneration.DDR4,
    8 * GIB,
    2400,
    (1.2,),
    Buffering.UNBUFFERED,
    False,
)
_SSD = Drive("Sandpiper 250 GB NVMe", DriveInterface.NVME, BayForm.M2, None, 250 * GB, False, 1900.0, 1900.0, 0.06)

MACHINE = Machine(
    kind=MachineKind.LAPTOP,
    identity=Identity("Oakmere", "Dunlin X13", "OM-X13-33120", 2018, "1.31", "Linux, 64-bit"),
    processor=Processor("Kestrion M8-25", 4, 8, 25.0, 97.0),
    memory=MemoryPlatform(2, 2400, 2400, 32 * GIB, 32 * GIB, False),
    slots=tuple(
        ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.SO_DIMM, MemoryGeneration.DDR4, k - 1, 16 * GIB)
        for k in (1, 2)
    ),
    bays=(DriveBay("m2", "M.2 slot", DriveInterface.NVME, BayForm.M2, None, 3940.0, key=M2Key.M, lengths_mm=(80,),
                   double_sided=False, air=True),),
    fitted=(Fitted("slot-1", _MODULE), Fitted("slot-2", _MODULE), Fitted("m2", _SSD)),
    platform=Platform(
        Board(True, boot_modes=(BootMode.UEFI,), nvme_start=True, drive_mode=DriveMode.AHCI, network_mbit_s=1000.0),
        contacts=Contacts(120.0, True, False, True, 0.5, 1, False),
        power=PowerInput(65.0, False, None, 19.5, "4.5 x 3.0 mm", "centre +", 11.1, "8 contacts"),
        system=InstalledSystem(64, boot_mode=BootMode.UEFI),
    ),
    origins={"identity.model": Origin.SCANNED, "identity.serial": Origin.SCANNED, "slots": Origin.SCANNED,
             "bays": Origin.SCANNED, "memory.published_max_bytes": Origin.CATALOGUE},
)  # fmt: skip

_BEFORE = Conditions(
    room_c=22.0, room_note="at the intake", boot_medium="installed system", mains=True, battery_fitted=False,
    power_profile="balanced", fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="1.31",
    free_space_frac=0.44,
)  # fmt: skip
SIMULATION = Simulation(
    MACHINE,
    Thermals(
        Silicon(max_mhz=3600.0, dynamic_w=24.0, limit_c=97.0, power_limit_w=30.0),
        Cooling(paste_k_w=0.50, pipe_k_w=0.20, fins_k_w=0.90),
    ),
    Faults(battery_missing=True),
    _BEFORE,
    replace(_BEFORE, battery_fitted=True, room_c=22.4),
    task=OwnTask(58.0, 6.0, 12_000.0),
    seed=71,
)


def outside_broadcast_job() -> Job:
    """Measured; the cause is to be found before anything is bought."""
    return Job(
        JOB_ID, "Outside-broadcast laptop", MACHINE, "streams from fairs and the quay", "audio", Decimal("120"),
        Decimal("32"), "2026-12-11", (Target("cpu_all", "work rate at least 55", 55.0, "work/s", False),),
        ("Came without its battery; the owner wants a faster processor or more memory",),
        Provenance("bought used", Decimal("95"), Decimal("9"), (MissingPiece("battery", Decimal("48")),),
                   (SellerClaim("works like new", ClaimState.DOES_NOT), SellerClaim("16 GiB", ClaimState.HOLDS))),
        (Finding("clip", "bottom", Severity.SLIGHT, "battery bay cover"),),
        (TestResult("starts", TrialOutcome.WORKS), TestResult("system", TrialOutcome.WORKS),
         TestResult("battery", TrialOutcome.ABSENT), TestResult("adapter", TrialOutcome.WORKS)),
        DataSafe(DataState.NOT_NEEDED, "outside broadcast", "2026-11-24 10:10"),
        bench=SIMULATED, simulated_as=JOB_ID, locks=Locks(LockState.NONE, LockState.NONE),
        checks=(CheckDone(COMPLAINT.id, "slow in heavy or long work", 1.0),),
    )  # fmt: skip
