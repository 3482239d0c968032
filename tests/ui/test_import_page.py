"""Dropped logs that need a word: columns named and remembered, units stated, logs joined on their loads."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox

from brachium.app.files.import_logs import LogPreview, UnreadLog
from brachium.ui.pages.measure.conditions_sheet import ConditionsSheet
from brachium.ui.pages.shop.import_page import ImportPage
from tests.ui.conftest import Bench


def strange_log(path: Path, load: tuple[int, int] = (60, 700), fahrenheit: bool = False) -> Path:
    """Headings that say nothing: time, a temperature, a power."""
    rows = ["a;b;c"]
    for t in range(900):
        busy = load[0] <= t < load[1]
        celsius = 40 + (35 * (1 - np.exp(-(t - load[0]) / 80)) if busy else 0)
        value = celsius * 1.8 + 32 if fahrenheit else celsius
        rows.append(f"{t};{value:.1f};{35 if busy else 5}")
    path.write_text("\n".join(rows))
    return path


def choose(box: QComboBox, text: str) -> None:
    index = box.findText(text)
    assert index >= 0, [box.itemText(k) for k in range(box.count())]
    box.setCurrentIndex(index)
    box.activated.emit(index)


def open_page(bench: Bench, *paths: Path) -> ImportPage:
    page = bench.window.entry_pages.import_page
    bench.window.files.open_files(paths)
    bench.until(lambda: len(page.panels) == len(paths))
    return page


def named(bench: Bench, page: ImportPage) -> None:
    for role, column in (("time", "a"), ("temp", "b"), ("power", "c")):
        panel = page.panels[0]
        choose(panel.columns[role], column)
        bench.until(lambda p=panel: page.panels[0] is not p)  # type: ignore[misc]


def test_columns_are_named_once_and_remembered_for_the_heading(fresh: Bench, tmp_path: Path) -> None:
    page = open_page(fresh, strange_log(tmp_path / "one-before.csv"))
    assert isinstance(page._found[0], UnreadLog) and not page.keep.isEnabled()
    assert "needs your input" in page._subline.text()
    named(fresh, page)
    found = page._found[0]
    assert isinstance(found, LogPreview) and found.load_s == pytest.approx(640, abs=3)
    choose(page.panels[0].units["temp"], "k")
    fresh.until(lambda: "cannot be a chip temperature" in " ".join(fresh.window.next.texts()))
    assert page._found[0] is found, "what was read before stays"
    room = page.panels[0].room
    assert room is not None
    room.setText("22")
    assert page.keep_as.box.currentText() == "runs of Newsroom laptop", "of the machine in view, until said otherwise"
    choose(page.keep_as.box, "a new record")
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    fresh.until(lambda: len(fresh.window.session.workspace.cards()) == 2)
    again = open_page(fresh, strange_log(tmp_path / "two-after.csv"))
    fresh.until(lambda: isinstance(again._found[0], LogPreview))
    assert again.keep.isEnabled(), "the same heading is read as it was said"


def test_two_logs_of_one_run_are_joined_where_their_loads_begin(fresh: Bench, tmp_path: Path) -> None:
    (tmp_path / "before.csv").write_text("t_s,temp_c,util_pct\n" + "\n".join(
        f"{t},{70 if 60 <= t < 700 else 40},{99 if 60 <= t < 700 else 1}" for t in range(900)))  # fmt: skip
    (tmp_path / "meter.csv").write_text("t_s,power_w,fan_rpm\n" + "\n".join(
        f"{t},{35 if 70 <= t < 710 else 5},{3000 + t}" for t in range(950)))  # fmt: skip
    page = open_page(fresh, tmp_path / "before.csv", tmp_path / "meter.csv")
    index = next(k for k, f in enumerate(page._found) if isinstance(f, UnreadLog))
    assert index == 1, "what cannot stand alone comes last"
    QTest.mouseClick(page.panels[1].join, Qt.MouseButton.LeftButton)
    fresh.until(lambda: len(page.panels) == 1)
    found = page._found[0]
    assert isinstance(found, LogPreview)
    fan = found.log.trace.values("fan_rpm")
    assert fan is not None and fan[100] == pytest.approx(3110, abs=1.5), "the meter's clock ran 10 s ahead"
    assert "offset -10.0 s from the start of the load" in found.log.notes[0] and "resampled" in found.log.notes[0]


def test_a_log_that_adds_nothing_is_not_joined(fresh: Bench, tmp_path: Path, data: Path) -> None:
    page = open_page(fresh, data / "laptop-repaste-before.csv", data / "laptop-repaste-after.csv")
    QTest.mouseClick(page.panels[1].join, Qt.MouseButton.LeftButton)
    fresh.until(lambda: "adds nothing" in " ".join(fresh.window.next.texts()))
    assert len(page.panels) == 2


def test_three_logs_at_once_are_three_configurations_of_the_machine_in_view(fresh: Bench, tmp_path: Path) -> None:
    names = ("1-as-found.csv", "2-cleaned.csv", "3-new-paste.csv")
    for k, name in enumerate(names):
        (tmp_path / name).write_text("t_s,temp_c,util_pct,power_w\n" + "\n".join(
            f"{t},{80 - 5 * k if 60 <= t < 700 else 40},{99 if 60 <= t < 700 else 1},{35 if 60 <= t < 700 else 5}"
            for t in range(900)))  # fmt: skip
    page = open_page(fresh, *(tmp_path / n for n in names))
    fresh.until(lambda: all(isinstance(f, LogPreview) for f in page._found))
    assert [f.role for f in page._found if isinstance(f, LogPreview)] == ["before", "after", "after"]
    for panel, room in zip(page.panels, ("22", "23", "24"), strict=True):
        assert panel.room is not None
        panel.room.setText(room)
    second = page.panels[1]
    QTest.keyClicks(second.configuration, "cleaned, fan raised")
    QTest.mouseClick(second.conditions, Qt.MouseButton.LeftButton)
    sheet = fresh.window.findChildren(ConditionsSheet)[-1]
    QTest.keyClick(sheet, Qt.Key.Key_F)  # automatic
    QTest.keyClick(sheet, Qt.Key.Key_F)  # full speed
    QTest.keyClicks(sheet.written["graphics_driver"], "driver 9")
    sheet.done(0)
    assert "fan full speed, graphics driver driver 9" in second._words.text()
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    workspace, job_id = fresh.window.session.workspace, fresh.window.session.job_id
    fresh.until(lambda: len(workspace.repository.runs(job_id)[0]) == 3)
    kept = workspace.repository.runs(job_id)[0]
    assert sorted((s.run.configuration, s.run.conditions.room_c) for s in kept) == [
        ("cleaned, fan raised", 23.0), ("log 1-as-found", 22.0), ("log 3-new-paste", 24.0)]  # fmt: skip
    stated = {s.run.configuration: (s.run.conditions.fan_mode, s.run.conditions.graphics_driver) for s in kept}
    assert stated == {"cleaned, fan raised": ("full speed", "driver 9"), "log 1-as-found": ("", ""),
                      "log 3-new-paste": ("", "")}  # fmt: skip
    assert len(workspace.cards()) == 1
