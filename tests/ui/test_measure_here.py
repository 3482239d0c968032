"""Measuring the machine the window runs on, and files that travel, by clicks, keys and drops."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from brachium.core.machine.scanned.scan import Absent, Scan, ScannedField
from brachium.core.measure.run import PhaseStep
from brachium.core.measure.workloads import PROTOCOLS, QUICK
from brachium.core.record.job import LOCAL, Stage
from brachium.demo.newsroom import JOB_ID
from brachium.formats.run_file import run_to_file_text, write_run_file
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.take_in.scan_panel import questions
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.run import make_window
from tests.support.some_runs import some_run
from tests.ui.conftest import Bench

BRIEF = replace(
    QUICK, phases=(PhaseStep("idle", 1.0), PhaseStep("load", 3.0), PhaseStep("cool-down", 1.0)), repeats=1, test_s=0.3,
    memory_test_s=0.2, memory_test_bytes=8 << 20, tests=("sustained", "cpu_single"),
)  # fmt: skip


def page_of(bench: Bench) -> MeasurePage:
    page = bench.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    return page


def drop(bench: Bench, *paths: Path) -> None:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    bench.window.dropEvent(QDropEvent(QPointF(200, 200), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
                                      Qt.KeyboardModifier.NoModifier))  # fmt: skip


@pytest.fixture
def here(fresh: Bench) -> Bench:
    """This machine, taken in and its data settled."""
    fresh.window.run_command("machine.this")
    fresh.until(lambda: (job := fresh.window.session.job()) is not None and job.bench == LOCAL)
    fresh.settled()
    fresh.window.run_command("data.backed_up")
    fresh.settled()
    fresh.click_stage(Stage.MEASURE)
    return fresh


def test_the_plan_of_a_run_says_what_it_proves_and_what_it_will_not_say(here: Bench) -> None:
    job = here.window.session.job()
    page = page_of(here)
    assert job is not None and job.bench == LOCAL and not page.speed.isVisible() and page.setup.isVisible()
    standard = page._subline.text()
    QTest.mouseClick(page.protocol.buttons["quick"], Qt.MouseButton.LeftButton)
    here.settled()
    assert page._subline.text() != standard and "1 session of 3 repeats" in page._subline.text()
    drawing = page.traces.drawing()
    assert drawing is not None and "tests, 3 repeats" in [getattr(i, "text", "") for i in drawing.items]
    shown = [w.text() for w in page.missing.findChildren(type(page._subline))]
    assert "Drive tests" in shown and any("does not settle a heatsink" in s for s in shown)
    here.click_region(page.dots, "provable:cpu_all")
    because = here.window.because.because()
    assert because is not None and "proves a gain from" in because.title
    assert page.dots.region("provable:drive_seq") is None, "what is not measured proves nothing"


def test_room_and_folder_are_asked_once_checked_and_undone(here: Bench, tmp_path: Path) -> None:
    page, session = page_of(here), here.window.session
    QTest.keyClicks(page.setup.room.edit, "abc")
    page.setup.room.edit.editingFinished.emit()
    assert "Type degrees Celsius" in page.setup.room._problem.text()
    page.setup.room.edit.clear()
    QTest.keyClicks(page.setup.room.edit, "22,5")
    page.setup.room.edit.editingFinished.emit()
    QTest.keyClicks(page.setup.folder.edit, str(tmp_path / "none"))
    page.setup.folder.edit.editingFinished.emit()
    assert page.setup.folder._problem.text() == "There is no such folder."
    page.setup.folder.edit.clear()
    QTest.keyClicks(page.setup.folder.edit, str(tmp_path))
    page.setup.folder.edit.editingFinished.emit()
    here.settled()
    job, view = session.job(), session.view()
    assert job is not None and job.setup.room_c == 22.5 and job.setup.drive_folder == str(tmp_path)
    assert view is not None and "drive_seq" in view.measured.offered
    here.ctrl(Qt.Key.Key_Z)
    here.settled()
    job = session.job()
    assert job is not None and job.setup.drive_folder == ""


def test_this_machine_is_measured_from_the_window(here: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(PROTOCOLS, "quick", BRIEF)  # type: ignore[arg-type]
    page, session = page_of(here), here.window.session
    QTest.mouseClick(page.protocol.buttons["quick"], Qt.MouseButton.LeftButton)
    here.settled()
    QTest.mouseClick(page.start, Qt.MouseButton.LeftButton)
    here.until(lambda: session.measure.active is not None)
    journals = Path(session.workspace.database.path).with_name("shop-runs")
    assert len(list(journals.glob("this-machine@before-*.running.jsonl"))) == 1
    here.until(lambda: "left" in here.window.next.texts()[1])
    here.until(lambda: session.measure.active is None)
    here.until(lambda: (v := session.view()) is not None and v.measured.before is not None)
    run = session.workspace.run(session.job_id, "before")
    assert run is not None and run.complete and run.machine and run.test("cpu_single") is not None
    here.until(lambda: not list(journals.iterdir()))  # it goes once the run is on disk
    here.click_stage(Stage.FIND_CAUSE)
    assert here.window.stack.currentWidget() is here.window.pages[Stage.FIND_CAUSE], "works without any sensor"


def test_stopping_here_is_at_once_and_kept(here: Bench) -> None:
    session = here.window.session
    here.window.run_command("measure.start")
    here.until(lambda: (live := session.measure.live()) is not None and live.trace is not None)
    here.key(Qt.Key.Key_Period, Qt.KeyboardModifier.ControlModifier)
    here.until(lambda: session.measure.active is None)
    stored = session.workspace.all_runs(session.job_id)
    assert len(stored) == 1 and not stored[0].run.complete


def test_a_dropped_run_file_becomes_a_record(fresh: Bench, tmp_path: Path) -> None:
    write_run_file(some_run(), tmp_path / "run.json")
    drop(fresh, tmp_path / "run.json")
    session = fresh.window.session
    fresh.until(lambda: session.job_id == "kestrion-m4-35")
    fresh.until(lambda: "kept as before-run" in fresh.window.next.texts()[0])
    drop(fresh, tmp_path / "run.json")
    fresh.until(lambda: "is here already" in fresh.window.next.texts()[0])
    assert len(session.workspace.all_runs(session.job_id)) == 1


def test_a_job_is_exported_and_dropped_on_another_window(
    done: Bench, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    target = tmp_path / "out.zip"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    done.ctrl(Qt.Key.Key_E)
    done.until(lambda: "2 runs exported" in done.window.next.texts()[0])
    window, _poster = make_window(tmp_path / "other.db", False)
    qtbot.addWidget(window)
    window.show()
    other = Bench(qtbot, window)
    drop(other, target)
    other.until(lambda: window.session.job_id == JOB_ID)
    other.until(lambda: (v := window.session.view()) is not None and v.proof.comparison is not None)
    window.close()
    window.session.workspace.close()


@pytest.mark.parametrize("name", ["cut.json", "cut.zip", "newer.json"])
def test_a_broken_file_is_said_and_nothing_changes(fresh: Bench, tmp_path: Path, name: str) -> None:
    text = run_to_file_text(some_run())
    (tmp_path / name).write_text(text.replace('"version": 1', '"version": 3') if "newer" in name else text[:900])
    before = fresh.window.session.workspace.job_ids()
    drop(fresh, tmp_path / name)
    fresh.until(lambda: name in fresh.window.next.texts()[0])
    assert fresh.window.session.workspace.job_ids() == before
    assert fresh.window.next.texts()[1], "there is a remedy"


def test_a_second_scan_of_a_changed_machine_asks_what_is_true(here: Bench) -> None:
    """Firmware and a field typed by hand disagree with what the machine now says; one is taken, one kept."""
    session = here.window.session
    page = here.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    here.click_stage(Stage.TAKE_IN)
    job = session.job()
    assert job is not None and job.scan is not None
    seen = (ScannedField("identity.serial", "OM-2", "OM-2 ", "SMBIOS type 1"),
            ScannedField("firmware.version", "1.20", "1.20", "SMBIOS type 0"))  # fmt: skip
    identity = replace(job.machine.identity, serial="OM-1", firmware="1.18")
    scan = Scan(fields=seen, absent=(Absent("board.serial", "it may only be read as root", "sudo"),))
    changed = replace(job, scan=scan, machine=replace(job.machine, identity=identity))
    session.edit("x", changed)
    here.settled()

    def press(name: str) -> None:
        found = [b for b in page.machine.scan.findChildren(QPushButton) if b.accessibleName() == name and b.isVisible()]
        assert len(found) == 1, name
        QTest.mouseClick(found[0], Qt.MouseButton.LeftButton)
        here.settled()

    press("Take serial number: OM-2")
    press("Keep firmware: 1.18")
    job = session.job()
    assert job is not None and job.machine.identity.serial == "OM-2" and job.machine.identity.firmware == "1.18"
    assert questions(job) == (), "both are answered"
    newer = replace(job, scan=replace(job.scan, fields=(replace(seen[1], value="1.21"),)))  # type: ignore[arg-type]
    assert [q.seen for q in questions(newer)] == ["1.21"], "a new sighting asks again"
    here.ctrl(Qt.Key.Key_Z)
    here.settled()
    undone = session.job()
    assert undone is not None and [q.label for q in questions(undone)] == ["firmware"]
    page.field("serial").edit.setFocus()
    because = here.window.because.because()
    assert because is not None and ("read from", "SMBIOS type 1") in [(f.label, f.value) for f in because.facts]
    texts = [w.text() for w in page.machine.scan.findChildren(QLabel)]
    assert any("To fill it, sudo" in t for t in texts)
    QTest.mouseClick(page.machine.scan.scan, Qt.MouseButton.LeftButton)
    here.until(
        lambda: (j := session.job()) is not None and j.scan is not None and j.scan.field("system.name") is not None
    )
