"""Small builders for labels, buttons and rules, so that pages read as their content."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLayout, QPushButton, QSizePolicy, QWidget

from brachium.core.base.spoken import say
from brachium.ui.theme import theme
from brachium.ui.widgets.tool_tips import tip_text


def label(text: str, role: str = "", wrap: bool = False, selectable: bool = False) -> QLabel:
    """A label in a text role of the style sheet."""
    out = QLabel(say(text))
    if role:
        out.setProperty("role", role)
    out.setWordWrap(wrap)
    out.setTextFormat(Qt.TextFormat.PlainText)
    out.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum if wrap else QSizePolicy.Policy.Fixed)
    if selectable:
        out.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return out


def paragraph(text: str, role: str = "", selectable: bool = False) -> QLabel:
    """A wrapped label that takes the height its text needs at its width; for columns that end in a stretch."""
    out = label(text, role, True, selectable)
    policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    policy.setHeightForWidth(True)
    out.setSizePolicy(policy)
    return out


TARGET_PX = 32  # the least size of anything that is pressed


def button(text: str, run: Callable[[], object], kind: str = "", tip: str = "") -> QPushButton:
    out = QPushButton(say(text))
    if len(text) == 1:
        out.setMinimumWidth(TARGET_PX)
        out.setAccessibleName(say(tip or text))
    if kind:
        out.setProperty("kind", kind)
    out.setToolTip(tip_text(tip))
    out.clicked.connect(lambda: run())
    out.setAutoDefault(False)
    return out


class RuleLine(QWidget):
    """A hairline across."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(1)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.qcolor("hair"))
        painter.end()


def row_of(*widgets: QWidget, stretch: bool = True) -> QHBoxLayout:
    """Widgets beside each other, at the left or sharing the width."""
    row = QHBoxLayout()
    row.setSpacing(12)
    for widget in widgets:
        row.addWidget(widget)
    if stretch:
        row.addStretch(1)
    return row


def clear(layout: QLayout) -> None:
    """Take everything out of a layout and delete it."""
    while layout.count():
        item = layout.takeAt(0)
        assert item is not None
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


def restyle(widget: QWidget, key: str, value: str) -> None:
    """Set a style-sheet property and have it take effect."""
    if widget.property(key) != value:
        widget.setProperty(key, value)
        widget.style().unpolish(widget)
        widget.style().polish(widget)
