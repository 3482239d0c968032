"""Targets as limits of the front: what is said to be out of reach is, and the front is that of asking every plan."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.app.view.weighed_plans import limits_of
from brachium.core.base.band import Band
from brachium.core.choose.assumptions import ASKED
from brachium.core.choose.compatibility import option_alone
from brachium.core.choose.draws import draw
from brachium.core.choose.front import TargetsAsked, front_of, pareto
from brachium.core.choose.plan_space import Plan, compile_plans
from brachium.core.choose.target_odds import (
    TOGETHER,
    Odds,
    OddsGround,
    odds_of,
    own_ratio,
    peak_after_c,
    speed_for,
    worth_words,
)
from brachium.core.choose.targets_met import SEEN, TargetsMet
from brachium.core.heat.run_traces import heat_traces
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
    draws = draw(view.causes.profile, view.causes.figures, view.job.machine)
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
        draw(view.causes.profile, view.causes.figures, view.job.machine),
    )
    found = [o.candidate for o in view.choice.offers]
    hard = TargetsMet(ground, found, (Target("start_up", "starts", 0.5, "s", True),))
    assert not hard.reachable([c.id for c in found])
    assert not TargetsMet(ground, found, (Target("battery", "long", 5.0, "h", False),)).predictable


def _ground(view: JobView) -> OddsGround:
    assert view.measured.before is not None and view.causes.figures is not None
    return OddsGround(view.job.machine, view.causes.profile, view.causes.figures, view.measured.before,
                      view.causes.assessment.limits, draw(view.causes.profile, view.causes.figures, view.job.machine),
                      view.choice.around.heat)  # fmt: skip


def test_the_peak_temperature_is_foretold_from_the_measured_resistance(finished_view: JobView) -> None:
    """The run after the work lies within what was predicted before it; without heat work nothing changes."""
    view = finished_view
    ground, after = _ground(view), view.measured.after
    assert after is not None and ground.peak_c is not None
    then = max(float(np.nanmax(t.temp_c)) for t in heat_traces(after, view.job.machine.processor.limit_c))
    wish = (Target("peak_c", "stays under", 85.0, "°C", True),)
    predicted = peak_after_c(ground, speed_for(ground, view.choice.chosen(), wish))
    assert not isinstance(predicted, str)
    low, high = np.percentile(predicted, [2.5, 97.5])
    assert low <= then <= high and then < ground.peak_c - 2.0
    today = peak_after_c(ground, {})
    assert not isinstance(today, str) and abs(float(np.median(today)) - ground.peak_c) < 0.5
    hotter = peak_after_c(ground, {"cooling": np.full(ground.draws.overlap.size, 0.5)})
    assert not isinstance(hotter, str) and float(np.median(hotter)) < ground.peak_c + 1.0, "it is held back there"


def test_several_targets_are_met_together_no_oftener_than_the_hardest(finished_view: JobView) -> None:
    ground = _ground(finished_view)
    chosen = finished_view.choice.chosen()
    alone = odds_of(ground, chosen, (Target("own_task", "exports", 70.0, "s", True),))
    two = (Target("own_task", "exports", 70.0, "s", True), Target("peak_c", "stays under", 85.0, "°C", True))
    found = odds_of(ground, chosen, (*two, Target("battery", "long", 5.0, "h", False)))
    assert len(alone) == 1 and [o.target.key for o in found] == ["own_task", "peak_c", "battery", TOGETHER]
    chances = [o.chance for o in found if o.chance is not None]
    assert found[2].chance is None and chances[-1] <= min(chances[:-1])
    assert chances[-1] >= sum(chances[:-1]) - 1.0 - 1e-9, "nor less often than both at worst"


@pytest.mark.parametrize(("test", "speed", "ratio"), [
    ("own:frames-1", {"graphics": 3.0}, (1.5, 3.0)),
    ("own:low1-1", {"graphics": 3.0, "all": 3.0}, (3.0, 3.0)),
    ("own:battery-1", {"charge": 1.25}, (1.25, 1.25)),
    ("own:battery-1", {"all": 2.0}, (1.0, 1.0)),
    ("own:task-1", {}, (1.0, 1.0)),
])  # fmt: skip
def test_own_tests_follow_what_they_hang_on(
    finished_view: JobView, test: str, speed: dict[str, float], ratio: tuple[float, float]
) -> None:
    ground = _ground(finished_view)
    found = own_ratio(ground, test, {k: np.full(ground.draws.overlap.size, v) for k, v in speed.items()})
    assert found is not None and found.min() >= ratio[0] - 1e-9 and found.max() <= ratio[1] + 1e-9
    assert own_ratio(ground, "own:noise-1", {}) is None


@pytest.mark.parametrize(("change", "cost", "words"), [
    (Band(-15.0, -12.0, -9.0), 50.0, "24 s less (18 to 30)"),
    (Band(-2.0, 5.0, 12.0), 200.0, "from 1 s less to 6 s more"),
    (Band(-15.0, -12.0, -9.0), 0.0, "costs nothing"),
    (None, 50.0, "not known"),
])  # fmt: skip
def test_what_the_money_brings_to_the_owners_own_figure(change: Band | None, cost: float, words: str) -> None:
    assert worth_words(Odds(Target("own_task", "exports", 70.0, "s", True), 0.5, "", change), cost) == words


def test_speed_ups_put_together_of_parts_are_those_of_the_whole_plan(finished_view: JobView) -> None:
    ground = _ground(finished_view)
    every = [o.candidate for o in finished_view.choice.offers]
    wishes = (Target("peak_c", "stays under", 85.0, "°C", True),)
    met = TargetsMet(ground, every, wishes)
    rng = np.random.default_rng(9)
    for _ in range(40):
        some = [c for g in SEEN if (of := [c for c in every if c.group is g]) and rng.random() < 0.6
                for c in [of[int(rng.integers(len(of)))]]]  # fmt: skip
        whole, parts = speed_for(ground, tuple(some), wishes), met._speed(tuple(some))
        assert set(whole) == set(parts) and all(np.allclose(whole[k], parts[k]) for k in whole)
