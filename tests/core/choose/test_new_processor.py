"""Another processor, cooler or card in the prediction: held clocks in closed form, ratios, minutes, targets."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.app.view.job_view import JobView
from brachium.app.view.plan_in_hand import cost_of
from brachium.app.view.weighed_plans import Ask, limits_of, weighed_plans
from brachium.core.choose.compatibility import option_alone
from brachium.core.choose.draws import draw
from brachium.core.choose.front import TargetsAsked, build_front
from brachium.core.choose.held_clock import clock_ratio
from brachium.core.choose.new_processor import change_of, graphics_ratio
from brachium.core.choose.plan_space import Limits
from brachium.core.choose.predict import bands_of, predict, speedups_of
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.fit.load import BOARD_W, load_parts
from brachium.core.fit.rules.processor_heat import at_least, sustained_share
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.machine.new_board import as_it_will_be
from brachium.core.machine.parts import Part
from brachium.core.machine.system_drive import system_drive
from brachium.core.plan.candidates import (
    PART_GROUPS,
    Assignment,
    Candidate,
    CatalogueItem,
    Group,
    candidates,
    planned,
    replaces,
)
from brachium.core.use.profile import profile_of
from brachium.core.work.effort import Effort
from tests.core.fit.bench_machines import AROUND, BOARD, CARD, CHIP, COOLER, D3, LAPTOP, NVME, SSD, TOWER

VIDEO = profile_of("video")
COOL = BeforeFigures(None, False, 0.0, 3400.0, 3400.0, 0.25, 0.35, 0.0, True, 0.2, 20.0, 0.7)
WARM = replace(COOL, throttled=True, throttled_share=0.5, sustained_clock_mhz=2900.0)
HEAT = HeatFacts(0.60, 22.0)


def candidate(part: Part, place: str, price: int = 10) -> Candidate:
    group = PART_GROUPS[part.kind]
    return Candidate(part.name, group, part.name, place, Decimal(price), (Assignment(place, part),))


NEW = candidate(replace(CHIP, all_rate=660.0, single_rate=120.0), "socket")


@given(st.floats(20.0, 300.0), st.floats(0.1, 3.0), st.floats(15.0, 40.0))
def test_the_held_clock_keeps_the_chip_at_its_limit(power: float, resistance: float, room: float) -> None:
    share = sustained_share(power, 90.0, HeatFacts(resistance, room))
    assert 0.0 < share <= 1.0
    at = room + resistance * power * share**2.4
    assert at == pytest.approx(90.0, rel=1e-6) if share < 1.0 else at <= 90.0 + 1e-6


def test_a_rating_is_known_or_runs_there_today() -> None:
    assert at_least(95.0, 65.0, 120.0) == 95.0 and at_least(None, 65.0, 65.0) == 65.0
    assert at_least(None, 65.0, 80.0) is None and at_least(None, None, 10.0) is None


def test_ratios_come_from_one_table_and_are_left_out_where_a_rate_is_missing() -> None:
    change = change_of(TOWER, (NEW,))
    assert change.all_ratio == pytest.approx(660.0 / 330.0) and change.single_ratio == pytest.approx(120.0 / 110.0)
    assert (change.power_w, change.limit_c, change.cooler_ratio) == (84.0, 90.0, None)
    bare = candidate(replace(CHIP, all_rate=None, single_rate=None), "socket")
    assert change_of(TOWER, (bare,)).all_ratio is None
    cooler = change_of(TOWER, (candidate(COOLER, "cooler"),))
    assert cooler.cooler_ratio == pytest.approx(95.0 / 84.0) and cooler.power_w is None
    fast = candidate(replace(CARD, graphics_rate=420.0), "card-1")
    assert graphics_ratio(TOWER, (fast,)) is None, "what is there now was never rated"
    slow = TOWER.with_part("card-2", replace(CARD, graphics_rate=100.0))
    assert graphics_ratio(slow, (fast,)) == pytest.approx(4.2)


def test_a_cool_processor_gains_its_rated_ratio_and_a_hot_one_less() -> None:
    draws = draw(VIDEO, COOL, TOWER)
    speed = speedups_of(TOWER, (NEW,), VIDEO, COOL, draws, HEAT)
    assert np.median(speed["all"]) == pytest.approx(2.0, rel=0.03) and np.median(speed["single"]) > 1.05
    hot = candidate(replace(CHIP, all_rate=660.0, power_w=160.0), "socket")
    strong = replace(TOWER, platform=replace(TOWER.platform, board=replace(TOWER.platform.board, power_w=None)))
    held = speedups_of(strong, (hot,), VIDEO, COOL, draws, HEAT)
    expected = ((90.0 - 22.0) / 0.60 / 160.0) ** (1 / 2.4)
    assert np.median(held["all"]) == pytest.approx(2.0 * expected, rel=0.06)
    assert np.median(speedups_of(strong, (hot,), VIDEO, COOL, draws, None)["all"]) == pytest.approx(2.0, rel=0.02)
    limited = speedups_of(TOWER, (hot,), VIDEO, COOL, draws, None)["all"]
    watts = TOWER.platform.board.power_w
    assert watts is not None and np.median(limited) == pytest.approx(2.0 * (watts / 160.0) ** (1 / 2.4), rel=0.02)


def test_in_one_family_clocks_and_cores_stand_in_for_rates() -> None:
    old = replace(CHIP, family="B4", single_rate=None, all_rate=None, cores=4, base_mhz=3000.0, boost_mhz=3600.0)
    new = replace(old, name="new", cores=6, base_mhz=2800.0, boost_mhz=4140.0)
    machine = TOWER.with_part("socket", old)
    change = change_of(machine, (candidate(new, "socket"),))
    assert change.single_ratio == pytest.approx(1.15) and change.all_ratio == pytest.approx(1.5 * 2800 / 3000)
    rated = replace(new, all_rate=500.0)
    half = change_of(machine.with_part("socket", replace(old, all_rate=250.0)), (candidate(rated, "socket"),))
    assert half.all_ratio == 2.0 and half.single_ratio == pytest.approx(1.15), "a rated rate comes before clocks"
    for strange in (replace(new, family="C1"), replace(new, family=""), replace(new, boost_mhz=None, cores=None)):
        other = change_of(machine, (candidate(strange, "socket"),))
        assert other.all_ratio is None and other.single_ratio is None
        assert "not recorded" in unknown_gain(machine, candidate(strange, "socket"), VIDEO, COOL)


def test_without_throttling_a_better_cooler_brings_no_clock() -> None:
    draws, change = draw(VIDEO, COOL, TOWER), change_of(TOWER, (candidate(COOLER, "cooler"),))
    assert clock_ratio((), COOL, draws, change, HEAT) is None
    gain = clock_ratio((), WARM, draw(VIDEO, WARM, TOWER), change, HEAT)
    assert gain is not None and 1.0 < float(np.median(gain)) <= 3400.0 / 2900.0
    blind = replace(WARM, r_fast_k_w=None)
    assert clock_ratio((), blind, draws, change, HEAT) is None


@settings(max_examples=15, deadline=None)
@given(st.floats(1.0, 3.0), st.floats(40.0, 180.0))
def test_more_rate_never_brings_less_and_more_power_never_more(ratio: float, power: float) -> None:
    draws = draw(VIDEO, COOL, TOWER)

    def gain(rate: float, watts: float) -> float:
        part = candidate(replace(CHIP, all_rate=330.0 * rate, power_w=watts), "socket")
        return bands_of(TOWER, (part,), VIDEO, COOL, draws, HEAT).mid

    assert gain(ratio * 1.1, power) >= gain(ratio, power) - 1e-9
    assert gain(ratio, power * 1.2) <= gain(ratio, power) + 1e-9


def test_contributions_of_a_processor_plan_multiply_to_the_whole() -> None:
    chosen = (NEW, candidate(D3, "slot-2"), candidate(SSD, "bay-2"))
    found = predict(TOWER, chosen, VIDEO, COOL, HEAT)
    assert found is not None and {c.candidate_id for c in found.contributions} == {c.id for c in chosen}
    product = np.prod([c.band.mid for c in found.contributions])
    assert product == pytest.approx(found.band.mid, rel=0.03)
    assert found.contributions[0].alone.mid > 1.2


def test_a_drive_that_the_firmware_cannot_start_from_is_no_system_drive() -> None:
    machine = LAPTOP.with_part("bay-main", SSD)
    with_nvme = machine.configuration().with_changes({"m2": NVME})
    assert system_drive(machine, with_nvme) == ("bay-main", SSD)
    assert system_drive(TOWER, TOWER.configuration().with_changes({"m2": NVME})) == ("m2", NVME)


def test_the_budget_of_the_supply_counts_every_piece_once() -> None:
    config = planned(TOWER, (candidate(CARD, "card-1"), candidate(NVME, "m2"), candidate(SSD, "bay-2")))
    parts = {p.label: p.watts for p in load_parts(TOWER, config, 84.0)}
    assert parts == {
        "processor": 84.0,
        "cards": 60.0,
        "drives": 8.0 + 3.0 + 6.0,
        "memory": 6.0,
        "board and fans": BOARD_W,
    }
    assert sum(p.from_12v for p in load_parts(TOWER, config, 84.0)) < sum(parts.values())


def test_a_new_board_brings_its_own_places_and_leaves_the_case() -> None:
    small = replace(BOARD, slots=2, m2_places=0, memory_mts=1333)
    later = as_it_will_be(TOWER, TOWER.configuration().with_changes({"board": small}))
    assert len(later.slots) == 2 and later.memory.board_max_mts == 1333 and later.identity.firmware == "2.0"
    assert [b.id for b in later.bays] == ["bay-1", "bay-2", "old"] and later.platform.case == TOWER.platform.case
    assert as_it_will_be(TOWER, TOWER.configuration()) is TOWER


def test_items_of_one_kind_replace_each_other_but_for_places_of_their_own() -> None:
    two = candidate(NVME, "m2"), candidate(SSD, "bay-2")
    assert not replaces(*two) and replaces(two[1], candidate(replace(SSD, name="other"), "bay-2"))
    assert replaces(NEW, candidate(replace(CHIP, name="x"), "socket")) and not replaces(NEW, two[0])
    items = (
        CatalogueItem("c", Group.CARD, "card", Decimal(9), part=CARD),
        CatalogueItem("b", Group.BATTERY, "b", Decimal(9)),
    )
    assert [c.places for c in candidates(TOWER, items[:1])] == [("card-1",), ("card-2",)]
    assert candidates(LAPTOP, items[:1]) == ()


def test_minutes_limit_the_front_and_the_threshold_stops_it() -> None:
    chip = CatalogueItem("cpu", Group.PROCESSOR, "cpu", Decimal(80), part=replace(CHIP, name="D4-84", all_rate=900.0))
    options = [option_alone(TOWER, c, AROUND) for c in candidates(TOWER, (chip,))]
    free = build_front(TOWER, options, VIDEO, COOL, Limits(30.0), Effort(TOWER), around=AROUND)
    assert len(free.plans) == 2 and free.recommended.ids == ("cpu@socket",)
    short = build_front(TOWER, options, VIDEO, COOL, Limits(30.0, attended_min=20.0), Effort(TOWER), around=AROUND)
    assert [p.ids for p in short.plans] == [()]
    strict = build_front(TOWER, options, VIDEO, COOL, Limits(30.0, worth_per_eur=0.1), Effort(TOWER), around=AROUND)
    assert strict.recommended.ids == () and strict.reason.startswith("stop here")


def test_the_cheapest_plan_that_meets_the_targets_is_named(finished_view: JobView) -> None:
    view = finished_view
    assert view.choice.weighed is not None and view.measured.before is not None and view.causes.figures is not None
    easy = tuple(t for t in view.job.targets if t.key != "held_back")
    job = replace(view.job, targets=easy, attended_limit_min=500.0)
    options = tuple(option_alone(job.machine, o.candidate, view.choice.around) for o in view.choice.offers)
    ask = Ask(
        job,
        options,
        (),
        view.causes.profile,
        view.measured.before,
        view.causes.figures,
        view.causes.assessment.limits,
        0.02,
        view.choice.around,
    )
    cost = cost_of(job, view.choice.chosen(), view.work.steps)
    choice = weighed_plans(ask, cost)
    assert choice is not None and choice.meets and choice.targets_say.startswith("From ")
    plan = next(p for p in choice.front.plans if p.ids == choice.meets)
    assert f"From {plan.cost:.0f} EUR" in choice.targets_say and limits_of(job).attended_min == 500.0
    assert choice.front.targets is TargetsAsked.MET and choice.front.recommended.ids != ()
    everything = weighed_plans(replace(ask, job=replace(job, targets_asked=False)), cost)
    assert everything is not None and everything.meets == choice.meets
    assert {p.ids for p in choice.front.plans} < {p.ids for p in everything.front.plans}
    assert view.choice.weighed.meets == () and "No plan meets" in view.choice.weighed.targets_say
