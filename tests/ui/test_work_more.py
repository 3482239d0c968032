"""Work beyond the steps: the plan changed by hand, drives and their erasure, old parts, consumables, templates."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from brachium.app.bench.run_roles import LATER, STABILITY
from brachium.app.day import sheet as app_day
from brachium.app.intake.scanning import scan_of
from brachium.app.measure.simulated_run import measure_headless
from brachium.app.shop.consumables import keep_item, stocks_of
from brachium.app.shop.shop_record import outcomes_of, repastes_of, template_for
from brachium.core.record.drive_records import EraseMethod, Pulled
from brachium.core.record.job import DataSafe, DataState, GateLift, LatchLift, Stage, StepDone
from brachium.formats.shop_documents import DRAWN
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.shop.shelf_page import ShelfPage
from brachium.ui.pages.work.work_page import WorkPage
from brachium.ui.widgets.fields import LineField
from tests.ui.conftest import Bench

PLAN = ("mem-4-l", "ssd-480@bay-main", "svc-paste")


@pytest.fixture
def work(fresh: Bench) -> WorkPage:
    """The newsroom laptop at Work with memory, drive and paste planned."""
    session = fresh.window.session
    job = fresh.job()
    safe = replace(job.data_safe, state=DataState.NOT_NEEDED)
    session.edit("planned", replace(job, plan=PLAN, data_safe=safe, lifts=(LatchLift(Stage.WORK, "shown", "now"),)))
    fresh.settled()
    session.select_stage(Stage.WORK)
    page = fresh.window.pages[Stage.WORK]
    assert isinstance(page, WorkPage)
    return page


def ids(bench: Bench) -> list[str]:
    view = bench.window.session.view()
    return [s.id for s in view.work.steps] if view is not None else []


def test_the_plan_is_changed_with_keys_and_what_is_safe_stays(fresh: Bench, work: WorkPage) -> None:
    QTest.mouseClick(work.bar.change, Qt.MouseButton.LeftButton)
    sheet = work.bar.change_plan()
    sheet.steps.choose("memory")
    QTest.mouseClick(sheet.later, Qt.MouseButton.LeftButton)
    fresh.settled()
    order = ids(fresh)
    assert order.index("drive") < order.index("memory"), "they changed places"
    sheet.steps.choose("power-off")
    QTest.mouseClick(sheet.later, Qt.MouseButton.LeftButton)
    assert "needs" in sheet.said.text() and not sheet.leave.isEnabled()
    sheet.steps.choose("look")
    QTest.keyClicks(sheet.own_title, "New felt under the fan")
    QTest.mouseClick(sheet.add, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert fresh.type_in(sheet.attended, "900") == "Between 0 and 600."
    assert fresh.type_in(sheet.attended, "7") == ""
    fresh.settled()
    sheet.steps.choose("memory-test")
    QTest.mouseClick(sheet.leave, Qt.MouseButton.LeftButton)
    assert "Write the reason first" in sheet.said.text() and "memory-test" in ids(fresh)
    QTest.keyClicks(sheet.reason, "runs at home")
    QTest.mouseClick(sheet.leave, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert "memory-test" not in ids(fresh) and "own-1" in ids(fresh)
    assert {m.step_id: m.attended_min for m in fresh.job().plan_edits.minutes} == {"own-1": 7.0}
    fresh.window.run_command("undo")
    fresh.settled()
    assert "memory-test" in ids(fresh), "undone"
    QTest.mouseClick(sheet.reset, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert fresh.job().plan_edits.count == 0 and "own-1" not in ids(fresh)
    sheet.close()


def test_a_drive_goes_to_the_shelf_only_erased_and_with_its_record(fresh: Bench, work: WorkPage) -> None:
    session = fresh.window.session
    work.steps.choose("drive")
    assert work.old.isVisible()
    before = len(session.shelf.parts)
    work.steps.setFocus()
    QTest.keyClick(work.steps, Qt.Key.Key_S)
    assert len(session.shelf.parts) == before, "its data first"
    sheet = work.bar.ask_drives()
    assert "assumed, type what is in use" in sheet.answer.text()
    assert fresh.type_in(sheet.used, "none") == "A number, please."
    fresh.type_in(sheet.used, "120")
    fresh.settled()
    assert sheet.answer.text().startswith("120 GiB in use; at 80 MB/s, limited by the old drive")
    QTest.mouseClick(sheet.way.buttons["FRESH"], Qt.MouseButton.LeftButton)
    fresh.settled()
    assert "install" in ids(fresh) and "clone" not in ids(fresh)
    sheet.pulled.box.setCurrentIndex(sheet.pulled.box.findData(Pulled.SHELF.name))
    sheet.pulled.box.activated.emit(0)
    fresh.settled()
    assert ids(fresh)[-1] == "erase" and sheet.method.box.currentData() == EraseMethod.OVERWRITE.name
    QTest.mouseClick(sheet.write, Qt.MouseButton.LeftButton)
    assert sheet.records.text() == "Not yet: who erased it is missing."
    sheet.who.edit.setText("kl")
    QTest.mouseClick(sheet.write, Qt.MouseButton.LeftButton)
    fresh.settled()
    (record,) = fresh.job().erasures
    assert record.who == "kl" and "main drive bay" in record.drive
    sheet.close()
    work.steps.choose("drive")
    work.bar.shelve(session.view(), next(s for s in session.view().work.steps if s.id == "drive"))  # type: ignore[union-attr,arg-type]
    fresh.settled()
    assert session.shelf.parts[-1].origin == "Newsroom laptop, main drive bay" and fresh.job().shelved == ("bay-main",)
    assert not work.old.isVisible() and "bay-main" in fresh.job().machine.configuration().parts, "the record stays"
    fresh.window.run_command("undo")
    assert len(session.shelf.parts) == before and fresh.job().shelved == (), "undone in both"


def test_ticked_steps_draw_consumables_down_and_an_undone_tick_gives_back(fresh: Bench, work: WorkPage) -> None:
    session = fresh.window.session
    workspace = session.workspace
    keep_item(workspace, "screws", counted=20.0)
    fresh.window.show_shop("shelf")
    page = fresh.window.findChild(ShelfPage)
    assert isinstance(page, ShelfPage)
    QTest.mouseClick(page.consumables.why, Qt.MouseButton.LeftButton)
    because = fresh.window.because.because()
    assert because is not None and because.rule == "stock = counted - used since"
    assert {f.label: f.value for f in because.facts}["drive screws"] == "20 pieces"
    price = page.consumables.fields["screws:price"]
    assert isinstance(price, LineField)
    fresh.type_in(price, "0.05")
    fresh.until(lambda: (v := session.view()) is not None and v.choice.cost.consumables > 0)
    at = page.consumables.fields["screws:at"]
    assert isinstance(at, LineField)
    fresh.type_in(at, "16")
    session.select_stage(Stage.WORK)
    view = session.view()
    assert view is not None
    done = tuple(StepDone(s.id, "now", 5.0) for s in view.work.steps if s.id == "drive")
    lifted = replace(fresh.job(), data_safe=DataSafe(DataState.NOT_NEEDED), gate_lifts=(GateLift("drive", "x", "now"),),
                     lifts=(LatchLift(Stage.WORK, "x", "now"),))  # fmt: skip
    session.edit("every gate lifted", lifted)
    session.edit("ticked", replace(fresh.job(), steps_done=done))
    fresh.settled()
    assert workspace.kept(DRAWN).by_job == {fresh.job().id: {"screws": 4.0}}
    stock = next(s for s in stocks_of(workspace) if s.item.key == "screws")
    assert stock.left == 16.0 and stock.order and stock.words == "order now"
    fresh.window.run_command("undo")
    fresh.settled()
    assert (
        workspace.kept(DRAWN).by_job == {}
        and next(s for s in stocks_of(workspace) if s.item.key == "screws").left == 20.0
    )


def test_a_hand_over_teaches_the_model_and_what_the_repaste_brought(done: Bench) -> None:
    session = done.window.session
    workspace = session.workspace
    session.select_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    if done.job().handed_over:
        QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
        done.settled()
    QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
    done.settled()
    (repaste,) = repastes_of(workspace)
    view = session.view()
    assert view is not None and view.proof.comparison is not None and view.proof.comparison.heat.paste is not None
    assert repaste.change_k == view.proof.comparison.heat.paste.value_k > 3.0
    like = replace(done.job(), id="next", name="Next of the model", steps_done=(), handed_over="")
    found = template_for(workspace, like)
    assert found is not None and found.learned_from == "Newsroom laptop" and "times of" in found.words
    QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
    done.settled()
    assert repastes_of(workspace) == (), "a hand-over taken back teaches no repaste"


def test_dates_are_typed_on_the_day_sheet_and_it_goes_to_paper(
    fresh: Bench, work: WorkPage, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(app_day, "SECONDS", 2.0)
    session = fresh.window.session
    page = fresh.window.shop_pages.page("day")
    page.now = lambda: datetime(2026, 11, 25, 15, 30)
    fresh.window.run_command("day")
    fresh.until(lambda: page._day is not None and not page._timer.isActive())
    page.sheet.choose(page.sheet.regions()[0].id)
    assert page.machine.isVisible() and page.machine.name.text() == "Newsroom laptop"
    assert fresh.type_in(page.machine.promise, "soon").startswith("Year, month, day")
    fresh.type_in(page.machine.promise, "2026-11-25")
    assert fresh.job().needed_by == "2026-11-25"
    fresh.until(lambda: not page._timer.isActive() and page.why.isVisible())
    assert "because it takes" in page.why.text() and "are left" in page.why.text()
    fresh.type_in(page.machine.parts, "2026-11-27")
    fresh.until(lambda: not page._timer.isActive() and "its parts come in 2 days" in page.why.text())
    page.write_paper(tmp_path / "day.pdf")
    fresh.until(lambda: (tmp_path / "day.pdf").exists())
    assert (tmp_path / "day.pdf").read_bytes().startswith(b"%PDF")
    problems: list[object] = []
    session.problem_raised.connect(problems.append)
    page.write_paper(tmp_path / "day.pdf" / "under-a-file.pdf")
    fresh.until(lambda: bool(problems))
    assert "day" in str(problems[0])


def test_a_machine_that_comes_back_is_compared_with_its_hand_over(done: Bench) -> None:
    session = done.window.session
    session.select_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    if not done.job().handed_machine:
        if done.job().handed_over:
            QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
            done.settled()
        QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
        done.settled()
    assert done.job().handed_machine is not None and page.back.isVisible()
    assert done.type_in(page.warranty, "next year").startswith("Year, month, day")
    done.type_in(page.warranty, "2099-01-31")
    done.settled()
    page.compare_again(scan_of(done.job()))  # somebody put the old module and disk back
    because = done.window.because.because()
    assert because is not None and "changed since the hand-over" in because.title
    assert any("480 GB" in f.value for f in because.facts) and any("2099-01-31" in n for n in because.notes)
    handed = done.job().handed_machine
    assert handed is not None
    page.compare_again(scan_of(replace(done.job(), machine=handed)))
    because = done.window.because.because()
    assert because is not None and because.title == "Nothing changed that a scan sees"
    assert done.type_in(page.sold, "a lot") == "A number, please."
    done.type_in(page.sold, "180")
    done.settled()
    assert outcomes_of(session.workspace)[-1].sold == 180.0 and str(done.job().sold_for) == "180"
    for reader in ("report", "buyer", "owner"):
        QTest.mouseClick(page.reader.buttons[reader], Qt.MouseButton.LeftButton)
    done.type_in(page.own, "Thank you for waiting.")
    done.settled()
    assert "Thank you for waiting." in done.paper(page.preview) and done.job().remarks["owner"].startswith("Thank")


def test_the_first_start_is_looked_through(fresh: Bench, work: WorkPage) -> None:
    work.steps.choose("first-start")
    assert work.first.isVisible()
    sheet = work.ask_first_start()
    QTest.mouseClick(sheet.scan, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "memory" in fresh.job().first_start)
    assert sheet.words.text().startswith("No difference so far")
    assert fresh.type_in(sheet.fields["memory"], "4 GiB") == ""
    assert "1 difference" in sheet.words.text() and "Swap grid" in sheet.causes.text()
    QTest.mouseClick(sheet.test, Qt.MouseButton.LeftButton)
    workspace = fresh.window.session.workspace
    fresh.until(lambda: workspace.last_of(fresh.job().id, STABILITY) is not None)
    again = work.ask_first_start()
    assert again.stable.text().startswith("No error: memory ") and "It cannot exclude " in again.stable.text()
    again.close()


def test_a_later_run_says_how_it_aged_and_when_to_look_again(done: Bench) -> None:
    session = done.window.session
    session.select_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    if not done.job().handed_over:
        QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
        done.settled()
    assert page.again.isVisible() and not page.drift.isVisible()
    view = session.view()
    assert view is not None
    session.workspace.add_run(session.job_id, LATER, measure_headless(view, LATER, "2027-07-20 10:00"))
    done.until(lambda: (v := session.view()) is not None and v.proof.drift is not None)
    assert page.drift.isVisible() and page.drift.text().startswith("After 8 months: paste and mounting: ")
    assert "Look again on 2027-07-20" in page.drift.text()
    assert view.measured.after is not None and session.view().measured.after.id == view.measured.after.id  # type: ignore[union-attr]
    assert page.take_date.isVisible() and done.job().look_again > "2026-11-25", "a year after, while nothing is known"
    QTest.mouseClick(page.take_date, Qt.MouseButton.LeftButton)
    done.settled()
    assert done.job().look_again == "2027-07-20" and not page.take_date.isVisible()
    done.type_in(page.look, "2026-01-01")
    done.settled()
    notes = [done.window.rail.model().index(k, 0).data() for k in range(done.window.rail.model().rowCount())]
    assert f"{done.job().name}, due 2026-01-01" in notes and "Look again" in notes
    assert done.window.next.action() is not None and done.window.next.texts()[0] == "Look again on 2026-01-01"


def test_a_hand_over_taken_back_by_any_way_teaches_nothing(done: Bench) -> None:
    workspace = done.window.session.workspace
    done.click_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    for back in (
        lambda: done.window.run_command("undo"),
        lambda: QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton),
    ):
        QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
        done.settled()
        assert [o.job_id for o in outcomes_of(workspace)] == [done.job().id] and repastes_of(workspace)
        back()
        done.settled()
        assert not outcomes_of(workspace) and not repastes_of(workspace) and not done.job().handed_over
    done.window.run_command("undo")
    done.settled()
    assert done.job().handed_over and outcomes_of(workspace)
