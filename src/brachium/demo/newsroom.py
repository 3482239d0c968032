"""The newsroom laptop of Saltmarsh FM: dried paste, one of two memory slots filled, a slow disk."""

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
from brachium.core.machine.machine import (
    Configuration,
    DriveBay,
    Fitted,
    Identity,
    Machine,
    MemoryPlatform,
    ModuleSlot,
    Processor,
)
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import (
    BayForm,
    Drive,
    DriveInterface,
    MemoryForm,
    MemoryGeneration,
    MemoryModule,
    Service,
)
from brachium.core.machine.platform import Board, BootMode, Contacts, DriveMode, InstalledSystem, Platform, PowerInput
from brachium.core.machine.power_parts import Battery
from brachium.core.measure.conditions import Conditions
from brachium.core.record.checks import CheckDone
from brachium.core.record.job import SIMULATED, Job
from brachium.core.record.target import Target
from brachium.demo.simulation import Simulation
from brachium.devices.simulated.faults import Faults
from brachium.devices.simulated.machine import SimulatedSpec
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals
from brachium.devices.simulated.tree import TreeBattery, TreeState

JOB_ID = "newsroom-laptop"
HEALTHY = Thermals(
    Silicon(max_mhz=3300.0, dynamic_w=37.0, limit_c=95.0),
    Cooling(paste_k_w=0.40, pipe_k_w=0.14, fins_k_w=0.78, pipe_flux_w=4.0),
    FanCurve(),
    room_drift_k_h=0.4,
)
DRIED_PASTE = 3.2
DUSTY_FINS = 1.12

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
_BATTERY = Battery("Battery, 44 Wh", 35.6, 44.0, 11.1, "8 contacts")
_DISK = Drive("Sandpiper 500 GB disk, 5400 /min", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 500 * GB, True,
              108.0, 52.0, 14.0)  # fmt: skip

MACHINE = Machine(
    kind=MachineKind.LAPTOP,
    identity=Identity("Oakmere", "Tern 14", "OM-T14-20417", 2014, "1.18", "Linux, 64-bit"),
    processor=Processor("Kestrion M4-35", 4, 8, 35.0, 95.0),
    memory=MemoryPlatform(2, 1600, 1600, 16 * GIB, 32 * GIB, True),
    slots=(
        ModuleSlot("slot-1", "Memory slot 1", MemoryForm.SO_DIMM, MemoryGeneration.DDR3, 0, 8 * GIB),
        ModuleSlot("slot-2", "Memory slot 2", MemoryForm.SO_DIMM, MemoryGeneration.DDR3, 1, 8 * GIB),
    ),
    bays=(
        DriveBay("bay-main", "Main drive bay", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),
        DriveBay("bay-optical", "Optical bay", DriveInterface.SATA, BayForm.OPTICAL, 9.5, 150.0, "9.5 mm caddy"),
    ),
    fitted=(Fitted("slot-1", _MODULE), Fitted("bay-main", _DISK), Fitted("battery", _BATTERY)),
    platform=Platform(
        Board(
            True,
            boot_modes=(BootMode.LEGACY, BootMode.UEFI),
            nvme_start=False,
            drive_mode=DriveMode.AHCI,
            network_mbit_s=1000.0,
        ),
        contacts=Contacts(148.0, True, False, True, 0.5, 1, False),
        power=PowerInput(65.0, False, False, 19.5, "4.5 x 3.0 mm", "centre +", 11.1, "8 contacts"),
        system=InstalledSystem(64, boot_mode=BootMode.UEFI, used_bytes=390 * GB),
    ),
    origins={
        "identity.model": Origin.LABEL,
        "identity.serial": Origin.LABEL,
        "memory.published_max_bytes": Origin.CATALOGUE,
        "memory.controller_max_bytes": Origin.CATALOGUE,
        "memory.processor_max_mts": Origin.CATALOGUE,
        "memory.low_voltage_only": Origin.LABEL,
        "memory.board_max_mts": Origin.CATALOGUE,
        "slots": Origin.LABEL,
        "bays": Origin.LABEL,
    },
)

TARGETS = (
    Target("start_up", "starts in under 25 s", 25.0, "s", True),
    Target("own_task", "exports the hourly clip in under 75 s", 75.0, "s", True),
    Target("held_back", "not held back by heat under load", 0.0, "%", True),
)


def newsroom_job() -> Job:
    """The job as it comes in: identified and looked at, data not yet settled."""
    return Job(
        JOB_ID, "Newsroom laptop", MACHINE, "cutting news clips", "video", Decimal("150"), Decimal("32"),
        "2026-11-27", TARGETS,
        ("Fan loud within a minute of work", "Light felt at the vents, cover screws all there",
         "Battery holds charge, not swollen", "Disk audible, no errors seen by the owner"),
        findings=(Finding("felt", "vents", Severity.SLIGHT, "seen through the grille"),),
        tried=(TestResult("starts", TrialOutcome.WORKS), TestResult("firmware", TrialOutcome.WORKS),
               TestResult("system", TrialOutcome.WORKS, "slow"), TestResult("keyboard", TrialOutcome.WORKS),
               TestResult("battery", TrialOutcome.WORKS),
               TestResult("fan", TrialOutcome.FAILS, "loud within a minute")),
        bench=SIMULATED, simulated_as=JOB_ID, locks=Locks(LockState.NONE, LockState.NONE),
        checks=(CheckDone(COMPLAINT.id, "hot, loud, slow once it is warm", 1.0),),
    )  # fmt: skip


_BEFORE = Conditions(
    room_c=23.4, room_note="at the intake", boot_medium="installed system", mains=True, battery_fitted=True,
    power_profile="balanced", fan_mode="automatic", panel_on=True, system="Linux 6.1", firmware="1.18",
    free_space_frac=0.22,
)  # fmt: skip
SIMULATION = Simulation(
    MACHINE, HEALTHY, Faults(paste=DRIED_PASTE, dust=DUSTY_FINS), _BEFORE,
    replace(_BEFORE, room_c=22.1, free_space_frac=0.46), TreeState(TreeBattery(44.0, 35.6, 214)),
)  # fmt: skip


def simulated_newsroom(config: Configuration, services: frozenset[Service], after_work: bool) -> SimulatedSpec:
    """Physics of the laptop in a configuration and with the services done so far; see Simulation.spec."""
    return SIMULATION.spec(config, services, after_work)
