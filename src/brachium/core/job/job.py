"""The job: one machine on its way through the shop. A frozen record; every edit makes a new one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum

from brachium.core.cause.records import CheckDone, HealthReading, SwapTry
from brachium.core.choose.kept import NamedPlan, Replacement
from brachium.core.choose.profile import UseProfile
from brachium.core.choose.resale import EnergyUse, Resale
from brachium.core.condition.findings import Finding
from brachium.core.condition.functional import TestResult
from brachium.core.fit.acceptance import Acceptance
from brachium.core.job.provenance import Provenance
from brachium.core.machine.locks import Locks
from brachium.core.machine.machine import Machine
from brachium.core.machine.scan import Scan
from brachium.core.measure.own_tests import OwnResult, OwnTest
from brachium.core.measure.run import Protocol
from brachium.core.work.drive_records import Erasure, Transfer
from brachium.core.work.edits import PlanEdits
from brachium.core.work.pads import PadRow
from brachium.core.work.paste import PasteLayer
from brachium.core.work.screws import ScrewGroup


class Stage(StrEnum):
    """The seven stages in order; the value is the name on the track."""

    TAKE_IN = "Take in"
    MEASURE = "Measure"
    FIND_CAUSE = "Find cause"
    CHOOSE = "Choose"
    WORK = "Work"
    PROVE = "Prove"
    HAND_OVER = "Hand over"


STAGES: tuple[Stage, ...] = tuple(Stage)
SIMULATED = "simulated"
IMPORTED = "imported"
LOCAL = "this machine"
CONNECTED = (SIMULATED, LOCAL)


class DataState(StrEnum):
    """What is known of the owner's data."""

    OPEN = "not settled"
    BACKED_UP = "backed up and verified"
    NOT_NEEDED = "declared not needed"
    RESCUE = "opened to rescue the data"

    @property
    def settled(self) -> bool:
        """Whether anything may put the data at risk; a machine opened to rescue it may not."""
        return self in (DataState.BACKED_UP, DataState.NOT_NEEDED)


@dataclass(frozen=True)
class DataSafe:
    """The data-safe record: what was settled, by whom and when; of a backup where it lies, its size, how verified.

    `consent` says whether the owner agreed that files may be looked at.
    """

    state: DataState = DataState.OPEN
    who: str = ""
    when: str = ""
    where: str = ""
    size: str = ""
    verified: str = ""
    consent: bool = False


@dataclass(frozen=True)
class Target:
    """A measurable wish: a test's result, the peak temperature ("peak_c") or the throttled share ("held_back").

    `condition` is when it is meant, in the owner's words: "on a warm day".
    """

    key: str
    title: str
    limit: float
    unit: str
    at_most: bool
    condition: str = ""

    @property
    def words(self) -> str:
        """The wish with the condition under which it is meant."""
        return f"{self.title}, {self.condition}" if self.condition else self.title


@dataclass(frozen=True)
class LatchLift:
    """A latch lifted with a written reason; it stays in the log and on the report."""

    stage: Stage
    reason: str
    when: str


@dataclass(frozen=True)
class StepDone:
    """A ticked step: its attended minutes, a note of what went wrong, minutes that ran by themselves."""

    step_id: str
    when: str
    minutes: float
    note: str = ""
    unattended_min: float = 0.0


@dataclass(frozen=True)
class GateLift:
    """A gate of a work step lifted with a written reason."""

    step_id: str
    reason: str
    when: str


@dataclass(frozen=True)
class Photo:
    """A picture kept with a job: id made of its content, size of the kept copy [px], caption, when it was added."""

    id: str
    width: int
    height: int
    caption: str = ""
    added: str = ""


WAITS_PARTS, WAITS_OWNER, KEPT = "Waiting for parts", "Waiting for the owner", "Kept for parts"


@dataclass(frozen=True)
class Hold:
    """Why a machine stands still: WAITS_PARTS, WAITS_OWNER or KEPT (a donor), what exactly, since when."""

    on: str
    note: str = ""
    since: str = ""


@dataclass(frozen=True)
class MeasureSetup:
    """How a machine is measured, asked once: protocol by its key ("own" is the one in `own`), room [degC], folder for
    drive tests or empty, temperature at which a load is stopped [degC] beside the sensors' own limits."""

    protocol: str = "standard"
    room_c: float | None = None
    drive_folder: str = ""
    own: Protocol | None = None
    limit_c: float | None = None
    typed: Mapping[str, str] = field(default_factory=dict)  # conditions that a person stated, by their key


