"""A dying drive: imaged first whatever is planned, never read again, loaded by no check, and not cleared by standing
still."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.app.view.cause_record import assessment_of
from brachium.app.view.plan_in_hand import verdicts_of
from brachium.core.cause.checks import CHECKS
from brachium.core.drives.readings import HealthReading
from brachium.core.fit.circumstances import Circumstances
from brachium.core.fit.circumstances_of import around_of
from brachium.core.fit.verdict import Level
from brachium.core.machine.system_drive import system_drive
from brachium.core.plan.candidates import Candidate, candidates
from brachium.core.record.checks import CheckDone
from brachium.core.record.drive_records import Transfer, Way
from brachium.core.record.drive_states import failing_places
from brachium.core.record.job import Job
from brachium.core.record.shop_rules import ShopRules
from brachium.core.record.use_of_job import typed_use
from brachium.core.work.step import Step
from brachium.core.work.transfer import transfer_plan
from brachium.core.work.whole_plan import work_of
from brachium.demo.newsroom import newsroom_job
from brachium.demo.shop import demo_catalogue

OLD = "bay-main"
PENDING = HealthReading(OLD, "2026-11-24 09:00", {"reallocated": 3, "pending": 8, "uncorrectable": 0})
OPTIONS = {c.id: c for c in candidates(newsroom_job().machine, demo_catalogue())}
PLANS = (("ssd-480@bay-main",), ("ssd-240@bay-optical",), ("mem-4-l",), ("svc-clean", "svc-paste"),
         ("ssd-240@bay-optical", "mem-4-l", "svc-paste"))  # fmt: skip


def dying(**changes: object) -> Job:
    return replace(newsroom_job(), health=(PENDING,), **changes)  # type: ignore[arg-type]


def around(job: Job) -> Circumstances:
    return around_of(job, None, None, typed_use(job), ShopRules())


def planned(job: Job, ids: tuple[str, ...]) -> tuple[tuple[Candidate, ...], tuple[Step, ...]]:
    chosen = tuple(OPTIONS[i] for i in ids)
    return chosen, work_of(job, chosen, verdicts_of(job.machine, chosen, around(job))[1])


@pytest.mark.parametrize("ids", PLANS)
def test_whatever_is_planned_the_image_comes_first(ids: tuple[str, ...]) -> None:
    job = dying()
    verdicts, _ = verdicts_of(job.machine, tuple(OPTIONS[i] for i in ids), around(job))
    spoken = [v for v in verdicts if v.rule == "STO-HEALTH"]
    assert [v.level for v in spoken] == [Level.NEEDS_FIRST], "its verdict is never dropped"
    _, steps = planned(job, ids)
    assert steps[0].title == "Take an image of the failing drive"
    for step in steps[1:]:
        assert not step.title.startswith("Copy the system"), "it is read once"
    work = next(s for s in steps if s.id in ("clone", "drive", "power-off"))
    assert steps[0].id in work.needs


@pytest.mark.parametrize("ids", [i for i in PLANS if any("ssd" in x for x in i)])
@pytest.mark.parametrize("way", [Way.COPY, Way.FRESH])
def test_the_system_comes_back_from_the_image(ids: tuple[str, ...], way: Way) -> None:
    job = dying(transfer=Transfer(way, 100.0))
    chosen, steps = planned(job, ids)
    assert system_drive(job.machine, job.machine.configuration())[0] == OLD  # type: ignore[index]
    move = transfer_plan(job.machine, chosen, job.transfer, None, failing_places(job))
    healthy = transfer_plan(job.machine, chosen, job.transfer)
    assert move is not None and healthy is not None
    assert move.way is (Way.IMAGE if way is Way.COPY else Way.FRESH)
    assert move.limited_by != "the old drive" and move.copy_min <= healthy.copy_min
    clone = next((s for s in steps if s.id == "clone"), None)
    assert (clone is not None and "from the image" in clone.title) is (way is Way.COPY)
    install = next((s for s in steps if s.id == "install"), None)
    assert (install is not None and "from the image, never" in install.detail) is (way is Way.FRESH)
    if install is not None:
        assert "stick" in install.needs, "the stick is ready before there is no system"


def test_no_check_that_loads_it_is_offered_and_standing_still_clears_nothing() -> None:
    loading = {c.id for c in CHECKS if c.loads_drive}
    assert {"counters_rise", "swap_cable", "other_drive"} <= loading
    calm = CheckDone("counters_rise", "nothing rises", 8.0)
    sick, after = (
        assessment_of(dying(), None, None),
        assessment_of(dying(checks=(*newsroom_job().checks, calm)), None, None),
    )
    assert not loading & {c.check.id for c in sick.checks}
    assert loading & {c.check.id for c in assessment_of(newsroom_job(), None, None).checks}
    assert after.cause("dying").log_odds == sick.cause("dying").log_odds
    well = assessment_of(replace(newsroom_job(), checks=(*newsroom_job().checks, calm)), None, None)
    assert well.cause("dying").log_odds < assessment_of(newsroom_job(), None, None).cause("dying").log_odds


def test_an_answer_that_calls_the_media_faulty_counts_like_counters() -> None:
    job = replace(newsroom_job(), checks=(CheckDone("read_health", "media faults", 2.0),))
    assert failing_places(job) == {OLD}
    assert planned(job, ("mem-4-l",))[1][0].title == "Take an image of the failing drive"
