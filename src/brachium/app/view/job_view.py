"""Everything a job's pages show, one record a stage, computed in one place off the window's thread."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.app.view.causes import Causes, causes_of
from brachium.app.view.choice import Choice, choice_of
from brachium.app.view.judged_once import plan_once
from brachium.app.view.measured import JobRuns, Measured, measured_of
from brachium.app.view.proof import Proof, proof_of
from brachium.app.view.standing import Standing, standing_of
from brachium.app.view.work import Work, planned_work
from brachium.core.fit.circumstances_of import around_of
from brachium.core.plan.candidates import CatalogueItem
from brachium.core.record.job import Job
from brachium.core.record.shop_rules import ShopRules

PLAIN_SHOP = ShopRules()


@dataclass(frozen=True)
class JobView:
    """One job, computed: a record for each stage's page, and where the job stands."""

    job: Job
    measured: Measured
    causes: Causes
    choice: Choice
    work: Work
    proof: Proof
    standing: Standing


def compute_view(
    job: Job, runs: JobRuns, catalogue: tuple[CatalogueItem, ...], shop: ShopRules = PLAIN_SHOP
) -> JobView:
    """Compute everything. Takes up to a second where heat fits are new; call it off the window's thread."""
    measured = measured_of(job, runs)
    causes = causes_of(job, measured)
    around = around_of(job, measured.before, causes.figures, causes.profile, shop)
    plan = plan_once(job, catalogue, around)
    work = planned_work(job, plan, shop)
    choice = choice_of(job, measured, causes, plan, work.steps, shop)
    proof = proof_of(job, runs, measured, causes, plan)
    return JobView(job, measured, causes, choice, work, proof, standing_of(job, measured, causes, plan, work, proof))
