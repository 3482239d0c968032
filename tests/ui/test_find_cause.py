"""Find cause in the window: checks answered, what-if moved, counters typed and read, the swap grid played, practice."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton, QWidget

from brachium.app.intake.practice import practice_machine_behind
from brachium.core.drives.health import DriveState
from brachium.core.plan.candidates import Group
from brachium.core.record.job import Stage
from brachium.ui.pages.find_cause.find_cause_page import FindCausePage
from tests.ui.conftest import Bench


def page_of(bench: Bench) -> FindCausePage:
    page = bench.window.pages[Stage.FIND_CAUSE]
    assert isinstance(page, FindCausePage)
    return page


def part(bench: Bench, key: str) -> FindCausePage:
    page = page_of(bench)
    bench.window.session.select_stage(Stage.FIND_CAUSE)
    QTest.mouseClick(page.part.buttons[key], Qt.MouseButton.LeftButton)
    return page


def click(widget: QPushButton) -> None:
    assert widget.isVisible() and widget.isEnabled(), widget.text()
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def press(bench: Bench, widget: QWidget, text: str) -> None:
    """Press the button that begins with the text, as soon as it is there."""

    def found() -> list[QPushButton]:
        return [b for b in widget.findChildren(QPushButton) if b.isVisible() and b.text().startswith(text)]

    bench.until(lambda: bool(found()))
    click(found()[0])


def test_an_answer_changes_the_ranking_and_can_be_taken_back(done: Bench) -> None:
    page = part(done, "causes")
    assert page._headline.text() == "Memory is too small for the task."
    page.causes.choose_check("usable")  # what tells memory from a 32-bit system
    view = done.window.session.view()
    assert view is not None
    before = view.causes.assessment.cause("bits").chance
    page.causes.note.setText("3.1 of 4 GiB")
    assert [b.text()[0] for b in page.causes.findChildren(QPushButton) if b.text()[:1].isdigit()] == ["1", "2"]
    page.causes.setFocus()
    QTest.keyClick(page.causes, Qt.Key.Key_2)  # an answer is one key
    done.settled()
    view = done.window.session.view()
    assert view is not None and view.causes.assessment.cause("bits").chance > 0.8 > 0.3 > before
    assert page._headline.text() == "A 32-bit system leaves memory unused."
    made = done.job().checks[-1]
    assert (made.answer, made.note, made.minutes) == ("about 3 GiB or a part", "3.1 of 4 GiB", 1)
    done.click_region(page.causes.causes, "cause:bits")
    because = done.window.because.because()
    assert because is not None and any("3.1 of 4 GiB" in f.label for f in because.facts)
    weights = {r.id: r.label for r in page.causes.balance.regions()}
    assert "3.1 of 4 GiB" in weights["weight:Read how much memory the system can use"]
    done.click_region(page.causes.checks, "check:usable")
    QTest.keyClick(page.causes, Qt.Key.Key_1)
    done.settled()
    assert done.job().checks[-1].answer == "all of it", "what it showed is corrected by another key"
    QTest.keyClick(page.causes, Qt.Key.Key_2)
    done.settled()
    press(done, page.causes, "Take the answer back")
    done.settled()
    assert (
        "usable" not in {c.check for c in done.job().checks}
        and page._headline.text() == "Memory is too small for the task."
    )
    done.ctrl(Qt.Key.Key_Z)
    assert "usable" in {c.check for c in done.job().checks}, "undone"


def test_what_if_is_solved_as_the_slider_moves(done: Bench) -> None:
    page = part(done, "heat")
    assert "2.8" in page.heat.result.text() and page.heat.ladder.regions()
    slider = page.heat.sliders["paste"]
    slider.setFocus()
    for _ in range(12):
        QTest.keyClick(slider, Qt.Key.Key_PageDown)
    assert page.heat.changes().paste == pytest.approx(0.40)
    assert "GHz sustained (+" in page.heat.result.text()
    because = done.window.because.because()
    assert because is not None and because.result == "not held back" and any("Leakage" in n for n in because.notes)
    QTest.keyClick(page.heat.sliders["room_k"], Qt.Key.Key_PageUp)
    assert page.heat._values["room_k"].text() == "+5 K"  # type: ignore[attr-defined]
    press(done, page.heat, "As it is")
    assert page.heat.changes().paste == 1.0 and "(+" not in page.heat.result.text()
    done.click_region(page.heat.ladder, "rung-rest")
    rung = page.heat.ladder.region("rung:repaste")
    assert rung is not None
    page.heat.ladder.activated.emit(rung)
    assert page.causes.isVisible() and page.causes.checks.selected == "check:repaste"
    assert "strap" in page.causes._check_caution.text(), "the caution stands at the step"


def test_limits_explain_themselves(done: Bench) -> None:
    page = part(done, "limits")
    done.click_region(page.bars, "limit:test own_task")
    because = done.window.because.because()
    assert because is not None and {f.label for f in because.facts} >= {"paging", "all threads"}


def test_counters_are_typed_read_and_refused(whole: Bench, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    whole.until(lambda: "archive-workstation" in whole.window.session.workspace.job_ids())
    whole.window.session.select_job("archive-workstation")
    whole.settled()
    page = part(whole, "drives")
    drives = page.drives
    assert drives.place() == "bay-3", "the worst first"
    whole.click_region(drives.drives, "drive:bay-1")
    assert drives._title.text() == "Reading of: Drive bay 1"
    drives.fields["interface"].setText("twelve")
    click(drives.add_button)
    assert drives.problem.text() == "Interface errors: a whole number, as the drive counts it."
    assert len(whole.job().health) == 3, "nothing was kept"
    drives.fields["interface"].setText("12")
    QTest.keyClick(drives.fields["interface"], Qt.Key.Key_Return)
    whole.settled()
    assert whole.job().health[-1].counters == {"interface": 12} and drives.fields["interface"].text() == ""

    def state() -> DriveState:
        view = whole.window.session.view()
        assert view is not None
        from brachium.app.view.cause_record import drive_verdicts

        return drive_verdicts(view.job)["bay-1"].state

    assert state() is DriveState.INTERFACE_OLD
    report = tmp_path / "counters.csv"
    report.write_text("interface,40\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(report), ""))
    press(whole, drives, "Read from a file…")
    whole.until(lambda: len(whole.job().health) == 5)
    whole.settled()
    assert state() is DriveState.INTERFACE
    report.write_text("nothing of use")
    press(whole, drives, "Read from a file…")
    whole.until(lambda: "no counter was found" in drives.problem.text())
    assert len(whole.job().health) == 5


def test_the_dead_place_is_proven_marked_and_not_offered(whole: Bench) -> None:
    whole.until(lambda: "archive-workstation" in whole.window.session.workspace.job_ids())
    whole.window.session.select_job("archive-workstation")
    whole.settled()
    page = part(whole, "swap")
    swap = page.swap
    assert swap.words.text() == "2 possibilities left, about 1.0 more tries." and not swap.mark.isVisible()
    whole.click_region(swap.grid, "cell:module:slot-3|place:slot-1")
    assert swap.proposal.text() == "Your own try: Module C in memory slot 1."
    click(swap.works)
    whole.settled()
    assert swap.words.text() == "Proven: Memory slot 3 at fault." and not swap.works.isVisible()
    click(swap.mark)
    whole.settled()
    assert whole.job().machine.bad_places == ("slot-3",) and not swap.mark.isVisible()
    view = whole.window.session.view()
    assert view is not None
    memory = [o for o in view.choice.offers if o.candidate.group is Group.MEMORY]
    assert memory and not any("slot-3" in o.candidate.places for o in memory)
    click(swap.undo)
    whole.settled()
    assert "2 possibilities" in swap.words.text() and whole.job().machine.bad_places == ("slot-3",)
    QTest.mouseClick(swap.kind.buttons["drives"], Qt.MouseButton.LeftButton)
    assert swap.proposal.text().startswith("The drive in Drive bay 3 is failing: image it first")
    assert not swap.works.isVisible()
    whole.window.session.edit("counters taken out", replace(whole.job(), health=()))
    whole.settled()
    assert swap.proposal.text().startswith("Next: Drive of") and " at port " in swap.proposal.text()


def test_practice_hides_the_ranking_until_the_cause_is_named(done: Bench) -> None:
    window, session = done.window, done.window.session
    window.run_command("practice.new")
    assert session.stage is Stage.FIND_CAUSE
    done.until(lambda: (v := session.view()) is not None and v.job.id == "practice-1" and v.measured.before is not None)
    page = page_of(done)
    assert page.practice.isVisible() and not page.causes.causes.isVisible() and not page.causes.balance.isVisible()
    labels = [r.label for r in page.causes.checks.regions()]
    assert len(labels) > 12 and labels == sorted(labels) and not any("bit" in x for x in labels)
    done.click_region(page.causes.checks, "check:read_space")
    press(done, page.causes, "Do it")
    done.settled()
    assert page.practice.paid.text() == "Practice: 1 check, 1 min paid"
    truth = practice_machine_behind(done.job()).cause or "well"
    page.practice.name.setCurrentIndex(page.practice.name.findData(truth))
    page.practice.name.activated.emit(page.practice.name.currentIndex())
    done.settled()
    assert page.practice.verdict.text().startswith("Right: ") and "efficient path" in page.practice.verdict.text()
    assert page.causes.causes.isVisible() and page.causes.causes.regions()
    another = page.practice.another
    another.setCurrentIndex(another.findData("channels"))
    another.activated.emit(another.currentIndex())
    done.until(lambda: session.job_id != "practice-1")
    assert practice_machine_behind(done.job()).cause == "channels"
    made = session.job_id
    done.until(lambda: (v := session.view()) is not None and v.job.id == made and v.measured.before is not None)
    session.select_job("practice-1")
    session.select_stage(Stage.FIND_CAUSE)
    done.settled()
    click(page.practice.again)
    done.settled()
    assert not page.causes.causes.isVisible() and done.job().checks == ()
