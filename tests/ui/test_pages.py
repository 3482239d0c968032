"""Pages one by one: what they say, what they let one do, what they refuse."""

from __future__ import annotations

import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QLabel, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from brachium.core.base.why import Because, Fact, Origin
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.locks import Locks
from brachium.core.record.job import IMPORTED, Stage
from brachium.ui.bug_dialog import BugDialog
from brachium.ui.pages.base.closed_page import ClosedLatchPage
from brachium.ui.pages.base.skeleton_page import REASONS, SkeletonPage
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.measure.measure_page import MeasurePage
from brachium.ui.pages.prove.prove_page import ProvePage
from brachium.ui.pages.shop.empty_page import EmptyShopPage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.pages.work.work_page import WorkPage
from brachium.ui.recent_files import remember_files
from brachium.ui.run import make_window
from brachium.ui.shell.because_panel import because_text
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.save_figure import save_figure
from tests.support.settle import settle
from tests.ui.conftest import PATIENCE_MS, Bench


def texts(page: object) -> str:
    assert hasattr(page, "findChildren")
    return "\n".join(w.text() for w in page.findChildren(QLabel) if w.isVisible())


def test_targets_are_added_changed_and_removed(fresh: Bench) -> None:
    page = fresh.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    session = fresh.window.session
    box = page.owner.targets.add
    box.setCurrentIndex(box.findData("peak_c"))
    box.activated.emit(box.currentIndex())
    assert [t.key for t in session.workspace.job(session.job_id).targets][-1] == "peak_c"
    limit = next(e for e in page.owner.targets.findChildren(QLineEdit) if e.accessibleName().startswith("Limit: stays"))
    limit.setText("80,5")
    limit.editingFinished.emit()
    assert session.workspace.job(session.job_id).targets[-1].limit == 80.5
    limit = next(e for e in page.owner.targets.findChildren(QLineEdit) if e.accessibleName().startswith("Limit: stays"))
    limit.setText("cool")
    limit.editingFinished.emit()
    assert limit.text() == "80.5"
    remove = next(b for b in page.owner.targets.findChildren(QPushButton) if b.toolTip().startswith("Remove: stays"))
    QTest.mouseClick(remove, Qt.MouseButton.LeftButton)
    assert all(t.key != "peak_c" for t in session.workspace.job(session.job_id).targets)


def test_condition_notes_are_kept_line_by_line_when_left(fresh: Bench) -> None:
    page = fresh.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    page.owner.notes.setFocus()
    page.owner.notes.setPlainText("screw missing\n\n  vent blocked  ")
    page.field("goal").edit.setFocus()
    session = fresh.window.session
    assert session.workspace.job(session.job_id).condition == ("screw missing", "vent blocked")


def test_measure_says_what_it_could_prove_before_it_starts(fresh: Bench) -> None:
    window = fresh.window
    window.run_command("data.backed_up")
    fresh.settled()
    fresh.click_stage(Stage.MEASURE)
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    assert "Proves a gain from 9.6 % on" in page._subline.text()
    assert "never again" in texts(page)
    because = window.because.because()
    assert because is not None and {f.label for f in because.facts} >= {"between sessions", "within a session"}


def test_a_kept_run_shows_its_conditions_and_every_test(done: Bench) -> None:
    done.click_stage(Stage.MEASURE)
    page = done.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    assert "2 sessions, room 23.4 °C" in page._subline.text() and "Installed system, on mains" in texts(page)
    assert len(page.dots.regions()) == 20
    done.click_region(page.dots, "test:own_task")
    because = done.window.because.because()
    assert because is not None and [f.label for f in because.facts][:2] == ["session 1", "session 2"]
    done.click_region(page.traces, "lane:power_w")
    because = done.window.because.because()
    assert because is not None and "simulated energy counter" in because.notes[0]


def test_an_unconnected_machine_is_sent_to_its_logs(fresh: Bench) -> None:
    session = fresh.window.session
    job = session.job()
    assert job is not None
    session.edit("unplugged", replace(job, bench=""))
    fresh.window.run_command("data.backed_up")
    fresh.settled()
    fresh.click_stage(Stage.MEASURE)
    page = fresh.window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    assert "drop a before and an after log" in page._subline.text() and not page.start.isVisible()
    fresh.window.run_command("measure.start")
    assert "Not connected" in fresh.window.next.texts()[0]


