"""The quick line, all facts and parts by hand, in the real window: typed, shown, corrected, taken back."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QModelIndex, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QLineEdit

from brachium.core.base.units import GIB
from brachium.core.base.why import Origin
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.parts import MemoryModule
from brachium.core.record.job import Stage
from brachium.ui.pages.shop.prices_page import PricesPage
from brachium.ui.pages.shop.shelf_page import ShelfPage
from brachium.ui.pages.take_in.facts_panel import VALUE
from brachium.ui.pages.take_in.take_in_page import TakeInPage
from tests.ui.conftest import Bench


@pytest.fixture
def empty(empty: Bench) -> Bench:
    """An empty shop with a machine taken in by hand."""
    empty.window.records.take_by_hand()
    empty.settled()
    return empty


def _page(bench: Bench) -> TakeInPage:
    page = bench.window.pages[Stage.TAKE_IN]
    assert isinstance(page, TakeInPage)
    return page


def _line(bench: Bench, text: str) -> None:
    before, edit = bench.job(), _page(bench).machine.quick.edit
    QTest.keyClicks(edit, text)
    QTest.keyClick(edit, Qt.Key.Key_Return)
    bench.until(lambda: bench.job() != before)
    bench.settled()


def test_a_line_is_shown_as_it_is_understood_recorded_by_enter_and_taken_back_whole(empty: Bench) -> None:
    page, quick = _page(empty), _page(empty).machine.quick
    QTest.keyClicks(quick.edit, "laptop; 4gb ddr3l sodimm; blue")
    empty.until(lambda: quick.chips.isVisible() and "blue" in quick.chips.text())
    assert "Memory slot 1: 4 GiB DDR3L" in quick.chips.text() and not empty.job().machine.slots, "nothing is kept yet"
    QTest.keyClick(quick.edit, Qt.Key.Key_Return)
    empty.until(lambda: bool(empty.job().machine.slots))
    job = empty.job()
    assert job.machine.kind is MachineKind.LAPTOP and "Not understood: blue" in job.condition
    assert page.machine.board.region("slot-2") is not None and quick.edit.text() == ""
    empty.window.setFocus()
    empty.ctrl(Qt.Key.Key_Z)
    empty.settled()
    assert empty.job().machine.kind is MachineKind.NOT_KNOWN and not empty.job().machine.slots
    quick.kind.setCurrentIndex(quick.kind.findData("tower"))
    quick.kind.activated.emit(quick.kind.currentIndex())
    empty.settled()
    assert empty.job().machine.kind is MachineKind.TOWER and empty.job().machine.bays, "its usual places come with it"


def _edit_fact(bench: Bench, key: str, text: str) -> None:
    panel = _page(bench).facts
    row = next(k for k, f in enumerate(panel.model.rows) if f.key == key)
    index = panel.model.index(row, VALUE)
    panel.table.setCurrentIndex(index)
    panel.table.edit(index)
    editor = panel.table.indexWidget(index) or panel.table.findChild(QLineEdit) or panel.table.findChild(QComboBox)
    box = panel.table.findChild(QComboBox)
    if box is not None:
        box.setCurrentIndex(box.findData(text))
        box.activated.emit(box.currentIndex())
    else:
        assert isinstance(editor, QLineEdit)
        editor.setText(text)
        QTest.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()  # the table takes what was typed when its editor has closed
    bench.settled()


def test_a_fact_is_found_typed_over_with_its_unit_and_forgotten(empty: Bench) -> None:
    _line(empty, "laptop; 4gb ddr3l-1600 sodimm; 35w 2c4t")
    page = _page(empty)
    page.show_part("facts")
    shown = {f.key for f in page.facts.model.rows}
    assert "processor.design_power_w" in shown and "processor.limit_c" not in shown
    assert "typical" in page.facts.foot.text()
    page.facts.find_facts("processor")
    assert {f.group for f in page.facts.model.rows} <= {"Processor", "Memory", "Build", "Radio slot"}
    _edit_fact(empty, "processor.base_mhz", "2.4 GHz")
    assert empty.job().machine.processor.base_mhz == 2400.0
    _edit_fact(empty, "processor.base_mhz", "2400000")
    assert empty.job().machine.processor.base_mhz == 2400.0, "a thousand times off is asked back"
    _edit_fact(empty, "processor.graphics", "yes")
    assert empty.job().machine.processor.graphics is True
    _edit_fact(empty, "processor.base_mhz", "")
    machine = empty.job().machine
    assert machine.processor.base_mhz is None and machine.origin("processor.base_mhz") is Origin.ASSUMED
    because = empty.window.because.because()
    assert because is not None and because.title == "Processor: base clock" and "1 to 10000 MHz" in because.notes[0]


def test_a_part_typed_into_a_place_has_only_what_was_said(empty: Bench) -> None:
    _line(empty, "laptop; 4gb ddr3l sodimm; 500gb 2.5 hdd")
    page = _page(empty)
    empty.click_region(page.machine.board, "slot-2")
    assert page.machine.editor.confirm.isVisible() and empty.job().machine.origin("slots.slot-2") is Origin.TYPICAL
    QTest.mouseClick(page.machine.editor.confirm, Qt.MouseButton.LeftButton)
    empty.settled()
    assert not page.machine.editor.confirm.isVisible() and empty.job().machine.origin("slots.slot-2") is Origin.TYPED
    line = page.machine.editor.fields["label"]
    assert empty.type_in(line, "half a brick") != "", "said at the field"  # type: ignore[arg-type]
    assert empty.type_in(line, "2GB 1Rx8 PC3-10600S") == ""  # type: ignore[arg-type]
    empty.settled()
    part = empty.job().machine.configuration().parts["slot-2"]
    assert isinstance(part, MemoryModule) and (part.size_bytes, part.speed_mts, part.ranks) == (2 * GIB, 1333, 1)
    assert empty.job().machine.origin("parts.slot-2.speed_mts") is Origin.LABEL
    empty.click_region(page.machine.board, "bay-1")
    assert empty.type_in(page.machine.editor.fields["label"], "8gb ddr3") == "A drive goes here."  # type: ignore[arg-type]


def test_a_part_is_added_edited_duplicated_and_removed_by_hand(empty: Bench) -> None:
    empty.window.show_shop("prices")
    page = empty.window.shop_pages.page("prices")
    assert isinstance(page, PricesPage)
    before = empty.window.session.workspace.catalogue
    page.add_button.click()
    QTest.keyClicks(page.sheet.label_line, "2x8GB 2Rx8 PC3-12800R blue")
    QTest.keyClick(page.sheet.label_line, Qt.Key.Key_Return)
    assert page.sheet.problem.text() == "Not understood: blue"
    page.sheet.save.click()
    assert "Price" in page.sheet.problem.text(), "nothing is worth 0 by default"
    page.sheet.price.setText("34")
    page.sheet.save.click()
    made = empty.window.session.workspace.catalogue[-1]
    assert isinstance(made.part, MemoryModule) and made.part.buffering == "registered" and made.part.ecc is True
    assert (made.count, made.price, len(empty.window.session.workspace.catalogue)) == (2, 34, len(before) + 1)
    page.search.setText("DDR3-1600 DIMM")
    page.table.setCurrentIndex(page.model.index(len(page.model.rows) - 1, 0, QModelIndex()))
    page.edit_button.click()
    page.sheet.inputs["height_mm"].setText("31000")  # type: ignore[union-attr]
    page.sheet.save.click()
    assert "Height" in page.sheet.problem.text() and "thousand" in page.sheet.problem.text()
    page.sheet.inputs["height_mm"].setText("31")  # type: ignore[union-attr]
    page.sheet.save.click()
    edited = next(i for i in empty.window.session.workspace.catalogue if i.id == made.id)
    assert getattr(edited.part, "height_mm") == 31.0  # noqa: B009 - a part of any kind
    page.table.setCurrentIndex(page.model.index(len(page.model.rows) - 1, 0, QModelIndex()))
    page.copy_button.click()
    page.sheet.save.click()
    page.table.setCurrentIndex(page.model.index(len(page.model.rows) - 1, 0, QModelIndex()))
    page.remove_button.click()
    assert len(empty.window.session.workspace.catalogue) == len(before) + 1
    for _ in range(4):
        page.undo()
    assert empty.window.session.workspace.catalogue == before


def test_the_shelf_has_the_same_sheet(empty: Bench) -> None:
    empty.window.show_shop("shelf")
    page = empty.window.shop_pages.page("shelf")
    assert isinstance(page, ShelfPage)
    page.by_hand.click()
    QTest.keyClicks(page.sheet.label_line, "240gb sata ssd 2.5 7mm")
    QTest.keyClick(page.sheet.label_line, Qt.Key.Key_Return)
    page.sheet.save.click()
    (part,) = page.shelf.parts
    assert part.price is None and getattr(part.part, "height_mm") == 7.0  # noqa: B009 - a part of any kind


def test_the_kind_comes_first_by_one_key_and_is_asked_again_when_it_is_taken_back(empty: Bench) -> None:
    page = _page(empty)
    assert page.machine.kinds.isVisible() and not page.machine.board.isVisible() and page.machine.quick.edit.hasFocus()
    QTest.keyClick(page.machine.quick.edit, Qt.Key.Key_L, Qt.KeyboardModifier.AltModifier)
    empty.settled()
    machine = empty.job().machine
    assert machine.kind is MachineKind.LAPTOP and machine.bays and page.machine.board.isVisible()
    assert (
        not page.machine.kinds.isVisible() and page.machine.quick.edit.hasFocus() and not page.machine.quick.edit.text()
    )
    assert page.machine.years.isVisible()
    QTest.mouseClick(page.machine.years.switch.buttons["DDR3"], Qt.MouseButton.LeftButton)
    slots = empty.job().machine.slots
    assert len(slots) == 2 and {empty.job().machine.origin(f"slots.{s.id}") for s in slots} == {Origin.TYPICAL}
    empty.settled()
    assert not page.machine.years.isVisible()
    for _ in range(2):
        empty.ctrl(Qt.Key.Key_Z)
    empty.until(lambda: page.machine.kinds.isVisible())
    empty.click_region(page.machine.kinds, MachineKind.HANDHELD.value)
    assert empty.job().machine.kind is MachineKind.HANDHELD
    empty.ctrl(Qt.Key.Key_Z)
    page.machine.kinds.setFocus()
    QTest.keyClick(page.machine.kinds, Qt.Key.Key_R)
    assert empty.job().machine.kind is MachineKind.STORAGE_BOX


def test_another_machine_starts_with_an_empty_line_on_its_record(empty: Bench) -> None:
    page = _page(empty)
    _line(empty, "laptop; blue")
    assert "blue" in page.machine.quick.chips.text() and page.machine.quick.chips.isVisible()
    page.show_part("facts")
    empty.window.records.take_by_hand()
    empty.settled()
    assert (
        page.machine.kinds.isVisible()
        and page.machine.quick.edit.hasFocus()
        and not page.machine.quick.chips.isVisible()
    )
