"""Edits on their way to the disk: kept while it is full, tried again, and never overtaken by an older record."""

from __future__ import annotations

import threading
from dataclasses import replace
from pathlib import Path

import pytest

from brachium.app.demo.demo_shop import add_newsroom, fill_demo_shop
from brachium.app.shared.lanes import Lanes
from brachium.app.shop import store_queue
from brachium.app.shop.kept import settings_of
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.store_queue import StoreQueue
from brachium.app.shop.workspace import Workspace
from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem, Problem
from brachium.core.measure.run import Run
from brachium.demo.newsroom import JOB_ID, newsroom_job
from brachium.formats.job_archive import ArchivedRun, write_archive
from tests.support.some_runs import some_run

FULL = EnvironmentProblem("the disk is full", "shop.db", "Free some space.")


def test_what_a_full_disk_refuses_is_shown_and_tried_again_in_order(
    shop: Workspace, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(store_queue, "RETRY_S", 0.05)
    real, full = shop.repository.save_job, threading.Event()
    full.set()

    def save(*arguments: object, **named: object) -> object:
        if full.is_set():
            raise FULL
        return real(*arguments, **named)  # type: ignore[arg-type]

    monkeypatch.setattr(shop.repository, "save_job", save)
    problems, waiting = list[Exception](), list[int]()
    saved = threading.Event()
    shop.on_problem.append(problems.append)
    shop.on_saving.append(lambda count: (waiting.append(count), saved.set() if count == 0 else None))  # type: ignore[arg-type,func-returns-value]
    shop.edit("first", replace(shop.job(JOB_ID), goal="first"))
    shop.edit("second", replace(shop.job(JOB_ID), goal="second"))
    shop.keep_photo("p", b"jpeg")
    shop.lanes.drain("store")
    assert shop.writes.unsaved == 3 and "disk is full" in shop.writes.why and len(problems) == 1
    assert shop.job(JOB_ID).goal == "second" and shop.photo("p") == b"jpeg", "nothing is lost meanwhile"
    full.clear()
    assert saved.wait(20.0), "tried again by itself"
    assert shop.writes.unsaved == 0 and waiting[-1] == 0
    assert shop.repository.job(JOB_ID).goal == "second" and shop.repository.photo("p") == b"jpeg"


def test_a_write_that_the_file_refuses_does_not_hold_the_others_up() -> None:
    lanes = Lanes()
    said, order = list[Exception](), list[str]()
    queue = StoreQueue(lanes, said.append, lambda: None)

    def refused() -> None:
        raise ExpectedProblem("it is there already", "run")

    first = queue.submit(refused, lambda: order.append("never"))
    second = queue.submit(lambda: order.append("written"), lambda: order.append("told"))
    lanes.drain("store")
    lanes.close()
    assert (first.kept, first.refused, second.kept) == (False, True, True)
    assert order == ["written", "told"] and len(said) == 1 and queue.unsaved == 0


def test_a_run_that_the_shop_refused_is_not_taken_in(shop: Workspace, tmp_path: Path) -> None:
    from brachium.app.files.job_transfer import take_in

    run = some_run()
    shop.add_run(JOB_ID, "before", run)
    shop.lanes.drain("store")
    elsewhere = replace(newsroom_job(), id="another", name="Another")
    write_archive(elsewhere, [ArchivedRun("before", run)], tmp_path / "twice.zip")  # a run id that is taken
    told, problems = list[str](), list[Exception]()
    shop.on_problem.append(problems.append)
    taken = take_in(shop, tmp_path / "twice.zip")
    shop.after_stored(taken.tickets, lambda: told.append(taken.said))
    shop.lanes.drain("store")
    assert told == [] and "refused" in str(problems[0]) and taken.tickets[0].refused
    assert shop.job_ids() == (JOB_ID,) and [s.run.id for s in shop.all_runs(JOB_ID)] == [run.id]


def test_no_edit_is_lost_to_a_read_that_was_held_open(shop: Workspace, monkeypatch: pytest.MonkeyPatch) -> None:
    """A lane reads a record while it is edited: the edit stands, and the next one builds on it."""
    shop.lanes.drain("store")
    shop._jobs.clear()
    real, reading, go_on = shop.repository.stored_job, threading.Event(), threading.Event()

    def slow(job_id: str) -> object:
        found = real(job_id)
        if threading.current_thread() is not threading.main_thread():
            reading.set()
            go_on.wait(20.0)
        return found

    monkeypatch.setattr(shop.repository, "stored_job", slow)
    lane = threading.Thread(target=lambda: shop.job(JOB_ID))
    lane.start()
    assert reading.wait(20.0)
    shop.edit("goal", replace(shop.job(JOB_ID), goal="edited"))
    go_on.set()
    lane.join()
    assert shop.job(JOB_ID).goal == "edited"
    picture = shop.reading()
    shop.edit("name", replace(shop.job(JOB_ID), name="renamed"))
    assert picture.job(JOB_ID).name != "renamed" and picture.job(JOB_ID).goal == "edited"


def test_cards_may_come_and_go_while_a_lane_looks_at_them(shop: Workspace) -> None:
    picture = shop.reading()
    seen = []
    for card in picture.cards():
        shop.add_job(replace(newsroom_job(), id="more", name="More"))
        seen.append(card.id)
    assert seen == [JOB_ID] and picture.job_ids() == (JOB_ID,) and set(shop.job_ids()) == {JOB_ID, "more"}


def test_a_demo_that_was_stopped_while_it_filled_is_completed(tmp_path: Path) -> None:
    path = tmp_path / "shop.db"
    workspace = open_shop(path)
    add_newsroom(workspace)  # and then it was stopped
    workspace.close()
    for _ in range(2):
        workspace = open_shop(path, fill=fill_demo_shop)
        for lane in ("compute", "store", "compute", "store"):
            workspace.lanes.drain(lane)
        assert len(workspace.job_ids()) == 8 and settings_of(workspace).demo_filled and len(workspace.shelf_parts) > 2
        assert len(workspace.all_runs("playout-pc")) == 4
        workspace.close()


@pytest.mark.parametrize(
    "change",
    [
        lambda lines: [*lines[:5], lines[4], *lines[5:]],  # doubled
        lambda lines: [*lines[:4], lines[5], lines[4], *lines[6:]],  # out of order
        lambda lines: [*lines[:4], '{"kind":"s","t":1e400,"v":[1]}', *lines[4:]],
        lambda lines: [*lines[:4], '{"kind":"repeat","test":["x"],"value":"a","valid":1,"reason":null}', *lines[4:]],
        lambda lines: [*lines[:4], "[" * 100_000, *lines[4:]],
        lambda lines: [lines[0].replace('"channels":[[', '"channels":[["temp_c","C"],['), *lines[1:]],
        lambda lines: [""],
        lambda lines: ["\x00\xff" * 40],
    ],
)
def test_a_bad_line_of_a_journal_never_keeps_the_shop_shut(tmp_path: Path, change, runs: tuple[Run, Run]) -> None:  # type: ignore[no-untyped-def]
    from brachium.formats.records import document_of
    from brachium_probe.journal import JournalWriter

    workspace = open_shop(tmp_path / "shop.db")
    add_newsroom(workspace)
    workspace.close()
    (tmp_path / "shop-runs").mkdir()
    path = tmp_path / "shop-runs" / f"{JOB_ID}@before-1.running.jsonl"
    head = replace(document_of(runs[0]), id=f"{JOB_ID}-before-1", sessions=())
    writer = JournalWriter(str(path), head.plain(), [("temp_c", "°C", "chip")], 99.0)
    writer.begin(1, "boot")
    for k in range(8):
        writer.sample(float(k), [40.0 + k])
    writer.close()
    path.write_text("\n".join(change(path.read_text().split("\n"))))
    workspace = open_shop(tmp_path / "shop.db")
    kept = workspace.all_runs(JOB_ID)
    workspace.close()
    assert len(workspace.recovered) == 1, workspace.recovered
    left = list((tmp_path / "shop-runs").iterdir())
    if kept:
        assert kept[0].run.sessions[0].trace.time_s.size >= 7 and left == []
    else:
        assert [p.suffix for p in left] == [".damaged"] and "put aside" in workspace.recovered[0]


def test_a_problem_in_a_listener_is_no_lost_write(shop: Workspace) -> None:
    shop.on_problem.append(lambda error: None if isinstance(error, Problem) else pytest.fail(str(error)))
    shop.add_run(JOB_ID, "before", some_run())
    shop.add_run(JOB_ID, "before", some_run())  # the same id: refused, and nothing else is
    shop.edit("goal", replace(shop.job(JOB_ID), goal="after it"))
    shop.lanes.drain("store")
    assert shop.repository.job(JOB_ID).goal == "after it" and len(shop.all_runs(JOB_ID)) == 1
