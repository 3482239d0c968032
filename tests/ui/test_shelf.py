"""The parts shelf: parts put there, pulled from machines, priced, kept for a job; undo; still there after a restart."""

from __future__ import annotations

from decimal import Decimal
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.parts_shelf import Shelf
from brachium.core.machine.part_words import part_title
from brachium.core.record.job import Stage
from brachium.core.record.parts_shelf import PartState, shelf_worth, with_changed_part
from brachium.demo.newsroom import JOB_ID, MACHINE
from brachium.ui.pages.shop.shelf_page import ShelfPage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.run import make_window
from brachium.ui.widgets.fields import LineField
from tests.ui.conftest import Bench


def test_titles_name_the_class_and_no_maker() -> None:
    titles = [part_title(f.part) for f in MACHINE.fitted]
    assert titles == ["4 GiB DDR3-1600 SO-DIMM", "500 GB SATA disk, 2.5 in", "Battery, 35.6 Wh"]


def test_a_pulled_part_is_in_one_place_only_also_after_undo(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    fresh.click_region(page.machine.board, "slot-1")
    QTest.mouseClick(page.machine.editor.pull, Qt.MouseButton.LeftButton)
    fresh.settled()

    def places() -> tuple[int, int]:
        job = session.job()
        assert job is not None
        return len(job.machine.configuration().modules()), len(session.shelf.parts)

    assert places() == (0, 1) and session.shelf.parts[0].origin == "Newsroom laptop, memory slot 1"
    assert session.shelf.parts[0].state is PartState.UNTESTED
    fresh.ctrl(Qt.Key.Key_Z)
    fresh.settled()
    assert places() == (1, 0)
    fresh.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    fresh.settled()
    assert places() == (0, 1)


def test_the_shelf_page_prices_keeps_and_forgets(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    window.run_command("shelf")
    page = window.stack.currentWidget()
    assert isinstance(page, ShelfPage) and not window.track.isVisible()
    assert "Nothing yet" in page._subline.text()
    for item in ("mem-4-l", "ssd-480"):
        page.add.setCurrentIndex(page.add.findData(item))
        page.add.activated.emit(page.add.currentIndex())
    assert "2 parts on the shelf, 0 EUR at your prices, 2 parts without a price" in page._headline.text()
    fresh.until(lambda: any("Price" in f.accessibleName() and f.isVisible() for f in page.findChildren(LineField)))
    price = next(f for f in page.findChildren(LineField) if "Price" in f.accessibleName() and f.isVisible())
    QTest.keyClicks(price.edit, "much")
    price.edit.editingFinished.emit()
    assert price._problem.text() == "An amount such as 40 or 39.50."
    price.edit.clear()
    QTest.keyClicks(price.edit, "6,50")
    price.edit.editingFinished.emit()
    assert session.shelf.parts[0].price == Decimal("6.50") and shelf_worth(session.shelf.parts) == (Decimal("6.50"), 1)
    session.shelf.edit("kept", with_changed_part(session.shelf.parts, "part-1", reserved_for=JOB_ID))
    window.run_command("undo")
    assert session.shelf.parts[0].reserved_for == "" and session.shelf.parts[0].price == Decimal("6.50")
    fresh.until(
        lambda: any("off the shelf" in b.accessibleName() and b.isVisible() for b in page.findChildren(QPushButton))
    )
    names = [b for b in page.findChildren(QPushButton) if b.accessibleName() == "Take 4 GiB DDR3L-1600 off the shelf"]
    assert names == [], "the title is the standard class"
    off = next(
        b for b in page.findChildren(QPushButton) if b.accessibleName().startswith("Take 480 GB") and b.isVisible()
    )
    QTest.mouseClick(off, Qt.MouseButton.LeftButton)
    assert len(session.shelf.parts) == 1
    model = window.shop_rail.model()
    rows = [model.index(k, 0).data() for k in range(model.rowCount())]
    assert "Parts shelf, 1 part" in rows
    session.select_job(JOB_ID)
    window.rail.job_chosen.emit(JOB_ID)
    assert window.track.isVisible() and window.stack.currentWidget() is not page


def test_the_shelf_is_there_after_a_restart(qtbot: QtBot, tmp_path: Path) -> None:
    workspace = open_shop(tmp_path / "shop.db")
    add_newsroom(workspace)
    workspace.close()
    window, _poster = make_window(tmp_path / "shop.db", False)
    qtbot.addWidget(window)
    window.session.shelf.pull(JOB_ID, "bay-main")
    window.close()
    window.session.workspace.close()
    workspace = open_shop(tmp_path / "shop.db")
    assert [part_title(p.part) for p in Shelf(workspace).parts] == ["500 GB SATA disk, 2.5 in"]
    assert workspace.job(JOB_ID).machine.configuration().drives() == {}
    workspace.close()
