"""Edits, undo, autosave, views and imported logs in a shop."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import event

from brachium.app.bench.benches import bench_for
from brachium.app.files.import_logs import keep_logs, read_log
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import AFTER, BEFORE, Workspace
from brachium.app.view.job_view import JobView, compute_view
from brachium.app.view.measured import JobRuns
from brachium.core.base.problems import EnvironmentProblem
from brachium.core.condition.findings import added_minutes
from brachium.core.fit.verdict import Level
from brachium.core.record.job import Stage
from brachium.demo.newsroom import JOB_ID, newsroom_job
from brachium.demo.shop import demo_catalogue


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.sampled_from(["edit", "edit", "undo", "redo"]), max_size=14))
def test_undo_and_redo_walk_the_same_path(shop: Workspace, moves: list[str]) -> None:
    """Against a plain list of states with a cursor."""
    job_id = f"job-{len(shop.job_ids())}"
    shop.add_job(replace(newsroom_job(), id=job_id))
    states, at = [shop.job(job_id)], 0
    for number, move in enumerate(moves):
        if move == "edit":
            changed = replace(states[at], goal=f"goal {number}")
            shop.edit("goal", changed)
            states, at = [*states[: at + 1], changed], at + 1
        elif move == "undo":
            assert bool(shop.undo(job_id)) == (at > 0)
            at = max(at - 1, 0)
        else:
            moved = bool(shop.redo(job_id))
            if at + 1 < len(states):
                assert moved
                at += 1
        assert shop.job(job_id) == states[at]


def test_every_edit_is_on_disk_when_the_lane_is_drained(shop: Workspace) -> None:
    shop.edit("budget", replace(shop.job(JOB_ID), budget=Decimal("99.50")))
    shop.lanes.drain("store")
    assert shop.repository.job(JOB_ID).budget == Decimal("99.50")
    shop.undo(JOB_ID)
    shop.lanes.drain("store")
    assert shop.repository.job(JOB_ID).budget == Decimal("150")


def test_an_edit_that_changes_nothing_is_no_edit(shop: Workspace) -> None:
    shop.edit("nothing", shop.job(JOB_ID))
    assert shop.undo_label(JOB_ID) == ""


@pytest.mark.parametrize("place", ["file"], indirect=True)  # a disk that SQLite finds full
def test_a_failing_save_is_reported_and_the_record_stays_in_hand(shop: Workspace) -> None:
    told: list[Exception] = []
    shop.on_problem.append(told.append)
    with shop.database.transaction() as c:
        pages = c.exec_driver_sql("pragma page_count").scalar()
    shop.lanes.drain("compute")
    event.listen(shop.database.engine, "connect", lambda c, _: c.execute(f"pragma max_page_count = {pages}"))
    shop.database.engine.dispose()
    shop.edit("long note", replace(shop.job(JOB_ID), condition=("x" * 200_000,)))
    shop.lanes.drain("store")
    assert isinstance(told[0], EnvironmentProblem) and "disk is full" in told[0].text
    assert len(shop.job(JOB_ID).condition[0]) == 200_000
    assert shop.repository.job(JOB_ID).condition != shop.job(JOB_ID).condition


def test_a_voided_run_stays_stored_but_no_longer_counts(finished_shop: Path) -> None:
    shop = open_shop(finished_shop)
    after = shop.run(JOB_ID, AFTER)
    assert after is not None
    shop.void_run(JOB_ID, after.id, "window was open")
    assert shop.run(JOB_ID, AFTER) is None
    shop.lanes.drain("store")
    kept = [s.run for s in shop.repository.runs(JOB_ID)[0]]
    assert [r.void_reason for r in kept if r.id == after.id] == ["window was open"]
    assert len(kept) == 2
    shop.close()


def test_a_finished_shop_opens_as_it_was_left(finished: tuple[Path, JobView], finished_shop: Path) -> None:
    shop = open_shop(finished_shop)
    view = shop.compute_now(JOB_ID)
    shop.close()
    old = finished[1]
    assert view.job == old.job and view.standing.stage is Stage.HAND_OVER
    assert view.proof.comparison is not None and old.proof.comparison is not None
    assert [g.result for g in view.proof.comparison.gains] == [g.result for g in old.proof.comparison.gains]
    assert view.choice.cost == old.choice.cost and view.choice.prediction == old.choice.prediction


def test_offers_are_judged_in_the_whole_plan(shop: Workspace) -> None:
    """A second kit replaces the first; a module beside a planned one is judged with it."""
    job = replace(shop.job(JOB_ID), plan=("mem-2x8-l",))
    view = compute_view(job, JobRuns(), demo_catalogue())
    levels = {o.candidate.id: o.level for o in view.choice.offers}
    assert levels["mem-2x8-l"] is Level.FITS and levels["mem-8-15v"] is Level.REFUSED
    assert levels["ssd-480@bay-optical"] is Level.NEEDS_FIRST
    assert {o.candidate.id for o in view.choice.offers if o.chosen} == {"mem-2x8-l"}
    optical = compute_view(replace(job, plan=("ssd-480@bay-optical",)), JobRuns(), demo_catalogue())
    assert optical.work.steps[0].title == "Get: 9.5 mm caddy"


def test_cost_is_parts_plus_minutes_at_the_rate(finished_view: JobView) -> None:
    cost = finished_view.choice.cost
    assert cost.parts == sum(c.price for c in finished_view.choice.chosen())
    found = added_minutes(finished_view.job.findings)
    assert found == 7.5 and cost.attended_min == sum(s.attended_min for s in finished_view.work.steps) + found
    expected = finished_view.job.rate_per_hour * Decimal(str(cost.attended_min)) / 60
    assert abs(cost.labour - expected) <= Decimal("0.005") and cost.total == cost.parts + cost.labour


def test_the_after_bench_carries_the_plan(finished_view: JobView) -> None:
    job, chosen = finished_view.job, finished_view.choice.chosen()
    before, after = bench_for(job, BEFORE, None, chosen), bench_for(job, AFTER, None, chosen)
    assert before is not None and after is not None
    assert before.machine.spec.drive.rotational and not after.machine.spec.drive.rotational
    assert after.machine.spec.memory_gib == 2 * before.machine.spec.memory_gib
    assert bench_for(replace(job, bench=""), BEFORE, None) is None


@pytest.mark.parametrize("pair", ["laptop-repaste", "tower-cleaned", "small-desktop-short-load"])
def test_imported_logs_go_the_same_way_to_a_verdict(shop: Workspace, data: Path, pair: str) -> None:
    previews = tuple(read_log(data / f"{pair}-{role}.csv") for role in (BEFORE, AFTER))
    assert [p.role for p in previews] == [BEFORE, AFTER]
    job_id = keep_logs(shop, previews, {})
    view = shop.compute_now(job_id)
    assert (
        view.standing.stage is Stage.HAND_OVER
        and view.proof.comparison is not None
        and view.proof.comparison.heat.paste is not None
    )
    shop.lanes.drain("store")
    assert {s.role for s in shop.repository.runs(job_id)[0]} == {BEFORE, AFTER}
    second = keep_logs(shop, previews, {})
    assert second != job_id and shop.job(second).name != shop.job(job_id).name


def test_a_log_cut_off_under_load_says_so(data: Path, tmp_path: Path) -> None:
    lines = (data / "laptop-repaste-before.csv").read_text().splitlines()
    (tmp_path / "cut.csv").write_text("\n".join(lines[:550]))
    assert "into the load, with no cool-down" in read_log(tmp_path / "cut.csv").note
    assert read_log(data / "laptop-repaste-before.csv").note == ""


def test_without_a_room_there_is_no_heat_verdict_but_a_typed_one_gives_it(shop: Workspace, data: Path) -> None:
    previews = tuple(read_log(data / f"small-desktop-unchanged-{role}.csv") for role in (BEFORE, AFTER))
    blind = shop.compute_now(keep_logs(shop, previews, {}))
    assert blind.proof.comparison is not None and "room temperature is not known" in blind.proof.comparison.heat.refusal
    typed = shop.compute_now(keep_logs(shop, previews, {BEFORE: 25.0, AFTER: 25.5}))
    assert typed.proof.comparison is not None and typed.proof.comparison.heat.total is not None
