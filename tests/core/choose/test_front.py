"""Plan front: the same as brute force over small catalogues, rules plan by plan, hull, stopping, why not."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.app.view.job_view import JobView
from brachium.app.view.plan_in_hand import cost_of
from brachium.core.base.units import GB, GIB
from brachium.core.choose.compatibility import WEIGHED, Option, option_alone
from brachium.core.choose.draws import draw
from brachium.core.choose.front import build_front, concave_hull, pareto, recommend
from brachium.core.choose.front_meeting_targets import NotSettled, meeting_front
from brachium.core.choose.plan_space import GROUPS, Limits, Plan, TooManyPlans, compile_plans, usable_option
from brachium.core.choose.plans import free_name, why_not
from brachium.core.choose.predict import bands_of
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.fit.verdict import Level, worst
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.parts import (
    BayForm,
    Drive,
    DriveInterface,
    MemoryForm,
    MemoryGeneration,
    MemoryModule,
    Service,
)
from brachium.core.plan.candidates import Candidate, CatalogueItem, Group, candidates, planned
from brachium.core.record.kept_plans import NamedPlan
from brachium.core.use.profile import PROFILES, profile_of
from brachium.core.work.effort import Effort
from brachium.core.work.steps import steps_for
from brachium.demo.newsroom import MACHINE, newsroom_job
from brachium.demo.shop import demo_catalogue
from tests.support.around import EASY

VIDEO = profile_of("video")


@pytest.fixture(scope="module")
def figures(finished_view: JobView) -> BeforeFigures:
    assert finished_view.causes.figures is not None
    return finished_view.causes.figures


def judged(found: tuple[Candidate, ...]) -> list[Option]:
    """Candidates with the verdicts that they have alone."""
    return [option_alone(MACHINE, c, EASY) for c in found]


def random_items(rng: np.random.Generator) -> tuple[CatalogueItem, ...]:
    """A few parts of each kind, fitting or not, at any price."""
    items = []
    for k in range(int(rng.integers(1, 4))):
        form = MemoryForm.SO_DIMM if rng.random() < 0.8 else MemoryForm.DIMM
        size, speed = int(rng.choice([2, 4, 8, 16])), int(rng.choice([1333, 1600, 1866]))
        module = MemoryModule(
            f"m{k}", form, MemoryGeneration.DDR3, size * GIB, speed, (1.35, 1.5), ranks=2, chip_width=8
        )
        items.append(CatalogueItem(f"m{k}", Group.MEMORY, f"m{k}", _price(rng), int(rng.integers(1, 3)), module))
    for k in range(int(rng.integers(1, 4))):
        height = float(rng.choice([7.0, 9.5, 12.5]))
        rate, latency = float(rng.uniform(80, 560)), float(rng.choice([0.08, 0.1, 11.0, 14.0]))
        drive = Drive(f"d{k}", DriveInterface.SATA, BayForm.IN_2_5, height, 480 * GB, latency > 1, rate, rate, latency)
        items.append(CatalogueItem(f"d{k}", Group.DRIVE, f"d{k}", _price(rng), 1, drive))
    items.append(CatalogueItem("paste", Group.PASTE, "paste", _price(rng), services=(Service.NEW_PASTE,)))
    items.append(CatalogueItem("clean", Group.CLEANING, "clean", _price(rng), services=(Service.CLEAN_FINS,)))
    return tuple(items)


def _price(rng: np.random.Generator) -> Decimal:
    return Decimal(int(rng.integers(1, 90)))


def by_hand(options: list[Option], figures: BeforeFigures, limits: Limits, profile=VIDEO) -> list[Plan]:  # type: ignore[no-untyped-def]
    """Every plan one after the other: steps, cost and gain computed for it alone; then those that nothing beats."""
    usable = [o for o in options if usable_option(o, frozenset())]
    axes = [[None, *(o for o in usable if o.candidate.group is g)] for g in GROUPS]
    plans, effort = [], Effort(MACHINE)
    for picked in product(*axes):
        chosen = tuple(o.candidate for o in picked if o is not None)
        needs = tuple(p for o in picked if o is not None for p in o.preconditions)
        minutes = sum(s.attended_min for s in steps_for(MACHINE, chosen, needs)) if chosen else 0.0
        cost = sum(float(c.price) for c in chosen) + minutes * limits.rate_per_hour / 60.0
        if chosen and limits.budget is not None and cost > limits.budget:
            continue
        alone = [o for o in options if o.candidate in chosen]
        space = compile_plans(MACHINE, alone, profile, figures, limits, effort)
        plans.append(Plan(tuple(c.id for c in chosen), cost, minutes, float(space.gain[-1])))
    return [p for p in plans if not any(q.cost <= p.cost and q.gain > p.gain + 1e-12 for q in plans)
            and not any(q.cost < p.cost - 1e-9 and q.gain >= p.gain - 1e-12 for q in plans)]  # fmt: skip


@pytest.mark.parametrize("seed", range(10))
def test_the_front_is_that_of_brute_force(seed: int, figures: BeforeFigures) -> None:
    for k in range(5):  # fifty catalogues in all
        rng = np.random.default_rng([seed, k])
        options = judged(candidates(MACHINE, random_items(rng)))
        limits = Limits(32.0, float(rng.choice([60.0, 100.0, 1e9])))
        front = build_front(MACHINE, options, VIDEO, figures, limits, Effort(MACHINE), around=EASY)
        expected = {(round(p.cost, 6), round(p.gain, 9)) for p in by_hand(options, figures, limits)}
        assert {(round(p.cost, 6), round(p.gain, 9)) for p in front.plans} == expected


def test_rules_judge_a_candidate_alike_in_every_plan() -> None:
    """What the product rests on: no rule that judges alone looks at another group's parts."""
    rng = np.random.default_rng(8)
    everything = candidates(MACHINE, demo_catalogue())
    alone = {o.candidate.id: o.level for o in judged(everything)}
    for _ in range(300):
        chosen = tuple(c for g in GROUPS if (c := _any(rng, [x for x in everything if x.group is g])) is not None)
        verdicts = evaluate(ALL_RULES, MACHINE, planned(MACHINE, chosen), EASY)
        for c in chosen:
            own = tuple(v for v in verdicts if set(c.places) & set(v.places) and v.rule not in WEIGHED)
            if not c.places:
                continue
            assert worst(own) is alone[c.id], (c.id, [x.id for x in chosen])


