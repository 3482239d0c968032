"""The reception all-in-one of Saltmarsh FM: nothing holds it back much, so an upgrade is not worth it."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.locks import Locks, LockState
from brachium.core.machine.machine import DriveBay, Fitted, Identity, Machine, MemoryPlatform, ModuleSlot, Processor
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.platform import Board, BootMode, Contacts, DriveMode, InstalledSystem, Platform
from brachium.core.measure.conditions import Conditions
from brachium.core.record.checks import CheckDone
from brachium.core.record.job import SIMULATED, WAITS_OWNER, DataSafe, DataState, Hold, Job
from brachium.core.record.target import Target
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.faults import Faults
from brachium.devices.simulated.machine import OwnTask
from brachium.devices.simulated.physics import Cooling, Silicon, Thermals

JOB_ID = "reception-all-in-one"
PLAN = ("mem-2x8-l",)

_MODULE = MemoryModule(
    "Plover 4 GiB DDR3L-1600",
    MemoryForm.SO_DIMM,
    MemoryGeneration.DDR3,
    4 * GIB,
    1600,
    (1.35, 1.5),
    Buffering.UNBUFFERED,
    False,
)
_SSD = Drive("Sandpiper 240 GB SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 240 * GB, False, 520.0, 520.0, 0.10)

MACHINE = Machine(
    kind=MachineKind.ALL_IN_ONE,
    identity=Identity("Brindlecote", "Sandbar 22", "BC-22-04471", 2015, "1.09", "Linux, 64-bit"),
    processor=Processor("Kestrion M2-15", 2, 4, 15.0, 100.0),
    memory=MemoryPlatform(2, 1600, 1600, 16 * GIB, 16 * GIB, True),
    slots=tuple(
        ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.SO_DIMM, MemoryGeneration.DDR3, k - 1, 8 * GIB)
        for k in (1, 2)
    ),
    bays=(DriveBay("bay-main", "Drive bay", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),),
    fitted=(Fitted("slot-1", _MODULE), Fitted("slot-2", _MODULE), Fitted("bay-main", _SSD)),
    platform=Platform(
        Board(True, boot_modes=(BootMode.UEFI,), nvme_start=False, drive_mode=DriveMode.AHCI, network_mbit_s=1000.0),
        contacts=Contacts(110.0, True, False, True, 0.5, 1, False),
        system=InstalledSystem(64, boot_mode=BootMode.UEFI),
    ),
    origins={"identity.model": Origin.SCANNED, "identity.serial": Origin.SCANNED, "slots": Origin.SCANNED,
             "bays": Origin.SCANNED, "memory.published_max_bytes": Origin.CATALOGUE},
)  # fmt: skip

_BEFORE = Conditions(
    room_c=21.2, room_note="at the intake", boot_medium="installed system", mains=True, power_profile="balanced",
    fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="1.09", free_space_frac=0.61,
)  # fmt: skip
SIMULATION = Simulation(
    MACHINE,
    Thermals(
        Silicon(max_mhz=2400.0, idle_w=2.0, dynamic_w=13.0, limit_c=100.0, power_limit_w=25.0),
        Cooling(paste_k_w=0.60, pipe_k_w=0.25, fins_k_w=1.30),
    ),
    Faults(),
    _BEFORE,
    replace(_BEFORE, room_c=21.6),
    task=OwnTask(41.0, 3.4, 6_000.0),
    memory_draw_mb_s=17_000.0,
    seed=91,
)


def reception_job() -> Job:
    """Measured; the only part that fits brings next to nothing, and the owner has to say what now."""
    return Job(
        JOB_ID, "Reception all-in-one", MACHINE, "post, diary and the visitors' book, faster than now", "office",
        Decimal("90"), Decimal("32"), "", (Target("start_up", "starts in under 20 s", 20.0, "s", True),),
        ("Screen cable is glued: the front comes off only once",),
        findings=(Finding("dust", "vents", Severity.SLIGHT),),
        tried=(TestResult("starts", TrialOutcome.WORKS), TestResult("system", TrialOutcome.WORKS),
               TestResult("screen", TrialOutcome.WORKS), TestResult("stand", TrialOutcome.WORKS)),
        data_safe=DataSafe(DataState.BACKED_UP, "reception", "2026-11-20 16:00", "shared drive", "18 GB",
                           "every file read back", True),
        plan=PLAN, bench=SIMULATED, simulated_as=JOB_ID, locks=Locks(LockState.NONE, LockState.NONE),
        hold=Hold(WAITS_OWNER, "told that memory alone will not help", "2026-11-24 15:20"),
        checks=(CheckDone(COMPLAINT.id, "slow to start and to open things", 1.0),),
    )  # fmt: skip
