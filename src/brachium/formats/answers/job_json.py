"""What holds a machine back, its plans, steps and next action, as JSON values: docs/formats/answers.md."""

from __future__ import annotations

from typing import TYPE_CHECKING

from brachium.core.cause.assess import Assessment, strength
from brachium.core.choose.plan_space import Plan
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.stage.next_action import NextAction
from brachium.core.work.step import Step
from brachium.formats.answers.fit_json import LEVELS, verdict_values
from brachium.formats.answers.plain import plain
from brachium.formats.answers.shapes import CausesAnswer, NextAnswer, PlanFound, PlansAnswer, StepsAnswer

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from brachium.core.plan.candidates import Candidate

FORMAT_VERSION = 1


def causes_values(job_id: str, found: Assessment) -> CausesAnswer:
    """Every cause with its chance and evidence, the signs that could be read, the next checks."""
    return {
        "version": FORMAT_VERSION, "job": job_id, "headline": found.headline,
        "causes": [
            {"id": r.kind.id, "title": r.kind.title, "chance": r.chance, "strength": strength(r), "called": r.called,
             "cost_frac": r.cost_frac,
             "evidence": [{"title": w.title, "state": w.state, "figure": w.figure, "origin": w.origin.value,
                           "log_odds": w.log_odds} for w in r.weights]} for r in found.ranked
        ],
        "seen": [{"sign": o.sign, "state": o.state, "figure": o.figure, "origin": o.origin.value} for o in found.seen],
        "checks": [{"id": c.check.id, "title": c.check.title, "minutes": c.check.attended_min,
                    "unattended_min": c.check.unattended_min, "bits": c.bits} for c in found.checks],
    }  # fmt: skip


def steps_values(job_id: str, steps: Sequence[Step], done: frozenset[str]) -> StepsAnswer:
    """The steps of the plan in hand in their order."""
    return {"version": FORMAT_VERSION, "job": job_id, "steps": [
        {**plain(s), "tags": sorted(t.value for t in s.tags), "done": s.id in done} for s in steps]}  # fmt: skip


def next_values(job_id: str, stage: str, action: NextAction) -> NextAnswer:
    """The furthest open stage and the one next best action."""
    return {"version": FORMAT_VERSION, "job": job_id, "stage": stage, "title": action.title, "detail": action.detail,
            "at": action.stage.value, "command": action.command}  # fmt: skip


def plans_values(
    job_id: str,
    offers: Sequence[tuple[Candidate, Level, str, tuple[Verdict, ...], bool]],
    plans: Sequence[Plan],
    recommended: Plan | None,
    titles: Mapping[str, str],
) -> PlansAnswer:
    """What can be had, each with its level and the sentence that decides, and the plans worth their money.

    `plans` is empty and `recommended` None where there is no before-run: gains are not known then.
    """
    return {
        "version": FORMAT_VERSION, "job": job_id,
        "offers": [
            {"id": c.id, "title": c.title, "where": c.where or None, "price_eur": float(c.price),
             "level": LEVELS[level], "sentence": sentence, "planned": chosen,
             "verdicts": [verdict_values(v) for v in verdicts]}
            for c, level, sentence, verdicts, chosen in offers
        ],
        "plans": [plan_values(p, titles) for p in plans],
        "recommended": plan_values(recommended, titles) if recommended is not None else None,
    }  # fmt: skip


def plan_values(plan: Plan, titles: Mapping[str, str]) -> PlanFound:
    """One plan: what it holds, what it costs, the work per time it brings."""
    return {"candidates": list(plan.ids), "titles": [titles.get(i, i) for i in plan.ids], "cost_eur": float(plan.cost),
            "gain": plan.gain}  # fmt: skip
