"""Two machines of Saltmarsh FM that are kept for their parts, and what was pulled from them already."""

from __future__ import annotations

from decimal import Decimal

from brachium.core.base.units import GB, GIB
from brachium.core.base.why import Origin
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import DriveBay, Fitted, Identity, Machine, ModuleSlot, Processor
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.record.job import KEPT, DataSafe, DataState, Hold, Job
from brachium.core.record.parts_shelf import PartState, ShelfPart
from brachium.core.record.provenance import Provenance
from brachium.demo.newsroom import JOB_ID as NEWSROOM

LAPTOP_ID, DESKTOP_ID = "donor-laptop", "donor-desktop"
_ORIGINS = {"identity.model": Origin.LABEL, "slots": Origin.TYPED, "bays": Origin.TYPED}
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
_DIMM = MemoryModule(
    "Plover 8 GiB DDR4-2400", MemoryForm.DIMM, MemoryGeneration.DDR4, 8 * GIB, 2400, (1.2,), Buffering.UNBUFFERED, False
)
_DISK = Drive("Sandpiper 500 GB disk, 5400 /min", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 500 * GB, True,
              108.0, 52.0, 14.0)  # fmt: skip


def donor_laptop_job() -> Job:
    """The newsroom laptop's twin with a broken screen; one module is still in it."""
    machine = Machine(
        kind=MachineKind.LAPTOP, identity=Identity("Oakmere", "Tern 14", "OM-T14-18833", 2014),
        processor=Processor("Kestrion M4-35", 4, 8, 35.0, 95.0),
        slots=tuple(
            ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.SO_DIMM, MemoryGeneration.DDR3, k - 1, 8 * GIB)
            for k in (1, 2)
        ),
        bays=(DriveBay("bay-main", "Main drive bay", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0),),
        fitted=(Fitted("slot-1", _MODULE),), origins=_ORIGINS,
    )  # fmt: skip
    return Job(
        LAPTOP_ID, "Donor laptop", machine, "parts for the newsroom laptop", rate_per_hour=Decimal("32"),
        provenance=Provenance("given", Decimal("0")),
        findings=(Finding("glass", "screen", Severity.BAD), Finding("liquid", "keyboard", Severity.SLIGHT)),
        tried=(TestResult("starts", TrialOutcome.WORKS, "on an outside screen"),),
        data_safe=DataSafe(DataState.NOT_NEEDED, "newsroom", "2026-11-12 14:00"), no_before="kept for its parts",
        hold=Hold(KEPT, "one module left", "2026-11-12 14:20"),
    )  # fmt: skip


def donor_desktop_job() -> Job:
    """A small desktop whose supply smells of burning: nobody starts it again."""
    machine = Machine(
        kind=MachineKind.SMALL_DESKTOP, identity=Identity("Brindlecote", "Wren S5", "BC-S5-02007", 2018),
        processor=Processor("Kestrion D4-65", 4, 4, 65.0, 92.0),
        slots=tuple(
            ModuleSlot(f"slot-{k}", f"Memory slot {k}", MemoryForm.DIMM, MemoryGeneration.DDR4, k - 1, 16 * GIB)
            for k in (1, 2)
        ),
        bays=(DriveBay("bay-1", "Drive bay", DriveInterface.SATA, BayForm.IN_3_5, 26.1, 600.0),),
        fitted=(Fitted("slot-1", _DIMM),), origins=_ORIGINS,
    )  # fmt: skip
    return Job(
        DESKTOP_ID, "Donor desktop", machine, "parts for whatever they fit", rate_per_hour=Decimal("32"),
        provenance=Provenance("left behind by a sister station", Decimal("0")),
        findings=(Finding("burnt", "supply", Severity.BAD, "brown mark at the vent"),),
        tried=(TestResult("starts", TrialOutcome.NOT_TRIED),),
        data_safe=DataSafe(DataState.NOT_NEEDED, "sister station", "2026-11-05 09:30"), no_before="kept for its parts",
        hold=Hold(KEPT, "not to be started", "2026-11-05 09:40"),
    )  # fmt: skip


def demo_shelf() -> tuple[ShelfPart, ...]:
    """Parts pulled from the donors."""
    return (
        ShelfPart("part-1", _MODULE, "Donor laptop, memory slot 2", PartState.TESTED, Decimal("4"), NEWSROOM,
                  "two passes of the memory test"),
        ShelfPart("part-2", _DISK, "Donor laptop, main drive bay", PartState.DOUBTFUL, Decimal("0"), "",
                  "12 reallocated sectors"),
        ShelfPart("part-3", _DIMM, "Donor desktop, memory slot 2", PartState.UNTESTED, Decimal("9")),
    )  # fmt: skip
