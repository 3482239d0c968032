"""The plan in hand judged: every offer beside it, its verdicts, its cost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.base.text import phrase
from brachium.core.choose.compatibility import verdicts_about, verdicts_concerning
from brachium.core.choose.cost import PlanCost
from brachium.core.condition.findings import added_minutes
from brachium.core.fit.acceptance import still_open
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.preconditions import circle_verdict, precondition_chain
from brachium.core.fit.verdict import Level, Verdict, worst
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, planned, replaces, services_of
from brachium.core.record.job import Job
from brachium.core.record.money import NO_PRICES, Prices, discount_of
from brachium.core.work.consumables import cost_of_uses, uses_of
from brachium.core.work.step import Step

WHOLE = tuple(r for r in ALL_RULES if r.id in ("OS-SUPPORT", "OS-BITS", "CPU-ISA", "MEM-OS", "NET-LINK"))


@dataclass(frozen=True)
class Offer:
    """A candidate with its verdicts in the configuration as it would be, and its gain alone."""

    candidate: Candidate
    level: Level
    verdicts: tuple[Verdict, ...]
    chosen: bool

    @property
    def headline(self) -> str:
        """The sentence of the verdict that decides."""
        deciding = self.verdicts[0] if self.verdicts else None
        if deciding is None:
            return "always possible"
        if deciding.level is not Level.FITS:
            return deciding.sentence
        hangs = next((v.sentence for v in self.verdicts if v.open), "")
        return phrase("fits; {hangs}", hangs=hangs) if hangs else "fits, at its full rating"


@dataclass(frozen=True)
class PlanInHand:
    """The candidates of a plan, every offer judged beside them, and what the rules say of the plan.

    `preconditions` come first, in their order. `whole` is what the rules say of the machine as a whole with the plan;
    `unsettled` are verdicts that wait for a person's word.
    """

    everything: tuple[Candidate, ...]
    chosen: tuple[Candidate, ...]
    offers: tuple[Offer, ...]
    around: Circumstances
    verdicts: tuple[Verdict, ...]
    preconditions: tuple[str, ...]
    whole: tuple[Verdict, ...]
    unsettled: tuple[Verdict, ...]


def plan_in_hand(job: Job, everything: tuple[Candidate, ...], around: Circumstances) -> PlanInHand:
    """The plan of a job among everything that can be had."""
    chosen = tuple(c for c in everything if c.id in job.plan)
    offers = tuple(offer_beside(job, c, chosen, around) for c in everything)
    verdicts, preconditions = verdicts_of(job.machine, chosen, around)
    whole = evaluate(WHOLE, job.machine, planned(job.machine, chosen), around)
    unsettled = still_open(verdicts, job.acceptances)
    return PlanInHand(everything, chosen, offers, around, verdicts, preconditions, whole, unsettled)


def offer_beside(job: Job, candidate: Candidate, chosen: tuple[Candidate, ...], around: Circumstances) -> Offer:
    """Judge a candidate together with the rest of the plan, its own group's choice replaced."""
    rest = tuple(c for c in chosen if not replaces(candidate, c))
    own = verdicts_about(job.machine, (*rest, candidate), candidate, around)
    return Offer(candidate, worst(own), own, candidate in chosen)


def verdicts_of(
    machine: Machine, chosen: tuple[Candidate, ...], around: Circumstances
) -> tuple[tuple[Verdict, ...], tuple[str, ...]]:
    """(verdicts about what a plan touches and about the whole, worst first; preconditions in their order)."""
    if not chosen:
        return (), ()
    around = replace(around, services=services_of(chosen))
    own = verdicts_concerning(evaluate(ALL_RULES, machine, planned(machine, chosen), around), chosen)
    first = precondition_chain(own)
    return (circle_verdict(first.circle), *own) if first.circle else own, first.order


def usable_together(
    machine: Machine, offers: Sequence[Offer], ids: Sequence[str], around: Circumstances
) -> tuple[str, ...]:
    """Those of a plan's candidates that are there and not refused beside the rest of it."""
    by_id = {o.candidate.id: o.candidate for o in offers}
    chosen = tuple(by_id[i] for i in ids if i in by_id)
    around = replace(around, services=services_of(chosen))
    verdicts = evaluate(ALL_RULES, machine, planned(machine, chosen), around)
    refused = {p for v in verdicts if v.level is Level.REFUSED for p in v.places}
    return tuple(c.id for c in chosen if not refused & set(c.places))


def cost_of(job: Job, chosen: tuple[Candidate, ...], steps: tuple[Step, ...], prices: Prices = NO_PRICES) -> PlanCost:
    """Cost of a plan with its steps, findings' minutes on top; `prices` of consumables. Cents rounded half up."""
    attended = sum(s.attended_min for s in steps) + (added_minutes(job.findings) if steps else 0.0)
    unattended = sum(s.unattended_min for s in steps)
    labour = (job.rate_per_hour * Decimal(str(attended)) / 60).quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
    used = cost_of_uses(uses_of(job.machine, steps, job.pads), prices)
    parts = sum((c.price for c in chosen), Decimal(0))
    off = discount_of(job.vouchers, parts, labour + used)
    return PlanCost(parts, attended, unattended, labour, used, off)