def test_a_gate_holds_a_step_back_and_says_why(done: Bench) -> None:
    window, session = done.window, done.window.session
    job = session.job()
    assert job is not None
    session.edit("unticked", replace(job, steps_done=job.steps_done[:1]))
    done.settled()
    done.click_stage(Stage.WORK)
    page = window.pages[Stage.WORK]
    assert isinstance(page, WorkPage)
    done.click_region(page.steps, "paste")
    done.until(lambda: "Not yet: first: Shut down, unplug, discharge." in texts(page))
    assert any("Isopropyl alcohol burns" in r.label for r in page.words.cautions.regions())
    QTest.mouseClick(page.done, Qt.MouseButton.LeftButton)
    assert window.next.texts()[0] == "Not yet: first: Shut down, unplug, discharge."
    assert len(session.workspace.job(session.job_id).steps_done) == 1


def test_a_tick_is_taken_back_where_it_was_set(done: Bench) -> None:
    session = done.window.session
    done.click_stage(Stage.WORK)
    page = done.window.pages[Stage.WORK]
    assert isinstance(page, WorkPage)
    done.click_region(page.steps, "memory-test")
    assert page.done.text() == "Undo the tick" and page.minutes.text() != ""
    QTest.mouseClick(page.done, Qt.MouseButton.LeftButton)
    assert "memory-test" not in {d.step_id for d in session.workspace.job(session.job_id).steps_done}
    done.settled()
    view = session.view()
    assert view is not None and not view.standing.latches[Stage.PROVE].open


def test_a_plan_over_budget_and_one_without_a_before_run_say_so(done: Bench) -> None:
    from decimal import Decimal

    session = done.window.session
    done.click_stage(Stage.CHOOSE)
    page = done.window.pages[Stage.CHOOSE]
    assert isinstance(page, ChoosePage)
    job = session.job()
    assert job is not None
    session.edit("less money", replace(job, budget=Decimal("60")))
    done.settled()
    assert "Over the budget" in page.plan._cost.text()
    before = session.workspace.run(session.job_id, "before")
    assert before is not None
    session.workspace.void_run(session.job_id, before.id, "panel was open")
    done.until(lambda: (v := session.view()) is not None and v.measured.before is None)
    assert done.window.stack.currentWidget() is page, "whether parts fit needs no run"
    assert not done.window.session.view().standing.latches[Stage.FIND_CAUSE].open  # type: ignore[union-attr]


def test_planning_another_of_the_same_kind_replaces_the_first(done: Bench) -> None:
    session = done.window.session
    done.click_stage(Stage.CHOOSE)
    page = done.window.pages[Stage.CHOOSE]
    assert isinstance(page, ChoosePage)
    done.click_region(page.board, "slot-2")
    page.offers.choose("mem-8-l")
    page.offers.setFocus()
    QTest.keyClick(page.offers, Qt.Key.Key_Space)
    done.settled()
    plan = session.workspace.job(session.job_id).plan
    assert "mem-8-l" in plan and "mem-4-l" not in plan and len(plan) == 4
    assert session.workspace.undo_label(session.job_id) == "8 GiB DDR3L-1600 SO-DIMM planned"


def test_hand_over_is_marked_and_taken_back(done: Bench) -> None:
    done.click_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    assert "93.47 EUR" in done.paper(page.preview) and "What to watch" in done.paper(page.preview)
    QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
    done.settled()
    assert page.hand.text() == "Take hand-over back"
    first = done.window.rail.model().index(0, 0).data()
    assert first == "Done"
    QTest.mouseClick(page.hand, Qt.MouseButton.LeftButton)
    done.settled()
    assert done.window.session.workspace.job(done.window.session.job_id).handed_over == ""


def test_a_report_that_cannot_be_written_says_where(done: Bench, tmp_path: Path) -> None:
    done.click_stage(Stage.HAND_OVER)
    page = done.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    blocked = tmp_path / "blocked"
    blocked.write_text("x")
    page.save_to(blocked)
    done.until(lambda: "report.html" in done.window.next.texts()[0])
    assert "in the way" in done.window.next.texts()[0] or "not a folder" in done.window.next.texts()[0] or \
        "a file" in done.window.next.texts()[0]  # fmt: skip


def test_figures_are_saved_as_asked(done: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    done.click_stage(Stage.PROVE)
    page = done.window.pages[Stage.PROVE]
    assert isinstance(page, ProvePage)
    drawing = page.comparison.stair.drawing()
    assert drawing is not None
    for name, start in (("stair.svg", b"<svg"), ("stair.png", b"\x89PNG")):
        target = tmp_path / name
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, t=target: (str(t), ""))
        save_figure(page, drawing, done.window.session)
        assert target.read_bytes().startswith(start)
        assert done.window.next.texts()[0] == f"Saved {name}"