def test_a_precondition_takes_the_minutes_of_its_own_step(figures: BeforeFigures) -> None:
    plain = next(o for o in judged(candidates(MACHINE, demo_catalogue())) if o.candidate.group is Group.DRIVE)
    needs = ("image of the old drive first", "a bracket")
    option = replace(plain, verdicts=tuple(replace(plain.verdicts[0], precondition=need) for need in needs))
    space = compile_plans(MACHINE, [option], VIDEO, figures, Limits(32.0), Effort(MACHINE))
    steps = steps_for(MACHINE, (option.candidate,), needs)
    assert float(space.tables[-1].attended.ravel()[-1]) == pytest.approx(sum(s.attended_min for s in steps))


def _any(rng: np.random.Generator, found: list[Candidate]) -> Candidate | None:
    return found[int(rng.integers(len(found)))] if found and rng.random() < 0.7 else None


def test_cost_and_minutes_are_those_of_the_plan_itself(figures: BeforeFigures, finished_view: JobView) -> None:
    options = judged(candidates(MACHINE, demo_catalogue()))
    by_id = {o.candidate.id: o for o in options}
    job = replace(newsroom_job(), findings=())
    front = build_front(MACHINE, options, VIDEO, figures, Limits(float(job.rate_per_hour)), Effort(MACHINE))
    for plan in front.plans:
        chosen = tuple(by_id[i].candidate for i in plan.ids)
        needs = tuple(p for i in plan.ids for p in by_id[i].preconditions)
        cost = cost_of(job, chosen, steps_for(MACHINE, chosen, needs) if chosen else ())
        assert plan.cost == pytest.approx(float(cost.total), abs=0.01) and plan.attended_min == cost.attended_min


@pytest.mark.parametrize("profile", PROFILES, ids=lambda p: p.id)
def test_the_closed_form_is_the_middle_of_the_draws(figures: BeforeFigures, profile) -> None:  # type: ignore[no-untyped-def]
    options = judged(candidates(MACHINE, demo_catalogue()))
    by_id = {o.candidate.id: o.candidate for o in options}
    front = build_front(MACHINE, options, profile, figures, Limits(32.0), Effort(MACHINE))
    draws = draw(profile, figures, MACHINE)
    for plan in front.plans:
        band = bands_of(MACHINE, tuple(by_id[i] for i in plan.ids), profile, figures, draws)
        assert band.low * 0.98 <= plan.gain <= band.high * 1.02
        assert plan.gain == pytest.approx(band.mid, rel=0.03)


points = st.lists(st.tuples(st.integers(0, 60), st.integers(0, 60)), min_size=1, max_size=40)


@given(points)
def test_no_point_of_the_front_is_beaten_and_none_is_missing(some: list[tuple[int, int]]) -> None:
    cost, gain = (np.array(v, dtype=float) for v in zip(*some, strict=True))
    kept = [(cost[k], gain[k]) for k in pareto(cost, gain)]
    for x, y in zip(cost, gain, strict=True):
        assert any(a <= x and b >= y for a, b in kept), "every plan is matched by one of the front"
    assert all(a[0] < b[0] and a[1] < b[1] for a, b in pairwise(kept))


