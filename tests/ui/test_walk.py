"""The walk over a whole shop finds nothing cut, covered, small or nameless; and it notices each of them."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QSlider, QVBoxLayout, QWidget
from pytestqt.qtbot import QtBot

from brachium.core.figures.base.drawing import Sketch, Text
from brachium.ui.widgets.labels import label
from tests.support.looked_over import faults, figure_faults
from tests.support.walking import walked


@pytest.mark.parametrize("shop", ["demo", "empty", "long"])
def test_nothing_is_cut_covered_small_or_nameless(qtbot: QtBot, tmp_path: Path, shop: str) -> None:
    found = [f"{where}: {fault}" for where, fault in walked(tmp_path, "light", shop)]
    assert not found, "\n".join(found)


def test_each_fault_of_a_page_is_noticed(qtbot: QtBot) -> None:
    page = QWidget()
    qtbot.addWidget(page)
    layout = QVBoxLayout(page)
    layout.addWidget(cut := label("A sentence that is far too long for its little room"))
    cut.setFixedWidth(60)
    key = QPushButton("Press here for what comes next")
    key.setFixedWidth(50)
    layout.addWidget(key)
    slider = QSlider(Qt.Orientation.Horizontal)
    slider.setAccessibleName("How much")
    slider.setFixedHeight(20)
    layout.addWidget(slider)
    nameless = QLineEdit()
    nameless.setFixedHeight(40)
    nameless.setPlaceholderText("a hint that is longer than its field")
    nameless.setFixedWidth(80)
    choice = QComboBox()
    choice.setAccessibleName("Choice")
    choice.addItem("one of several that is long")
    choice.setFixedSize(70, 40)
    row = QHBoxLayout()
    row.addWidget(nameless)
    row.addWidget(choice)
    layout.addLayout(row)
    far = QPushButton("Far", page)
    far.setGeometry(390, 0, 60, 40)
    page.resize(400, 300)
    page.show()
    kinds = sorted({f.split(":")[0] for f in faults(page)})
    assert kinds == [
        "cut choice",
        "cut hint",
        "cut key",
        "cut label",
        "outside its page",
        "small target",
        "without a name",
    ]


def test_each_fault_of_a_figure_is_noticed() -> None:
    sketch = Sketch(200, 60)
    sketch.add(Text(10, 20, "a name", size=13), Text(20, 22, "another", size=13), Text(10, 50, "a long na…"),
               Text(180, 50, "beyond the edge"))  # fmt: skip
    found = list(figure_faults(sketch.done("A figure")))
    assert [f.split(":")[0] for f in found] == ["cut", "outside", "over each other"]
    apart = Sketch(200, 60)
    apart.add(Text(10, 20, "a name"), Text(110, 20, "another"), Text(10, 50, "below"))
    assert list(figure_faults(apart.done("A figure"))) == []
