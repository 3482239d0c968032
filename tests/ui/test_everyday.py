"""What the owner feels, in the window: days watched and read in, tasks with their split, the use that follows."""

from __future__ import annotations

import fcntl
import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from benchmarks.days import FLASH, run_of_day
from brachium.app.bench.run_roles import DAY_AFTER, DAY_BEFORE
from brachium.app.files.job_transfer import keep_carried, read_carried
from brachium.app.measure import days as app_days
from brachium.app.view.days import Days
from brachium.core.measure.run import Run
from brachium.core.record.job import LOCAL, DataState, Stage
from brachium.devices.simulated import day as made
from brachium.formats.run_file import run_to_file_text
from brachium.ui.pages.choose.use_sheet import UseSheet
from brachium.ui.pages.measure.everyday_panel import EverydayPanel
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.prove.prove_page import ProvePage
from brachium_probe.journal import JournalWriter
from tests.ui.conftest import Bench

OFFICE_DAY = made.DayOwner(((made.OFFICE, 0.6), (made.BROWSING, 0.4)))
LAPTOP = made.DayMachine(4, 4.0, FLASH)


def everyday(bench: Bench) -> EverydayPanel:
    if bench.job().data_safe.state is DataState.OPEN:
        bench.window.run_command("data.backed_up")  # the before Measure
        bench.settled()
    bench.window.session.select_stage(Stage.MEASURE)
    page = bench.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    QTest.mouseClick(page.part.buttons["everyday"], Qt.MouseButton.LeftButton)
    assert page.everyday.isVisible()
    return page.everyday


def side(panel: EverydayPanel, role: str) -> None:
    QTest.mouseClick(panel.side.buttons[role], Qt.MouseButton.LeftButton)


def days_of(bench: Bench) -> Days | None:
    view = bench.window.session.view()
    return view.proof.days if view is not None else None


def until_days(bench: Bench, ready: Callable[[Days], bool]) -> Days:
    bench.until(lambda: (d := days_of(bench)) is not None and ready(d))
    found = days_of(bench)
    assert found is not None
    return found


def watch_file(folder: Path, run: Run, hours: float, ended: bool = True) -> Path:
    """A day as the probe would have written it, up to some hours."""
    path = folder / f"watch-{run.id}-{hours:g}.jsonl"
    plain = json.loads(run_to_file_text(run))
    head = {**plain["run"], "sessions": [], "taken_at": "2026-11-30 08:00", "notes": ["consent: newsroom, 2026-11-30"]}
    trace = run.sessions[0].trace
    writer = JournalWriter(str(path), head, [(s.key, s.unit, s.source) for s in trace.series], 1e9)
    writer.begin(1, "boot")
    for k, t in enumerate(trace.time_s):
        if t <= 3600.0 * hours:
            writer.sample(float(t), [float(s.values[k]) for s in trace.series])
    if ended:
        writer.end(True, [])
    writer.close()
    return path


@pytest.fixture
def day_file(tmp_path: Path) -> Path:
    return watch_file(tmp_path, run_of_day(made.simulate_day(OFFICE_DAY, LAPTOP, 3)), 7.0)


def test_a_watched_day_shows_its_hours_its_memory_and_what_the_plan_should_bring(done: Bench) -> None:
    panel = everyday(done)
    assert "consent" in panel.empty.text() and panel.figures.tasks.isVisible(), "tasks came with the before-run"
    assert {r.id for r in panel.figures.tasks.regions()} == {
        "task:task_compress",
        "task:task_photos",
        "task:task_together",
    }
    assert panel.side.buttons[DAY_AFTER].isChecked(), "the work is done"
    side(panel, DAY_BEFORE)
    QTest.mouseClick(panel.simulate, Qt.MouseButton.LeftButton)
    days = until_days(done, lambda d: d.before is not None)
    done.until(lambda: panel.figures.days[0].isVisible())
    words = panel.figures._days_words.text()
    assert "h at work" in words and "GiB of memory would have done" in words and "should bring ×" in words
    assert days.predicted is not None and days.predicted.low < days.predicted.mid < days.predicted.high
    assert done.job().measured_shares, "Choose starts from the day"
    done.click_region(panel.figures.days[0], "day")
    because = done.window.because.because()
    assert because is not None and because.title == "Where the day went" and len(because.facts) > 5
    done.click_region(panel.figures.tasks, "task:task_together")
    because = done.window.because.because()
    assert because is not None and any("waiting for the drive" in f.label for f in because.facts)
    done.click_region(panel.figures.ladder, "ladder")
    because = done.window.because.because()
    assert because is not None and "256 MiB" in because.facts[0].value


def test_days_after_are_compared_on_prove_and_undo_takes_the_use_back(done: Bench) -> None:
    panel = everyday(done)
    side(panel, DAY_BEFORE)
    QTest.mouseClick(panel.simulate, Qt.MouseButton.LeftButton)
    until_days(done, lambda d: d.before is not None)
    side(panel, DAY_AFTER)
    QTest.mouseClick(panel.simulate, Qt.MouseButton.LeftButton)
    days = until_days(done, lambda d: d.comparison is not None)
    assert days.comparison is not None and days.comparison.gain is not None and days.comparison.gain.low > 1.0
    done.click_stage(Stage.PROVE)
    page = done.window.pages[Stage.PROVE]
    assert isinstance(page, ProvePage)
    feel = page.comparison.feel
    done.until(lambda: feel.days[1].isVisibleTo(page))
    assert (
        "The same work in like minutes goes ×" in feel._days_words.text()
        and "of each hour" in feel._days_words.text().lower()
    )
    drawing = feel.tasks.drawing()
    assert drawing is not None and sum(getattr(i, "text", "") == "after" for i in drawing.items) == 3
    assert done.window.session.undo() is not None
    assert not done.job().measured_shares


