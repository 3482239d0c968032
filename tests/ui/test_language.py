"""The window in another language: on a machine taken in by hand in an empty shop, and nothing left unsaid."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QLineEdit, QPushButton, QTableView, QWidget

import tests.support.walking as walking
from brachium.core.base.spoken import say, speak_by
from brachium.core.base.text import phrase
from brachium.core.record.job import Stage
from brachium.speech.languages import languages
from brachium.ui import run, window_language
from brachium.ui.pages.shop.settings_page import SettingsPage
from tests.support.unsaid import marking, unsaid
from tests.support.walking import settle, shown
from tests.ui.conftest import Bench

NAMES = (  # what is no phrase of the program: names, ids, what is typed as an example
    "Deutsch", "English", "Français", "Brachium", "shop.db", "adapter-", "battery-", "board-", "card-", "cool-", "cpu-",
    "fan-", "hdd-", "mem-", "nvme-", "paste-", "psu-", "radio-", "ssd-", "svc-", "Ctrl+", "/tmp", "EUR a", "1 TB disk",
    "New machine",
)  # fmt: skip


@pytest.fixture
def german() -> Iterator[None]:
    yield
    speak_by(str)


def words_of(widget: QWidget) -> str:
    found = [w.text() for w in widget.findChildren(QLabel) if w.isVisible()]
    return "\n".join([*found, *(b.text() for b in widget.findChildren(QPushButton) if b.isVisible())])


def test_a_machine_taken_in_by_hand_is_read_in_german(tmp_path: Path, german: None) -> None:
    path = tmp_path / "shop.db"
    settings = run.settings_for(path)
    settings.setValue("language", "de")
    settings.sync()
    window, _poster = run.make_window(path, demo=False)
    window.show()
    first = words_of(shown(window))
    assert "Das erste Gerät annehmen" in first and "take" not in first.lower().split()
    window.records.take_by_hand()
    settle(window)
    assert "Noch nötig" in words_of(shown(window)), "the headline answers in the language of the window"
    window.session.select_stage(Stage.CHOOSE)
    settle(window)
    assert "noch nicht offen" in words_of(window) or "noch nichts" in words_of(window).lower()
    job = window.session.job()
    assert job is not None and job.name == "New machine", "what is recorded stays the record's own, in any language"
    window.close()
    window.session.workspace.close()


def test_what_a_person_typed_is_never_translated_nor_read_as_a_number(tmp_path: Path, german: None) -> None:
    """A version 1.14 is no decimal number, a serial no date, a model called Drive no drive; a file keeps its name."""
    settings = run.settings_for(tmp_path / "shop.db")
    settings.setValue("language", "de")
    settings.sync()
    window, _poster = run.make_window(tmp_path / "shop.db", demo=False)
    window.show()
    window.records.take_by_hand()
    settle(window)
    job = window.session.job()
    assert job is not None
    identity = replace(job.machine.identity, maker="Work", model="Drive", serial="X-2014-10-11", firmware="1.14",
                       system="Nimbus 22.04")  # fmt: skip
    typed = replace(job, name="Settings 1.5", goal="memory", machine=replace(job.machine, identity=identity))
    window.session.edit("typed", typed)
    settle(window)
    window.session.say(phrase("Saved {path}", path="report-2026-12-01.pdf"))
    seen = words_of(window)
    for part in ("facts", "record"):
        shown(window).show_part(part)  # type: ignore[attr-defined]
        settle(window)
        seen += words_of(window) + "\n".join(e.text() for e in window.findChildren(QLineEdit)) + _cells(window)
    for wrong in ("1,14", "22,04", "1,5", "11.10.2014", "01.12.2026", "Arbeit,", "Laufwerk,"):
        assert wrong not in seen, wrong
    for right in ("1.14", "22.04", "Settings 1.5", "report-2026-12-01.pdf"):
        assert right in seen, right
    header = window.header.findChildren(QLabel)
    assert any(w.text().startswith("memory") for w in header), "the owner's goal in the owner's words"
    window.close()
    window.session.workspace.close()


def _cells(window: QWidget) -> str:
    """What tables show."""
    tables = [t for t in window.findChildren(QTableView) if t.isVisible() and t.model() is not None]
    models = [t.model() for t in tables]
    return "\n".join(
        str(m.index(r, c).data() or "") for m in models for r in range(m.rowCount()) for c in range(m.columnCount())
    )


def test_a_language_is_chosen_in_settings_and_the_window_opens_anew(empty: Bench, german: None) -> None:
    window = empty.window
    window.run_command("settings")
    page = window.stack.currentWidget()
    while not isinstance(page, SettingsPage):
        page = page.currentWidget()  # type: ignore[union-attr]
    assert set(page.language.buttons) == {"", "en", "de", "fr"} and page.language.buttons[""].isChecked()
    QTest.mouseClick(page.language.buttons["fr"], Qt.MouseButton.LeftButton)
    assert window.reopens and not window.isVisible()
    assert str(window.settings.value("language")) == "fr" and str(window.settings.value("open_page")) == "settings"


def test_everything_that_is_shown_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, german: None) -> None:
    """First page, a machine by hand, every stage, sheet and page of the shop."""
    language = marking()
    monkeypatch.setattr(window_language, "speak", lambda app, wanted: speak_by(language.say))
    found: list[tuple[str, str]] = []
    monkeypatch.setattr(walking, "faults", lambda page: found.extend(unsaid(page)) or [])  # type: ignore[func-returns-value]
    assert list(walking.walked(tmp_path, "light", "empty")) == []
    goods = [item.title for item in run_catalogue()]
    left = [(kind, text) for kind, text in found if not any(name in text for name in (*NAMES, *goods))]
    assert not left, "\n".join(f"{kind}: {text}" for kind, text in sorted(set(left)))
    assert say("Settings") == "«Settings»"


def run_catalogue() -> list[object]:
    """The goods of a new shop's price list, whose names are the shop's own."""
    from brachium.demo.shop import demo_catalogue

    return list(demo_catalogue())


def test_every_language_says_the_same_stages() -> None:
    for code in ("de", "fr"):
        said = [languages()[code].say(stage.value) for stage in Stage]
        assert len(set(said)) == len(Stage) and not set(said) & {s.value for s in Stage}
