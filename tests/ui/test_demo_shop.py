"""The whole demo shop in the window: groups of the rail, machines that wait, shelf parts in Choose, scans that ask."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from brachium.app.intake.scanning import scan_of
from brachium.core.record.job import WAITS_PARTS, Stage
from brachium.demo.newsroom import JOB_ID
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.take_in.scan_sheet import ScanSheet
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.shell.hold_sheet import HoldSheet
from tests.ui.conftest import Bench


def _rows(bench: Bench) -> list[str]:
    model = bench.window.rail.model()
    return [model.index(k, 0).data() for k in range(model.rowCount())]


def _whole(bench: Bench) -> None:
    workspace = bench.window.session.workspace
    bench.until(lambda: len(workspace.cards()) == 8 and all(c.stage for c in workspace.cards()))
    shown = {"Playout PC, Prove", "Edit-suite tower, Choose", "Outside-broadcast laptop, Choose"}
    bench.until(lambda: shown <= set(_rows(bench)))


def test_the_rail_groups_by_what_machines_wait_for_and_the_soonest_come_first(whole: Bench) -> None:
    _whole(whole)
    rows = _rows(whole)
    assert rows[:4] == ["On the bench", "Playout PC, Prove", "Edit-suite tower, Choose",
                        "Outside-broadcast laptop, Choose"]  # fmt: skip
    assert rows[rows.index("Kept for parts") + 1] == "Donor laptop, one module left"
    window = whole.window
    window.session.select_job("outside-broadcast-laptop")
    whole.settled()
    sheet = window.records.ask_hold(WAITS_PARTS)
    assert isinstance(sheet, HoldSheet)
    QTest.keyClicks(sheet.note, "battery, on its way")
    QTest.keyClick(sheet.note, Qt.Key.Key_Return)
    whole.settled()
    rows = _rows(whole)
    assert rows[rows.index(WAITS_PARTS) + 1] == "Outside-broadcast laptop, battery, on its way"
    assert window.next.action() is not None and window.next.action().title == "Take it up again"  # type: ignore[union-attr]
    window.run_command("next")
    whole.settled()
    assert WAITS_PARTS not in _rows(whole)
    window.run_command("undo")
    whole.settled()
    assert WAITS_PARTS in _rows(whole)


def test_a_shelf_part_is_offered_kept_for_the_plan_and_freed_by_undo(whole: Bench) -> None:
    _whole(whole)
    window, session = whole.window, whole.window.session
    session.select_job("edit-suite-tower")
    whole.settled()
    session.select_stage(Stage.CHOOSE)
    page = window.pages[Stage.CHOOSE]
    assert isinstance(page, ChoosePage)
    whole.until(lambda: any(r.id == "shelf-part-3" for r in page.offers.regions()))
    whole.click_region(page.offers, "shelf-part-3")
    shown = window.because.because()
    assert shown is not None and any("Donor desktop, memory slot 2, untested" in n for n in shown.notes)
    QTest.mouseClick(page.toggle, Qt.MouseButton.LeftButton)
    whole.settled()
    kept = {p.id: p.reserved_for for p in session.shelf.parts}
    assert kept["part-3"] == "edit-suite-tower" and kept["part-1"] == JOB_ID
    whole.click_region(page.offers, "mem-8-d4-dimm")
    QTest.mouseClick(page.toggle, Qt.MouseButton.LeftButton)
    whole.settled()
    assert {p.id: p.reserved_for for p in session.shelf.parts}["part-3"] == "", "another choice lets it go"
    for wanted in ("edit-suite-tower", ""):
        window.run_command("undo")
        whole.settled()
        assert {p.id: p.reserved_for for p in session.shelf.parts}["part-3"] == wanted
    assert session.workspace.job("edit-suite-tower").plan == ()


def test_a_scan_that_contradicts_the_record_asks_and_is_taken(whole: Bench) -> None:
    _whole(whole)
    window, session = whole.window, whole.window.session
    session.select_job("archive-workstation")
    whole.settled()
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    remark = next(b for b in page.machine.scan.findChildren(QPushButton) if b.property("kind") == "remark")
    QTest.mouseClick(remark, Qt.MouseButton.LeftButton)
    because = window.because.because()
    assert because is not None and because.title == "Drive sdb runs at 1.5 Gbps, it could at 6.0 Gbps"
    QTest.mouseClick(page.machine.scan.all, Qt.MouseButton.LeftButton)
    sheet = window.findChild(ScanSheet)
    assert isinstance(sheet, ScanSheet)
    QTest.keyClicks(sheet.search, "drive sdb")
    QTest.mouseClick(sheet.copy, Qt.MouseButton.LeftButton)
    lines = QApplication.clipboard().text().splitlines()
    assert lines[0] == "what,value,raw,read from" and len(lines) == 2 and "1.5 Gbps of 6.0 Gbps" in lines[1]
    sheet.close()
    take = next(
        b for b in page.machine.scan.findChildren(QPushButton) if b.accessibleName() == "Take Memory slot 3: empty"
    )
    QTest.mouseClick(take, Qt.MouseButton.LeftButton)
    whole.settled()
    job = session.job()
    assert job is not None and "slot-3" not in job.machine.configuration().modules()
    QTest.mouseClick(page.machine.scan.scan, Qt.MouseButton.LeftButton)
    whole.until(lambda: session.workspace.undo_label("archive-workstation") != "" and session.job() != job)
    assert session.job().scan == scan_of(job)  # type: ignore[union-attr]
