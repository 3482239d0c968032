"""Targets as limits of the front: what is said to be out of reach is, and the front is that of asking every plan."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.app.view.weighed_plans import limits_of
from brachium.core.choose.assumptions import ASKED
from brachium.core.choose.compatibility import option_alone
from brachium.core.choose.front import TargetsAsked, front_of, pareto
from brachium.core.choose.plan_space import Plan, compile_plans
from brachium.core.choose.predict import draw
from brachium.core.choose.target_odds import OddsGround, odds_of
from brachium.core.choose.targets_met import TargetsMet
from brachium.core.record.target import Target
from brachium.core.work.effort import Effort


@pytest.mark.parametrize(
    ("start_up", "task"), [(30.0, 120.0), (20.0, 80.0), (17.0, 70.0), (15.5, 62.0), (14.0, 55.0), (9.0, 30.0)]
)
def test_the_front_of_targets_is_that_of_asking_every_plan(
    finished_view: JobView, start_up: float, task: float
) -> None:
    view = finished_view
    assert view.measured.before is not None and view.causes.figures is not None
    targets = (Target("start_up", "starts", start_up, "s", True), Target("own_task", "exports", task, "s", True))
    options = [option_alone(view.job.machine, o.candidate, view.choice.around) for o in view.choice.offers]
    limits = replace(limits_of(view.job), budget=None)
    space = compile_plans(
        view.job.machine,
        options,
        view.causes.profile,
        view.causes.figures,
        limits,
        Effort(view.job.machine),
        around=view.choice.around,
    )
    draws = draw(view.causes.profile, view.causes.figures)
    ground = OddsGround(
        view.job.machine,
        view.causes.profile,
        view.causes.figures,
        view.measured.before,
        view.causes.assessment.limits,
        draws,
    )
    by_id = {o.candidate.id: o.candidate for o in options}
    met = TargetsMet(ground, by_id.values(), targets)

    def asked(plan: Plan) -> bool:
        found = odds_of(ground, tuple(by_id[i] for i in plan.ids), targets)
        return all(o.chance is not None and o.chance >= ASKED for o in found)

    inside = np.flatnonzero(space.within(limits))
    good = np.array([k for k in inside if asked(space.plan(int(k)))], dtype=int)
    assert met.predictable and (met.reachable(space.ids) or good.size == 0), "what is out of reach is met by none"
    front = front_of(space, limits, 0.0, met)
    if good.size == 0:
        assert front.targets is TargetsAsked.BY_NONE
        return
    assert front.targets is TargetsAsked.MET
    expected = {space.plan(int(good[k])).ids for k in pareto(space.cost[good], space.gain[good])}
    shown = {p.ids for p in front.plans}
    assert shown == expected | {()} and front.recommended.ids in expected


def test_the_hardest_wish_is_out_of_reach_and_no_target_at_all_is_not_asked(finished_view: JobView) -> None:
    view = finished_view
    assert view.measured.before is not None and view.causes.figures is not None
    ground = OddsGround(
        view.job.machine,
        view.causes.profile,
        view.causes.figures,
        view.measured.before,
        view.causes.assessment.limits,
        draw(view.causes.profile, view.causes.figures),
    )
    found = [o.candidate for o in view.choice.offers]
    hard = TargetsMet(ground, found, (Target("start_up", "starts", 0.5, "s", True),))
    assert not hard.reachable([c.id for c in found])
    assert not TargetsMet(ground, found, (Target("battery", "long", 5.0, "h", False),)).predictable
