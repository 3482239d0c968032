"""From an empty shop to a first true verdict: every kind of machine by hand, with its entries counted."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit

from brachium.core.fit.verdict import Level
from brachium.core.machine.parts import Drive, MemoryModule
from brachium.core.record.job import Stage
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from brachium.ui.widgets.fields import ChoiceField, LineField
from tests.ui.conftest import Bench

MOST = 3  # the line, and two answers at most
KEYS_A_MINUTE = 120  # of somebody who does not type for a living: a third of what is usual
LINES = {
    "laptop": "laptop; 1x4gb PC3L-12800S; one slot free; max 16gb; 500gb 2.5 sata hdd 9.5mm; 64-bit",
    "small desktop": "small desktop; 4GB PC3-12800U; one slot free; max 16gb; 500gb 3.5 sata hdd; 64-bit",
    "tower": "tower; 2x4gb PC3-12800U; 4 slots; max 32gb; 1tb 3.5 sata hdd; 450 W supply 4x sata; 64-bit",
    "all-in-one": "all-in-one; 4GB PC3L-12800S; one slot free; max 16gb; 500gb 2.5 sata hdd 9.5mm; 64-bit",
    "handheld": "handheld; 8gb lpddr4; 256gb m.2 2230 nvme ssd; 40Wh battery; 64-bit",
}


def _take_in(bench: Bench, line: str) -> TakeInPage:
    bench.ctrl(Qt.Key.Key_N)
    bench.settled()
    page = bench.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    assert bench.window.focusWidget() is page.machine.quick.edit, "a new machine begins with its line"
    QTest.keyClicks(page.machine.quick.edit, line)
    QTest.keyClick(page.machine.quick.edit, Qt.Key.Key_Return)
    bench.until(lambda: bool(bench.job().machine.bays))
    bench.settled()
    return page


def _true_verdict(bench: Bench, part_kind: type) -> tuple[Level, int]:
    """The best level that a part of a kind reaches in Choose, and how many facts had to be answered for it."""
    page = bench.choose()
    answers = 0
    while True:
        view = bench.window.session.view()
        assert view is not None
        offers = [o for o in view.choice.offers
                  if any(isinstance(a.part, part_kind) for a in o.candidate.assignments)]  # fmt: skip
        best = min(offers, key=lambda o: (o.level is Level.REFUSED, _open_facts(o.verdicts), o.level), default=None)
        if best is None or best.level is not Level.NOT_KNOWN:
            return (best.level if best is not None else Level.REFUSED), answers
        bench.click_region(page.board, best.candidate.places[0])
        page.offers.choose(best.candidate.id)
        sheet = page.ask_facts()
        assert sheet is not None and sheet.fields, best.headline
        field = next(iter(sheet.fields.values()))
        _answer(bench, field)
        sheet.close()
        answers += 1
        bench.settled()
        assert answers <= MOST, best.headline


def _open_facts(verdicts: tuple[object, ...]) -> int:
    return sum(getattr(v, "gap", None) is not None for v in verdicts)


def _answer(bench: Bench, field: LineField | ChoiceField) -> None:
    """The likeliest of a choice, or a figure that its hint shows."""
    if isinstance(field, ChoiceField):
        box: QComboBox = field.box
        box.setCurrentIndex(1)
        box.activated.emit(1)
        return
    edit: QLineEdit = field.edit
    assert bench.type_in(field, edit.placeholderText().removeprefix("such as ")) == ""


@pytest.mark.parametrize("kind", LINES)
def test_a_line_and_few_answers_lead_to_a_true_verdict_on_memory_and_drive(empty: Bench, kind: str) -> None:
    page = _take_in(empty, LINES[kind])
    assert empty.job().machine.kind == kind and not page.machine.quick.edit.text()
    found = {part: _true_verdict(empty, part) for part in (MemoryModule, Drive)}
    assert all(level is not Level.NOT_KNOWN for level, _ in found.values())
    entries = 1 + sum(answers for _, answers in found.values())
    assert entries <= MOST, f"{entries} entries"
    assert len(LINES[kind]) / KEYS_A_MINUTE < 2.0, "the line takes under two minutes"
