"""The shop's own tables and the day's work gathered from a real workspace, with settings that cannot be read."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

import pytest
from icalendar import Calendar

from brachium.app.day.agenda import agenda_of
from brachium.app.day.sheet import (
    fix_block,
    fixed_blocks,
    gather_day_jobs,
    open_steps,
    plan_day,
    shop_day,
    timed_by_kind,
)
from brachium.app.shop.kept import keep_settings, settings_of
from brachium.app.shop.reading import ASIDE
from brachium.app.shop.rules import keep_claim
from brachium.app.shop.workspace import Workspace
from brachium.core.day.durations import learn_durations
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
from brachium.core.record.job import DataSafe, DataState, StepDone
from brachium.core.record.shop_settings import ShopSettings
from brachium.core.record.systems import SYSTEMS
from brachium.demo.newsroom import JOB_ID
from brachium.formats.calendar import sheet_to_ics
from brachium.formats.shop_documents import CLAIMS, FIXED_BLOCKS, SETTINGS, SYSTEM_TABLE

NOW = datetime(2026, 11, 25, 8, 55)
PLAN = ("mem-4-l", "ssd-480@bay-main", "svc-paste")


@pytest.fixture
def ready(shop: Workspace) -> Workspace:
    """The newsroom laptop planned, its data settled."""
    job = shop.job(JOB_ID)
    shop.edit("planned", replace(job, plan=PLAN, data_safe=DataSafe(DataState.NOT_NEEDED), needed_by="2026-11-25"))
    return shop


def test_what_is_to_get_ready_shrinks_with_every_part_that_is_fitted(ready: Workspace) -> None:
    """A plan of a module, a drive and paste from a tube: each leaves the list by its own step, none before."""
    job = replace(ready.job(JOB_ID), plan=("mem-4-l", "ssd-480@bay-main", "paste-4"))
    steps = open_steps(ready, job)
    fits = [s.id for s in steps if s.id in ("memory", "drive", "paste")]
    lists = []
    for count in range(len(steps)):
        ready._put("ticked", replace(job, steps_done=tuple(StepDone(s.id, "now", 1.0) for s in steps[:count])))
        found = agenda_of(ready, plan_day(ready, NOW, 0.0), 0)
        lists.append(len(found.ready))
        assert len(found.ready) == sum(s.id in fits for s in steps[count:])
    assert lists[0] == len(fits) >= 2 and lists[-1] == 0


def test_what_is_planned_is_gathered_without_its_view(ready: Workspace) -> None:
    jobs, left_out = gather_day_jobs(ready, NOW)
    (job,) = jobs
    assert (job.id, job.due, left_out) == (JOB_ID, 18 * 60, ())
    steps = open_steps(ready, ready.job(JOB_ID))
    assert [s for b in job.blocks for s in b.steps] == [s.id for s in steps] and steps[0].id == "clone"
    ticked = replace(ready.job(JOB_ID), steps_done=tuple(StepDone(s.id, "now", 1.0) for s in steps[:3]))
    ready._put("ticked", ticked)
    assert [s.id for s in open_steps(ready, ticked)] == [s.id for s in steps[3:]]
    ready.edit("waits for its parts", replace(ticked, parts_due="2026-11-27"))
    assert gather_day_jobs(ready, NOW)[0][0].release == 2 * 24 * 60
    ready.edit("nothing planned", replace(ticked, plan=()))
    assert gather_day_jobs(ready, NOW) == ((), ("Newsroom laptop: nothing is planned",))
    assert gather_day_jobs(ready, NOW, lambda: True) == ((), ())


def test_a_day_is_planned_first_quickly_then_exactly(ready: Workspace) -> None:
    seen = []
    day = plan_day(ready, NOW, 2.0, first_sheet=seen.append)
    assert seen[0].sheet.gap is None and day.sheet.gap == 0 and day.sheet.late <= seen[0].sheet.late
    assert set(day.chances) == {JOB_ID} and day.shop.now == 535
    events = list(Calendar.from_ical(sheet_to_ics(day.sheet, day.jobs, day.first)).walk("VEVENT"))
    assert len(events) == len(day.sheet.placed)
    first = min(day.sheet.placed, key=lambda p: p.start)
    assert events[0]["dtstart"].dt.replace(tzinfo=None) == datetime(2026, 11, 25, first.start // 60, first.start % 60)
    assert len({str(e["uid"]) for e in events}) == len(events)


def test_nothing_is_put_outside_the_opening_hours(ready: Workspace, monkeypatch: pytest.MonkeyPatch) -> None:
    keep_settings(ready, opening_hours="09:00-09:30")
    monkeypatch.setattr("brachium.app.day.sheet.USUAL_DAYS", 1)  # too few: more days are looked ahead
    day = plan_day(ready, NOW, 1.0)
    assert day.jobs and all(b.attended <= 30 for b in day.jobs[0].blocks), "blocks end where the shop closes"
    assert all(any(a <= p.start and p.attended_end <= b for a, b in day.shop.hours) for p in day.sheet.placed)
    keep_settings(ready, opening_hours="09:00-09:05")
    jobs, left_out = gather_day_jobs(ready, NOW)
    assert jobs == () and "longer than any opening hours" in left_out[0]


def test_settings_that_cannot_be_read_count_as_usual(shop: Workspace) -> None:
    shop.save_setting(FIXED_BLOCKS.key, "[broken")
    for text in ("[broken", '{"document_version": 2, "technicians": "many"}', '{"document_version": 3}'):
        shop.save_setting(SETTINGS.key, text)
        assert settings_of(shop) == ShopSettings() and shop.setting(f"{SETTINGS.key}{ASIDE}") == text
    keep_settings(shop, opening_hours="whenever", benches=-3)
    found = shop_day(shop, NOW)
    assert (found.technicians, found.benches) == (1, 1) and found.hours[0] == (540, 750)
    assert fixed_blocks(shop, NOW.date()) == {}
    fix_block(shop, "a/b", datetime(2026, 11, 25, 10, 5))
    fix_block(shop, "a/c", datetime(2026, 11, 20, 10, 5))
    assert fixed_blocks(shop, NOW.date()) == {"a/b": 605}, "what was fixed in the past is free again"
    assert fixed_blocks(shop, NOW.date(), 606) == {}, "so is what began before now"
    fix_block(shop, "a/b", None)
    assert fixed_blocks(shop, NOW.date()) == {}
    keep_settings(shop, opening_hours="10:00-12:00")
    assert shop_day(shop, NOW).hours[0] == (600, 720)


def test_the_shops_rules_survive_broken_tables(shop: Workspace) -> None:
    shop.save_setting(SYSTEM_TABLE.key, "id\nx")
    shop.save_setting(CLAIMS.key, "{")
    rules = shop.shop_rules()
    assert rules.systems == SYSTEMS and rules.claims == () and rules.threshold == 0.85
    claim = CompatibilityClaim("D4-84", "Tern 14", (Source(SourceKind.MAKER),))
    keep_claim(shop, claim)
    assert shop.shop_rules().claims == (claim,)
    keep_claim(shop, replace(claim, sources=()))
    assert shop.shop_rules().claims == (), "without sources there is no claim"


def test_minutes_are_learned_from_jobs_whose_plan_is_known(ready: Workspace) -> None:
    assert not any(timed_by_kind(ready).values())
    steps = open_steps(ready, ready.job(JOB_ID))
    done = tuple(StepDone(s.id, "now", 2.0 * s.attended_min) for s in steps)
    ready._put("ticked", replace(ready.job(JOB_ID), steps_done=done))
    ready.compute_now(JOB_ID)
    learned = learn_durations(timed_by_kind(ready)[ready.job(JOB_ID).machine.kind])
    assert learned["paste"].count == 1 and all(x.factor > 1.0 for x in learned.values())
