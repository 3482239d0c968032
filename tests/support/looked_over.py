"""What is wrong with a page or sheet as it stands: cut text, labels over each other, small targets, missing names."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QAccessible
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSlider,
    QWidget,
)

from brachium.core.figures.base.drawing import Drawing, Text
from brachium.core.figures.base.text_width import text_width
from brachium.ui.shell.rail import Rail, RailEntry, note_lines, title_lines
from brachium.ui.widgets.drawing_view import DrawingView

OWN_WORDS = 40  # longer choices are names that people gave, which a list shows whole
TARGET = 32  # px, the least height of anything that is pressed or typed into
OVER = 2.5  # px by which two labels may come near each other in both directions
ASCENT, DESCENT = 0.72, 0.16  # of the type size, what letters really take above and below the baseline


def faults(page: QWidget) -> list[str]:
    """Every fault of what is visible on a page, by kind."""
    out = []
    for widget in [page, *page.findChildren(QWidget)]:
        if widget.isVisibleTo(page) and widget.isVisible():
            out += [*_cut(widget), *_outside(widget, page), *_small(widget), *_nameless(widget)]
            if isinstance(widget, Rail):
                out += _cut_entries(widget)
            if isinstance(widget, DrawingView) and widget.drawing() is not None:
                out += [f"{widget.accessibleName()}: {fault}" for fault in figure_faults(widget.drawing())]  # type: ignore[arg-type]
    return list(dict.fromkeys(out))


def figure_faults(drawing: Drawing) -> Iterator[str]:
    """Text of a figure that is cut, outside, or over other text."""
    boxes = [(item, _box(item)) for item in drawing.items if isinstance(item, Text) and item.text.strip()]
    for item, (left, top, right, bottom) in boxes:
        if item.text.endswith("…"):
            yield f"cut: {item.text!r}"
        if left < -1.5 or right > drawing.width + 1.5 or top < -3.0 or bottom > drawing.height + 3.0:
            yield f"outside: {item.text!r}"
    for (one, a), (other, b) in combinations(boxes, 2):
        wide = min(a[2], b[2]) - max(a[0], b[0])
        tall = min(a[3], b[3]) - max(a[1], b[1])
        if wide > OVER and tall > OVER and one.text != other.text:
            yield f"over each other: {one.text!r}, {other.text!r}"


def _box(item: Text) -> tuple[float, float, float, float]:
    wide = text_width(item.text, item.size, item.weight, item.condensed)
    left = item.x - {"start": 0.0, "middle": wide / 2, "end": wide}[item.anchor]
    return left, item.y - ASCENT * item.size, left + wide, item.y + DESCENT * item.size


def _cut(widget: QWidget) -> Iterator[str]:
    """Words that a widget has no room for."""
    if isinstance(widget, QLabel) and widget.text() and widget.textFormat() is not Qt.TextFormat.RichText:
        if not widget.wordWrap() and widget.sizeHint().width() > widget.width() + 1:
            yield f"cut label: {widget.text()[:60]!r} wants {widget.sizeHint().width()} of {widget.width()}"
        if widget.wordWrap() and widget.heightForWidth(widget.width()) > widget.height() + 3:
            yield f"cut paragraph: {widget.text()[:60]!r}"
    elif isinstance(widget, QPushButton) and widget.text() and widget.sizeHint().width() > widget.width() + 1:
        yield f"cut key: {widget.text()!r} wants {widget.sizeHint().width()} of {widget.width()}"
    elif isinstance(widget, QLineEdit) and not widget.text() and widget.placeholderText():
        if widget.fontMetrics().horizontalAdvance(widget.placeholderText()) > widget.width() - 12:
            yield f"cut hint: {widget.placeholderText()!r} in {widget.width()}"
    elif isinstance(widget, QComboBox) and len(widget.currentText()) <= OWN_WORDS:
        room = widget.width() - 24
        if widget.fontMetrics().horizontalAdvance(widget.currentText()) > room:
            yield f"cut choice: {widget.currentText()!r} in {widget.width()}"


def _cut_entries(rail: Rail) -> Iterator[str]:
    for row in range(rail.model().rowCount()):
        entry: RailEntry = rail.model().index(row, 0).data(Qt.ItemDataRole.UserRole)
        if not entry.heading and any(line.endswith("…") for line in [*title_lines(entry.title), *note_lines(entry)]):
            yield f"cut entry: {entry.title!r}, {entry.note!r}"


def _outside(widget: QWidget, page: QWidget) -> Iterator[str]:
    """Beyond the edge of what holds it, to the right, where nothing scrolls."""
    if not isinstance(widget, QLabel | QAbstractButton | QLineEdit | QComboBox | DrawingView):
        return
    holder: QWidget = page
    above = widget.parentWidget()
    while above is not None and above is not page:
        if isinstance(above, QAbstractScrollArea):
            holder = above.viewport()
            break
        above = above.parentWidget()
    corner = widget.mapTo(holder, QPoint(widget.width(), 0)) if holder.isAncestorOf(widget) else None
    if corner is not None and corner.x() > QRect(holder.rect()).width() + 1:
        yield f"outside its page: {_said(widget)!r} ends at {corner.x()} of {holder.width()}"


def _small(widget: QWidget) -> Iterator[str]:
    if isinstance(widget, QAbstractButton | QComboBox | QLineEdit | QSlider) and widget.isEnabled():
        inside = isinstance(widget.parentWidget(), QComboBox | QLineEdit)
        least = min(widget.height(), widget.width())
        if least < TARGET and not inside and widget.focusPolicy() is not Qt.FocusPolicy.NoFocus:
            yield f"small target: {_said(widget)!r}, {least} px"


def _nameless(widget: QWidget) -> Iterator[str]:
    """What takes the focus and says nothing of itself to those who hear it."""
    if widget.focusPolicy() is Qt.FocusPolicy.NoFocus or isinstance(widget, QScrollArea):
        return
    if isinstance(widget.parentWidget(), QComboBox | QAbstractScrollArea):
        return
    face = QAccessible.queryAccessibleInterface(widget)
    if face is None or any(sign.isalnum() for sign in face.text(QAccessible.Text.Name)):
        return
    yield f"without a name: {type(widget).__name__} {widget.objectName()}"


def _said(widget: QWidget) -> str:
    text = getattr(widget, "text", None)
    words = text() if callable(text) else ""
    return str(words or widget.accessibleName() or type(widget).__name__)[:50]
