"""The job: one machine on its way through the shop. A frozen record; every edit makes a new one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from brachium.core.base.marks import of_machine, of_model, of_stay
from brachium.core.base.own_words import OwnWords
from brachium.core.condition.findings import Finding
from brachium.core.condition.trials import TestResult
from brachium.core.drives.readings import HealthReading
from brachium.core.machine.locks import Locks
from brachium.core.machine.machine import Machine
from brachium.core.machine.scanned.scan import Scan
from brachium.core.measure.own_tests import OwnResult, OwnTest
from brachium.core.measure.run import Protocol
from brachium.core.record.acceptance import Acceptance
from brachium.core.record.checks import CheckDone, SwapTry
from brachium.core.record.drive_records import Erasure, Transfer
from brachium.core.record.kept_plans import NamedPlan, Replacement
from brachium.core.record.money import EnergyUse, Resale, Voucher
from brachium.core.record.provenance import Provenance
from brachium.core.record.target import Target
from brachium.core.record.work.pads import PadRow
from brachium.core.record.work.paste import PasteLayer
from brachium.core.record.work.plan_edits import PlanEdits
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.record.work.trouble import Trouble
from brachium.core.use.profile import UseProfile


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
PRACTICE_PREFIX = "practice-"  # of the name that a job gives its simulated machine, before the seed
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

    @property
    def may_open(self) -> bool:
        """Whether the machine may be opened while its cause is looked for: also to get at the data at all."""
        return self is not DataState.OPEN


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

    protocol: str = of_model("standard")
    room_c: float | None = of_stay(None)
    drive_folder: str = of_machine("")
    own: Protocol | None = of_model(None)
    limit_c: float | None = of_model(None)
    typed: Mapping[str, str] = of_stay(factory=dict)  # conditions that a person stated, by their key


@dataclass(frozen=True)
class Job:
    """Everything recorded about one machine's stay, except its runs."""

    id: str = of_machine()
    name: str = of_machine()
    machine: Machine = of_model()
    goal: str = of_model("")
    profile_id: str = of_model("office")
    budget: Decimal | None = of_model(None)
    rate_per_hour: Decimal = of_model(Decimal("32"))
    needed_by: str = of_stay("")
    targets: tuple[Target, ...] = of_model(())
    condition: tuple[str, ...] = of_machine(())
    provenance: Provenance = of_stay(factory=Provenance)
    findings: tuple[Finding, ...] = of_machine(())
    tried: tuple[TestResult, ...] = of_machine(())
    data_safe: DataSafe = of_stay(factory=DataSafe)
    plan: tuple[str, ...] = of_stay(())
    steps_done: tuple[StepDone, ...] = of_stay(())
    lifts: tuple[LatchLift, ...] = of_stay(())
    gate_lifts: tuple[GateLift, ...] = of_stay(())
    screws: tuple[ScrewGroup, ...] = of_stay(())
    troubles: tuple[Trouble, ...] = of_stay(())  # met at steps of the work
    last_chance: tuple[tuple[str, str], ...] = of_stay(())  # items of the last chance and what was said of them
    handed_over: str = of_stay("")
    archived: str = of_stay("")  # when it was put away
    bench: str = of_machine("")  # SIMULATED, LOCAL, IMPORTED, or empty: not connected
    simulated_as: str = of_machine("")  # the simulated machine that stands for it, also where it cannot be measured
    setup: MeasureSetup = of_model(factory=MeasureSetup)
    locks: Locks = of_machine(factory=Locks)
    no_before: str = of_machine("")  # why there can be no before-run, such as "does not start"
    scan: Scan | None = of_machine(None)  # the last one
    hold: Hold | None = of_stay(None)
    photos: tuple[Photo, ...] = of_stay(())
    own_tests: tuple[OwnTest, ...] = of_model(())
    own_results: tuple[OwnResult, ...] = of_stay(())
    own_conditions: Mapping[str, Mapping[str, str]] = of_stay(
        factory=dict
    )  # under which results were typed: by the key of their configuration, as stated
    scan_kept: tuple[str, ...] = of_machine(())  # what a person kept against the scan, as key=seen
    checks: tuple[CheckDone, ...] = of_machine(())  # made while the cause was looked for
    health: tuple[HealthReading, ...] = of_machine(())  # SMART data, in the order they were read
    swap_tries: tuple[SwapTry, ...] = of_machine(())
    named_cause: str = of_machine("")  # on a practice machine: what was named
    kept_plans: tuple[NamedPlan, ...] = of_stay(())
    other_machine: Replacement | None = of_stay(None)  # what buying another one would cost and bring
    parts_due: str = of_stay("")  # ISO date on which the parts are there
    attended_limit_min: float | None = of_model(None)  # most attended minutes that a plan may take
    resale: Resale | None = of_stay(None)
    energy: EnergyUse | None = of_stay(None)
    own_use: UseProfile | None = of_model(None)  # the profile with this owner's own shares
    measured_shares: bool = of_stay(
        False
    )  # the timed task stands for all of the work: its shares in place of the profile's
    acceptances: tuple[Acceptance, ...] = of_stay(())  # verdicts taken on with a reason
    vouchers: tuple[Voucher, ...] = of_stay(())
    part_facts: Mapping[str, str] = of_stay(
        factory=dict
    )  # of parts for sale, by the key of the gap that asked for them
    targets_asked: bool = of_model(True)  # whether plans that miss a target are left out of the front
    plan_edits: PlanEdits = of_stay(factory=PlanEdits)  # the work plan edited by hand
    transfer: Transfer = of_stay(factory=Transfer)  # how the system moves, what becomes of the old drive
    erasures: tuple[Erasure, ...] = of_machine(())  # of drives that left
    paste: PasteLayer | None = of_stay(None)  # as it was put on
    pads: tuple[PadRow, ...] = of_model(())
    shelved: tuple[str, ...] = of_stay(())  # places whose old part went onto the shelf
    first_start: Mapping[str, str] = of_stay(factory=dict)  # how each thing read after the work
    handed_machine: Machine | None = of_stay(None)  # the machine as it was handed over
    warranty_until: str = of_stay("")  # ISO date
    look_again: str = of_stay("")  # ISO date on which to measure it again
    sold_for: Decimal | None = of_stay(None)  # what it really fetched [EUR]
    remarks: Mapping[str, str] = of_stay(factory=dict)  # words of one's own on the owner's and the buyer's page
    report_language: str = of_model("")  # code of the language that its reports speak; empty = the shop's
    report_currency: str = of_model("")  # three letters; empty = the shop's
    wording: Mapping[str, str] = of_stay(factory=dict)  # sentences of the reports worded by hand, by the text

    def __post_init__(self) -> None:
        object.__setattr__(self, "name", OwnWords(self.name))
        object.__setattr__(self, "goal", OwnWords(self.goal))
        object.__setattr__(self, "condition", tuple(map(OwnWords, self.condition)))

    @property
    def before_skipped(self) -> bool:
        """Whether somebody said why there is no before-run, or went on without one: it is not asked for again."""
        return bool(self.no_before) or any(x.stage in (Stage.FIND_CAUSE, Stage.WORK) for x in self.lifts)

    def has_typed(self, role: str) -> bool:
        """Whether figures were typed for a role (before, after): they are a run like any other."""
        return any(r.role == role and not r.invalid for r in self.own_results)

    @property
    def can_be_scanned(self) -> bool:
        """Whether its machine can be read from here: it is this one, or a simulated one."""
        return self.bench in (LOCAL, SIMULATED) or bool(self.simulated_as)
