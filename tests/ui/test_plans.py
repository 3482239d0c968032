"""Plans in the window: a point of the front taken, plans kept and compared, another machine as a reference."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QLineEdit, QPushButton

from brachium.core.base.units import money
from brachium.core.record.kept_plans import Replacement
from brachium.ui.pages.choose.other_machine_sheet import OtherMachineSheet
from tests.ui.conftest import Bench


def test_a_point_of_the_front_is_taken_and_the_recommended_plan_too(done: Bench) -> None:
    page = done.choose()
    view = done.window.session.view()
    assert view is not None and view.choice.weighed is not None
    best = view.choice.weighed.front.recommended
    assert set(done.job().plan) != set(best.ids) and "Cost against gain: " in page.plan._front_title.text()
    region = page.plan.front.region("plan:mem-4-l")
    assert region is not None and "EUR" in region.label
    done.click_region(page.plan.front, "plan:mem-4-l")
    because = done.window.because.because()
    assert (
        because is not None and because.rule == "plan front" and any(f.label == "8 of 10 draws" for f in because.facts)
    )
    middle = QPoint(round(region.x + region.w / 2), round(region.y + region.h / 2))
    QTest.mouseDClick(page.plan.front, Qt.MouseButton.LeftButton, pos=middle)
    done.settled()
    assert done.job().plan == ("mem-4-l",)
    QTest.mouseClick(page.plan.recommended, Qt.MouseButton.LeftButton)
    done.settled()
    assert set(done.job().plan) == set(best.ids) and not page.plan.recommended.isVisible()
    odds = {r.id: r.label for r in page.plan.list.regions() if r.id.startswith("odds:")}
    asked = {"start_up", "own_task", "held_back", "together"}
    assert odds["odds:start_up"].endswith("100 %") and set(odds) == {f"odds:{a}" for a in asked}
    assert "No plan meets every target" in page.plan.note.text()
    done.ctrl(Qt.Key.Key_Z)
    assert done.job().plan == ("mem-4-l",), "undone"


def test_plans_that_miss_a_target_are_left_out_until_they_are_asked_for(done: Bench) -> None:
    page, session = done.choose(), done.window.session
    reachable = tuple(t for t in done.job().targets if t.key != "held_back")
    session.edit("an easier wish", replace(done.job(), targets=reachable))
    done.settled()
    assert page.plan._front_title.text().endswith("these meet the targets")
    met = {r.id for r in page.plan.front.regions()}
    assert "plan:mem-4-l" not in met and "plan:" in met, "today stays as the origin"
    page.plan.more.setCurrentIndex(page.plan.more.findData("targets"))
    page.plan.more.activated.emit(page.plan.more.currentIndex())
    done.settled()
    assert not done.job().targets_asked and not page.plan._front_title.text().endswith("targets")
    assert met | {"plan:mem-4-l"} <= {r.id for r in page.plan.front.regions()}
    done.ctrl(Qt.Key.Key_Z)
    assert done.job().targets_asked


def test_plans_are_kept_by_name_and_compared_side_by_side(done: Bench) -> None:
    page = done.choose()
    whole = done.job().plan
    QTest.mouseClick(page.plan.keep, Qt.MouseButton.LeftButton)
    done.settled()
    assert page.plan._title.text() == "Plan A" and not page.plan.keep.isVisible(), "it is kept already"
    page.take_plan(("mem-4-l",))
    done.settled()
    QTest.mouseClick(page.plan.keep, Qt.MouseButton.LeftButton)
    done.settled()
    assert [k.name for k in done.job().kept_plans] == ["Plan A", "Plan B"]
    sheet = page.plan.show_plans()
    done.until(lambda: any(w.text() == "Plan B" for w in sheet.findChildren(QLineEdit)))
    texts = [w.text() for w in sheet.findChildren(QLabel)]
    view = done.window.session.view()
    assert view is not None and view.job.plan == ("mem-4-l",)
    assert "93.47 EUR" in texts and money(view.choice.cost.total) in texts and texts.count("fits") == 2
    first = next(b for b in sheet.findChildren(QPushButton) if b.text() == "Take it")
    QTest.mouseClick(first, Qt.MouseButton.LeftButton)
    done.settled()
    assert done.job().plan == whole
    sheet = page.plan.show_plans()
    forget = [b for b in sheet.findChildren(QPushButton) if b.text() == "Forget"]
    QTest.mouseClick(forget[1], Qt.MouseButton.LeftButton)
    assert [k.name for k in done.job().kept_plans] == ["Plan A"]
    page.plan.kept.setCurrentIndex(page.plan.kept.findData("Plan A"))
    page.plan.kept.activated.emit(page.plan.kept.currentIndex())
    assert done.job().plan == whole


def test_another_machine_is_a_mark_on_the_front_and_bad_figures_are_refused(done: Bench) -> None:
    page = done.choose()
    page.plan.show_more("other")
    sheet = done.window.findChild(OtherMachineSheet)
    assert isinstance(sheet, OtherMachineSheet)
    for field, text in ((sheet.price, "240"), (sheet.gain, "2,1"), (sheet.minutes, "ninety")):
        field.edit.setText(text)
        QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert sheet.minutes._problem.text() == "A number, please."
    assert done.job().other_machine == Replacement(240.0, 2.1)
    sheet.gain.edit.setText("-3")
    QTest.keyClick(sheet.gain.edit, Qt.Key.Key_Return)
    assert "Between" in sheet.gain._problem.text() and done.job().other_machine == Replacement(240.0, 2.1)
    sheet.close()
    done.settled()
    other = page.plan.front.region("other")
    assert other is not None and other.label == "another machine: 240 EUR, × 2.10"


def test_a_budget_cuts_the_front_and_options_say_why_not(done: Bench) -> None:
    from dataclasses import replace

    page = done.choose()
    session = done.window.session
    session.edit("budget", replace(done.job(), budget=Decimal("45"), plan=()))
    done.settled()
    view = session.view()
    assert view is not None and view.choice.weighed is not None
    assert all(p.cost <= 45.0 for p in view.choice.weighed.front.plans)
    assert "Nothing is planned yet" in page.plan._title.text() and not page.plan.keep.isEnabled()
    page._choose_place("bay-main")
    page.offers.choose("ssd-1000@bay-main")
    because = done.window.because.because()
    assert because is not None and because.notes[0] == "Every plan with it is over the budget."


def test_without_a_before_run_nothing_is_predicted_and_it_is_said(whole: Bench) -> None:
    whole.until(lambda: "donor-laptop" in whole.window.session.workspace.job_ids())
    whole.window.session.select_job("donor-laptop")
    whole.settled()
    page = whole.choose()
    assert page._subline.text().startswith("No before-run") and not page.plan.front.isVisible()
