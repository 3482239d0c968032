"""The edit-suite tower from a wish for a faster processor to the bench, and what stops it on the way."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from brachium.core.figures.lists.candidate_list import FOLD
from brachium.core.fit.verdict import Level
from brachium.core.machine.locks import LockState
from brachium.core.record.job import Stage
from brachium.ui.pages.base.closed_page import ClosedLatchPage
from brachium.ui.pages.choose.choose_page import ChoosePage
from brachium.ui.pages.choose.fact_sheet import FactSheet
from brachium.ui.pages.shop.prices_page import PricesPage, item_because
from brachium.ui.pages.work.work_page import WorkPage
from brachium.ui.widgets.fields import ChoiceField
from tests.ui.conftest import Bench

TOWER = "edit-suite-tower"
CHIP, COOLER = "cpu-d8-80@socket", "cool-tower-140@cooler"


@pytest.fixture
def tower(whole: Bench) -> ChoosePage:
    whole.machine(TOWER, True)
    return whole.choose()


def plan_with_keys(bench: Bench, page: ChoosePage, place: str, candidate: str) -> None:
    """Choose a place, walk to a candidate with the arrow keys, plan it with Return."""
    page.board.choose(place)
    page.offers.setFocus()
    for _ in range(12):
        if page.offers.selected == candidate:
            break
        QTest.keyClick(page.offers, Qt.Key.Key_Down)
    assert page.offers.selected == candidate
    QTest.keyClick(page.offers, Qt.Key.Key_Return)
    bench.settled()


def record_lock(bench: Bench, page: ChoosePage, candidate: str) -> None:
    """Say of every missing lock that there is none, in the sheet of missing facts."""
    page.board.choose("socket")
    page.offers.choose(candidate)
    sheet = page.ask_facts()
    assert isinstance(sheet, FactSheet)
    for key, field in sheet.fields.items():
        assert key.startswith("locks.") and isinstance(field, ChoiceField)
        field.box.setCurrentIndex(1)
        field.box.activated.emit(1)
    bench.settled()
    sheet.close()


def test_another_board_lies_on_the_front_once_the_owner_was_asked_and_is_taken_whole(
    whole: Bench, tower: ChoosePage
) -> None:
    """A board that feeds the faster processor: both are needed, and come together."""
    session = whole.window.session
    page = tower
    page.board.choose("board")
    assert page.offers.selected == "board-km2-105@board" and page.facts.isVisible(), "its licence was not asked for"
    record_lock(whole, page, CHIP)
    licence = replace(whole.job(), locks=replace(whole.job().locks, licence=LockState.NONE), plan=())
    session.edit("the owner was asked", licence)
    whole.settled()
    view = session.view()
    assert view is not None and view.choice.weighed is not None
    with_board = [p for p in view.choice.weighed.front.plans if "board-km2-105@board" in p.ids]
    why = view.choice.weighed.why["board-km2-105@board"]
    assert with_board or why.startswith("The best plan with it ") or "target" in why, why
    page.take_plan(("board-km2-105@board", CHIP, COOLER))
    whole.settled()
    assert set(whole.job().plan) == {"board-km2-105@board", CHIP, COOLER}
    view = session.view()
    assert view is not None and not [v for v in view.choice.verdicts if v.rule == "CPU-POWER" and v.level > Level.FITS]
    assert "Change the main board" in [s.title for s in view.work.steps]


def test_from_the_wish_to_the_bench(whole: Bench, tower: ChoosePage) -> None:
    session = whole.window.session
    plan_with_keys(whole, tower, "socket", CHIP)
    plan_with_keys(whole, tower, "cooling", COOLER)
    assert set(whole.job().plan) == {CHIP, COOLER}
    record_lock(whole, tower, CHIP)

    whole.click_stage(Stage.WORK)
    closed = whole.window.stack.currentWidget()
    assert isinstance(closed, ClosedLatchPage) and "no evidence that it works here" in closed._subline.text()
    session.select_stage(Stage.CHOOSE)

    tower.board.choose("socket")
    tower.offers.choose(CHIP)
    evidence = tower.ask_evidence()
    assert evidence is not None
    QTest.mouseClick(evidence.add, Qt.MouseButton.LeftButton)
    evidence.close()
    whole.until(lambda: (v := session.view()) is not None and all(x.rule != "CPU-EVID" for x in v.choice.unsettled))
    view = session.view()
    assert view is not None and {v.rule for v in view.choice.unsettled} == {"CPU-POWER"}, "80 W on a board for 65 W"
    sheet = tower.plan.ask_acceptance()
    assert sheet is not None
    QTest.keyClicks(sheet.reason, "measured at full load, stays in bounds")
    QTest.keyClick(sheet.reason, Qt.Key.Key_Return)
    whole.settled()

    whole.click_stage(Stage.WORK)
    page = whole.window.stack.currentWidget()
    assert isinstance(page, WorkPage) and page.title.text() == "Note the firmware's settings"
    page.tick()
    whole.settled()
    assert page.title.text() == "Update to firmware 2.10"
    assert any("loses power" in r.label for r in page.words.cautions.regions())
    view = session.view()
    assert view is not None
    order = [s.id for s in view.work.steps]
    assert order.index("first-0") < order.index("power-off") < order.index("processor") < order.index("paste")
    page.steps.setFocus()
    QTest.keyClick(page.steps, Qt.Key.Key_Space)
    whole.settled()
    for waive in [b for b in page.chance.findChildren(QPushButton) if b.text() == "Waive"]:
        QTest.mouseClick(waive, Qt.MouseButton.LeftButton)
        whole.settled()
    for _ in range(len(order) - 2):
        page.steps.setFocus()
        QTest.keyClick(page.steps, Qt.Key.Key_Space)
        whole.settled()
    assert {d.step_id for d in whole.job().steps_done} == set(order)
    assert page._headline.text().startswith("All ")


def test_a_refused_part_cannot_be_planned_by_any_way(whole: Bench, tower: ChoosePage) -> None:
    tower.board.choose("socket")
    assert tower.offers.region("cpu-d9-65@socket") is None, "what cannot go there stands behind a count"
    tower.offers.choose(FOLD)
    tower.offers.choose("cpu-d9-65@socket")
    assert not tower.toggle.isEnabled() and not tower.toggle.isVisible()
    QTest.keyClick(tower.offers, Qt.Key.Key_Return)
    tower._toggle("cpu-d9-65@socket")
    tower.take_plan(("cpu-d9-65@socket",))
    whole.settled()
    assert whole.job().plan == ()
    view = whole.window.session.view()
    assert view is not None and view.choice.weighed is not None
    assert view.choice.weighed.why["cpu-d9-65@socket"] == "It does not fit, so no plan holds it"
    assert next(o for o in view.choice.offers if o.candidate.id == "cpu-d9-65@socket").level is Level.REFUSED


def test_the_day_sheet_opens_at_its_stretches_and_follows_the_ticks(whole: Bench, tower: ChoosePage) -> None:
    session = whole.window.session
    tower.take_plan((COOLER,))
    whole.settled()
    page = whole.window.shop_pages.page("day")
    page.now = lambda: datetime(2026, 11, 25, 8, 55)
    whole.window.run_command("day")
    whole.until(page.settled)
    day = page._day
    assert day is not None
    mine = next(j for j in day.jobs if j.id == TOWER)
    steps = session.view().work.steps  # type: ignore[union-attr]
    assert [s for b in mine.blocks for s in b.steps] == [s.id for s in steps]


def test_photos_of_a_step_are_kept_and_a_bad_one_is_named(whole: Bench, tower: ChoosePage, tmp_path: Path) -> None:
    tower.take_plan((COOLER,))
    whole.settled()
    page = whole.window.pages[Stage.WORK]
    assert isinstance(page, WorkPage)
    good, bad = tmp_path / "good.png", tmp_path / "bad.png"
    Image.new("RGB", (64, 48), "grey").save(good)
    bad.write_bytes(b"no picture")
    said: list[object] = []
    whole.window.session.problem_raised.connect(said.append)
    page.add_photos((good, bad))
    whole.until(lambda: len(whole.job().photos) == 1 and bool(said))
    assert "bad.png" in str(said[0])


def test_an_entry_of_the_price_list_tells_all_that_it_states(whole: Bench, tower: ChoosePage) -> None:
    whole.window.run_command("prices")
    page = whole.window.shop_pages.page("prices")
    assert isinstance(page, PricesPage)
    page.search.setText("480 GB")
    whole.until(lambda: len(page.model.rows) == 1)
    page.table.selectRow(0)
    because = whole.window.because.because()
    assert because is not None and because.rule == "drive"
    assert any("counter 34.00 EUR, new" in n for n in because.notes)
    chip = next(i for i in whole.window.session.workspace.catalogue if i.id == "cpu-d8-80")
    facts = {f.label: f.value for f in item_because(chip).facts}
    assert facts["socket"] == "KM-2" and facts["power w"] == "80" and facts["memory"] == "DDR4"
    assert page.set_price("ssd-480", "29")
    priced = next(i for i in whole.window.session.workspace.catalogue if i.id == "ssd-480")
    assert priced.offers == () and str(priced.price) == "29", "what was typed stands before old offers"
