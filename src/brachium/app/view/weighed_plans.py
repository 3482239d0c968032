"""The plan front of a job, the odds of its targets, and what is said about options beside the plan."""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from brachium.app.view.lately import Lately
from brachium.app.view.plan_in_hand import Offer, cost_of, verdicts_of
from brachium.core.base.band import Band
from brachium.core.base.text import joined, phrase
from brachium.core.choose.assumptions import ASKED
from brachium.core.choose.compatibility import Option
from brachium.core.choose.cost import PlanCost
from brachium.core.choose.draws import Draws, draw
from brachium.core.choose.front import Front, TargetsAsked, front_of
from brachium.core.choose.other_board import Beside
from brachium.core.choose.plan_space import Limits, Plan, PlanSpace, TooManyPlans, compile_plans
from brachium.core.choose.plans import why_not, worth_knowing
from brachium.core.choose.predict import bands_of
from brachium.core.choose.sensitivity import Unknown, widest_unknown
from brachium.core.choose.target_odds import Odds, OddsGround, odds_of
from brachium.core.choose.targets_met import TargetsMet
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.condition.findings import added_minutes
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.verdict import Level, worst
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.measure.run import Run
from brachium.core.measure.waiting import Limit
from brachium.core.plan.candidates import Candidate
from brachium.core.record.correction import NONE, Correction
from brachium.core.record.job import Job
from brachium.core.record.money import NO_PRICES, WORTH_PER_EUR, Prices
from brachium.core.use.profile import UseProfile
from brachium.core.work.effort import Effort
from brachium.core.work.whole_plan import work_of


@dataclass(frozen=True)
class WeighedPlans:
    """`present` is the plan in hand, `odds` its odds, `why` says for each option outside the recommended plan why,
    `meets` is the cheapest plan that meets every target with the asked chance, empty where none does."""

    front: Front
    bands: Mapping[tuple[str, ...], Band]
    titles: Mapping[str, str]
    present: Plan
    odds: tuple[Odds, ...]
    why: Mapping[str, str]
    worth: str
    targets_say: str
    meets: tuple[str, ...]
    unknown: Unknown | None


@dataclass(frozen=True)
class Ask:
    """What the front of a job is asked from: options beside its own board and beside others, what was measured."""

    job: Job
    options: tuple[Option, ...]
    boards: tuple[Beside, ...]
    profile: UseProfile
    before: Run = field(compare=False)
    figures: BeforeFigures = field(compare=False)
    limits: tuple[Limit, ...]
    provable: float
    around: Circumstances
    worth_per_eur: float = WORTH_PER_EUR
    prices: Prices = field(default_factory=lambda: NO_PRICES)
    correction: Correction = NONE
    measured: Hashable = ()  # stands for the run and its figures where questions are compared

    @property
    def keep(self) -> Limits:
        return replace(limits_of(self.job), worth_per_eur=self.worth_per_eur)

    def ground(self, draws: Draws) -> OddsGround:
        return OddsGround(
            self.job.machine, self.profile, self.figures, self.before, self.limits, draws, self.around.heat
        )

    def space(self, accepted: frozenset[str], draws: Draws | None = None) -> PlanSpace:
        """Raises TooManyPlans."""
        return compile_plans(
            self.job.machine, self.options, self.profile, self.figures, self.keep, self.effort, accepted, draws,
            self.around, self.boards,
        )  # fmt: skip

    @cached_property
    def effort(self) -> Effort:
        return Effort(self.job.machine, self.prices, added_minutes(self.job.findings))

    def met(self, draws: Draws) -> TargetsMet:
        """What tells of a plan whether it meets the targets."""
        found = [o.candidate for o in (*self.options, *(b.board for b in self.boards))]
        return TargetsMet(self.ground(draws), found, self.job.targets)

    def front(self, space: PlanSpace, met: TargetsMet) -> Front:
        """The front within budget and minutes, and of plans that meet the targets where they are asked for."""
        everything = front_of(space, self.keep, self.provable)
        if not self.job.targets_asked or not met.predictable:
            return everything
        if not met.reachable(space.ids):
            return replace(everything, targets=TargetsAsked.BY_NONE)
        return front_of(space, self.keep, self.provable, met)


