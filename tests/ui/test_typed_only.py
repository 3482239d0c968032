"""A machine that is never connected, from an empty shop to three reports, with typed figures alone."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from brachium.core.base.why import Origin
from brachium.core.fit.verdict import Level
from brachium.core.record.job import Stage
from brachium.core.record.target import Target
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.measure.comparison_sheet import ComparisonSheet
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.measure.own_tests_panel import OwnTestsPanel
from brachium.ui.pages.prove.prove_page import ProvePage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.pages.work.work_page import WorkPage
from tests.ui.conftest import Bench

LINE = ("laptop; slot 1 4gb 2Rx8 PC3L-12800S; slot 2 free; max 16gb; 500gb 2.5 sata hdd 9.5mm; 64-bit; "
        "35w 2c4t")  # fmt: skip


def _type(panel: OwnTestsPanel, *values: str) -> None:
    for text in values:
        assert panel.typed is not None
        QTest.keyClicks(panel.typed.edit, text)
        QTest.keyClick(panel.typed.edit, Qt.Key.Key_Return)


def _side(panel: OwnTestsPanel, title: str) -> None:
    key = next(b for b in panel.findChildren(QPushButton) if b.accessibleName().endswith(f"the work: {title}"))
    QTest.mouseClick(key, Qt.MouseButton.LeftButton)


def _listed(bench: Bench) -> list[tuple[str, ...]]:
    """What All runs lists: kept as, configuration, and so on."""
    bench.own_tests()
    page = bench.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    page.show_part("runs")
    table = page.runs.table
    cells = [[table.item(row, column) for column in range(table.columnCount())] for row in range(table.rowCount())]
    return [tuple(c.text() if c is not None else "" for c in row) for row in cells]


def _next(bench: Bench) -> str:
    bench.settled()
    bench.window.next.clear_message()
    title: str = bench.window.next.texts()[0]
    return title


def taken_in(bench: Bench) -> None:
    """A laptop by one line, its data safe; Next asks for figures."""
    bench.ctrl(Qt.Key.Key_N)
    bench.settled()
    page = bench.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    QTest.keyClicks(page.machine.quick.edit, LINE)
    QTest.keyClick(page.machine.quick.edit, Qt.Key.Key_Return)
    bench.until(lambda: bool(bench.job().machine.bays))
    bench.settled()
    bench.type_in(page.owner.fields["model"], "Heron 3")
    assert _next(bench) == "Settle the owner's data"
    QTest.mouseClick(page.machine.open.data.buttons["BACKED_UP"], Qt.MouseButton.LeftButton)
    assert _next(bench) == "Get figures of the before", "nothing is proposed that cannot be done"


def test_three_numbers_on_paper_go_all_the_way(empty: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    taken_in(empty)
    empty.ctrl(Qt.Key.Key_Return)
    panel = empty.own_tests()
    panel.add.setCurrentIndex(panel.add.findData("task"))
    panel.add.activated.emit(panel.add.currentIndex())
    _type(panel, "93", "94.1", "92.6")
    assert _next(empty) == "Choose parts", "typed figures are a before-run like any other"

    page = empty.choose()
    QTest.keyClicks(page.ask.edit, "4gb 2Rx8 PC3L-12800S")
    empty.until(lambda: page.ask.answer is not None and bool(page.ask.answer.offers))
    assert page.ask.answer is not None and page.ask.answer.offers[0].level <= Level.LIMITED
    QTest.mouseClick(page.toggle, Qt.MouseButton.LeftButton)
    page.sheet.price.setText("11")
    QTest.mouseClick(page.sheet.save, Qt.MouseButton.LeftButton)
    empty.window.activateWindow()
    page.offers.setFocus()
    for _ in range(40):
        title = _next(empty)
        if title == "Get figures of the after":
            break
        empty.ctrl(Qt.Key.Key_Return)
        empty.settled()
        work = empty.window.stack.currentWidget()
        assert isinstance(work, WorkPage), (title, empty.window.next.texts())
        while waive := [b for b in work.chance.findChildren(QPushButton) if b.text() == "Waive" and b.isVisible()]:
            QTest.mouseClick(waive[0], Qt.MouseButton.LeftButton)
            empty.settled()
    assert title == "Get figures of the after", title
    panel = empty.own_tests()
    _side(panel, "Between…")
    _type(panel, "85")
    assert panel.typed is not None and "Name it first" in panel.typed._problem.text()
    panel.typed.edit.clear()
    empty.type_in(panel.name, "second module")
    _type(panel, "84.8", "85.3", "84.1")
    _side(panel, "After")
    _type(panel, "71.2", "70.4", "71.9")
    assert _next(empty) == "Save the hand-over report"
    view = empty.window.session.view()
    assert view is not None and view.proof.comparison is not None
    (gain,) = view.proof.comparison.gains
    assert gain.result is not None and gain.result.low > 1.1
    empty.click_stage(Stage.PROVE)
    prove = empty.window.pages[Stage.PROVE]
    assert isinstance(prove, ProvePage) and prove.currentWidget() is prove.comparison, "typed on both sides is proof"
    assert prove.comparison.all.text() == "All 3 configurations…" and prove.comparison.measure_after.isHidden()
    QTest.mouseClick(prove.comparison.all, Qt.MouseButton.LeftButton)
    sheet = empty.window.findChild(ComparisonSheet)
    assert sheet is not None
    empty.until(lambda: sheet.series is not None)
    assert sheet.series is not None
    assert [r.configuration for r in sheet.series.runs] == ["before", "second module", "after"]
    sheet.close()
    listed = _listed(empty)
    assert [row[:2] for row in listed] == [("before", "before"), ("between", "second module"), ("after", "after")]

    empty.click_stage(Stage.HAND_OVER)
    hand = empty.window.pages[Stage.HAND_OVER]
    assert isinstance(hand, HandOverPage)
    QTest.mouseClick(hand.save, Qt.MouseButton.LeftButton)
    empty.until(lambda: all((tmp_path / f"{n}.pdf").exists() for n in ("report", "owner", "buyer")))
    report = (tmp_path / "report.html").read_text()
    assert "Configurations in time order" in report and "second module" in report


def test_memory_in_use_on_paper_gives_choose_a_wide_gain_of_the_right_side(whole: Bench) -> None:
    """In a shop with parts to be had: 3.9 of 4 GiB in use while the owner works, and nothing else."""
    taken_in(whole)
    panel = whole.own_tests()
    panel.add.setCurrentIndex(panel.add.findData("memwork"))
    panel.add.activated.emit(panel.add.currentIndex())
    _type(panel, "3.9")
    whole.choose()
    view = whole.window.session.view()
    assert view is not None and view.measured.before is None and view.choice.weighed is not None
    weighed, parts = view.choice.weighed, {o.candidate.id: o.candidate for o in view.choice.offers}
    memory = next(i for i, c in parts.items() if c.group.value == "memory" and weighed.front.plans and any(
        i in p.ids for p in weighed.front.plans))  # fmt: skip
    asked = Target("held_back", "not held back by heat", 0.0, "%", True)
    whole.window.session.edit("planned", replace(whole.job(), plan=(memory,), targets=(asked,)))
    whole.settled()
    view = whole.window.session.view()
    assert view is not None and view.choice.prediction is not None
    band = view.choice.prediction.band
    assert 1.0 < band.low < band.mid and band.high / band.low > 1.3, band
    assert view.choice.weighed is not None and view.choice.weighed.odds[0].chance is None, "nobody saw a clock"
    facts = {f.label: f for f in view.choice.prediction.because.facts}
    assert facts["waiting for storage"].origin is Origin.COMPUTED, "nobody measured it"