def test_prove_names_what_differs(done: Bench) -> None:
    done.click_stage(Stage.PROVE)
    page = done.window.pages[Stage.PROVE]
    assert isinstance(page, ProvePage)
    assert "Differs: room 23.4 °C, then 22.1 °C (rises are compared)" in texts(page)
    done.click_region(page.comparison.claims, "target:start_up")
    because = done.window.because.because()
    assert because is not None and because.title == "Target met: starts in under 25 s"
    done.click_region(page.comparison.stair, "stair:before:chip")
    because = done.window.because.because()
    assert because is not None and "only its change between two runs" in because.text


def test_an_imported_record_keeps_its_stages_open_without_a_machine(done: Bench) -> None:
    session = done.window.session
    job = session.job()
    assert job is not None
    session.edit("as imported", replace(job, bench=IMPORTED, plan=(), steps_done=()))
    done.settled()
    view = session.view()
    assert view is not None and all(latch.open for latch in view.standing.latches.values())
    assert view.standing.next.command == "report.save"


def test_an_explanation_reads_as_text() -> None:
    because = Because("Title", "RULE-1", "Why.", (Fact("size", "8 GiB", Origin.LABEL),), "result", "another part")
    assert because_text(because) == "Title\nRULE-1\nWhy.\nsize: 8 GiB (label)\nresult\nanother part"


def test_an_empty_shop_says_how_to_begin(qtbot: QtBot, tmp_path: Path) -> None:
    window, _poster = make_window(tmp_path / "new.db", False)
    qtbot.addWidget(window)
    window.show()
    page = window.stack.currentWidget()
    assert isinstance(page, EmptyShopPage) and not window.track.isVisible()
    assert window.next.texts()[0] == "Take the first machine in"
    assert window.focusWidget() is page.line
    page.write_probe(tmp_path)
    qtbot.waitUntil(lambda: "brachium-probe" in window.next.texts()[0], timeout=PATIENCE_MS)
    command = [sys.executable, str(tmp_path / "brachium-probe"), "--version"]
    packed = subprocess.run(command, capture_output=True, text=True, check=False)
    assert packed.returncode == 0 and "brachium-probe" in packed.stdout
    page.write_probe(tmp_path / "new.db" / "below")
    told = "a folder that cannot be is told by its name"
    qtbot.waitUntil(lambda: "below" in window.next.texts()[0], timeout=PATIENCE_MS)
    assert window.next.texts()[0].startswith("below"), told
    remember_files(window.settings, (tmp_path / "new.db", tmp_path / "gone.csv"))
    page.show_ways()
    assert [b.text() for b in page.findChildren(QPushButton) if b.text().endswith((".db", ".csv"))] == ["new.db"]
    QTest.mouseClick(page.demo, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: window.session.view() is not None, timeout=PATIENCE_MS)
    assert window.track.isVisible() and window.header._name.text() == "Newsroom laptop"
    window.close()
    window.session.workspace.close()


def test_the_first_machine_comes_in_by_one_line(qtbot: QtBot, tmp_path: Path) -> None:
    window, _poster = make_window(tmp_path / "new.db", False)
    qtbot.addWidget(window)
    window.show()
    page = window.stack.currentWidget()
    assert isinstance(page, EmptyShopPage)
    QTest.keyClicks(page.line, "laptop; 4gb ddr3 1600 sodimm; 500gb 2.5 hdd; blue")
    QTest.keyClick(page.line, Qt.Key.Key_Return)
    session = window.session
    qtbot.waitUntil(lambda: (j := session.job()) is not None and bool(j.machine.fitted), timeout=PATIENCE_MS)
    job = session.job()
    assert job is not None and job.machine.kind is MachineKind.LAPTOP and "Not understood: blue" in job.condition
    assert window.track.isVisible() and window.stack.currentWidget() is window.pages[Stage.TAKE_IN]
    window.close()
    session.workspace.close()


