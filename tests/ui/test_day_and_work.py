"""Day sheet and the step page in the window: planned at once, dragged and fixed; ticked, noted and counted by keys."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from brachium.app.day import sheet as app_day
from brachium.app.day.sheet import fixed_blocks
from brachium.core.day.opening import DAY_MIN
from brachium.core.record.job import DataState, LatchLift, Stage
from brachium.core.record.work.screws import ScrewGroup
from brachium.formats.shop_documents import FIXED_BLOCKS
from brachium.ui.pages.shop.day_page import DayPage
from brachium.ui.pages.work.work_page import WorkPage
from brachium.ui.widgets.fields import LineField
from tests.ui.conftest import Bench

TOWER = "edit-suite-tower"


def planned(bench: Bench, job_id: str, plan: tuple[str, ...]) -> None:
    workspace = bench.window.session.workspace
    bench.until(lambda: job_id in workspace.job_ids())
    job = workspace.job(job_id)
    safe = replace(job.data_safe, state=DataState.NOT_NEEDED)
    workspace.edit("planned", replace(job, plan=plan, hold=None, data_safe=safe))


@pytest.fixture
def sheet(whole: Bench, monkeypatch: pytest.MonkeyPatch) -> DayPage:
    """The day sheet with two machines planned, worked out."""
    monkeypatch.setattr(app_day, "SECONDS", 2.0)
    planned(whole, "newsroom-laptop", ("mem-4-l", "ssd-480@bay-main", "svc-paste"))
    planned(whole, TOWER, ("cool-tower-140@cooler",))
    page = whole.window.shop_pages.page("day")
    page.now = lambda: datetime(2026, 11, 25, 8, 55)
    whole.window.run_command("day")
    whole.until(lambda: page._day is not None and not page._timer.isActive())
    return page


def test_planned_machines_stand_on_the_sheet_and_the_others_say_why(whole: Bench, sheet: DayPage) -> None:
    day = sheet._day
    assert day is not None and {j.id for j in day.jobs} == {"newsroom-laptop", TOWER}
    assert "Proven: no order is less late" in sheet._subline.text() and "Archive workstation: nothing is planned" in (
        sheet.left_out.text())  # fmt: skip
    assert all(0.0 <= c <= 1.0 for c in day.chances.values()) and set(day.chances) == {"newsroom-laptop", TOWER}
    assert len(sheet.sheet.regions()) >= 5 and "25 November" in sheet._date.text()
    whole.click_region(sheet.sheet, sheet.sheet.regions()[0].id)
    because = whole.window.because.because()
    assert because is not None and because.rule == "day sheet"


def test_below_the_sheet_stand_the_day_in_order_what_it_needs_and_the_week(whole: Bench, sheet: DayPage) -> None:
    day = sheet._day
    assert day is not None
    today = [p for p in day.sheet.placed if p.start < DAY_MIN]
    rows = sheet.order.regions()
    assert {r.id for r in rows} == {p.block.id for p in today} and rows[0].label.startswith("09:00 ")
    whole.click_region(sheet.order, rows[1].id)
    assert sheet.sheet.selected == rows[1].id, "a row chooses its block"
    needed = [r.label for r in sheet.ready.regions()]
    assert any("480 GB SATA SSD, Newsroom laptop, to buy" in n for n in needed), needed
    assert len(sheet.week.regions()) == 5 and "%" in sheet.week.regions()[0].label
    workspace = whole.window.session.workspace
    laptop = workspace.job("newsroom-laptop")
    workspace.edit("dates", replace(laptop, parts_due="2026-11-25 10:30", needed_by="2026-11-26"))
    sheet._show()
    assert "Newsroom laptop, its parts arrive, 10:30" in [r.label for r in sheet.comings.regions()]
    whole.click_region(sheet.week, "day:1")
    assert "26 November" in sheet._date.text() and any(
        r.label.startswith("Newsroom laptop, is fetched") for r in sheet.comings.regions()
    )


def test_a_dragged_stretch_stays_and_is_freed_again(whole: Bench, sheet: DayPage) -> None:
    day = sheet._day
    assert day is not None
    last = max((p for p in day.sheet.placed), key=lambda p: p.start)
    region = sheet.sheet.region(last.block.id)
    assert region is not None
    at = QPoint(round(region.x + 4), round(region.y + region.h / 2))
    away = round(120 / sheet.sheet.minutes_a_pixel)  # over the lunch break
    QTest.mousePress(sheet.sheet, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseRelease(sheet.sheet, Qt.MouseButton.LeftButton, pos=at + QPoint(away, 0))
    workspace = whole.window.session.workspace
    assert set(fixed_blocks(workspace, day.first)) == {last.block.id}
    whole.until(lambda: not sheet._timer.isActive() and sheet._day is not day)
    again = sheet._day
    assert again is not None
    moved = next(p for p in again.sheet.placed if p.block.id == last.block.id)
    assert abs(moved.start - last.start - 120) <= 5 and moved.block.fixed is not None
    sheet._moved(last.block.id, -600)
    assert set(fixed_blocks(workspace, day.first).values()) == {moved.start}, "nothing is fixed in the past"
    whole.click_region(sheet.sheet, last.block.id)
    assert sheet.free.isVisible()
    QTest.mouseClick(sheet.free, Qt.MouseButton.LeftButton)
    assert workspace.kept(FIXED_BLOCKS).moments == {}


def test_hours_benches_and_the_calendar(whole: Bench, sheet: DayPage, tmp_path: Path) -> None:
    def typed(field: LineField, text: str) -> str:
        field.edit.setText(text)
        field.edit.editingFinished.emit()
        return field._problem.text()

    assert "09:00-12:30 is meant" in typed(sheet.hours, "nine to five")
    assert typed(sheet.technicians, "0") == "From 1 to 12."
    assert typed(sheet.technicians, "2") == ""
    whole.until(lambda: sheet._day is not None and sheet._day.shop.technicians == 2 and not sheet._timer.isActive())
    path = tmp_path / "day.ics"
    sheet.write_calendar(path)
    text = path.read_text()
    assert sheet._day is not None
    assert text.count("BEGIN:VEVENT") == len(sheet._day.sheet.placed) and "Newsroom laptop: " in text
    sheet.write_calendar(tmp_path / "nowhere" / "day.ics")
    assert text == path.read_text()


def at_work(bench: Bench) -> WorkPage:
    """The tower at Work with a processor and a cooler planned, its gate lifted."""
    planned(bench, TOWER, ("cpu-d8-80@socket", "cool-tower-140@cooler"))
    session = bench.window.session
    job = session.workspace.job(TOWER)
    lift = LatchLift(Stage.WORK, "shown", "now")
    session.workspace.edit("lifted", replace(job, lifts=(lift,)))
    session.select_job(TOWER)
    bench.until(lambda: (v := session.view()) is not None and v.job == session.job() and v.measured.before is not None)
    session.select_stage(Stage.WORK)
    page = bench.window.pages[Stage.WORK]
    assert isinstance(page, WorkPage)
    return page


def test_a_step_is_ticked_noted_and_timed_by_single_keys(whole: Bench) -> None:
    page = at_work(whole)
    session = whole.window.session
    assert page.title.text() == "Note the firmware's settings", "an update would forget them"
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_A)
    assert page.away.isChecked()
    QTest.keyClick(page.steps, Qt.Key.Key_N)
    assert whole.window.focusWidget() is page.note or page.note.hasFocus()
    QTest.keyClicks(page.note, "two restarts")
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_Space)
    whole.settled()
    (entry,) = session.job().steps_done  # type: ignore[union-attr]
    assert entry.note == "two restarts" and entry.minutes == 0.0 and not page.away.isChecked()
    assert page.title.text() == "Update to firmware 2.10" and "weak" not in page.title.text()


def test_the_first_screw_waits_for_the_last_chance_and_a_gate_is_lifted_with_a_reason(whole: Bench) -> None:
    page = at_work(whole)
    session = whole.window.session
    job = session.job()
    assert job is not None
    session.edit("nothing noted", replace(job, condition=(), findings=(), photos=()))
    whole.settled()
    for _ in range(2):
        page.tick()
        whole.settled()
    said = page.words.problem.text()
    assert page.chance.isVisible() and "before you open it: condition noted" in said, (
        "the settings were noted by their step"
    )
    page.tick()
    assert len(session.job().steps_done) == 2, "it waits"  # type: ignore[union-attr]
    QTest.mouseClick(page.lift, Qt.MouseButton.LeftButton)
    assert session.job().gate_lifts == (), "no reason, no lift"  # type: ignore[union-attr]
    waive = [b for b in page.chance.findChildren(QPushButton) if b.text() == "Waive"]
    QTest.mouseClick(waive[0], Qt.MouseButton.LeftButton)
    whole.settled()
    assert not page.chance.isVisible() and not page.words.problem.isVisible()
    page.tick()
    whole.settled()
    assert len(session.job().steps_done) == 3  # type: ignore[union-attr]
    page.steps.choose("close")
    page.note.setText("owner is waiting")
    QTest.mouseClick(page.lift, Qt.MouseButton.LeftButton)
    whole.settled()
    assert [g.reason for g in session.job().gate_lifts] == ["owner is waiting"]  # type: ignore[union-attr]


def test_the_paste_is_worked_out_for_the_recorded_contact(whole: Bench) -> None:
    page = at_work(whole)
    page.steps.choose("paste")
    assert page.paste.isVisible()
    sheet = page.ask_paste()
    assert sheet.answer.text().startswith("280 to 350 mm³") or "mm³" in sheet.answer.text()
    sheet.area.edit.setText("1000")
    sheet.area.edit.editingFinished.emit()
    job = whole.window.session.job()
    assert job is not None and job.machine.platform.contacts.area_mm2 == 1000.0
    sheet.contact.box.setCurrentIndex(0)
    sheet.contact.box.activated.emit(0)
    sheet.price.edit.setText("2.5")
    sheet.price.edit.editingFinished.emit()
    assert "50 to 100 mm³, 0.13 to 0.26 g, as a dot" in sheet.answer.text() and "Costs 0.65 EUR" in sheet.answer.text()
    sheet.area.edit.setText("")
    sheet.area.edit.editingFinished.emit()
    assert "Measure the contact" in sheet.answer.text()
    sheet.close()


def test_screws_go_into_the_tray_and_are_counted_back(whole: Bench) -> None:
    page = at_work(whole)
    session = whole.window.session
    page.steps.choose("open")
    assert page.screws.isVisible() and page.screws.count is not None
    page.screws.count.edit.setText("many")
    QTest.mouseClick(page.screws.add, Qt.MouseButton.LeftButton)
    assert session.job().screws == ()  # type: ignore[union-attr]
    page.screws.count.edit.setText("2")
    page.screws.length.edit.setText("6")
    QTest.mouseClick(page.screws.add, Qt.MouseButton.LeftButton)
    whole.settled()
    assert session.job().screws == (ScrewGroup("cover", 2, "PH1", 6.0, "M2.5"),)  # type: ignore[union-attr]
    page.steps.choose("close")
    (back,) = page.screws.back
    assert "not counted back" in page.screws.problem.text()
    back.edit.setText("1")
    back.edit.editingFinished.emit()
    whole.settled()
    assert "1 M2.5 × 6 mm left over" in page.screws.problem.text()
    page.steps.choose("first-start")
    assert not page.screws.isVisible()