@dataclass(frozen=True)
class Job:
    """Everything recorded about one machine's stay, except its runs."""

    id: str
    name: str
    machine: Machine
    goal: str = ""
    profile_id: str = "office"
    budget: Decimal | None = None
    rate_per_hour: Decimal = Decimal("32")
    needed_by: str = ""
    targets: tuple[Target, ...] = ()
    condition: tuple[str, ...] = ()
    provenance: Provenance = field(default_factory=Provenance)
    findings: tuple[Finding, ...] = ()
    tried: tuple[TestResult, ...] = ()
    data_safe: DataSafe = field(default_factory=DataSafe)
    plan: tuple[str, ...] = ()
    steps_done: tuple[StepDone, ...] = ()
    lifts: tuple[LatchLift, ...] = ()
    gate_lifts: tuple[GateLift, ...] = ()
    screws: tuple[ScrewGroup, ...] = ()
    last_chance: tuple[tuple[str, str], ...] = ()  # items of the last chance and what was said of them
    handed_over: str = ""
    archived: str = ""  # when it was put away
    bench: str = ""  # SIMULATED, LOCAL, IMPORTED, or empty: not connected
    simulated_as: str = ""  # the simulated machine that stands for it, also where it cannot be measured
    setup: MeasureSetup = field(default_factory=MeasureSetup)
    locks: Locks = field(default_factory=Locks)
    no_before: str = ""  # why there can be no before-run, such as "does not start"
    scan: Scan | None = None  # the last one
    hold: Hold | None = None
    photos: tuple[Photo, ...] = ()
    own_tests: tuple[OwnTest, ...] = ()
    own_results: tuple[OwnResult, ...] = ()
    scan_kept: tuple[str, ...] = ()  # what a person kept against the scan, as key=seen
    checks: tuple[CheckDone, ...] = ()  # made while the cause was looked for
    health: tuple[HealthReading, ...] = ()  # drives' own counters, in the order they were read
    swap_tries: tuple[SwapTry, ...] = ()
    named_cause: str = ""  # on a practice machine: what was named
    kept_plans: tuple[NamedPlan, ...] = ()
    other_machine: Replacement | None = None  # what buying another one would cost and bring
    parts_due: str = ""  # ISO date on which the parts are there
    attended_limit_min: float | None = None  # most attended minutes that a plan may take
    resale: Resale | None = None
    energy: EnergyUse | None = None
    own_use: UseProfile | None = None  # the profile with this owner's own shares
    measured_shares: bool = False  # the timed task stands for all of the work: its shares in place of the profile's
    acceptances: tuple[Acceptance, ...] = ()  # verdicts taken on with a reason
    targets_asked: bool = True  # whether plans that miss a target are left out of the front
    plan_edits: PlanEdits = field(default_factory=PlanEdits)  # the work plan edited by hand
    transfer: Transfer = field(default_factory=Transfer)  # how the system moves, what becomes of the old drive
    erasures: tuple[Erasure, ...] = ()  # of drives that left
    paste: PasteLayer | None = None  # as it was put on
    pads: tuple[PadRow, ...] = ()
    shelved: tuple[str, ...] = ()  # places whose old part went onto the shelf
    first_start: Mapping[str, str] = field(default_factory=dict)  # how each thing read after the work
    handed_machine: Machine | None = None  # the machine as it was handed over
    warranty_until: str = ""  # ISO date
    look_again: str = ""  # ISO date on which to measure it again
    sold_for: Decimal | None = None  # what it really fetched [EUR]
    remarks: Mapping[str, str] = field(default_factory=dict)  # words of one's own on the owner's and the buyer's page
    report_language: str = ""  # code of the language that its reports speak; empty = the shop's
    report_currency: str = ""  # three letters; empty = the shop's
    wording: Mapping[str, str] = field(default_factory=dict)  # sentences of the reports worded by hand, by the text

    @property
    def can_be_scanned(self) -> bool:
        """Whether its machine can be read from here: it is this one, or a simulated one."""
        return self.bench in (LOCAL, SIMULATED) or bool(self.simulated_as)
