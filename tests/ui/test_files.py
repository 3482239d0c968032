"""Files that come to the window: photos, and what appears in the watched folder."""

from __future__ import annotations

import shutil
import threading
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from brachium.app.files.job_transfer import export_job, take_in
from brachium.app.shop.open_shop import open_shop
from brachium.core.figures.base.theme import CONTRAST, DARK, LIGHT
from brachium.core.record.job import Job, Stage
from brachium.formats.run_file import write_run_file
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.shop.settings_page import SettingsPage
from brachium.ui.pages.take_in.photo_strip import PhotoSheet
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.theme import theme
from tests.formats.test_photo import camera_picture
from tests.support.some_runs import some_run
from tests.ui.conftest import Bench


def _job(bench: Bench) -> Job:
    job = bench.window.session.job()
    assert job is not None
    return job


def test_a_dropped_photo_is_kept_captioned_taken_out_and_brought_back(fresh: Bench, tmp_path: Path) -> None:
    window = fresh.window
    picture, broken = tmp_path / "seal.jpg", tmp_path / "broken.jpg"
    picture.write_bytes(camera_picture())
    broken.write_bytes(b"no picture")
    window.files.open_files((picture, broken))
    fresh.until(lambda: len(_job(fresh).photos) == 1)
    said = " ".join(window.next.texts())
    assert "broken.jpg" in said and "no picture" in said
    window.run_command("condition.show")
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    thumb = next(b for b in page.owner.photos.findChildren(QPushButton) if b.accessibleName() == "Photo 1")
    fresh.until(lambda: not thumb.icon().isNull())
    QTest.mouseClick(thumb, Qt.MouseButton.LeftButton)
    sheet = window.findChild(PhotoSheet)
    assert isinstance(sheet, PhotoSheet) and sheet.picture.pixmap().height() > 300
    QTest.keyClicks(sheet.caption, "seal over the screw")
    QTest.keyClick(sheet.caption, Qt.Key.Key_Return)
    assert _job(fresh).photos[0].caption == "seal over the screw"
    QTest.mouseClick(sheet.remove, Qt.MouseButton.LeftButton)
    assert _job(fresh).photos == ()
    window.run_command("undo")
    assert len(_job(fresh).photos) == 1 and window.session.workspace.photo(_job(fresh).photos[0].id)

    session = window.session
    session.workspace.lanes.drain("store")
    export_job(session.workspace, session.job_id, tmp_path / "job.zip")
    there = open_shop(tmp_path / "there.db")
    taken = take_in(there, tmp_path / "job.zip")
    there.lanes.drain("store")
    photo = there.job(taken.job_id).photos[0]
    assert photo.caption == "seal over the screw" and there.repository.photo(photo.id).startswith(b"\xff\xd8")
    there.close()


def test_a_run_that_appears_in_the_watched_folder_is_taken_in_once(
    fresh: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window, stick = fresh.window, tmp_path / "stick"
    stick.mkdir()
    window.run_command("settings")
    page = window.stack.currentWidget()
    assert isinstance(page, SettingsPage) and "No folder" in page._watched.text()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(stick))
    QTest.mouseClick(page.choose, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "It is there" in page._state.text())
    write_run_file(some_run(), stick / "run.json")
    workspace, shown = window.session.workspace, window.session.job_id
    fresh.until(lambda: len(workspace.cards()) == 2)
    assert window.session.job_id == shown, "what comes by itself does not change what is looked at"
    fresh.until(lambda: "kept as before-run" in " ".join(window.next.texts()))
    write_run_file(some_run(), stick / "copy.json")
    for _ in range(3):
        window.session.watch.look()
        fresh.until(lambda: not window.session.watch._looking)
        workspace.lanes.drain("compute")
    fresh.qtbot.wait(50)
    assert len(workspace.cards()) == 2 and len(workspace.all_runs(workspace.cards()[1].id)) == 1
    QTest.mouseClick(page.stop, Qt.MouseButton.LeftButton)
    assert window.session.watch.folder is None and "No folder" in page._watched.text()


def test_a_backup_is_made_on_demand_and_a_failing_one_is_told(fresh: Bench, tmp_path: Path) -> None:
    window = fresh.window
    window.run_command("settings")
    page = window.stack.currentWidget()
    assert isinstance(page, SettingsPage)
    folder = window.session.workspace.database.path.parent / "backups"
    window.session.workspace.lanes.drain("store")
    assert len(list(folder.iterdir())) == 1, "the day's own backup"
    shutil.rmtree(folder)
    folder.write_text("in the way")
    QTest.mouseClick(page.backup, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "no backup could be made" in " ".join(window.next.texts()))
    folder.unlink()
    QTest.mouseClick(page.backup, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "1 backup beside" in page._backups.text())