@given(points)
def test_every_point_lies_under_the_hull_and_its_steps_bring_less_and_less(some: list[tuple[int, int]]) -> None:
    cost, gain = (np.array(v, dtype=float) for v in zip(*some, strict=True))
    front = [(float(cost[k]), float(gain[k])) for k in pareto(cost, gain)]
    hull = [front[k] for k in concave_hull(front)]
    assert hull[0] == front[0] and hull[-1] == front[-1]
    slopes = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairwise(hull)]
    assert all(s > t - 1e-9 for s, t in pairwise(slopes))
    xs, ys = zip(*hull, strict=True)
    assert all(y <= np.interp(x, xs, ys) + 1e-9 for x, y in front)


@given(st.lists(st.tuples(st.integers(0, 60), st.integers(0, 60), st.booleans()), min_size=1, max_size=40))
def test_the_front_of_plans_that_meet_the_targets_is_that_of_brute_force(some: list[tuple[int, int, bool]]) -> None:
    cost, gain = np.array([s[0] for s in some], dtype=float), np.array([s[1] for s in some], dtype=float)
    looked: list[int] = []

    def meets(k: int) -> bool:
        looked.append(k)
        return some[k][2]

    found = meeting_front(cost, gain, meets)
    good = [k for k, s in enumerate(some) if s[2]]
    expected = [good[k] for k in pareto(cost[good], gain[good])] if good else []
    assert [(cost[k], gain[k]) for k in found] == [(cost[k], gain[k]) for k in expected]
    for k in set(range(len(some))) - set(looked):
        assert any(cost[f] <= cost[k] and gain[f] >= gain[k] for f in found), "what was not looked at is dominated"


def test_a_search_over_too_many_misses_is_given_up_and_said() -> None:
    many = np.arange(30_000.0)
    with pytest.raises(NotSettled):
        meeting_front(many, many, lambda _: False)


def test_a_local_dip_does_not_stop_the_recommendation() -> None:
    """Memory alone brings nothing, memory with drive much: the hull steps over the dip."""
    plans = [Plan((), 0, 0, 1.0), Plan(("m",), 20, 5, 1.001), Plan(("m", "d"), 60, 9, 1.8), Plan(("x",), 200, 9, 1.84)]
    hull = concave_hull([(p.cost, p.gain) for p in plans])
    chosen, reason = recommend(plans, hull, 0.02)
    assert hull == (0, 2, 3) and chosen == 2 and reason == "stop here: the next step costs 140 EUR for 0.04"
    assert recommend(plans, hull, 0.05)[1].endswith("too little ever to be shown on this machine")
    assert recommend(plans[:1], (0,), 0.02) == (0, "no plan that fits brings anything")


def test_every_option_beside_the_recommended_plan_says_why(figures: BeforeFigures) -> None:
    options = judged(candidates(MACHINE, demo_catalogue()))
    limits = Limits(32.0, 80.0)
    table = compile_plans(MACHINE, options, VIDEO, figures, limits, Effort(MACHINE))
    front = build_front(MACHINE, options, VIDEO, figures, limits, Effort(MACHINE), 0.02)
    why = {o.candidate.id: why_not(o, front, table, limits) for o in options}
    assert all((not words) == (i in front.recommended.ids) for i, words in why.items())
    assert why["mem-8-dimm"] == "It does not fit, so no plan holds it"
    assert why["ssd-1000@bay-main"].startswith("The best plan with it costs ")
    dear = replace(options[0], candidate=replace(options[0].candidate, id="dear", price=Decimal(500)))
    table = compile_plans(MACHINE, [*options, dear], VIDEO, figures, limits, Effort(MACHINE))
    assert why_not(dear, front, table, limits) == "Every plan with it is over the budget"
    unknown = replace(options[0], level=Level.NOT_KNOWN)
    assert why_not(replace(unknown, candidate=dear.candidate), front, table, limits) == "Whether it fits is not known"


def test_too_many_plans_are_refused_not_guessed(figures: BeforeFigures) -> None:
    one = judged(candidates(MACHINE, demo_catalogue()))[0]
    many = [Option(replace(one.candidate, id=f"{g}{k}", group=g), Level.FITS) for g in GROUPS for k in range(60)]
    with pytest.raises(TooManyPlans, match="plans are more than are worked out"):
        compile_plans(MACHINE, many, VIDEO, figures, Limits(32.0), Effort(MACHINE))


@settings(max_examples=20)
@given(st.sets(st.sampled_from("ABCDEFGH"), max_size=7))
def test_kept_plans_take_the_first_free_letter(taken: set[str]) -> None:
    name = free_name([NamedPlan(f"Plan {t}", ()) for t in taken])
    assert name.removeprefix("Plan ") not in taken and name == f"Plan {min(set('ABCDEFGH') - taken)}"