def test_until_a_machine_is_worked_out_its_outline_and_the_reason_are_shown(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    monkeypatched = session.view
    try:
        session.view = lambda: None  # type: ignore[method-assign]
        for stage, reason in REASONS.items():
            session.stage = stage
            window.show_page()
            page = window.stack.currentWidget()
            assert isinstance(page, SkeletonPage) and page._subline.text() == reason
            assert not [b for b in page.findChildren(QPushButton) if b.isVisible()], "no key for what is not there"
        window.next.set_action(None)
        assert window.next.texts()[0] == "Working out what comes next…"
    finally:
        session.view = monkeypatched  # type: ignore[method-assign]
    window.show_page()
    assert not isinstance(window.stack.currentWidget(), SkeletonPage)


def test_closing_the_window_keeps_what_a_run_has_sampled(qtbot: QtBot, tmp_path: Path) -> None:
    window, _poster = make_window(tmp_path / "shop.db", True)
    qtbot.addWidget(window)
    window.show()
    session = window.session
    qtbot.waitUntil(lambda: session.view() is not None, timeout=PATIENCE_MS)
    settle(session.workspace)
    session.start_run("before", 1.0)
    qtbot.waitUntil(lambda: (v := session.measure.live()) is not None and v.progress.done_s >= 2, timeout=PATIENCE_MS)
    window.close()
    session.workspace.close()
    again, _poster2 = make_window(tmp_path / "shop.db", False)
    qtbot.addWidget(again)
    (stored,) = again.session.workspace.all_runs(session.job_id)
    assert not stored.run.complete and stored.run.sessions[0].trace.time_s.size >= 2
    again.session.workspace.close()


@pytest.mark.parametrize(("key", "wrong", "right"), [("year", "old", "2013"), ("needed_by", "Friday", "2026-12-01")])
def test_fields_with_a_form_say_what_they_want(fresh: Bench, key: str, wrong: str, right: str) -> None:
    page = fresh.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    field = page.field(key)
    before = fresh.window.session.job()
    for text in (wrong, right):
        field.edit.setFocus()
        field.edit.selectAll()
        QTest.keyClicks(field.edit, text)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
        assert field._problem.isVisible() == (text == wrong)
        assert (fresh.window.session.job() == before) == (text == wrong)


def test_a_bug_is_shown_with_details_to_copy(qtbot: QtBot) -> None:
    from PySide6.QtGui import QGuiApplication

    dialog = BugDialog("Traceback: something impossible")
    qtbot.addWidget(dialog)
    QTest.mouseClick(dialog.copy, Qt.MouseButton.LeftButton)
    assert QGuiApplication.clipboard().text() == "Traceback: something impossible"


def test_a_backup_is_described_and_a_rescue_keeps_the_latches_shut(fresh: Bench) -> None:
    page = fresh.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    session = fresh.window.session
    QTest.mouseClick(page.machine.open.data.buttons["BACKED_UP"], Qt.MouseButton.LeftButton)
    fresh.settled()
    assert page.machine.open.backup.isVisible()
    QTest.keyClicks(page.machine.open.backup.where.edit, "bench disk 2")
    page.machine.open.backup.where.edit.editingFinished.emit()
    fresh.settled()
    job, view = session.job(), session.view()
    assert job is not None and job.data_safe.where == "bench disk 2" and view is not None
    assert view.standing.latches[Stage.MEASURE].open
    QTest.mouseClick(page.machine.open.data.buttons["RESCUE"], Qt.MouseButton.LeftButton)
    fresh.settled()
    view = session.view()
    assert (
        view is not None and not view.standing.latches[Stage.MEASURE].open and not page.machine.open.backup.isVisible()
    )
    assert "no other work before" in page.machine.open._data_note.text()


def test_a_machine_that_does_not_start_says_what_may_be_claimed(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    window.run_command("data.backed_up")
    fresh.settled()
    fresh.click_stage(Stage.MEASURE)
    page = window.pages[Stage.MEASURE]
    assert isinstance(page, MeasurePage)
    QTest.mouseClick(page.no_start, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert page._headline.text() == "No before: does not start" and page.missing.isVisible()
    fresh.click_stage(Stage.FIND_CAUSE)
    assert "No before-run (does not start)" in window.pages[Stage.FIND_CAUSE]._subline.text()  # type: ignore[union-attr]
    view = session.view()
    assert view is not None and view.standing.latches[Stage.CHOOSE].open
    fresh.click_stage(Stage.MEASURE)
    QTest.mouseClick(page.it_starts, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert page._headline.text() == "No before-run yet"


def test_locks_are_asked_for_at_the_latch_that_they_hold(done: Bench) -> None:
    session = done.window.session
    job = session.job()
    assert job is not None
    session.edit("x", replace(job, locks=Locks()))
    done.settled()
    done.click_stage(Stage.WORK)
    page = done.window.stack.currentWidget()
    assert isinstance(page, ClosedLatchPage) and "disk encryption, not asked yet" in page._subline.text().lower()
    for _ in range(2):

        def answers() -> list[QPushButton]:
            found = page.findChildren(QPushButton, options=Qt.FindChildOption.FindChildrenRecursively)
            return [b for b in found if b.text() == "There is none" and b.isVisible()]

        done.until(lambda: bool(answers()))
        QTest.mouseClick(answers()[0], Qt.MouseButton.LeftButton)
        done.settled()
    assert done.window.stack.currentWidget() is done.window.pages[Stage.WORK]


def test_findings_are_pinned_changed_and_stop_the_job(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    window.run_command("data.backed_up")
    window.run_command("condition.show")
    fresh.settled()
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage) and page.machine.board.selected == "zone:screen"
    panel = page.machine.findings
    fresh.click_region(page.machine.board, "battery")
    panel.add.setCurrentIndex(panel.add.findData("cell"))
    panel.add.activated.emit(panel.add.currentIndex())
    fresh.settled()
    assert panel.zone_title.text() == "Battery" and panel.isVisible()
    battery = page.machine.board.region("battery")
    assert battery is not None and battery.label.endswith("found: swollen cell"), "the pin is on the part itself"
    view = session.view()
    assert view is not None and not view.standing.latches[Stage.MEASURE].open
    assert "Swollen cell stops the job" in panel.sums.text() and window.next.texts()[0] == "Swollen cell: stop"
    fresh.click_stage(Stage.MEASURE)
    latch = window.stack.currentWidget()
    assert isinstance(latch, ClosedLatchPage) and not latch.reason.isVisible(), "no reason lifts this"
    fresh.click_stage(Stage.TAKE_IN)
    remove = next(b for b in panel.findChildren(QPushButton) if b.accessibleName() == "Take Swollen cell out")
    QTest.mouseClick(remove, Qt.MouseButton.LeftButton)
    fresh.settled()
    view = session.view()
    assert view is not None and view.standing.latches[Stage.MEASURE].open and "8 min more work" in panel.sums.text()
    fresh.click_region(page.machine.board, "cooling")
    bad = next(b for b in panel.findChildren(QPushButton) if b.accessibleName() == "Felted lint: Bad")
    QTest.mouseClick(bad, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert "30 min more work" in panel.sums.text()
    fresh.click_region(page.machine.board, "zone:hinges")
    assert not page.machine.editor.isVisible() and not panel.isVisible(), "nothing was found there, nothing goes in"


def test_tests_before_opening_are_pressed_through_their_outcomes(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    window.run_command("condition.show")
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)

    def press(wanted: str) -> None:
        names = [b for b in page.findChildren(QPushButton) if b.accessibleName().startswith("Lid and hinges: ")]
        assert [b.accessibleName() for b in names if b.isVisible()] == [f"Lid and hinges: {wanted}"]
        QTest.mouseClick(next(b for b in names if b.isVisible()), Qt.MouseButton.LeftButton)
        fresh.settled()

    for outcome in ("not tried", "works", "fails", "not there"):
        press(outcome)
    job = session.job()
    assert job is not None and "lid" not in [r.id for r in job.tried], "round to not tried"
    fresh.ctrl(Qt.Key.Key_Z)
    fresh.settled()
    job = session.job()
    assert job is not None and ("lid", "not there") in [(r.id, r.outcome) for r in job.tried]
    kind = page.machine.quick.kind
    kind.setCurrentIndex(kind.findData("tower"))
    kind.activated.emit(kind.currentIndex())
    fresh.settled()
    assert page.machine.board.region("zone:back") is not None


def test_money_and_the_sellers_word(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    QTest.mouseClick(page.part.buttons["money"], Qt.MouseButton.LeftButton)
    panel = page.money

    def write(field: LineField, text: str) -> None:
        field.edit.clear()
        QTest.keyClicks(field.edit, text)
        field.edit.setModified(True)
        field.edit.editingFinished.emit()
        fresh.settled()

    write(panel.paid, "-4")
    assert panel.paid._problem.text() == "An amount such as 40 or 39.50."
    write(panel.paid, "40")
    write(panel.shipping, "6,90")
    write(panel.piece, "adapter 19")
    write(panel.piece, "screws")
    write(panel.claim, "new battery")
    assert panel.sums.text() == "65.90 EUR so far, 65.90 EUR with the plan"
    assert panel.open.text() == "At least: the price of screws is open."
    wrong = next(b for b in panel.findChildren(QPushButton) if b.accessibleName() == "new battery: Does not hold")
    QTest.mouseClick(wrong, Qt.MouseButton.LeftButton)
    fresh.settled()
    job = session.job()
    assert job is not None and job.provenance.broken_claims() == ("new battery",)
    assert "does not hold: new battery" in panel.because(job, session.view()).notes[0]
    take = next(b for b in panel.findChildren(QPushButton) if b.accessibleName() == "Take screws out" and b.isVisible())
    QTest.mouseClick(take, Qt.MouseButton.LeftButton)
    fresh.settled()
    assert panel.open.text() == ""


def test_a_machine_is_taken_in_by_hand_with_the_keyboard(fresh: Bench) -> None:
    window, session = fresh.window, fresh.window.session
    fresh.ctrl(Qt.Key.Key_N)
    fresh.settled()
    page = window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage) and window.focusWidget() is page.machine.quick.edit
    page.field("name").edit.setFocus()
    page.field("name").edit.selectAll()
    QTest.keyClicks(page.field("name").edit, "Archive workstation")
    fresh.key(Qt.Key.Key_Tab)
    typed = {"maker": "Vantry", "model": "Shelf 9", "serial": "V-9", "processor": "", "year": "2012"}
    for key, words in typed.items():
        assert window.focusWidget() is page.field(key).edit, "Tab goes through them in reading order"
        QTest.keyClicks(page.field(key).edit, words)
        fresh.key(Qt.Key.Key_Tab)
    for kind in ("dimm-ddr4", "dimm-ddr4", "bay-3.5"):
        page.machine.add_place.setCurrentIndex(page.machine.add_place.findData(kind))
        page.machine.add_place.activated.emit(page.machine.add_place.currentIndex())
        fresh.settled()
    job = session.job()
    assert job is not None and job.name == "Archive workstation" and job.machine.identity.model == "Shelf 9"
    assert [s.label for s in job.machine.slots] == [
        "Memory slot 1",
        "Memory slot 2",
    ] and page.machine.board.selected == "bay-1"
    fresh.click_region(page.machine.board, "slot-2")
    module_line = page.machine.editor.fields["label"]
    assert isinstance(module_line, LineField) and fresh.type_in(module_line, "8GB DDR4 dimm") == ""
    fresh.settled()
    job = session.job()
    assert job is not None
    module = job.machine.configuration().modules()["slot-2"]
    assert module.volts == (1.2,) and module.generation == "DDR4", "DDR4 is not rated for DDR3's voltages"
    assert module.speed_mts is None and job.machine.origin("parts.slot-2.size_bytes") is Origin.TYPED, (
        "nothing invented"
    )
    QTest.mouseClick(page.machine.editor.remove, Qt.MouseButton.LeftButton)
    fresh.settled()
    job = session.job()
    assert job is not None and [s.id for s in job.machine.slots] == ["slot-1"]
    fresh.ctrl(Qt.Key.Key_Z)
    fresh.settled()
    job = session.job()
    assert job is not None and len(job.machine.slots) == 2 and len(job.machine.fitted) == 1


def test_a_machine_without_memory_or_drive_is_no_bug(fresh: Bench) -> None:
    """What a person empties in the record cannot be measured, and the page says why."""
    session = fresh.window.session
    fresh.window.run_command("data.backed_up")
    fresh.settled()
    for place, says in (("slot-1", "no memory"), ("bay-main", "no drive")):
        job = session.job()
        assert job is not None
        session.edit("emptied", replace(job, machine=job.machine.with_part(place, None)))
        fresh.settled()
        fresh.click_stage(Stage.MEASURE)
        fresh.window.run_command("measure.start")
        fresh.until(lambda s=says: s in " ".join(fresh.window.next.texts()))  # type: ignore[misc]
        assert session.measure.active is None
        fresh.window.next.clear_message()
        session.workspace.undo(session.job_id)
        fresh.settled()


def test_another_use_says_what_it_changes(done: Bench) -> None:
    """Causes and gains are weighed anew, and the sentence names what is first and recommended now."""
    done.window.session.select_stage(Stage.TAKE_IN)
    done.settled()
    page = done.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    box = page.owner.profile.box
    box.setCurrentIndex(box.findData("games"))
    box.activated.emit(box.currentIndex())
    done.until(lambda: "Light games in place of video editing" in " ".join(done.window.next.texts()))
    said = " ".join(done.window.next.texts())
    view = done.window.session.view()
    assert view is not None and view.causes.profile.id == "games"
    assert "recommended now" in said or "stay" in said, said
