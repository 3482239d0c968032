"""The window opens whatever stands beside its shop, says what it could not read, and shows what is not saved."""

from __future__ import annotations

import ast
import sqlite3
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop import store_queue
from brachium.app.shop.open_shop import open_shop
from brachium.core.base.problems import EnvironmentProblem
from brachium.core.record.job import STAGES, Stage
from brachium.demo.newsroom import JOB_ID
from brachium.store.backups import backup
from brachium.store.database import Database
from brachium.store.database_problems import ShopUnreadable
from brachium.ui.cannot_open import CannotOpen
from brachium.ui.run import make_window
from brachium.ui.shell.window import MainWindow
from brachium.ui.widgets.tool_tips import tip_text
from tests.ui.conftest import PATIENCE_MS, Bench

UI = Path(__file__).parents[2] / "src" / "brachium" / "ui"


@pytest.fixture
def path(tmp_path: Path) -> Path:
    workspace = open_shop(tmp_path / "shop.db")
    add_newsroom(workspace)
    workspace.close()
    return tmp_path / "shop.db"


def opened(qtbot: QtBot, path: Path) -> MainWindow:
    window, window_poster = make_window(path, False)
    window.poster = window_poster  # type: ignore[attr-defined]
    qtbot.addWidget(window)
    window.show()
    return window


def shut(window: MainWindow) -> None:
    window.close()
    window.session.workspace.close()


@pytest.mark.parametrize("content", [
    "[General]\ngeometry=hello\ndark=maybe\nbecause_folded=7\njob=nobody\n", "\x00\xff no settings at all",
    "[General]\njob=@Variant(",
])  # fmt: skip
def test_what_stands_in_the_window_settings_never_keeps_it_shut(qtbot: QtBot, path: Path, content: str) -> None:
    path.with_suffix(".ini").write_text(content)
    window = opened(qtbot, path)
    qtbot.waitUntil(lambda: window.session.view() is not None, timeout=PATIENCE_MS)
    assert window.session.job_id == JOB_ID and window.width() >= 860
    shut(window)


def test_window_settings_are_never_written_through_a_link(qtbot: QtBot, path: Path) -> None:
    precious = path.parent / "letter.txt"
    precious.write_text("dear reader")
    path.with_suffix(".ini").symlink_to(precious)
    window = opened(qtbot, path)
    window.set_look("dark")
    shut(window)
    assert precious.read_text() == "dear reader" and path.with_suffix(".ini").is_symlink()


def test_a_record_that_cannot_be_read_is_said_and_the_others_work(qtbot: QtBot, path: Path) -> None:
    workspace = open_shop(path)
    workspace.add_job(replace(workspace.job(JOB_ID), id="other", name="Other"))
    workspace.close()
    with closing(sqlite3.connect(path)) as c:
        c.execute(f"update job set document = '{{\"document_version\": 99}}', card = '' where id = '{JOB_ID}'")
        c.commit()
    window = opened(qtbot, path)
    qtbot.waitUntil(lambda: "newer Brachium" in " ".join(window.next.texts()), timeout=PATIENCE_MS)
    window.session.select_job("other")
    qtbot.waitUntil(lambda: (v := window.session.view()) is not None and v.job.id == "other", timeout=PATIENCE_MS)
    window.session.select_job(JOB_ID)
    window.run_command("work.tick")
    shut(window)
    with closing(sqlite3.connect(path)) as c:
        assert c.execute(f"select document from job where id = '{JOB_ID}'").fetchone() == ('{"document_version": 99}',)


def test_a_damaged_shop_offers_its_newest_good_backup(qtbot: QtBot, path: Path) -> None:
    copy = backup(path)
    path.write_bytes(b"x" * 9000)
    with pytest.raises(ShopUnreadable) as caught:
        make_window(path, False)
    dialog = CannotOpen(path, caught.value)
    qtbot.addWidget(dialog)
    dialog.show()
    assert dialog.take.isVisible() and copy.name in dialog.words.text()
    QTest.mouseClick(dialog.take, Qt.MouseButton.LeftButton)
    assert dialog.result() == CannotOpen.DialogCode.Accepted
    window = opened(qtbot, path)
    assert window.session.job_id == JOB_ID
    shut(window)
    locked = Database(path)
    with pytest.raises(EnvironmentProblem, match="another Brachium") as busy:
        make_window(path, False)
    plain = CannotOpen(path, busy.value)
    qtbot.addWidget(plain)
    plain.show()
    assert not plain.take.isVisible() and plain.again.isVisible() and "close it first" in plain.words.text()
    locked.close()


def test_what_is_not_saved_stands_in_the_header_until_it_is(fresh: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(store_queue, "RETRY_S", 0.1)
    window, session = fresh.window, fresh.window.session
    repository, full = session.workspace.repository, [True]
    real: Callable[..., object] = repository.save_job

    def save(*arguments: object, **named: object) -> object:
        if full[0]:
            raise EnvironmentProblem("the disk is full", "shop.db", "Free some space.")
        return real(*arguments, **named)

    monkeypatch.setattr(repository, "save_job", save)
    session.edit("goal", replace(fresh.job(), goal="on a full disk"))
    fresh.until(lambda: window.header.unsaved.isVisible())
    assert "not saved, tried again" in window.header.unsaved.text()
    assert not window.close() and window.isVisible(), "the first try says what would be lost"
    assert "close again to give them up" in " ".join(window.next.texts())
    full[0] = False
    fresh.until(lambda: not window.header.unsaved.isVisible())
    assert repository.job(JOB_ID).goal == "on a full disk" and "saved again" in " ".join(window.next.texts())
    full[0] = True
    session.edit("goal", replace(fresh.job(), goal="full once more"))
    fresh.until(lambda: window.header.unsaved.isVisible())
    assert not window.close(), "what waits now was not given up then"
    full[0] = False
    fresh.until(lambda: not window.header.unsaved.isVisible())


def test_tool_tips_are_text(fresh: Bench, tmp_path: Path) -> None:
    """No text from outside is markup: it would load the pictures that it names."""
    evil = f'<img src="{tmp_path}/x.png"><b>name</b>'
    fresh.window.session.edit("name", replace(fresh.job(), name=evil))
    fresh.settled()
    tip = fresh.window.header._name.toolTip()
    assert "&lt;img" in tip and "<img" not in tip
    assert tip_text("Wheel, or + and -") == "Wheel, or + and -"
    raw = []
    for file in UI.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "setToolTip":
                given = node.args[0]
                plain = isinstance(given, ast.Constant)
                made = isinstance(given, ast.Call) and getattr(given.func, "id", "") == "tip_text"
                if not (plain or made):
                    raw.append(f"{file.name}:{node.lineno}")
    assert raw == [], "give tool tips through tip_text"


def test_a_folder_named_as_the_shop_is_a_sentence(qtbot: QtBot, tmp_path: Path) -> None:
    with pytest.raises(EnvironmentProblem, match="this is a folder"):
        make_window(tmp_path, False)


def test_pages_are_built_ahead_without_disturbing_the_one_in_view(fresh: Bench) -> None:
    window = fresh.window
    in_view = window.stack.currentWidget()
    window.pages.warm()
    fresh.until(lambda: len(window.pages._built) == len(STAGES))
    assert window.stack.currentWidget() is in_view and window.session.stage is Stage.TAKE_IN
    for stage in STAGES:
        window.session.select_stage(stage)
        assert window.stack.currentWidget() is not None