def test_a_watch_file_is_read_in_twice_and_counts_once(
    fresh: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = run_of_day(made.simulate_day(OFFICE_DAY, LAPTOP, 3))
    short, whole = watch_file(tmp_path, run, 3.0, ended=False), watch_file(tmp_path, run, 7.0)
    panel = everyday(fresh)
    for path, hours in ((short, 3.0), (whole, 7.0)):
        monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, p=path: (str(p), ""))
        QTest.mouseClick(panel.read, Qt.MouseButton.LeftButton)
        days = until_days(fresh, lambda d, h=hours: d.before is not None and abs(d.before.hours - h) < 0.1)
        assert days.before is not None and days.before.need is not None
    kept = fresh.window.session.workspace.all_runs(fresh.job().id)
    assert [bool(s.run.void_reason) for s in kept if s.role == DAY_BEFORE] == [True, False]
    view = fresh.window.session.view()
    assert view is not None and view.measured.before is None and view.causes.figures is not None, "a day is a start"
    assert view.causes.figures.stall_measured and "watched" in view.causes.profile.title
    sheet = UseSheet(fresh.window, fresh.window.session)
    assert sheet.source.buttons["measured"].text() == "As watched" and "h at work" in sheet.note.text()
    QTest.mouseClick(sheet.source.buttons["typed"], Qt.MouseButton.LeftButton)
    fresh.settled()
    view = fresh.window.session.view()
    assert view is not None and "watched" not in view.causes.profile.title
    sheet.close()


def test_a_watch_file_alone_makes_a_record_in_an_empty_shop(empty: Bench, day_file: Path) -> None:
    workspace = empty.window.session.workspace
    taken = keep_carried(workspace, read_carried(day_file, workspace.reading()))
    assert "7.0 h of use are kept" in taken.said and workspace.job(taken.job_id).measured_shares
    empty.window.session.select_job(taken.job_id)
    days = until_days(empty, lambda d: d.before is not None)
    assert days.before is not None and days.before.hours_at_work > 5.0
    panel = everyday(empty)
    empty.until(lambda: panel.figures.days[0].isVisible())
    assert not panel.simulate.isVisible() and not panel.figures.tasks.isVisible()


def test_a_damaged_watch_file_is_refused_with_words(
    fresh: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    bad = tmp_path / "watch-bad.jsonl"
    bad.write_text("nothing of the kind\n")
    panel = everyday(fresh)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(bad), ""))
    QTest.mouseClick(panel.read, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "watch-bad.jsonl" in " ".join(fresh.window.next.texts()))
    assert not [s for s in fresh.window.session.workspace.all_runs(fresh.job().id) if s.role == DAY_BEFORE]


def test_this_pc_is_watched_only_with_consent_and_what_is_there_can_be_taken_in(
    fresh: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    session = fresh.window.session
    session.edit("this machine", replace(fresh.job(), bench=LOCAL))
    fresh.settled()
    panel = everyday(fresh)
    started: list[list[str]] = []
    monkeypatch.setattr(app_days.subprocess, "Popen", lambda command, **_: started.append(command))
    QTest.mouseClick(panel.watch, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "nobody agreed" in " ".join(fresh.window.next.texts()))
    assert started == []
    assert fresh.type_in(panel.hours, "9000") == "Up to 336 hours."
    assert fresh.type_in(panel.hours, "8") == "" and fresh.type_in(panel.agreed, "newsroom") == ""
    QTest.mouseClick(panel.watch, Qt.MouseButton.LeftButton)
    assert started[0][1:5] == ["-m", "brachium_probe", "watch", "--hours"] and "newsroom" in started[0]
    folder = app_days.watch_folder(session.workspace.database.path, fresh.job().id)
    going = watch_file(folder, run_of_day(made.simulate_day(OFFICE_DAY, LAPTOP, 3)), 4.0, ended=False)
    (found,) = app_days.watch_files(folder)
    assert found.path == going and not found.going and found.hours == pytest.approx(4.0, abs=0.02)
    panel.show_job(fresh.job(), session.view())
    fresh.until(lambda: panel.take.isVisible())
    assert panel.take.text() == "Take in 4.0 h"
    with going.open("rb") as file:
        fcntl.flock(file.fileno(), fcntl.LOCK_EX)
        QTest.mouseClick(panel.watch, Qt.MouseButton.LeftButton)
        fresh.until(lambda: "being watched already" in " ".join(fresh.window.next.texts()))
        assert len(started) == 1 and app_days.watch_files(folder)[0].going
    QTest.mouseClick(panel.take, Qt.MouseButton.LeftButton)
    until_days(fresh, lambda d: d.before is not None)
