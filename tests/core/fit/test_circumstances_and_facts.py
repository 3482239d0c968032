"""What rules need from a job, gathered; and missing facts typed for it, with what is no such fact refused."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.app.view.job_view import JobView
from brachium.core.base.units import GB
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.drives.health import DriveState
from brachium.core.drives.readings import HealthReading
from brachium.core.fit.circumstances_of import around_of
from brachium.core.fit.gap_words import gap_words, is_typed, told_value, typed_value, unit_of_gap, value_words
from brachium.core.fit.recorded_facts import can_record, gaps_of, with_answer, with_job_fact
from brachium.core.fit.verdict import Gap, Level
from brachium.core.machine.drive_part import M2Key
from brachium.core.machine.facts.fact_units import Unit
from brachium.core.machine.locks import LockState
from brachium.core.record.job import DataSafe, Job
from brachium.core.record.shop_rules import ShopRules
from brachium.core.record.systems import SYSTEMS
from brachium.core.use.profile import profile_of
from brachium.demo.newsroom import newsroom_job
from tests.core.fit.bench_machines import CHIP, TOWER, FitCase
from tests.core.fit.cases_storage import STORAGE_CASES

RULES = ShopRules("2026-11-24", age_derating=0.1)


def test_a_measured_machine_tells_its_heat_and_what_is_in_use(finished_view: JobView) -> None:
    job, before, figures = finished_view.job, finished_view.measured.before, finished_view.causes.figures
    around = around_of(job, before, figures, finished_view.causes.profile, RULES)
    assert around.heat is not None and figures is not None and figures.r_slow_k_w is not None
    assert figures.r_slow_k_w < around.heat.resistance_k_w
    assert around.used_bytes == pytest.approx(0.78 * 500 * GB, rel=0.01), "a share of 0.22 was free"
    assert (around.today, around.age_derating) == ("2026-11-24", 0.1) and around.data_safe
    bare = around_of(job, None, None, finished_view.causes.profile, RULES)
    assert bare.heat is None and bare.used_bytes is None


def test_counters_a_silent_machine_and_its_use_are_seen() -> None:
    job = replace(
        newsroom_job(), data_safe=DataSafe(), tried=(TestResult("starts", TrialOutcome.FAILS),),
        health=(HealthReading("bay-main", "now", {"pending": 4}), HealthReading("m2", "now", {"interface": 0})),
    )  # fmt: skip
    around = around_of(job, None, None, profile_of("files"), RULES)
    assert around.drives == {"bay-main": DriveState.MEDIA, "m2": DriveState.CLEAN}
    assert not around.starts and not around.data_safe and around.network_heavy
    assert not around_of(
        replace(job, no_before="does not start", tried=()), None, None, profile_of("video"), RULES
    ).starts
    system = replace(job.machine.platform.system, planned="light-64")
    planned = replace(job, machine=replace(job.machine, platform=replace(job.machine.platform, system=system)))
    found = around_of(planned, None, None, profile_of("video"), RULES).system
    assert found is next(s for s in SYSTEMS if s.id == "light-64")


def test_a_fact_goes_where_its_path_says_and_a_lock_to_the_locks() -> None:
    job = Job("a", "a", TOWER)
    assert with_job_fact(job, "locks.enrolment", LockState.HANDLED).locks.enrolment is LockState.HANDLED
    with pytest.raises(KeyError):
        with_job_fact(job, "locks.bicycle", LockState.NONE)
    assert with_job_fact(job, "platform.case.cooler_mm", 99.0).machine.platform.case.cooler_mm == 99.0
    assert with_job_fact(job, "bays.m2.key", M2Key.B).machine.bays[2].key is M2Key.B
    assert with_job_fact(job, "bays.m2.key", M2Key.B).machine.origin("bays.m2.key") == "typed"


@pytest.mark.parametrize(
    ("values", "text", "value"),
    [((30.0, 60.0), "47,5", 47.5), ((1, 2), "2", 2), (("KM-2", "another"), "KX-3", "KX-3")],
)  # fmt: skip
def test_what_is_typed_becomes_a_value_of_its_kind(values: tuple[object, ...], text: str, value: object) -> None:
    gap = Gap("x", "x", values, "", 1)
    assert is_typed(gap) and typed_value(text, gap) == value


def test_a_missing_figure_is_asked_and_typed_in_its_unit() -> None:
    largest = Gap("slots.slot-1.max_bytes", "largest module", (4 << 30, 8 << 30), "", 5)
    assert (
        gap_words(largest, 4 << 30) == "4 GiB" and typed_value("8", largest) == typed_value("8 GB", largest) == 8 << 30
    )
    assert unit_of_gap(Gap("x.used_bytes", "in use", (1 << 30,), "", 1)) is Unit.DISK
    for gap, text, says in ((largest, "8589934592", "thousand"), (Gap("x", "x", (1.0,), "", 1), "much", "A number")):
        with pytest.raises(ValueError, match=says):
            typed_value(text, gap)


def test_choices_are_said_in_words() -> None:
    assert value_words(True) == "yes" and value_words((), "") == "none of them" and value_words(("a", "b")) == "a and b"
    assert value_words(65.0, "W") == "65 W" and value_words(LockState.NONE) == "there is none"
    assert not is_typed(Gap("x", "x", (True, False), "", 1)) and not is_typed(Gap("x", "x", (LockState.NONE,), "", 1))


def test_gaps_come_quickest_first_and_say_whether_the_record_takes_them() -> None:
    case = next(c for c in STORAGE_CASES if c.rule == "STO-KEY" and "standoffs" in c.says)
    whole = FitCase("", None, "", case.plan, {**case.facts, "platform.board.nvme_start": None})
    gaps = gaps_of(tuple(whole.verdicts().values()))
    assert [g.minutes for g in gaps] == sorted(g.minutes for g in gaps) and len({g.key for g in gaps}) == len(gaps) >= 2
    job = Job("a", "a", whole.machine())
    assert all(can_record(job, g) for g in gaps)
    assert can_record(job, Gap("locks.licence", "l", (1,), "", 1))
    assert not can_record(job, Gap("platform.case.colour", "colour", (1, 2), "", 1))


def test_what_was_found_out_of_a_part_for_sale_is_kept_beside_the_plan_and_settles_it() -> None:
    """A used processor's contacts are answered in place; the price list stays as it is."""
    case = FitCase("CPU-USED", Level.NOT_KNOWN, "", {"socket": replace(CHIP, used=True)})
    gap = case.verdicts()["CPU-USED"].gap
    assert gap is not None and can_record(Job("a", "a", TOWER), gap)
    for answer, level in ((True, Level.FITS), (False, Level.REFUSED)):
        job = with_answer(Job("a", "a", TOWER), gap, answer)
        assert replace(case, around={"part_facts": job.part_facts}).verdicts()["CPU-USED"].level is level
        assert with_answer(job, gap, None).part_facts == {}
    weight = Gap("power of card", "card's power", (20.0, 75.0), "", 1, "W")
    assert told_value(with_answer(Job("a", "a", TOWER), weight, 47.5).part_facts["power of card"], weight) == 47.5
    assert told_value("heavy", weight) is None, "words of another day are no answer"
