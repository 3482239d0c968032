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
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from brachium.core.figures.base.theme import SPACE
from brachium.ui.theme import theme

Index = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True)
class RailEntry:
    """One line of the rail; a heading has no job, a page of the shop has its name."""

    title: str
    note: str = ""
    job_id: str = ""
    heading: bool = False
    page: str = ""


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
            return f"{entry.title}, {entry.note}" if entry.note else entry.title
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
        return QSize(SPACE.rail, 28 if entry.heading else 42)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        entry: RailEntry = index.data(Qt.ItemDataRole.UserRole)
        rect: QRect = option.rect
        state: QStyle.StateFlag = option.state
        painter.save()
        if entry.heading:
            if not self.folded:
                painter.setFont(theme.font(11, 600, True))
                painter.setPen(theme.qcolor("soft"))
                painter.drawText(rect.adjusted(16, 8, -4, 0), Qt.AlignmentFlag.AlignVCenter, entry.title)
            painter.restore()
            return
        selected = bool(state & QStyle.StateFlag.State_Selected)
        if selected or state & QStyle.StateFlag.State_MouseOver:
            painter.fillRect(rect, theme.qcolor("cool_wash" if selected else "grid"))
        if selected:
            painter.fillRect(QRect(rect.x(), rect.y(), 3, rect.height()), theme.qcolor("cool"))
        if self.folded:
            initials = "".join(w[0] for w in entry.title.split()[:2]).upper()
            painter.setFont(theme.font(14, 600))
            painter.setPen(theme.qcolor("ink"))
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, initials)
            painter.restore()
            return
        painter.setFont(theme.font(13, 600 if selected else 500))
        painter.setPen(theme.qcolor("ink"))
        metrics = painter.fontMetrics()
        title = metrics.elidedText(entry.title, Qt.TextElideMode.ElideRight, rect.width() - 24)
        lower = -20 if entry.note else -5
        painter.drawText(rect.adjusted(16, 5, -8, lower), Qt.AlignmentFlag.AlignVCenter, title)
        painter.setFont(theme.font(11, 400))
        painter.setPen(theme.qcolor("soft"))
        note = painter.fontMetrics().elidedText(entry.note, Qt.TextElideMode.ElideRight, rect.width() - 24)
        painter.drawText(rect.adjusted(16, 20, -8, -5), Qt.AlignmentFlag.AlignVCenter, note)
        painter.restore()


class Rail(QListView):
    """Emits `job_chosen` with the id of the machine, `page_chosen` with the name of a page of the shop."""

    job_chosen = Signal(str)
    page_chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._model = RailModel()
        self._delegate = _RailDelegate()
        self.setModel(self._model)
        self.setItemDelegate(self._delegate)
        self.setMouseTracking(True)
        self.setLayoutMode(QListView.LayoutMode.Batched)  # thousands of machines are laid out bit by bit
        self.setBatchSize(400)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Machines")
        self.set_folded(False)
        self.selectionModel().currentChanged.connect(self._changed)

    def set_folded(self, folded: bool) -> None:
        self._delegate.folded = folded
        self.setFixedWidth(SPACE.rail_folded if folded else SPACE.rail)
        self.scheduleDelayedItemsLayout()

    def set_entries(self, entries: tuple[RailEntry, ...], current: str, page: str = "") -> None:
        blocked = self.selectionModel().blockSignals(True)
        self._model.set_entries(entries)
        row = self._model.row_of_page(page) if page else self._model.row_of(current)
        if row >= 0:
            self.setCurrentIndex(self._model.index(row, 0))
        self.selectionModel().blockSignals(blocked)
        self.viewport().update()

    def _changed(self, index: QModelIndex, _: QModelIndex) -> None:
        entry = index.data(Qt.ItemDataRole.UserRole)
        if isinstance(entry, RailEntry) and entry.job_id:
            self.job_chosen.emit(entry.job_id)
        elif isinstance(entry, RailEntry) and entry.page:
            self.page_chosen.emit(entry.page)
