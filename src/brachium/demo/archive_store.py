"""The archive workstation of Saltmarsh FM: a dead memory slot, one drive with a bad cable, one dying."""

from __future__ import annotations

from decimal import Decimal

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.drives.readings import HealthReading
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
from brachium.core.record.checks import SwapTry
from brachium.core.record.job import DataSafe, DataState, Job
from brachium.devices.simulated.tree import TreeState

JOB_ID = "archive-workstation"

_MODULE = MemoryModule(
    "Plover 8 GiB DDR3-1333", MemoryForm.DIMM, MemoryGeneration.DDR3, 8 * GIB, 1333, (1.5,), Buffering.UNBUFFERED, False
)
_DISK = Drive("Sandpiper 4 TB disk, 5900 /min", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 4000 * GB, True,
              180.0, 85.0, 16.0)  # fmt: skip
_SYSTEM = Drive("Sandpiper 120 GB SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 120 * GB, False, 500.0, 500.0, 0.11)

MACHINE = Machine(
    kind=MachineKind.TOWER,
    identity=Identity("Vantry", "Cormorant W4", "VT-W4-00266", 2012, "1.44", "Linux, 64-bit"),
    processor=Processor("Kestrion W6-95", 6, 12, 95.0, 82.0),
    memory=MemoryPlatform(2, 1333, 1600, 32 * GIB, 64 * GIB, False),
    slots=tuple(
        ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.DIMM, MemoryGeneration.DDR3, (k - 1) % 2, 16 * GIB)
        for k in (1, 2, 3, 4)
    ),
    bays=(
        DriveBay("bay-1", "Drive bay 1", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),
        DriveBay("bay-2", "Drive bay 2", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0),
        DriveBay("bay-3", "Drive bay 3", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0),
    ),
    fitted=(
        Fitted("slot-1", _MODULE), Fitted("slot-2", _MODULE), Fitted("slot-3", _MODULE),
        Fitted("bay-1", _SYSTEM), Fitted("bay-2", _DISK), Fitted("bay-3", _DISK),
    ),
    leads=(
        Lead("lead-1", "SATA power 1", LeadKind.SATA, "bay-1"),
        Lead("lead-2", "SATA power 2", LeadKind.SATA, "bay-2"),
        Lead("lead-3", "SATA power 3", LeadKind.SATA, "bay-3"),
    ),
    platform=Platform(
        Board(False, "KW-1", "r1", ("W6",), power_w=130.0, boot_modes=(BootMode.LEGACY, BootMode.UEFI),
              nvme_start=False, drive_mode=DriveMode.AHCI, network_mbit_s=1000.0),
        Case(160.0, AirPath.ALONG), Contacts(1100.0, False, False, False, None, 1, True),
        system=InstalledSystem(64, boot_mode=BootMode.LEGACY),
    ),
    origins={"identity.model": Origin.LABEL, "identity.serial": Origin.LABEL, "slots": Origin.TYPED,
             "bays": Origin.TYPED, "memory.published_max_bytes": Origin.CATALOGUE},
)  # fmt: skip
# What it would say of itself once it starts: the module in place 3 is not found, drive 2 came up slow.
TREE = TreeState(slow_links={"bay-2": "1.5 Gbps"}, unseen=frozenset({"slot-3"}), uefi=False)


def archive_store_job() -> Job:
    """Opened to rescue the data; nothing else may be done to it before that."""
    return Job(
        JOB_ID, "Archive workstation", MACHINE, "keeps every programme since the station began", "office",
        Decimal("200"), Decimal("32"), "2026-12-18", (),
        ("Stops with a memory tone; starts now and then with two modules",
         "Drive 2: interface errors, no bad sectors: look at its cable first",
         "Drive 3: reallocated sectors rising: image it before anything else"),
        findings=(Finding("noise", "drives", Severity.CLEAR, "drive 3 clicks"),
                  Finding("cable", "drives", Severity.CLEAR, "drive 2, kinked"),
                  Finding("dust", "cooler", Severity.CLEAR)),
        tried=(TestResult("starts", TrialOutcome.FAILS, "memory tone"), TestResult("firmware", TrialOutcome.FAILS)),
        data_safe=DataSafe(DataState.RESCUE, "archive desk", "2026-11-24 11:30", consent=True),
        locks=Locks(LockState.NONE, LockState.NONE), no_before="does not start",
        simulated_as=JOB_ID,
        health=(
            HealthReading("bay-2", "2026-11-24 11:40", {"reallocated": 0, "interface": 1204, "hours": 31_200}),
            HealthReading("bay-3", "2026-11-24 11:44", {"reallocated": 41, "pending": 6, "interface": 0}),
            HealthReading("bay-2", "2026-11-24 12:10", {"reallocated": 0, "interface": 1891, "hours": 31_200}),
        ),
        swap_tries=(
            SwapTry((("module:slot-1", "place:slot-1"), ("module:slot-2", "place:slot-2"),
                     ("module:slot-3", "place:slot-3")), False, "2026-11-24 11:52"),
            SwapTry((("module:slot-1", "place:slot-1"), ("module:slot-2", "place:slot-2")), True, "2026-11-24 11:57"),
        ),
    )  # fmt: skip
