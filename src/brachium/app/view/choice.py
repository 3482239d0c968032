"""Choice: every offer with its verdict, what the plan in hand costs and brings, and the plans beside it."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass

from brachium.app.view.causes import Causes
from brachium.app.view.judged_once import options_once
from brachium.app.view.measured import Measured
from brachium.app.view.plan_in_hand import Offer, PlanInHand, cost_of
from brachium.app.view.read_once import run_key
from brachium.app.view.weighed_plans import Ask, WeighedPlans, remembered_plans
from brachium.core.choose.cost import PlanCost
from brachium.core.choose.other_board import beside_boards
from brachium.core.choose.predict import Prediction, predict
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.verdict import Verdict
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Candidate
from brachium.core.record.correction import NONE, Correction
from brachium.core.record.job import Job
from brachium.core.record.shop_rules import ShopRules
from brachium.core.work.step import Step


@dataclass(frozen=True)
class Choice:
    """`verdicts` of the plan in hand, `whole` of the machine with it, `unsettled` those that wait for a person's word.

    `prediction` is None without a before-run or typed figures of the work, `uncorrected` leaves out the shop's own
    record; `weighed` is the front and what follows from it, None without either too.
    """

    offers: tuple[Offer, ...]
    verdicts: tuple[Verdict, ...]
    whole: tuple[Verdict, ...]
    unsettled: tuple[Verdict, ...]
    around: Circumstances
    cost: PlanCost
    prediction: Prediction | None
    uncorrected: Prediction | None
    weighed: WeighedPlans | None

    @property
    def gain(self) -> float | None:
        """Work per time with the plan in hand, 1 = as today; None where it is not known."""
        if not self.chosen():
            return 1.0
        return self.prediction.band.mid if self.prediction is not None and not self.partly_unknown else None

    @property
    def partly_unknown(self) -> bool:
        """Whether the plan in hand holds a change whose gain nobody knows."""
        return self.prediction is not None and any(c.unknown for c in self.prediction.contributions)

    def chosen(self) -> tuple[Candidate, ...]:
        """The candidates of the plan in hand."""
        return tuple(o.candidate for o in self.offers if o.chosen)


def choice_of(
    job: Job, measured: Measured, causes: Causes, plan: PlanInHand, steps: tuple[Step, ...], shop: ShopRules
) -> Choice:
    """What Choose shows."""
    cost = cost_of(job, plan.chosen, steps, shop.prices)
    uncorrected = _predicted(job, causes, plan, NONE)
    corrected = uncorrected if shop.correction == NONE else _predicted(job, causes, plan, shop.correction)
    return Choice(
        plan.offers, plan.verdicts, plan.whole, plan.unsettled, plan.around, cost,
        corrected, uncorrected, _weighed(job, measured, causes, plan, cost, shop),
    )  # fmt: skip


def _predicted(job: Job, causes: Causes, plan: PlanInHand, correction: Correction) -> Prediction | None:
    if causes.figures is None:
        return None
    return predict(job.machine, plan.chosen, causes.profile, causes.figures, plan.around.heat, correction)


def _weighed(
    job: Job, measured: Measured, causes: Causes, plan: PlanInHand, cost: PlanCost, shop: ShopRules
) -> WeighedPlans | None:
    before = measured.before or measured.shown_before or measured.watched[0]
    if before is None or causes.figures is None:
        return None
    options = options_once(job, plan)
    weighed = tuple(o.candidate for o in options)
    boards = beside_boards(job.machine, weighed, plan.around, frozenset(job.plan))
    ask = Ask(
        job, options, boards, causes.profile, before, causes.figures, causes.assessment.limits,
        measured.provable("sustained"), plan.around, shop.worth_per_eur, shop.prices, shop.correction,
        _evidence(before, causes.figures),
    )  # fmt: skip
    return remembered_plans(ask, cost)


def _evidence(before: Run, figures: BeforeFigures) -> Hashable:
    """The run, and what a look at the machine added to its figures."""
    return (
        run_key(before),
        figures.paste_chance,
        figures.fins_chance,
        figures.fan_chance,
        figures.power_clock,
        figures.battery_chance,
        figures.adapter_chance,
        figures.network_chance,
        figures.lower_voltage,
        figures.stall_share,
        figures.memory_stall_share,
        figures.memory_used_frac,
    )