def weighed_plans(ask: Ask, cost: PlanCost) -> WeighedPlans | None:
    """Everything about the front; None where there are too many plans to look at."""
    job, around = ask.job, ask.around
    found = [o.candidate for o in (*ask.options, *(b.board for b in ask.boards))]
    by_id = {c.id: c for c in found}
    accepted = frozenset(job.plan)  # what a person planned counts as accepted
    draws = replace(draw(ask.profile, ask.figures, job.machine), correction=ask.correction)
    try:
        space = ask.space(accepted, draws)
        met = ask.met(draws)
        front = ask.front(space, met)
        worth = _worth(ask, front, draws, met)
        in_hand = tuple(by_id[i] for i in job.plan if i in by_id)
        unknown = widest_unknown(
            job.machine, in_hand, ask.profile, ask.figures, draws, around.heat,
            lambda d: ask.front(ask.space(frozenset(), d), ask.met(d)).recommended.ids,
        )  # fmt: skip
    except TooManyPlans:
        return None

    def parts(ids: tuple[str, ...]) -> tuple[Candidate, ...]:
        return tuple(by_id[i] for i in ids if i in by_id)

    mine = tuple(c.id for c in in_hand)
    shown = {front.plans[k].ids for k in front.hull} | {mine}
    bands = {ids: bands_of(job.machine, parts(ids), ask.profile, ask.figures, draws, around.heat) for ids in shown}
    present = Plan(mine, float(cost.total), cost.attended_min, bands[mine].mid)
    why = {o.candidate.id: _why(ask, o, front, space) for o in ask.options if not o.candidate.aside}
    titles = {c.id: c.title for c in found}
    said, meets = _targets(job, ask.ground(draws), front, by_id)
    odds = odds_of(ask.ground(draws), in_hand, job.targets)
    return WeighedPlans(front, bands, titles, present, odds, why, worth, said, meets, unknown)


def _why(ask: Ask, option: Option, front: Front, space: PlanSpace) -> str:
    """Why an option is not in the recommended plan; first of all that nobody can say what it brings."""
    unknown = unknown_gain(ask.job.machine, option.candidate, ask.profile, ask.figures)
    said = why_not(option, front, space, ask.keep)
    weighs = unknown and said and option.level not in (Level.REFUSED, Level.NOT_KNOWN)
    return phrase("What it brings is not known: {unknown}", unknown=unknown) if weighs else said


LEAST_CHANCE = 0.005  # below which no plan comes near a target
MOST_REMEMBERED = 24  # each holds its before-run
_REMEMBERED: Lately[tuple[Ask, PlanCost], WeighedPlans | None] = Lately(MOST_REMEMBERED)


def remembered_plans(ask: Ask, cost: PlanCost) -> WeighedPlans | None:
    """`weighed_plans`, or an answer given lately where nothing that it asks differs: ticking a step, a note, a photo
    do not make the front anew, and neither does an edit that is taken back.
    """
    asked = replace(ask, job=_planned_part(ask.job))
    return _REMEMBERED.answer((asked, cost), lambda: weighed_plans(asked, cost))  # asked from nothing but the question


def _planned_part(job: Job) -> Job:
    """What of a record the front is asked from; nothing else makes it anew."""
    return Job(
        "", "", job.machine, "", "", findings=job.findings, plan=job.plan, targets=job.targets,
        targets_asked=job.targets_asked, budget=job.budget, rate_per_hour=job.rate_per_hour,
        attended_limit_min=job.attended_limit_min, vouchers=job.vouchers,
    )  # fmt: skip


