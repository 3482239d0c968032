"""Everything a job's pages show, computed in one place off the window's thread."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from types import MappingProxyType

from brachium.app.benches import expected_minutes, offered_here, protocol_of
from brachium.app.choosing import Ask, Choice, Offer, cost_of, remembered_choice, verdicts_of
from brachium.app.find_cause import assessment_of
from brachium.app.roles import AFTER, BEFORE
from brachium.core.cause.assess import Assessment
from brachium.core.choose.compatibility import about, alone
from brachium.core.choose.cost import PlanCost
from brachium.core.choose.other_board import beside_boards
from brachium.core.choose.plan_space import NOTHING_SAID
from brachium.core.choose.predict import Prediction, predict
from brachium.core.fit.acceptance import still_open
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.circumstances_of import around_of
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Verdict, worst
from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.heat.claims import HeatVerdict
from brachium.core.learn.attribution import Attribution, attribute, stretches_of
from brachium.core.learn.drift import Drift, drift_of
from brachium.core.measure.history import History, learn_spreads
from brachium.core.measure.own_tests import with_own
from brachium.core.measure.reference import ReferenceBand, outside
from brachium.core.measure.run import Protocol, Run
from brachium.core.measure.run_checks import Flag, run_flags
from brachium.core.measure.statistics import Spread, smallest_provable
from brachium.core.measure.workloads import TESTS, spread_for
from brachium.core.plan.candidates import Candidate, CatalogueItem, candidates, changed_by, planned, replaces
from brachium.core.prove.comparison import Comparison, compare_runs, heat_verdict
from brachium.core.prove.target_results import TargetResult, judge_alone, judge_targets
from brachium.core.record.correction import NONE, Correction
from brachium.core.record.job import Job, Stage
from brachium.core.record.repaste import Repaste
from brachium.core.record.shop_rules import ShopRules
from brachium.core.record.use_of_job import use_of
from brachium.core.stage.latches import Latch, Progress, furthest, latches
from brachium.core.stage.next_action import NextAction, next_action
from brachium.core.use.profile import UseProfile
from brachium.core.work.step import Step
from brachium.core.work.whole_plan import work_of

PLAIN_SHOP = ShopRules()
WHOLE = tuple(r for r in ALL_RULES if r.id in ("OS-SUPPORT", "OS-BITS", "CPU-ISA", "MEM-OS", "NET-LINK"))


@dataclass(frozen=True)
class JobView:
    """One job, computed. None where the runs for it do not exist yet.

    `shown_before` and `shown_after` hold the owner's own results beside the measured ones; the runs stay as captured.
    """

    job: Job
    before: Run | None
    after: Run | None
    shown_before: Run | None
    shown_after: Run | None
    profile: UseProfile
    figures: BeforeFigures | None
    assessment: Assessment
    offers: tuple[Offer, ...]
    plan_verdicts: tuple[Verdict, ...]
    prediction: Prediction | None
    cost: PlanCost
    steps: tuple[Step, ...]
    comparison: Comparison | None
    targets: tuple[TargetResult, ...]
    progress: Progress
    latches: Mapping[Stage, Latch]
    stage: Stage
    next: NextAction
    spreads: Mapping[str, Spread]
    protocol: Protocol
    offered: tuple[str, ...]
    missing: tuple[tuple[str, str], ...]
    run_minutes: float
    flags_before: tuple[Flag, ...] = ()
    flags_after: tuple[Flag, ...] = ()
    outside: tuple[str, ...] = ()
    choice: Choice | None = None  # the front and what follows from it; needs a before-run
    around: Circumstances = NOTHING_SAID
    whole: tuple[Verdict, ...] = ()  # what the rules say of the machine as a whole, with the plan in hand
    unsettled: tuple[Verdict, ...] = ()  # verdicts of the plan that wait for a person's word
    repastes: tuple[Repaste, ...] = ()  # what repastes brought in this shop
    uncorrected: Prediction | None = None  # the prediction without the shop's own record
    attribution: Attribution | None = None  # what each change brought
    drift: Drift | None = None  # how it aged since it was handed over

    def provable(self, test: str) -> float:
        """Smallest gain of a test (0.05 = 5 %) that the protocol proves on this machine, before and after alike."""
        return smallest_provable(self.spreads[test], self.protocol.sessions, self.protocol.repeats)

    def next_step(self) -> Step | None:
        done = {s.step_id for s in self.job.steps_done}
        return next((s for s in self.steps if s.id not in done), None)

    def chosen(self) -> tuple[Candidate, ...]:
        return tuple(o.candidate for o in self.offers if o.chosen)


@lru_cache(maxsize=32)
def _figures(run_key: _Once, limit_c: float | None) -> BeforeFigures:
    return figures_of(run_key.run, limit_c)


@lru_cache(maxsize=32)
def _flags(run: _Once) -> tuple[Flag, ...]:
    return run_flags(run.run)


def _flagged(run: Run | None, doubts: Mapping[str, str]) -> tuple[Flag, ...]:
    """What stands out in a run, doubt of its date first."""
    if run is None:
        return ()
    doubt = (Flag("date", doubts[run.id]),) if run.id in doubts else ()
    return (*doubt, *_flags(_Once(run)))


@lru_cache(maxsize=32)
def _heat(before: _Once, after: _Once, limit_c: float | None) -> HeatVerdict:
    return heat_verdict(before.run, after.run, limit_c)


@dataclass(frozen=True, eq=False)
class _Once:
    """A run as a cache key: runs are never edited, so id and void reason say it all."""

    run: Run

    def __hash__(self) -> int:
        return hash((self.run.id, self.run.void_reason))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Once) and self.run is other.run


def compute_view(
    job: Job, before: Run | None, after: Run | None, catalogue: tuple[CatalogueItem, ...],
    history: Sequence[History] = (), references: Mapping[str, ReferenceBand] = MappingProxyType({}),
    shop: ShopRules = PLAIN_SHOP, between: Sequence[Run] = (), later: Run | None = None,
    doubts: Mapping[str, str] = MappingProxyType({}),
) -> JobView:  # fmt: skip
    """Compute everything. Takes up to a second where heat fits are new; call it off the window's thread.

    `history` holds earlier runs, without the two compared: they teach how much sessions scatter. `between` are runs
    that arrived between before and after: they tell the changes apart. `doubts` are doubts of dates by run id.
    """
    run_minutes = expected_minutes(job)
    limit = job.machine.processor.limit_c
    figures = _figures(_Once(before), limit) if before else None
    assessment = assessment_of(job, before, figures)
    profile = use_of(job, assessment.limits)
    if figures is not None:
        figures = replace(figures, paste_chance=assessment.cause("paste").chance,
                          fins_chance=assessment.cause("fins").chance)  # fmt: skip
    everything = candidates(job.machine, catalogue)
    chosen = tuple(c for c in everything if c.id in job.plan)
    around = around_of(job, before, figures, profile, shop)
    offers = tuple(_offer(job, c, chosen, around) for c in everything)
    own, preconditions = verdicts_of(job.machine, chosen, around)
    unsettled = still_open(own, job.acceptances)
    steps = work_of(job, chosen, preconditions, around.used_bytes)
    shown_before = with_own(before, BEFORE, job.own_tests, job.own_results)
    shown_after = with_own(after, AFTER, job.own_tests, job.own_results)
    comparison = None
    if shown_before is not None and shown_after is not None:
        heat = _heat(_Once(before), _Once(after), limit) if before and after else None
        comparison = compare_runs(shown_before, shown_after, limit, learn_spreads(history), heat, changed_by(chosen))
    shown = tuple(History((run,), True) for run in (before, after) if run is not None)
    known = learn_spreads((*history, *shown))
    done = {s.step_id for s in job.steps_done}
    steps_open = sum(1 for s in steps if s.id not in done)
    progress = Progress(before is not None, after is not None, worst(own) if chosen else None, steps_open, len(steps),
                        frozenset(c.group.value for c in chosen), comparison.refusal if comparison else "",
                        tuple(v.sentence for v in unsettled))  # fmt: skip
    upcoming = next((s for s in steps if s.id not in done), None)
    cost = cost_of(job, chosen, steps, shop.prices)
    provable = smallest_provable(known.get("sustained") or spread_for("sustained"), protocol_of(job).sessions,
                                 protocol_of(job).repeats)  # fmt: skip
    choice = None
    if before is not None and figures is not None:
        options = tuple(alone(job.machine, c, around) for c in everything)
        boards = beside_boards(job.machine, everything, around, frozenset(job.plan))
        ask = Ask(job, options, boards, profile, before, figures, assessment.limits, provable, around,
                  shop.worth_per_eur, shop.prices, shop.correction)  # fmt: skip
        choice = remembered_choice(ask, cost)
    before_stages = latches(job, progress)
    shut = "" if before_stages[Stage.WORK].open else before_stages[Stage.WORK].missing
    return JobView(
        job, before, after, shown_before, shown_after, profile, figures,
        assessment,
        offers, own, _predicted(job, chosen, profile, figures, around, shop.correction), cost,
        steps, comparison, _targets(job, comparison, after, limit, known), progress,
        before_stages, furthest(job, progress),
        next_action(job, progress, run_minutes, (upcoming.title, upcoming.attended_min) if upcoming else None, shut),
        {t.key: known.get(t.key) or spread_for(t.key) for t in TESTS}, protocol_of(job), *offered_here(job),
        run_minutes,
        flags_before=_flagged(before, doubts), flags_after=_flagged(after, doubts),
        outside=outside(before, references) if before is not None else (), choice=choice,
        around=around, unsettled=unsettled, repastes=shop.repastes,
        uncorrected=_predicted(job, chosen, profile, figures, around, NONE),
        drift=_drift(job, after, later, limit),
        attribution=_attributed(job, chosen, before, after, between, figures, profile, around),
        whole=evaluate(WHOLE, job.machine, planned(job.machine, chosen), around),
    )  # fmt: skip


def _predicted(
    job: Job, chosen: tuple[Candidate, ...], profile: UseProfile, figures: BeforeFigures | None, around: Circumstances,
    correction: Correction,
) -> Prediction | None:  # fmt: skip
    return None if figures is None else predict(job.machine, chosen, profile, figures, around.heat, correction)


def _drift(job: Job, after: Run | None, later: Run | None, limit_c: float | None) -> Drift | None:
    """How the machine aged since the after-run; None without a later run of the machine as it was handed over."""
    if after is None or later is None or not job.handed_over:
        return None
    heat = _heat(_Once(after), _Once(later), limit_c)
    return drift_of(compare_runs(after, later, limit_c, None, heat), job.health, limit_c)


def _attributed(
    job: Job, chosen: tuple[Candidate, ...], before: Run | None, after: Run | None, between: Sequence[Run],
    figures: BeforeFigures | None, profile: UseProfile, around: Circumstances,
) -> Attribution | None:  # fmt: skip
    """The measured gain divided among the changes; None without a pair of runs that can be compared."""
    if before is None or after is None or figures is None or not chosen:
        return None
    limit = job.machine.processor.limit_c
    done = {d.step_id: d.when for d in job.steps_done}
    runs = [before, *between, after]
    stretches = stretches_of(job.machine, chosen, done, [(r, _figures(_Once(r), limit)) for r in runs])
    return attribute(stretches, profile, around.heat)


def _targets(
    job: Job, comparison: Comparison | None, after: Run | None, limit_c: float | None, known: Mapping[str, Spread]
) -> tuple[TargetResult, ...]:
    if comparison is not None:
        return judge_targets(job.targets, comparison, limit_c, known)
    return judge_alone(job.targets, after, limit_c, known) if after is not None else ()


def _offer(job: Job, candidate: Candidate, chosen: tuple[Candidate, ...], around: Circumstances) -> Offer:
    """Judge a candidate together with the rest of the plan, its own group's choice replaced."""
    rest = tuple(c for c in chosen if not replaces(candidate, c))
    own = about(job.machine, (*rest, candidate), candidate, around)
    return Offer(candidate, worst(own), own, candidate in chosen)
