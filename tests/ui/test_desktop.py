"""On the desktop: notices, the screen held while this machine measures, a crash reopens where one was."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSettings
from pytestqt.qtbot import QtBot

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.measure.service import ActiveRun
from brachium.app.shop.open_shop import open_shop
from brachium.core.record.job import LOCAL, Stage
from brachium.ui.desktop.desktop import QuietDesktop
from brachium.ui.pages.shop.day_page import DayPage
from brachium.ui.run import make_window, settings_for
from tests.ui.conftest import PATIENCE_MS, Bench


def test_a_run_holds_the_screen_and_says_when_it_is_done(fresh: Bench) -> None:
    window, desktop = fresh.window, QuietDesktop()
    window.runs._desktop = desktop
    job = fresh.job()
    active = ActiveRun(job.id, "before")
    window.session.run_started.emit(active)
    assert desktop.held == "", "a simulated machine does not keep this one awake"
    window.session.edit("this PC", replace(job, bench=LOCAL))
    window.session.run_started.emit(active)
    assert "measures this machine" in desktop.held
    window.session.run_finished.emit(active, None)
    assert desktop.held == "" and desktop.notices == [], "whoever looks at the window needs no notice"
    window.hide()
    window.session.run_finished.emit(active, None)
    (title, words), *_ = desktop.notices[-1:]
    assert title == f"{job.name}: measured" and "Stopped" in words


def test_a_search_says_what_it_found_to_whoever_looks_elsewhere(fresh: Bench) -> None:
    window, desktop = fresh.window, QuietDesktop()
    window.runs._desktop = desktop
    window.show_shop("day")
    page = window.shop_pages.page("day")
    assert isinstance(page, DayPage)
    fresh.until(page.settled)
    assert desktop.notices == []
    window.hide()
    page.plan()
    fresh.until(lambda: bool(desktop.notices))
    assert desktop.notices == [("Day sheet", page._headline.text())]


def test_a_crash_reopens_where_one_was_and_closing_does_not(qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "shop.db"
    workspace = open_shop(path)
    add_newsroom(workspace)
    workspace.close()
    window, _poster = make_window(path, False)
    qtbot.addWidget(window)
    window.show()
    window.session.select_stage(Stage.CHOOSE)
    window.show_shop("prices")
    kept = QSettings(str(path.with_suffix(".ini")), QSettings.Format.IniFormat)
    assert (kept.value("open_stage"), kept.value("open_page")) == ("CHOOSE", "prices"), "written as one goes"
    window.close()
    window.session.workspace.close()
    assert settings_for(path).value("open_page") is None, "a window that was closed leaves no trace"
    crashed = settings_for(path)
    crashed.setValue("open_stage", "FIND_CAUSE")
    crashed.setValue("open_page", "")
    crashed.sync()
    again, _poster2 = make_window(path, False)
    qtbot.addWidget(again)
    again.show()
    qtbot.waitUntil(lambda: again.session.view() is not None, timeout=PATIENCE_MS)
    assert again.session.stage is Stage.FIND_CAUSE and not again.shop_pages.shown
    again.close()
    again.session.workspace.close()