def _targets(job: Job, ground: OddsGround, front: Front, by_id: Mapping[str, Candidate]) -> tuple[str, tuple[str, ...]]:
    """What is to be said of the targets, and the cheapest plan that meets all that can be predicted."""
    asked = phrase("{asked:.0f} %", asked=100 * ASKED)
    best: dict[str, tuple[float, tuple[str, ...]]] = {}
    for plan in front.plans:
        odds = odds_of(ground, tuple(by_id[i] for i in plan.ids), job.targets)
        known = [(o.target.words, o.chance) for o in odds if o.chance is not None]
        if not known:
            return "", ()
        if all(chance >= ASKED for _, chance in known):  # of each, and of all together
            only = "; plans that miss one are left out" if front.targets is TargetsAsked.MET else ""
            return phrase(
                "From {cost:.0f} EUR on every target is met with {asked}{only}", cost=plan.cost, asked=asked, only=only
            ), plan.ids
        for words, chance in known:
            if words not in best or chance > best[words][0] + 1e-9:  # of equals the cheapest
                best[words] = chance, plan.ids
    if front.targets is TargetsAsked.NOT_SETTLED:
        return "Too many plans miss the targets to look at each: all that fit are shown", ()
    return phrase("No plan meets every target with {asked}: {nearest}", asked=asked, nearest=_nearest(best, by_id)), ()


def _nearest(best: Mapping[str, tuple[float, tuple[str, ...]]], by_id: Mapping[str, Candidate]) -> str:
    """The target that is hardest to meet, with the plan that comes nearest; `best` is chance and plan by target."""
    words, (chance, ids) = min(best.items(), key=lambda b: b[1][0])
    titles = joined(", ", (by_id[i].title for i in ids))
    with_it = phrase(", with {titles}", titles=titles) if titles and chance >= LEAST_CHANCE else ""
    return phrase("“{words}” at best {chance:.0f} %{with_it}", words=words, chance=100 * chance, with_it=with_it)


def limits_of(job: Job) -> Limits:
    """What plans of a job must keep."""
    budget = float(job.budget) if job.budget is not None else None
    return Limits(float(job.rate_per_hour), budget, job.attended_limit_min, vouchers=job.vouchers)


def _worth(ask: Ask, front: Front, draws: Draws, met: TargetsMet) -> str:
    """What a missing fact could change: the front as if every unknown option fitted."""
    unknown = [o for o in ask.options if o.level is Level.NOT_KNOWN]
    gaps = [(v.gap.label, v.gap.minutes) for o in unknown for v in o.verdicts if v.gap is not None]
    if not gaps:
        return ""
    hopeful = ask.front(ask.space(frozenset(o.candidate.id for o in unknown), draws), met)
    return worth_knowing(hopeful, front, gaps)


@dataclass(frozen=True)
class PlanColumn:
    """A plan beside others: name, candidates, cost, band and odds, the worst verdict in words."""

    name: str
    ids: tuple[str, ...]
    titles: tuple[str, ...]
    cost: PlanCost
    over: bool
    band: Band | None
    odds: tuple[Odds, ...]
    verdict: str
    kept: bool


def plan_columns(
    job: Job, before: Run | None, figures: BeforeFigures | None, profile: UseProfile, limits: tuple[Limit, ...],
    offers: Sequence[Offer], around: Circumstances, prices: Prices = NO_PRICES, correction: Correction = NONE,
) -> tuple[PlanColumn, ...]:  # fmt: skip
    """The plan in hand, where it is not kept, and every kept plan. Candidates that are gone are left out."""
    plans = [(k.name, k.ids, True) for k in job.kept_plans]
    if job.plan and set(job.plan) not in [set(k.ids) for k in job.kept_plans]:
        plans.insert(0, ("In hand", job.plan, False))
    by_id = {o.candidate.id: o.candidate for o in offers}
    draws = replace(draw(profile, figures, job.machine), correction=correction) if figures is not None else None
    out = []
    for name, ids, kept in plans:
        chosen = tuple(by_id[i] for i in ids if i in by_id)
        own, needs = verdicts_of(job.machine, chosen, around)
        cost = cost_of(job, chosen, work_of(job, chosen, needs, around.used_bytes), prices)
        band: Band | None = None
        odds: tuple[Odds, ...] = ()
        if figures is not None and before is not None and draws is not None:
            band = bands_of(job.machine, chosen, profile, figures, draws, around.heat)
            ground = OddsGround(job.machine, profile, figures, before, limits, draws, around.heat)
            odds = odds_of(ground, chosen, job.targets)
        over = job.budget is not None and cost.total > job.budget
        titles = tuple(c.title for c in chosen)
        out.append(PlanColumn(name, ids, titles, cost, over, band, odds, worst(own).words, kept))
    return tuple(out)
