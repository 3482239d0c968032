"""The step at hand: its picture, its words and three keys; the list, bench mode, trouble, the printed sheet."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QWidget

from brachium.core.record.job import WAITS_PARTS, Job, Stage
from brachium.core.work.hazards import Tag
from brachium.ui.pages.work.bench_mode import BenchMode
from brachium.ui.pages.work.plan_edit_sheet import PlanEditSheet
from brachium.ui.pages.work.trouble_sheet import TroubleSheet
from brachium.ui.pages.work.work_page import WorkPage
from tests.ui.conftest import Bench
from tests.ui.test_day_and_work import at_work


def ready(whole: Bench) -> WorkPage:
    """The tower at Work, with what can only be done before opening done."""
    page = at_work(whole)
    items = ("run", "task", "backup", "condition", "counters", "firmware", "battery")
    whole.window.session.edit("waived", replace(whole.job(), last_chance=tuple((i, "waived") for i in items)))
    whole.settled()
    return page


def active(whole: Bench, dialog: QWidget) -> None:
    """Keys reach the window that is active."""
    dialog.activateWindow()
    whole.until(dialog.isActiveWindow)


def ids(whole: Bench) -> list[str]:
    view = whole.window.session.view()
    assert view is not None
    return [s.id for s in view.work.steps]


def ticked(job: Job) -> list[str]:
    return [d.step_id for d in job.steps_done]


def test_the_step_uses_the_page_and_its_picture_follows(whole: Bench) -> None:
    page = ready(whole)
    first = page.picture.drawing()
    assert first is not None and first.title == page.title.text() == "Note the firmware's settings"
    assert page.picture.height() >= 270 and page.picture.width() > page.words.width()
    assert page._headline.text() == f"1 of {len(ids(whole)) + 1}", "the after-run comes last and counts"
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_Right)
    assert page.picture.drawing() is not None and page.picture.drawing().title == page.title.text() != first.title  # type: ignore[union-attr]
    for step_id in ids(whole):
        page.steps.choose(step_id)
        drawing = page.picture.drawing()
        assert drawing is not None and drawing.title == page.title.text(), step_id
    page.steps.choose("after-run")
    assert page.done.text() == "To the measurement"
    QTest.mouseClick(page.done, Qt.MouseButton.LeftButton)
    assert whole.window.session.stage is Stage.WORK and ticked(whole.job()) == [], "not before its turn"


def test_three_keys_do_the_work_alone(whole: Bench) -> None:
    page = ready(whole)
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_N)
    assert page.note.hasFocus()
    QTest.keyClicks(page.note, "photo 12")
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_Space)
    whole.settled()
    assert ticked(whole.job()) == ids(whole)[:1] and whole.job().steps_done[0].note == "photo 12"
    QTest.keyClick(page.steps, Qt.Key.Key_L)
    assert page.every.isVisible() and not page.picture.isVisible()
    QTest.keyClick(page.steps, Qt.Key.Key_L)
    assert page.picture.isVisible() and not page.every.isVisible()


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1920, 1080)])
def test_bench_mode_is_read_from_an_arms_length(whole: Bench, width: int, height: int) -> None:
    ready(whole)
    whole.window.run_command("work.bench")
    whole.window.run_command("work.bench")  # asked twice, it stands once
    (bench,) = whole.window.findChildren(BenchMode)
    bench.resize(width, height)
    active(whole, bench)
    inside = (bench.picture, bench.strip, bench.done_key, bench.note_key, bench.trouble_key)
    whole.until(lambda: bench.width() == width and all(bench.rect().contains(w.geometry()) for w in inside))
    assert bench.words.detail.fontInfo().pixelSize() >= 28 and bench.title.fontInfo().pixelSize() >= 40
    keys = (bench.done_key, bench.note_key, bench.trouble_key)
    assert all(k.height() >= 80 and k.fontInfo().pixelSize() >= 28 for k in keys)
    drawing = bench.picture.drawing()
    assert drawing is not None and drawing.width <= bench.picture.width() + 1 and drawing.height >= 0.4 * height
    start = bench.title.text()
    QTest.keyClick(bench, Qt.Key.Key_Right)
    assert bench.title.text() != start
    QTest.keyClick(bench, Qt.Key.Key_Left)
    QTest.keyClick(bench, Qt.Key.Key_Space)
    whole.until(lambda: len(whole.job().steps_done) == 1)
    whole.settled()
    whole.until(lambda: bench.title.text().startswith("2 of"))
    QTest.keyClick(bench, Qt.Key.Key_T)
    (sheet,) = bench.findChildren(TroubleSheet)
    sheet.reject()
    QTest.keyClick(bench, Qt.Key.Key_Escape)
    whole.until(lambda: not whole.window.findChildren(BenchMode))


def test_trouble_says_what_to_do_and_goes_to_findings_and_report(whole: Bench) -> None:
    page = ready(whole)
    page.steps.choose("open")
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_T)
    (sheet,) = whole.window.findChildren(TroubleSheet)
    active(whole, sheet)
    QTest.keyClick(sheet.kinds["stripped"], Qt.Key.Key_3)
    assert "Nothing is started with it half in" in sheet.now.text() and sheet.kinds["ribbon"].isChecked()
    assert "price is not known yet" in sheet.costs.text()
    sheet.minutes.setText("a while")
    QTest.mouseClick(sheet.keep, Qt.MouseButton.LeftButton)
    assert "Minutes as a figure" in sheet.said.text() and whole.job().troubles == ()
    sheet.minutes.setText("20")
    sheet.price.setText("-4")
    QTest.mouseClick(sheet.keep, Qt.MouseButton.LeftButton)
    assert "From 0 to" in sheet.said.text()
    sheet.price.setText("6,50")
    sheet.words.setText("lid ribbon torn")
    assert "6.50 EUR" in sheet.costs.text() and "2026-12-04" in sheet.costs.text()
    findings = len(whole.job().findings)
    QTest.mouseClick(sheet.wait, Qt.MouseButton.LeftButton)
    job = whole.job()
    (met,) = job.troubles
    assert (met.step_id, met.kind, met.minutes, met.price) == ("open", "ribbon", 20.0, Decimal("6.50"))
    assert len(job.findings) == findings + 1 and job.findings[-1].kind == "ribbon"
    assert job.hold is not None and job.hold.on == WAITS_PARTS and job.hold.note == "lid ribbon torn"
    whole.settled()
    page.steps.choose("open")
    assert "lid ribbon torn" in page.words.trouble.text()
    active(whole, whole.window)
    whole.ctrl(Qt.Key.Key_Z)
    assert whole.job().troubles == () and len(whole.job().findings) == findings, "one edit, one undo"


def test_ticks_of_the_printed_sheet_come_back_in_one_line(
    whole: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = ready(whole)
    target = tmp_path / "steps.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    said: list[str] = []
    whole.window.session.message_given.connect(said.append)
    whole.window.run_command("work.paper")
    whole.until(lambda: any("page" in s for s in said))
    assert target.read_bytes().startswith(b"%PDF") and any(s.endswith(("1 page.", "2 pages.")) for s in said)
    page.fold_list()
    field = page.every.ticks

    def typed(text: str) -> str:
        field.edit.setText(text)
        field.edit.setModified(True)
        field.edit.editingFinished.emit()
        whole.settled()
        return field._problem.text()

    assert "99 is not one of them" in typed("1-99") and whole.job().steps_done == ()
    assert "Nothing was ticked" in typed("5"), "a gate is not passed on paper either"
    assert typed("1:6 2-4") == ""
    assert ticked(whole.job()) == ids(whole)[:4]
    assert [d.minutes for d in whole.job().steps_done] == [6.0, 0.0, 0.0, 0.0], "what nobody timed is not made up"
    assert "ticked already" in typed("1-3")
    whole.ctrl(Qt.Key.Key_Z)
    whole.settled()
    assert whole.job().steps_done == ()


def test_own_steps_bring_their_cautions(whole: Bench) -> None:
    page = ready(whole)
    sheet = page.bar.change_plan()
    assert isinstance(sheet, PlanEditSheet)
    sheet.steps.choose("open")
    sheet.own_title.setText("Loosen the badge with a heat gun")
    assert sheet.touches.switches[Tag.ADHESIVE].isChecked() and not sheet.touches.switches[Tag.ADHESIVE].isEnabled()
    QTest.mouseClick(sheet.touches.switches[Tag.GLASS], Qt.MouseButton.LeftButton)
    QTest.mouseClick(sheet.add, Qt.MouseButton.LeftButton)
    whole.settled()
    (own,) = whole.job().plan_edits.own
    assert own.touches == ("glass",)
    view = whole.window.session.view()
    step = next(s for s in view.work.steps if s.id == own.id)  # type: ignore[union-attr]
    assert any("Glass may crack" in c for c in step.cautions) and any("Heat on adhesive" in c for c in step.cautions)
    assert not sheet.touches.switches[Tag.GLASS].isChecked(), "the next step begins with nothing said"
    sheet.close()
