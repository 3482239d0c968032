"""Choosing parts in the window: facts recorded where they are missed, evidence, acceptance, parts dragged."""

from __future__ import annotations

from decimal import Decimal

from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent
from PySide6.QtTest import QTest

from brachium.core.fit.verdict import Level
from brachium.core.machine.locks import LockState
from brachium.core.record.job import Stage
from brachium.ui.pages.base.closed_page import ClosedLatchPage
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.widgets.drawing_view import DRAGGED, DrawingView
from brachium.ui.widgets.fields import ChoiceField, LineField
from tests.ui.conftest import Bench

TOWER = "edit-suite-tower"


def tower(bench: Bench) -> ChoosePage:
    """The edit-suite tower at Choose, its processor's place chosen."""
    bench.machine(TOWER, True)
    page = bench.choose()
    bench.click_region(page.board, "socket")
    return page


def level(bench: Bench, candidate: str) -> Level:
    view = bench.window.session.view()
    assert view is not None
    return next(o.level for o in view.choice.offers if o.candidate.id == candidate)


def test_a_missing_fact_is_recorded_where_it_is_named_and_undone(whole: Bench) -> None:
    page = tower(whole)
    whole.click_region(page.offers, "cpu-d8-80@socket")
    assert page.facts.isVisible()
    sheet = page.ask_facts()
    assert sheet is not None and list(sheet.fields) == ["locks.enrolment"]
    field = sheet.fields["locks.enrolment"]
    assert isinstance(field, ChoiceField)
    field.box.setCurrentIndex(1)
    field.box.activated.emit(1)
    whole.settled()
    assert whole.job().locks.enrolment is LockState.NONE
    assert not page.facts.isVisible(), "nothing more is missed"
    sheet.close()
    whole.window.run_command("undo")
    assert whole.job().locks.enrolment is LockState.NOT_ASKED


def test_evidence_is_added_up_and_settles_the_claim(whole: Bench) -> None:
    page = tower(whole)
    whole.click_region(page.offers, "cpu-d8-80@socket")
    sheet = page.ask_evidence()
    assert sheet is not None and "not enough for the shop" in sheet.sum.text()
    QTest.mouseClick(sheet.add, Qt.MouseButton.LeftButton)
    whole.until(lambda: "adds up to +2.0: enough for the shop" in sheet.sum.text())
    whole.until(lambda: (v := whole.window.session.view()) is not None and any(
        x.rule == "CPU-EVID" and x.level is Level.FITS
        for o in v.choice.offers if o.candidate.id == "cpu-d8-80@socket" for x in o.verdicts
    ))  # fmt: skip
    sheet._remove(0)
    assert "not enough" in sheet.sum.text()
    sheet.close()


def test_a_plan_limited_by_power_waits_for_a_reason_and_the_reason_is_kept(whole: Bench) -> None:
    page = tower(whole)
    page.take_plan(("cpu-d8-105@socket",))
    whole.settled()
    view = whole.window.session.view()
    assert view is not None and {v.rule for v in view.choice.unsettled} >= {"CPU-POWER", "CPU-COOL", "CPU-EVID"}
    assert "firmware 2.14, by way of 2.10" in page.plan.note.text()
    whole.click_stage(Stage.WORK)
    shown = whole.window.stack.currentWidget() if hasattr(whole.window, "stack") else None
    assert shown is None or isinstance(shown, ClosedLatchPage)
    whole.window.session.select_stage(Stage.CHOOSE)
    sheet = page.plan.ask_acceptance()
    assert sheet is not None and not sheet.accept_button.isEnabled(), "without a reason nothing is accepted"
    QTest.keyClicks(sheet.reason, "the owner knows")
    QTest.mouseClick(sheet.accept_button, Qt.MouseButton.LeftButton)
    whole.settled()
    view = whole.window.session.view()
    assert view is not None and view.choice.unsettled == () and not page.plan.accept.isVisible()
    assert {a.reason for a in whole.job().acceptances} == {"the owner knows"}
    whole.window.run_command("undo")
    assert whole.job().acceptances == ()


def _drag(figure: DrawingView, candidate: str, region_id: str) -> None:
    region = figure.region(region_id)
    assert region is not None
    mime = QMimeData()
    mime.setData(DRAGGED, candidate.encode())
    at = QPoint(round(region.x + region.w / 2), round(region.y + region.h / 2))
    copy, left, none = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    figure.dragEnterEvent(QDragEnterEvent(at, copy, mime, left, none))
    figure.dragMoveEvent(QDragMoveEvent(at, copy, mime, left, none))
    figure.dropEvent(QDropEvent(QPointF(at), copy, mime, left, none))


