"""Who did what to a record, the latest first."""

from __future__ import annotations

import csv
import io
from datetime import datetime

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QDialog, QHBoxLayout, QHeaderView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase, upper_first
from brachium.formats.cells import guarded
from brachium.store.stored import EditDone
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label

HEADINGS = ("When", "Bench", "What")


class LogSheet(QDialog):
    """Reads in a lane, so that a slow server holds nothing up."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        job = session.job()
        self._edits: tuple[EditDone, ...] = ()
        self.setWindowTitle(say("Who changed this record"))
        self.resize(620, 460)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(8)
        layout.addWidget(label(phrase("Changes to {job}", job=job.name if job else ""), "title"))
        self.words = label("Reading…", "soft")
        layout.addWidget(self.words)
        self.table = QTableWidget(0, len(HEADINGS))
        self.table.setHorizontalHeaderLabels([say(h) for h in HEADINGS])
        self.table.setAccessibleName(say("Changes"))
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.verticalHeader().hide()
        self.table.setShowGrid(False)
        self.table.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        layout.addWidget(self.table, 1)
        row = QHBoxLayout()
        row.addWidget(button("Copy as CSV", self._copy))
        row.addStretch(1)
        row.addWidget(button("Close", self.close, "quiet"))
        layout.addLayout(row)
        repository, job_id = session.workspace.repository, session.job_id
        session.workspace.lanes.submit("news", lambda: repository.edits(job_id), self._arrived, self._failed)

    def _arrived(self, edits: tuple[EditDone, ...]) -> None:
        self._edits = edits
        self.words.setVisible(not edits)
        self.words.setText(say("Nothing was changed yet."))
        self.table.setRowCount(len(edits))
        for number, edit in enumerate(edits):
            for column, text in enumerate((when_words(edit.at), edit.who, upper_first(edit.label))):
                self.table.setItem(number, column, QTableWidgetItem(say(text)))
        self.table.resizeColumnsToContents()
        self.table.horizontalHeader().setSectionResizeMode(len(HEADINGS) - 1, QHeaderView.ResizeMode.Stretch)

    def _failed(self, error: Exception) -> None:
        if not isinstance(error, Problem):
            raise error
        self.words.setText(say(error.text))

    def _copy(self) -> None:
        text = io.StringIO()
        rows = csv.writer(text, lineterminator="\n")
        rows.writerow([say(h) for h in HEADINGS])
        rows.writerows(guarded(when_words(e.at), e.who, say(e.label)) for e in self._edits)
        QGuiApplication.clipboard().setText(text.getvalue())


def when_words(at: str) -> str:
    """A moment of UTC by this computer's clock."""
    try:
        return datetime.fromisoformat(at.replace("Z", "+00:00")).astimezone().strftime("%Y-%m-%d %H:%M")
    except ValueError:
        return at
