"""A real window on a demo shop, driven by clicks and keys."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop.open_shop import open_shop
from brachium.core.record.job import Job, Stage
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.measure.own_tests_panel import OwnTestsPanel
from brachium.ui.run import make_window
from brachium.ui.shell.window import MainWindow
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.paper_view import PaperView

PATIENCE_MS = 300_000  # a wait ends by its event; this only ends a test that hangs


class Bench:
    """The window with the moves a person makes."""

    def __init__(self, qtbot: QtBot, window: MainWindow) -> None:
        self.qtbot, self.window = qtbot, window

    def until(self, ready: Callable[[], bool]) -> None:
        """Wait for it, however busy the machine is."""
        self.qtbot.waitUntil(ready, timeout=PATIENCE_MS)

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(self.window.focusWidget() or self.window, key, modifier)

    def ctrl(self, key: Qt.Key) -> None:
        self.key(key, Qt.KeyboardModifier.ControlModifier)

    def click_stage(self, stage: Stage) -> None:
        cell = self.window.track.cell(stage)
        QTest.mouseClick(self.window.track, Qt.MouseButton.LeftButton, pos=cell.center().toPoint())

    def click_region(self, figure: DrawingView, region_id: str) -> None:
        region = figure.region(region_id)
        assert region is not None, f"{region_id} not in {[r.id for r in figure.regions()]}"
        middle = QPoint(round(region.x + region.w / 2), round(region.y + region.h / 2))
        QTest.mouseClick(figure, Qt.MouseButton.LeftButton, pos=middle)

    def job(self) -> Job:
        """The record of the machine in view."""
        job = self.window.session.job()
        assert job is not None
        return job

    def machine(self, job_id: str, measured: bool = False) -> None:
        """Choose a machine of the rail and wait for its figures."""
        session = self.window.session
        self.until(lambda: job_id in session.workspace.job_ids())
        session.select_job(job_id)
        self.until(lambda: (v := session.view()) is not None and v.job.id == job_id
                   and (v.measured.before is not None or not measured))  # fmt: skip

    def paper(self, view: PaperView) -> str:
        """The words of the pages in view, once they are set."""
        self.until(lambda: not view.busy())
        return view.text()

    def choose(self) -> ChoosePage:
        """Choose, with the figures of the record as it is."""
        self.window.session.select_stage(Stage.CHOOSE)
        page = self.window.pages[Stage.CHOOSE]
        assert isinstance(page, ChoosePage)
        self.settled()
        return page

    def own_tests(self) -> OwnTestsPanel:
        """Measure, with the list of one's own tests open."""
        self.window.session.select_stage(Stage.MEASURE)
        page = self.window.pages[Stage.MEASURE]
        assert isinstance(page, MeasurePage)
        QTest.mouseClick(page.part.buttons["own"], Qt.MouseButton.LeftButton)
        return page.own

    def type_in(self, field: LineField, text: str) -> str:
        """Type over a field and leave it with Return; what it complains of."""
        field.edit.setText(text)
        field.edit.setModified(True)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
        return field._problem.text()

    def settled(self) -> None:
        """Wait until the view shows the record as it is."""
        session = self.window.session
        self.until(lambda: (view := session.view()) is not None and view.job == session.job())


def _open(qtbot: QtBot, path: Path, demo: bool) -> Iterator[Bench]:
    window, _poster = make_window(path, demo)
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    bench = Bench(qtbot, window)
    bench.settled()
    yield bench
    window.close()
    window.session.workspace.close()


@pytest.fixture
def empty(qtbot: QtBot, tmp_path: Path) -> Iterator[Bench]:
    """A shop with nothing in it."""
    window, _poster = make_window(tmp_path / "empty.db", False)
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    yield Bench(qtbot, window)
    window.close()
    window.session.workspace.close()


@pytest.fixture
def fresh(qtbot: QtBot, tmp_path: Path) -> Iterator[Bench]:
    """The newsroom laptop as it is on the first day."""
    workspace = open_shop(tmp_path / "shop.db")
    add_newsroom(workspace)
    workspace.close()
    yield from _open(qtbot, tmp_path / "shop.db", False)


@pytest.fixture
def whole(qtbot: QtBot, demo_shop_file: Path) -> Iterator[Bench]:
    """The whole demo shop, opened again: what it holds was worked out before."""
    yield from _open(qtbot, demo_shop_file, False)


@pytest.fixture
def done(qtbot: QtBot, finished_shop: Path) -> Iterator[Bench]:
    """The newsroom laptop with its job finished."""
    yield from _open(qtbot, finished_shop, False)
