"""The edit-suite tower of Saltmarsh FM: all memory on one channel, a cache pair of small SSD and disk."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.because import Origin
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.functional import Outcome, TestResult
from brachium.core.job.job import SIMULATED, DataSafe, DataState, Job, Locks, LockState, Target
from brachium.core.machine.machine import (
    DriveBay,
    Fitted,
    Identity,
    Lead,
    LeadKind,
    Machine,
    MachineKind,
    MemoryPlatform,
    ModuleSlot,
    Processor,
)
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.measure.conditions import Conditions
from brachium.core.units import GB, GIB
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.faults import Faults
from brachium.devices.simulated.machine import OwnTask
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals

JOB_ID = "edit-suite-tower"

_MODULE = MemoryModule("Plover 8 GiB DDR4-2400", MemoryForm.DIMM, MemoryGeneration.DDR4, 8 * GIB, 2400, (1.2,))
_DISK = Drive("Sandpiper 2 TB disk, 7200 /min", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 2000 * GB, True,
              190.0, 90.0, 12.0)  # fmt: skip
_CACHE = Drive("Sandpiper 60 GB SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 60 * GB, False, 480.0, 480.0, 0.11)

MACHINE = Machine(
    kind=MachineKind.TOWER,
    identity=Identity("Vantry", "Gannet T6", "VT-T6-11903", 2017, "2.07", "Linux, 64-bit"),
    processor=Processor("Kestrion D8-65", 8, 16, 65.0, 95.0),
    memory=MemoryPlatform(2, 2666, 2666, 64 * GIB, 64 * GIB, False),
    slots=tuple(
        ModuleSlot(f"slot-{k}", f"Memory place {k}", MemoryForm.DIMM, MemoryGeneration.DDR4, (k - 1) // 2, 16 * GIB)
        for k in (1, 2, 3, 4)
    ),
    bays=(
        DriveBay("bay-1", "Drive bay 1", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0),
        DriveBay("bay-2", "Drive bay 2", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),
        DriveBay("m2", "M.2 place", DriveInterface.NVME, BayForm.M2, None, 3940.0),
    ),
    fitted=(Fitted("slot-1", _MODULE), Fitted("slot-2", _MODULE), Fitted("bay-1", _DISK), Fitted("bay-2", _CACHE)),
    leads=(
        Lead("lead-1", "SATA power 1", LeadKind.SATA, "bay-1"),
        Lead("lead-2", "SATA power 2", LeadKind.SATA, "bay-2"),
        Lead("lead-3", "4-pin drive power 1", LeadKind.DRIVE_4),
        Lead("lead-4", "8-pin processor power 1", LeadKind.PROCESSOR_8),
    ),
    origins={"identity.model": Origin.SCANNED, "identity.serial": Origin.SCANNED, "slots": Origin.SCANNED,
             "bays": Origin.SCANNED, "memory.published_max_bytes": Origin.CATALOGUE},
)  # fmt: skip

_BEFORE = Conditions(
    room_c=21.8, room_note="at the intake", boot_medium="installed system", mains=True, power_profile="balanced",
    fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="2.07", free_space_frac=0.31,
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
        tried=(TestResult("starts", Outcome.WORKS), TestResult("system", Outcome.WORKS),
               TestResult("graphics", Outcome.WORKS), TestResult("front", Outcome.WORKS)),
        data_safe=DataSafe(DataState.BACKED_UP, "edit desk", "2026-11-24 17:40", "shared drive", "1.3 TB",
                           "listing compared, ten files opened", True),
        bench=SIMULATED, simulated_as=JOB_ID, locks=Locks(LockState.NONE, LockState.NONE),
    )  # fmt: skip
