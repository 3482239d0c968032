"""Reports in the owner's language and currency, and in words of one's own, from Hand over and Settings."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from brachium.app.reports.rewording import sentences
from brachium.core.measure.statistics import Judgement, Word
from brachium.core.record.job import Stage
from brachium.core.record.own_wording import LEFT_OUT
from brachium.report.speech import PLAIN
from brachium.ui.pages.hand_over.hand_over_page import HandOverPage
from brachium.ui.pages.hand_over.wording_sheet import WordingSheet
from brachium.ui.pages.shop.settings_page import SettingsPage
from brachium.ui.widgets.fields import ChoiceField
from tests.ui.conftest import Bench


def choose(field: ChoiceField, key: str) -> None:
    """Walk the list with the keyboard."""
    field.box.setFocus()
    QTest.keyClick(field.box, Qt.Key.Key_Home)
    while field.box.currentData() != key:
        before = field.box.currentIndex()
        QTest.keyClick(field.box, Qt.Key.Key_Down)
        assert field.box.currentIndex() > before, [field.box.itemData(k) for k in range(field.box.count())]


def hand_over(bench: Bench) -> HandOverPage:
    bench.click_stage(Stage.HAND_OVER)
    page = bench.window.pages[Stage.HAND_OVER]
    assert isinstance(page, HandOverPage)
    bench.settled()
    return page


def test_a_job_speaks_its_owners_language_and_currency(done: Bench, tmp_path: Path) -> None:
    window = done.window
    window.run_command("settings")
    settings = window.stack.currentWidget()
    while not isinstance(settings, SettingsPage):
        settings = settings.currentWidget()  # type: ignore[union-attr]
    assert "three letters" in done.type_in(settings.rules.rates, "GBPP 1.17")
    done.type_in(settings.rules.rates, "GBP 1.17")
    choose(settings.rules.language, "fr")
    page = hand_over(done)
    assert "Votre travail prend 50 % du temps" in done.paper(page.preview), "shop default"
    choose(page.language, "de")
    choose(page.currency, "GBP")
    done.settled()
    text = done.paper(page.preview)
    assert "Ihre Arbeit braucht noch 50 %" in text and "79,89 GBP" in text and "1,17 EUR" in text and "50.0" not in text
    QTest.mouseClick(page.reader.buttons["buyer"], Qt.MouseButton.LeftButton)
    text = done.paper(page.preview)
    assert "480 GB, angezeigt als 447 GiB" in text and "1.18" in text and "GBP" not in text and not page.untold.text()
    page.save_to(tmp_path)
    done.until(lambda: (tmp_path / "buyer.pdf").exists())
    owner = (tmp_path / "owner.html").read_text(encoding="utf-8")
    assert '<html lang="de">' in owner and "79,89 GBP" in owner and "92 EUR" not in owner and "vorher" in owner
    done.window.session.workspace.set_rates({})
    page.show_job(done.job(), done.window.session.view())
    assert page.untold.text() == "No rate is set for GBP: amounts are in EUR." and "EUR" not in done.paper(page.preview)
    done.window.session.workspace.set_rates({"GBP": Decimal("1.17")})
    for _ in range(4):  # a list walked by keys passes what lies between
        if done.job().report_language:
            window.run_command("undo")
    done.settled()
    QTest.mouseClick(page.reader.buttons["owner"], Qt.MouseButton.LeftButton)
    assert "93,47 EUR" in done.paper(page.preview) and "Votre travail" in done.paper(page.preview)


def test_a_sentence_is_worded_by_hand_but_no_figure_is(done: Bench) -> None:
    page = hand_over(done)
    QTest.mouseClick(page.word, Qt.MouseButton.LeftButton)
    sheet = page.sheet
    assert isinstance(sheet, WordingSheet)
    headline = next(t for t in sheet.fields if t.startswith("Your work takes"))
    assert "50 is missing" in done.type_in(sheet.fields[headline], "Your work takes half the time.")
    assert not done.job().wording
    assert done.type_in(sheet.fields[headline], "50 % of the waiting is left.") == ""
    done.settled()
    assert "50 % of the waiting is left." in done.paper(page.preview)
    backup = "A new drive does not replace a backup."
    leave = [b for b in sheet.findChildren(QPushButton) if b.text() == "Leave out"]
    assert len(leave) == len([t for t in sheet.fields if t.endswith(".")]) - 1, "every sentence but the headline"
    QTest.mouseClick(leave[-1], Qt.MouseButton.LeftButton)
    done.settled()
    assert done.job().wording[backup] == LEFT_OUT and backup not in done.paper(page.preview)
    assert sheet.fields[backup].edit.placeholderText() == "left out"
    QTest.mouseClick(sheet.reset, Qt.MouseButton.LeftButton)
    done.settled()
    assert not done.job().wording and headline in done.paper(page.preview)
    sheet.close()
    done.window.run_command("undo")
    done.settled()
    assert "50 % of the waiting is left." in done.paper(page.preview)


def test_findings_and_what_got_slower_have_to_be_said(done: Bench) -> None:
    page = hand_over(done)
    QTest.mouseClick(page.reader.buttons["report"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(page.word, Qt.MouseButton.LeftButton)
    finding = next(t for t in page.sheet.fields if t.startswith("Felted lint"))
    assert "has to be said" in done.type_in(page.sheet.fields[finding], LEFT_OUT)
    note = "Fan loud within a minute of work"
    assert done.type_in(page.sheet.fields[note], LEFT_OUT) == "" and done.job().wording == {note: LEFT_OUT}
    page.sheet.close()
    view = done.window.session.view()
    assert view is not None and view.proof.comparison is not None
    start = view.proof.comparison.gain("start_up")
    assert start is not None and start.result is not None
    worse = replace(start, result=replace(start.result, ratio=0.7), judgement=Judgement(Word.WORSE, "worse"))
    found = sentences(
        replace(view, proof=replace(view.proof, comparison=replace(view.proof.comparison, gains=(worse,)))),
        "owner",
        PLAIN,
    )
    assert [s.must_stay for s in found if "slower than before" in s.text] == [True]
