"""A tower that does not start, from an empty shop: its own path, one question at a time, until it is found."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from brachium.core.cause.start.symptoms import BEEPS, NO_PICTURE, SYMPTOMS
from brachium.core.record.job import Stage
from brachium.ui.pages.find_cause.cause_panel import CausePanel
from brachium.ui.pages.find_cause.find_cause_page import FindCausePage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from tests.ui.conftest import Bench

LINE = "tower; slot 1 4gb 2Rx8 PC3-12800U; slot 2 free; max 16gb; 500gb 3.5 sata hdd; 65w 2c4t"


def _page(bench: Bench) -> FindCausePage:
    page = bench.window.pages[Stage.FIND_CAUSE]
    assert isinstance(page, FindCausePage)
    return page


def _shown(panel: CausePanel) -> str:
    return panel._check_title.text()


def _next(bench: Bench) -> tuple[str, str]:
    bench.settled()
    bench.window.next.clear_message()
    texts = bench.window.next.texts()
    return texts[0], texts[1]


def dead(bench: Bench) -> None:
    """Taken in by a line, its start tried: it fails."""
    bench.ctrl(Qt.Key.Key_N)
    bench.settled()
    page = bench.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    QTest.keyClicks(page.machine.quick.edit, LINE)
    QTest.keyClick(page.machine.quick.edit, Qt.Key.Key_Return)
    bench.until(lambda: bool(bench.job().machine.bays))
    bench.settled()
    bench.type_in(page.owner.fields["model"], "Pillar 7")
    assert "start" not in _next(bench)[0]
    page.show_part("condition")
    bench.settled()
    tries = [b for b in page.findChildren(QPushButton) if b.accessibleName().startswith("Starts:")]
    assert tries, [b.accessibleName() for b in page.findChildren(QPushButton)]
    for _ in range(2):  # works, then fails
        again = next(b for b in page.findChildren(QPushButton) if b.accessibleName().startswith("Starts:"))
        QTest.mouseClick(again, Qt.MouseButton.LeftButton)
        bench.settled()


def test_the_symptom_is_asked_first_and_answers_lead_to_the_module(empty: Bench) -> None:
    dead(empty)
    title, detail = _next(empty)
    assert title == "Find why it does not start" and "What does it do" in detail and "1 min" in detail
    empty.ctrl(Qt.Key.Key_Return)
    empty.settled()
    panel = _page(empty).start
    assert panel.isVisible() and _shown(panel) == "What does it do when it is switched on?"
    panel.setFocus()
    empty.key(getattr(Qt.Key, f"Key_{SYMPTOMS.index(BEEPS) + 1}"))
    empty.settled()
    assert empty.job().checks[-1].answer == BEEPS
    assert _next(empty)[0] == "Settle the owner's data", "the next check opens it"
    shown = panel._search.checks[panel._check]
    assert shown.opens
    panel.setFocus()
    empty.key(Qt.Key.Key_1)
    panel.answer(shown.id, shown.sign.states[0])
    empty.settled()
    assert len(empty.job().checks) == 1, "neither key nor button gets past it"
    page = empty.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    empty.click_stage(Stage.TAKE_IN)
    QTest.mouseClick(page.machine.open.data.buttons["RESCUE"], Qt.MouseButton.LeftButton)
    empty.settled()
    empty.click_stage(Stage.FIND_CAUSE)
    empty.settled()
    first = _shown(panel)
    assert first in ("Count the beeps or read the lights", "Seat the modules anew, contacts wiped")
    asked = []
    while not empty.window.session.view().causes.start.ranked[0].settled and len(asked) < 8:  # type: ignore[union-attr]
        check = panel._check
        asked.append(check)
        say = {"start_code": "memory", "start_one_module": "starts with some of them"}.get(check, "as before")
        states = panel._search.checks[check].sign.states
        panel.setFocus()
        empty.key(getattr(Qt.Key, f"Key_{(states.index(say) if say in states else 0) + 1}"))
        empty.settled()
    found = empty.window.session.view().causes.start  # type: ignore[union-attr]
    assert found.ranked[0].kind.id == "module" and len(asked) <= 5, asked
    assert _page(empty)._headline.text() == "A module or its slot is faulty."
    assert _next(empty)[0] != "Find why it does not start", "it is found: the job goes on"
    empty.window.session.undo()
    empty.settled()
    assert _next(empty)[0] == "Find why it does not start"


def test_an_answer_that_was_wrong_is_corrected_in_place(empty: Bench) -> None:
    dead(empty)
    empty.ctrl(Qt.Key.Key_Return)
    empty.settled()
    panel = _page(empty).start
    panel.answer("start_symptom", BEEPS)
    empty.settled()
    panel.choose_check("start_symptom")
    QTest.mouseClick(next(b for b in panel.findChildren(QPushButton) if NO_PICTURE in b.text().lower()),
                     Qt.MouseButton.LeftButton)  # fmt: skip
    empty.settled()
    assert [c.answer for c in empty.job().checks] == [NO_PICTURE]
    ranked = empty.window.session.view().causes.start.ranked  # type: ignore[union-attr]
    assert ranked[0].kind.id in ("monitor", "seat") and not ranked[0].called
