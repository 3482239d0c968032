"""The playout PC of Saltmarsh FM: felted fins, cleaned; but the after-run was taken under other conditions."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.cooling_parts import AirPath
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
from brachium.core.machine.platform import Board, BootMode, Case, Contacts, DriveMode, InstalledSystem, Platform
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.own_tests import How, OwnResult, OwnTest
from brachium.core.record.checks import CheckDone
from brachium.core.record.job import SIMULATED, DataSafe, DataState, Job
from brachium.core.record.target import Target
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.faults import Faults
from brachium.devices.simulated.machine import OwnTask
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals

JOB_ID = "playout-pc"
PLAN = ("svc-clean",)

_MODULE = MemoryModule(
    "Plover 4 GiB DDR3-1600", MemoryForm.DIMM, MemoryGeneration.DDR3, 4 * GIB, 1600, (1.5,), Buffering.UNBUFFERED, False
)
_SSD = Drive("Sandpiper 240 GB SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 240 * GB, False, 520.0, 520.0, 0.10)

MACHINE = Machine(
    kind=MachineKind.SMALL_DESKTOP,
    identity=Identity("Brindlecote", "Wren S3", "BC-S3-00812", 2013, "A14", "Linux, 64-bit"),
    processor=Processor("Kestrion D4-65", 4, 4, 65.0, 92.0),
    memory=MemoryPlatform(2, 1600, 1600, 16 * GIB, 32 * GIB, False),
    slots=tuple(
        ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.DIMM, MemoryGeneration.DDR3, (k - 1) % 2, 8 * GIB)
        for k in (1, 2)
    ),
    bays=(
        DriveBay("bay-1", "Drive bay", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0, "2.5 in adapter frame", True),
        DriveBay("bay-optical", "Optical bay", DriveInterface.SATA, BayForm.OPTICAL, 9.5, 150.0, "9.5 mm caddy"),
    ),
    fitted=(Fitted("slot-1", _MODULE), Fitted("slot-2", _MODULE), Fitted("bay-1", _SSD)),
    leads=(
        Lead("lead-1", "SATA power 1", LeadKind.SATA, "bay-1"),
        Lead("lead-2", "SATA power 2", LeadKind.SATA),
    ),
    platform=Platform(
        Board(False, "KX-1", "r1", ("D4",), power_w=65.0, boot_modes=(BootMode.LEGACY, BootMode.UEFI), nvme_start=False,
              drive_mode=DriveMode.AHCI, network_mbit_s=1000.0),
        Case(62.0, AirPath.OUT), Contacts(900.0, False, False, False, None, 1, False),
        system=InstalledSystem(64, boot_mode=BootMode.UEFI),
    ),
    origins={"identity.model": Origin.SCANNED, "identity.serial": Origin.SCANNED, "slots": Origin.SCANNED,
             "bays": Origin.LABEL, "memory.published_max_bytes": Origin.CATALOGUE},
)  # fmt: skip

_BEFORE = Conditions(
    room_c=22.6, room_note="at the intake", boot_medium="installed system", mains=True, power_profile="balanced",
    fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="A14", free_space_frac=0.58,
)  # fmt: skip
SIMULATION = Simulation(
    MACHINE,
    Thermals(
        Silicon(max_mhz=3200.0, idle_w=6.0, dynamic_w=48.0, limit_c=92.0, power_limit_w=80.0),
        Cooling(paste_k_w=0.30, pipe_k_w=0.10, fins_k_w=0.52, fan_ref_rpm=2400.0, fins_j_k=260.0),
        FanCurve(40.0, 80.0, 900.0, 2600.0),
    ),
    Faults(dust=2.3),
    _BEFORE,
    replace(_BEFORE, room_c=29.4, power_profile="performance", panel_on=False),
    task=OwnTask(48.0, 4.2, 9_000.0),
    seed=31,
)

TARGETS = (
    Target("held_back", "not held back by heat under load", 0.0, "%", True),
    Target("peak_c", "stays under 80 °C", 80.0, "°C", True),
)


_RENDER = OwnTest("task-1", "Loads tomorrow's programme", "s", False, "the whole of Sunday, nothing cached")
_NOISE = OwnTest("noise-1", "Fan noise", "dB(A)", False, "at one metre, room quiet, under load")
_RESULTS = (
    *(OwnResult("task-1", "before", v, How.TIMED, 1, "2026-11-23 11:40") for v in (41.8, 42.6, 41.5)),
    *(OwnResult("task-1", "after", v, How.TIMED, 1, "2026-11-24 09:40") for v in (41.2, 42.0, 41.9)),
    OwnResult("noise-1", "before", 46.0, How.TYPED, 1, "2026-11-23 11:50"),
)


def playout_job() -> Job:
    """As it stands after the cleaning: both runs are there, and they cannot be compared as they are."""
    return Job(
        JOB_ID, "Playout PC", MACHINE, "plays the programme out and must never stutter on air", "audio",
        Decimal("60"), Decimal("32"), "2026-11-25", TARGETS,
        ("Stands under the mixing desk, next to the heater",),
        findings=(Finding("felt", "cooler", Severity.BAD, "a mat across the fins"),
                  Finding("vent", "front", Severity.CLEAR)),
        tried=(TestResult("starts", TrialOutcome.WORKS), TestResult("system", TrialOutcome.WORKS),
               TestResult("fan", TrialOutcome.FAILS, "loud at all times")),
        data_safe=DataSafe(DataState.BACKED_UP, "the bench", "2026-11-23 09:05", "bench disk 2", "61 GB",
                           "every file read back", True),
        own_tests=(_RENDER, _NOISE), own_results=_RESULTS,
        plan=PLAN, bench=SIMULATED, simulated_as=JOB_ID, locks=Locks(LockState.NONE, LockState.NONE),
        checks=(CheckDone(COMPLAINT.id, "hot, loud, slow once it is warm", 1.0),),
    )  # fmt: skip
