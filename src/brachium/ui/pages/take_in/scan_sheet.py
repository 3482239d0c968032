"""Everything that was read from a machine, with raw values and sources; searched, copied as CSV."""

from __future__ import annotations

import csv
import io

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from brachium.core.base.spoken import say
from brachium.core.base.text import upper_first
from brachium.core.machine.scanned.scan import Scan
from brachium.core.machine.scanned.scan_rows import HEADINGS, Row, scan_rows
from brachium.formats.cells import guarded
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text


class ScanSheet(QDialog):
    """A sheet over the window."""

    def __init__(self, parent: QWidget, scan: Scan) -> None:
        super().__init__(parent)
        self._rows = scan_rows(scan)
        self.setWindowTitle(say("Everything that was read"))
        self.resize(min(parent.width() - 80, 980), min(parent.height() - 80, 640))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Everything that was read", "title"))
        self.search = QLineEdit()
        self.search.setPlaceholderText(say("Search"))
        self.search.setAccessibleName(say("Search"))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _: self._show())
        layout.addWidget(self.search)
        self.table = QTableWidget(0, len(HEADINGS))
        self.table.setHorizontalHeaderLabels([say(upper_first(h)) for h in HEADINGS])
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setShowGrid(False)
        self.table.setWordWrap(False)
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(28)
        header = self.table.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setHighlightSections(False)
        for column in range(len(HEADINGS)):
            wide = column in (1, 2)
            fitted = QHeaderView.ResizeMode.ResizeToContents
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch if wide else fitted)
        layout.addWidget(self.table, 1)
        row = QHBoxLayout()
        self.copy = button("Copy as CSV", self._copy, "", "What is shown, with its headings")
        row.addWidget(self.copy)
        row.addStretch(1)
        row.addWidget(button("Close", self.close, "quiet"))
        layout.addLayout(row)
        self._show()
        self.search.setFocus()

    def _shown(self) -> list[Row]:
        words = self.search.text().lower().split()
        return [r for r in self._rows if all(w in " ".join(r).lower() for w in words)]

    def _show(self) -> None:
        rows = self._shown()
        self.table.setRowCount(len(rows))
        for k, texts in enumerate(rows):
            for column, text in enumerate(texts):
                item = QTableWidgetItem(say(text))
                item.setToolTip(tip_text(text))
                self.table.setItem(k, column, item)

    def _copy(self) -> None:
        out = io.StringIO()
        csv.writer(out, lineterminator="\n").writerows([HEADINGS, *(guarded(*row) for row in self._shown())])
        QApplication.clipboard().setText(say(out.getvalue()))