def test_a_part_dragged_onto_a_place_is_judged_there_and_planned_if_it_fits(whole: Bench) -> None:
    page = tower(whole)
    _drag(page.board, "psu-600@supply", "supply")
    whole.settled()
    assert whole.job().plan == ("psu-600@supply",)
    _drag(page.board, "nvme-500@bay-1", "m2")
    whole.settled()
    assert "nvme-500@m2" in whole.job().plan, "the same item at the place it was dropped on"
    _drag(page.board, "cpu-d9-65@socket", "socket")
    whole.settled()
    assert not any("d9" in i for i in whole.job().plan), "what does not fit is not planned"
    because = whole.window.because.because()
    assert because is not None and because.rule == "CPU-SOCKET"
    _drag(page.board, "cool-tower-140@cooler", "cooling")
    whole.settled()
    assert "cool-tower-140@cooler" in whole.job().plan and level(whole, "cool-tower-165@cooler") is Level.REFUSED


def test_a_second_drive_goes_beside_the_first_and_each_place_holds_one(whole: Bench) -> None:
    page = tower(whole)
    for candidate, place in (("ssd-1000@bay-2", "bay-2"), ("nvme-500@m2", "m2"), ("ssd-480@bay-2", "bay-2")):
        _drag(page.board, candidate, place)
        whole.settled()
    assert set(whole.job().plan) == {"nvme-500@m2", "ssd-480@bay-2"}
    view = whole.window.session.view()
    assert view is not None
    ids = [s.id for s in view.work.steps]
    assert "drive" in ids and "drive-2" in ids and ids.count("clone") == 1
    assert next(s for s in view.work.steps if s.id == "drive-2").needs


def test_the_supplys_budget_is_drawn_with_its_headroom(whole: Bench) -> None:
    page = tower(whole)
    assert not page.load.isVisible()
    whole.click_region(page.board, "supply")
    assert page.load.isVisible()
    labels = {r.id: r.label for r in page.load.regions()}
    assert labels["processor"] == "processor: 65 W" and set(labels) == {
        "processor",
        "drives",
        "memory",
        "board and fans",
    }


def test_socket_and_supply_are_recorded_at_take_in(whole: Bench) -> None:
    tower(whole)
    whole.window.session.select_stage(Stage.TAKE_IN)
    page = whole.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    page.show_part("record")
    whole.click_region(page.machine.board, "supply")
    field = page.machine.editor.fields["parts.supply.rated_w"]
    assert isinstance(field, LineField) and field.edit.text() == "320"
    field.edit.setText("260")
    field.edit.editingFinished.emit()
    whole.settled()
    supply = whole.job().machine.configuration().parts["supply"]
    assert getattr(supply, "rated_w") == 260.0  # noqa: B009 - a part of any kind
    field = page.machine.editor.fields["parts.supply.rated_w"]
    assert isinstance(field, LineField)
    field.edit.setText("lots")
    field.edit.editingFinished.emit()
    assert field._problem.text() == "A number in W." and getattr(supply, "rated_w") == 260.0  # noqa: B009
    page.machine._add_place("card-x4")
    whole.settled()
    assert [c.lanes for c in whole.job().machine.platform.cards] == [16, 4, 4]


def test_a_part_is_asked_about_while_it_is_typed_then_priced_and_planned(fresh: Bench) -> None:
    """Judged beside the plan, off the window's thread; a part that lacks words says which; Escape leaves it."""
    page = fresh.choose()
    place = page._place
    QTest.keyClicks(page.ask.edit, "blue")
    fresh.until(lambda: page.ask.answer is not None)
    assert page.ask.answer is not None and page.ask.answer.offers == () and page.ask.note.text()
    page.ask.edit.clear()
    QTest.keyClicks(page.ask.edit, "8gb ddr3l 1600 sodimm 2rx8")
    fresh.until(lambda: page.ask.answer is not None and len(page.ask.answer.offers) == 2)
    best = page.ask.answer.offers[0]
    assert best.candidate.where == "memory slot 2" and best.level < Level.NOT_KNOWN
    assert page.offers.regions()[0].id == "asked" and page.toggle.text().startswith("Price it")
    because = fresh.window.because.because()
    assert because is not None and because.title.startswith("8gb ddr3l 1600 sodimm 2rx8")
    QTest.mouseClick(page.toggle, Qt.MouseButton.LeftButton)
    page.sheet.price.setText("21.50")
    QTest.mouseClick(page.sheet.save, Qt.MouseButton.LeftButton)
    fresh.settled()
    view = fresh.window.session.view()
    assert view is not None and page.ask.answer is None and page._place == place
    (planned,) = [o for o in view.choice.offers if o.chosen]
    assert planned.candidate.price == Decimal("21.50") and "memory slot 2" in planned.candidate.where
    QTest.keyClicks(page.ask.edit, "500gb nvme m.2 2280")
    fresh.until(lambda: page.ask.answer is not None and bool(page.ask.answer.offers))
    assert not page.toggle.isVisible() and not page.toggle.isEnabled()
    QTest.keyClick(page.ask.edit, Qt.Key.Key_Escape)
    assert page.ask.answer is None and page.ask.edit.text() == ""