def test_a_reference_table_says_where_a_machine_stands(done: Bench, tmp_path: Path) -> None:
    window = done.window
    window.run_command("settings")
    page = window.stack.currentWidget()
    assert isinstance(page, SettingsPage)
    (tmp_path / "bad.csv").write_text("hardware,test,value\nKestrion M4-35,cpu_all,fast\n")
    page.read_table(tmp_path / "bad.csv")
    done.until(lambda: "line 2" in " ".join(window.next.texts()))
    assert not page.no_table.isVisible()
    lines = [f"Kestrion M4-35,cpu_all,{v}" for v in (90, 91, 92, 93, 91.5)]
    (tmp_path / "good.csv").write_text("\n".join(["hardware,test,value", *lines]))
    page.read_table(tmp_path / "good.csv")
    done.until(lambda: (v := window.session.view()) is not None and bool(v.measured.outside))
    view = window.session.view()
    assert view is not None and "is worse than 5 machines like it give" in view.measured.outside["cpu_all"]
    QTest.mouseClick(page.no_table, Qt.MouseButton.LeftButton)
    done.until(lambda: (v := window.session.view()) is not None and not v.measured.outside)


def test_traces_are_looked_at_closely_with_wheel_and_keys(done: Bench) -> None:
    page = done.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    done.window.session.select_stage(Stage.MEASURE)
    page.show_part("runs")
    page.runs.table.selectAll()
    sheet = page.runs._look()
    view = sheet.traces
    whole = view.span
    QTest.keyClick(view, Qt.Key.Key_Plus)
    assert view.span[1] - view.span[0] == pytest.approx((whole[1] - whole[0]) / 1.25)
    QTest.keyClick(view, Qt.Key.Key_Right)
    QTest.keyClick(view, Qt.Key.Key_PageDown)
    assert view.span[1] == pytest.approx(whole[1]), "never beyond what was sampled"
    for _ in range(60):
        view.zoom(0.5)
    assert view.span[1] - view.span[0] == pytest.approx(5.0)
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(400, 200))
    QTest.mouseMove(view, QPoint(500, 200))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(500, 200))
    assert view.span[0] < whole[1] - 5.0, "dragged towards earlier"
    QTest.keyClick(view, Qt.Key.Key_Home)
    assert view.span == whole
    sheet.close()


def test_reading_that_is_stopped_takes_nothing_in_and_the_next_reading_arrives(fresh: Bench) -> None:
    window, session, arrived, go = fresh.window, fresh.window.session, list[str](), threading.Event()
    window.run_command("read.stop")
    assert "Nothing is being read" in " ".join(window.next.texts()) and session.reading == 0

    def slow(stopped: object) -> str:
        go.wait(60)
        return "first"

    session.read(slow, arrived.append)
    window.run_command("read.stop")
    assert "nothing of it is taken in" in " ".join(window.next.texts())
    go.set()
    session.read(lambda stopped: f"second, stopped {stopped()}", arrived.append)
    fresh.until(lambda: session.reading == 0)
    assert arrived == ["second, stopped False"]


def test_settings_are_found_by_any_word_and_a_look_holds(fresh: Bench) -> None:
    window = fresh.window
    window.run_command("settings")
    page = window.shop_pages.page("settings")
    assert isinstance(page, SettingsPage)
    QTest.keyClicks(page.search, "currency")
    shown = [g for g in page.groups if g.isVisible()]
    assert page.rules.money in shown and page.rules.reports in shown and len(shown) == 2
    QTest.keyClicks(page.search, " nothing of the kind")
    assert not [g for g in page.groups if g.isVisible()] and page._none.isVisible()
    page.search.clear()
    assert all(g.isVisible() for g in page.groups)
    QTest.mouseClick(page.look.buttons["contrast"], Qt.MouseButton.LeftButton)
    assert theme.look() == "contrast" and theme.colours() is CONTRAST and window.settings.value("look") == "contrast"
    QTest.mouseClick(page.look.buttons["system"], Qt.MouseButton.LeftButton)
    assert theme.look() == theme.SYSTEM and theme.colours() in (LIGHT, DARK)
    window.set_look("light")
