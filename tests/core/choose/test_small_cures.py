"""A fan, a lowered voltage, a faster network port: what each brings, and when nobody can say."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.choose.compatibility import Option
from brachium.core.choose.draws import draw
from brachium.core.choose.plan_space import Limits, compile_plans
from brachium.core.choose.predict import bands_of, speedups_of
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.verdict import Level
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.heat.claims import HeatReading
from brachium.core.heat.throttle import HeldBack, ThrottleFinding
from brachium.core.machine.card_parts import Card
from brachium.core.machine.cooling_parts import Fan, FanPlug
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.parts import Service
from brachium.core.machine.platform import FanHeader
from brachium.core.plan.bench_services import BENCH_SERVICES, offered_items
from brachium.core.plan.candidates import Candidate, Group, candidates
from brachium.core.use.profile import profile_of
from brachium.core.work.effort import Effort
from brachium.demo.newsroom import MACHINE
from tests.core.choose.test_front import VIDEO
from tests.core.choose.test_new_processor import COOL, WARM, candidate
from tests.core.fit.bench_machines import TOWER

FLAT = replace(MACHINE, platform=replace(MACHINE.platform, headers=(FanHeader("fan-1", "Fan 1"),)))
FAN = candidate(Fan("fan", FanPlug.PIN_4), "fan-1")
VOLTAGE = next(c for c in candidates(MACHINE, BENCH_SERVICES) if Service.LOWER_VOLTAGE in c.services)
FILES = profile_of("files")
PORT = candidate(Card("port", 1, 2, display=False, network_mbit_s=2500.0), "card-1")


def clock(figures: BeforeFigures, chosen: Candidate, machine: Machine = FLAT) -> float:
    found = speedups_of(machine, (chosen,), VIDEO, figures, draw(VIDEO, figures, machine))
    return float(np.median(found.get("all", np.ones(1))))


def test_a_fan_gives_air_back_by_the_chance_that_it_is_at_fault() -> None:
    sure, sound = replace(WARM, fan_chance=1.0), replace(WARM, fan_chance=0.0)
    by_hand = (0.60 / (0.25 + 0.35 * 0.50)) ** (1 / 2.4)
    assert clock(sure, FAN) == pytest.approx(min(by_hand, 3400 / 2900), rel=0.02)
    assert 1.0 <= clock(sound, FAN) < 1.01, "a sound one gives back its own wear"
    assert clock(replace(COOL, fan_chance=1.0), FAN) == 1.0, "heat holds nothing back"
    assert unknown_gain(FLAT, FAN, VIDEO, sure) == ""
    blind = replace(sure, r_fast_k_w=None)
    assert "not measured" in unknown_gain(FLAT, FAN, VIDEO, blind) and clock(blind, FAN) == 1.0


def test_air_through_the_case_is_not_predicted_and_one_of_two_fans_neither() -> None:
    warm = replace(WARM, fan_chance=1.0)
    assert "measured, not predicted" in unknown_gain(TOWER, FAN, VIDEO, warm) and clock(warm, FAN, TOWER) == 1.0
    two = replace(FLAT, platform=replace(FLAT.platform, headers=(*FLAT.platform.headers, FanHeader("fan-2", "Fan 2"))))
    assert "measured, not predicted" in unknown_gain(two, FAN, VIDEO, warm)
    named = replace(TOWER, platform=replace(TOWER.platform, headers=(FanHeader("fan-1", "Processor fan"),)))
    assert unknown_gain(named, FAN, VIDEO, warm) == "" and clock(warm, FAN, named) > 1.1
    assert replace(named, kind=MachineKind.NOT_KNOWN).platform.headers, "the name tells, not the kind"


def test_a_lowered_voltage_is_not_known_until_it_was_tried() -> None:
    assert "try it on Find cause" in unknown_gain(FLAT, VOLTAGE, VIDEO, WARM) and clock(WARM, VOLTAGE) == 1.0
    refused = replace(WARM, lower_voltage=False)
    assert unknown_gain(FLAT, VOLTAGE, VIDEO, refused) == "" and clock(refused, VOLTAGE) == 1.0
    tried = replace(WARM, lower_voltage=True)
    assert clock(tried, VOLTAGE) == pytest.approx(np.median(np.linspace(0.86, 0.955, 99)) ** (-1 / 2.4), rel=0.01)
    blind = replace(tried, r_fast_k_w=None, r_slow_k_w=None)
    assert clock(blind, VOLTAGE) == clock(tried, VOLTAGE), "the heat carried is the same: its way need not be known"


def test_a_voltage_lifts_a_clock_that_power_holds_and_no_other() -> None:
    over = replace(COOL, lower_voltage=True, reading=_reading(HeldBack.BOOST_OVER, 3000.0), highest_clock_mhz=3400.0)
    assert 1.02 < clock(over, VOLTAGE) < 3400 / 3000
    held = replace(COOL, lower_voltage=True, power_clock=1.02)
    assert clock(held, VOLTAGE) == 1.0 and "cure what holds it" in unknown_gain(FLAT, VOLTAGE, VIDEO, held)
    assert clock(replace(COOL, lower_voltage=True), VOLTAGE) == 1.0
    free = replace(COOL, reading=_reading(HeldBack.NONE, 3400.0))
    assert unknown_gain(FLAT, VOLTAGE, VIDEO, free) == "" != unknown_gain(FLAT, VOLTAGE, VIDEO, COOL)


def test_the_front_weighs_fan_and_voltage_where_they_cure_and_as_predicted() -> None:
    options = [Option(c, Level.FITS) for c in (FAN, VOLTAGE)]
    figures = replace(WARM, fan_chance=0.9, lower_voltage=True)
    space = compile_plans(FLAT, options, VIDEO, figures, Limits(32.0), Effort(FLAT))
    assert space.ids == {FAN.id, VOLTAGE.id}
    none = compile_plans(FLAT, options, VIDEO, replace(WARM, fan_chance=0.0), Limits(32.0), Effort(FLAT))
    assert none.ids == frozenset()
    best = space.best_with(VOLTAGE.id, Limits(32.0))
    draws = draw(VIDEO, figures, FLAT)
    assert best is not None
    assert best.gain == pytest.approx(bands_of(FLAT, (FAN, VOLTAGE), VIDEO, figures, draws).mid, rel=0.02)


def test_a_port_brings_its_rate_where_a_copy_was_timed() -> None:
    board = replace(TOWER.platform.board, network_mbit_s=1000.0)
    machine = replace(TOWER, platform=replace(TOWER.platform, board=board))
    slow, fine = replace(COOL, network_chance=1.0), replace(COOL, network_chance=0.0)
    draws = draw(FILES, slow, machine)
    by_hand = work_ratio(draws.shares, {"network": np.full(draws.overlap.size, 2.5)}, draws.overlap)
    band = bands_of(machine, (PORT,), FILES, slow, draws)
    assert band.mid == pytest.approx(float(np.median(by_hand)), rel=0.01) and band.mid > 1.15
    assert bands_of(machine, (PORT,), FILES, fine, draw(FILES, fine, machine)).mid == pytest.approx(1.0, abs=0.005)
    assert "time a long copy" in unknown_gain(machine, PORT, FILES, COOL)
    unsaid = replace(machine, platform=replace(machine.platform, board=replace(board, network_mbit_s=None)))
    assert "not recorded" in unknown_gain(unsaid, PORT, FILES, slow)
    assert unknown_gain(machine, PORT, profile_of("audio"), COOL) == "", "no share of its time is the network's"
    space = compile_plans(machine, [Option(PORT, Level.FITS)], FILES, slow, Limits(32.0), Effort(machine))
    assert float(space.tables[0].gain.max()) == pytest.approx(band.mid, rel=0.01)


def test_a_bench_without_a_price_list_offers_its_own_work() -> None:
    groups = [i.group for i in offered_items(MACHINE, (), (), "job")]
    assert groups == [Group.CLEANING, Group.PASTE, Group.VOLTAGE]
    own = replace(BENCH_SERVICES[0], id="ours", price=BENCH_SERVICES[0].price + 5)
    assert [i.id for i in offered_items(MACHINE, (), (own,), "job")] == ["ours", "bench-paste", "bench-voltage"]


def _reading(kind: HeldBack, sustained: float) -> HeatReading:
    nothing = np.zeros(0, dtype=bool)
    return HeatReading(None, ThrottleFinding(kind, 0.0, nothing, sustained, sustained, None, False, ""), 30.0, 3000.0,
                       False, (), "")  # fmt: skip
