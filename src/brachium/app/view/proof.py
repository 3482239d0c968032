"""Proof: before against after, the targets judged, the gain divided among the changes, how the machine aged."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from brachium.app.view.causes import Causes
from brachium.app.view.days import Days, days_of
from brachium.app.view.measured import JobRuns, Measured
from brachium.app.view.plan_in_hand import PlanInHand
from brachium.app.view.read_once import figures_once, heat_once
from brachium.core.learn.attribution import Attribution, attribute, stretches_of
from brachium.core.learn.drift import Drift, drift_of
from brachium.core.measure.history import learn_spreads
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import changed_by
from brachium.core.prove.comparison import Comparison, compare_runs
from brachium.core.prove.target_results import TargetResult, judge_alone, judge_targets
from brachium.core.record.job import Job


@dataclass(frozen=True)
class Proof:
    """None and empty where the runs for it do not exist. `attribution` is what each change brought, `drift` how the
    machine aged since it was handed over, `days` what its watched days say."""

    comparison: Comparison | None
    targets: tuple[TargetResult, ...]
    attribution: Attribution | None
    drift: Drift | None
    days: Days


def proof_of(job: Job, runs: JobRuns, measured: Measured, causes: Causes, plan: PlanInHand) -> Proof:
    """What Prove shows."""
    comparison = _comparison(job, runs, measured, plan)
    return Proof(
        comparison, _targets(job, measured, comparison), _attributed(job, measured, causes, plan, runs.between),
        _drift(job, measured.shown_after, measured.shown_later), days_of(job, measured, plan),
    )  # fmt: skip


def _comparison(job: Job, runs: JobRuns, measured: Measured, plan: PlanInHand) -> Comparison | None:
    if measured.shown_before is None or measured.shown_after is None:
        return None
    limit = job.machine.processor.limit_c
    heat = heat_once(runs.before, runs.after, limit) if runs.before and runs.after else None
    spreads = learn_spreads(runs.history)
    return compare_runs(measured.shown_before, measured.shown_after, limit, spreads, heat, changed_by(plan.chosen))


def _targets(job: Job, measured: Measured, comparison: Comparison | None) -> tuple[TargetResult, ...]:
    limit = job.machine.processor.limit_c
    if comparison is not None:
        return judge_targets(job.targets, comparison, limit, measured.known)
    return judge_alone(job.targets, measured.after, limit, measured.known) if measured.after is not None else ()


def _attributed(
    job: Job, measured: Measured, causes: Causes, plan: PlanInHand, between: Sequence[Run]
) -> Attribution | None:
    """The measured gain divided among the changes; None without a pair of runs that can be compared."""
    before, after = measured.before, measured.after
    if before is None or after is None or causes.figures is None or not plan.chosen:
        return None
    limit = job.machine.processor.limit_c
    done = {d.step_id: d.when for d in job.steps_done}
    runs = [before, *between, after]
    stretches = stretches_of(job.machine, plan.chosen, done, [(r, figures_once(r, limit)) for r in runs])
    return attribute(stretches, causes.profile, plan.around.heat)


def _drift(job: Job, after: Run | None, later: Run | None) -> Drift | None:
    """How the machine aged since the after-run; None without a later run of the machine as it was handed over."""
    if after is None or later is None or not job.handed_over:
        return None
    limit = job.machine.processor.limit_c
    return drift_of(compare_runs(after, later, limit, None, heat_once(after, later, limit)), job.health, limit)
