"""The rail: one entry per machine, grouped by what it waits for. Folds to initials."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import (
    QAbstractListModel,
    QModelIndex,
    QPersistentModelIndex,
    QRect,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QFont, QFontMetrics, QPainter
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.figures.base.theme import SPACE
from brachium.core.record.card import Waits
from brachium.ui.shell.state_marks import SIZE, paint_state
from brachium.ui.theme import theme

Index = QModelIndex | QPersistentModelIndex
LINE, NOTE, NOTE_LINE, MOST_LINES = 16, 18, 14, 5  # px of a title line, of the first and every other note line
TITLE_W = SPACE.rail - 24
NOTE_RIGHT = SPACE.rail - 8


@dataclass(frozen=True)
class RailEntry:
    """One line of the rail; a heading has no job, a page of the shop has its name. `waits` is drawn as a shape."""

    title: str
    note: str = ""
    job_id: str = ""
    heading: bool = False
    page: str = ""
    waits: Waits | None = None


class RailModel(QAbstractListModel):
    """The entries; role DisplayRole is the title, UserRole the entry."""

    def __init__(self) -> None:
        super().__init__()
        self._entries: tuple[RailEntry, ...] = ()

    def set_entries(self, entries: tuple[RailEntry, ...]) -> None:
        if entries != self._entries:
            self.beginResetModel()
            self._entries = entries
            self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self._entries)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        entry = self._entries[index.row()]
        if role == Qt.ItemDataRole.UserRole:
            return entry
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            return say(phrase("{entry}, {note}", entry=entry.title, note=entry.note) if entry.note else entry.title)
        return None

    def flags(self, index: Index) -> Qt.ItemFlag:
        entry = self._entries[index.row()] if index.isValid() else None
        if entry is None or entry.heading:
            return Qt.ItemFlag.NoItemFlags
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable

    def row_of_page(self, page: str) -> int:
        return next((k for k, e in enumerate(self._entries) if e.page == page), -1)

    def row_of(self, job_id: str) -> int:
        return next((k for k, e in enumerate(self._entries) if e.job_id == job_id), -1)


class _RailDelegate(QStyledItemDelegate):
    def __init__(self, folded: bool = False) -> None:
        super().__init__()
        self.folded = folded

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        entry: RailEntry = index.data(Qt.ItemDataRole.UserRole)
        if self.folded:
            return QSize(SPACE.rail_folded, 10 if entry.heading else 40)
        if entry.heading:
            return QSize(SPACE.rail, 28)
        notes = max(len(note_lines(entry)), entry.waits is not None)
        below = NOTE + NOTE_LINE * (notes - 1) if notes else 10
        return QSize(SPACE.rail, 10 + LINE * len(title_lines(entry.title)) + below)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        entry: RailEntry = index.data(Qt.ItemDataRole.UserRole)
        rect: QRect = option.rect
        painter.save()
        if not entry.heading:
            self._ground(painter, rect, option.state)
        if entry.heading and not self.folded:
            painter.setFont(theme.font(11, 600, True))
            painter.setPen(theme.qcolor("soft"))
            painter.drawText(rect.adjusted(16, 8, -4, 0), Qt.AlignmentFlag.AlignVCenter, say(entry.title))
        elif not entry.heading and self.folded:
            self._initials(painter, rect, entry)
        elif not entry.heading:
            self._machine(painter, rect, entry, bool(option.state & QStyle.StateFlag.State_Selected))
        painter.restore()

    def _ground(self, painter: QPainter, rect: QRect, state: QStyle.StateFlag) -> None:
        selected = bool(state & QStyle.StateFlag.State_Selected)
        if selected or state & QStyle.StateFlag.State_MouseOver:
            painter.fillRect(rect, theme.qcolor("cool_wash" if selected else "grid"))
        if selected:
            painter.fillRect(QRect(rect.x(), rect.y(), 3, rect.height()), theme.qcolor("cool"))

    def _initials(self, painter: QPainter, rect: QRect, entry: RailEntry) -> None:
        painter.setFont(theme.font(14, 600))
        painter.setPen(theme.qcolor("ink"))
        initials = "".join(w[0] for w in say(entry.title).split()[:2]).upper()
        painter.drawText(rect.adjusted(0, 0, 0, -8 if entry.waits else 0), Qt.AlignmentFlag.AlignCenter, initials)
        if entry.waits is not None:
            paint_state(painter, entry.waits, rect.center().x() - SIZE / 2, rect.bottom() - 13, theme.qcolor("soft"))

    def _machine(self, painter: QPainter, rect: QRect, entry: RailEntry, selected: bool) -> None:
        """The title on as many lines as it takes, below it the mark of the state and a note."""
        painter.setFont(theme.font(13, 600 if selected else 500))
        painter.setPen(theme.qcolor("ink"))
        lines = title_lines(entry.title)
        y = rect.y() + (5 if entry.note or entry.waits is not None else (rect.height() - LINE * len(lines)) // 2)
        for line in lines:
            painter.drawText(QRect(16, y, TITLE_W, LINE), Qt.AlignmentFlag.AlignVCenter, line)
            y += LINE
        left = _note_left(entry)
        if entry.waits is not None:
            paint_state(painter, entry.waits, 16, y + 4, theme.qcolor("soft"))
        painter.setFont(theme.font(11, 400))
        painter.setPen(theme.qcolor("soft"))
        for line in note_lines(entry):
            painter.drawText(QRect(left, y, NOTE_RIGHT - left, 16), Qt.AlignmentFlag.AlignVCenter, line)
            y += NOTE_LINE


def title_lines(title: str) -> list[str]:
    """A name in as many lines of the rail as it takes, five at most."""
    return _lines(title, theme.font(13, 600), TITLE_W, MOST_LINES) or [""]


def note_lines(entry: RailEntry) -> list[str]:
    """What a machine waits for, below its name, on two lines at most."""
    return _lines(entry.note, theme.font(11, 400), NOTE_RIGHT - _note_left(entry), 2)


def _note_left(entry: RailEntry) -> int:
    return 16 if entry.waits is None else 16 + int(SIZE) + 6


def _lines(text: str, font: QFont, room: int, most: int) -> list[str]:
    """Words on lines of a width; only what is beyond the last line, or a single word too long, is cut."""
    metrics = QFontMetrics(font)
    lines: list[str] = []
    for word in say(text).split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and metrics.horizontalAdvance(longer) <= room:
            lines[-1] = longer
        else:
            lines.append(word)
    if len(lines) > most:
        lines[most - 1 :] = [" ".join(lines[most - 1 :])]
    return [metrics.elidedText(line, Qt.TextElideMode.ElideRight, room) for line in lines]


class Rail(QListView):
    """Emits `job_chosen` with the id of the machine, `page_chosen` with the name of a page of the shop."""

    job_chosen = Signal(str)
    page_chosen = Signal(str)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._model = RailModel()
        self._delegate = _RailDelegate()
        self.setModel(self._model)
        self.setItemDelegate(self._delegate)
        self.setMouseTracking(True)
        self.setLayoutMode(QListView.LayoutMode.Batched)  # thousands of machines are laid out bit by bit
        self.setBatchSize(400)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(say(name))
        self.set_folded(False)
        self.selectionModel().currentChanged.connect(self._changed)

    def set_folded(self, folded: bool) -> None:
        self._delegate.folded = folded
        self.setFixedWidth(SPACE.rail_folded if folded else SPACE.rail)
        self.scheduleDelayedItemsLayout()

    def set_entries(self, entries: tuple[RailEntry, ...], current: str, page: str = "") -> None:
        blocked = self.selectionModel().blockSignals(True)
        self._model.set_entries(entries)
        row = self._model.row_of_page(page) if page else self._model.row_of(current) if current else -1
        self.setCurrentIndex(self._model.index(row, 0) if row >= 0 else QModelIndex())
        self.selectionModel().blockSignals(blocked)
        self.viewport().update()

    def wanted_height(self) -> int:
        """What all entries take [px]."""
        return sum(self.sizeHintForRow(k) for k in range(self._model.rowCount()))

    def _changed(self, index: QModelIndex, _: QModelIndex) -> None:
        entry = index.data(Qt.ItemDataRole.UserRole)
        if isinstance(entry, RailEntry) and entry.job_id:
            self.job_chosen.emit(entry.job_id)
        elif isinstance(entry, RailEntry) and entry.page:
            self.page_chosen.emit(entry.page)
