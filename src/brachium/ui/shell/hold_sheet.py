"""Asks in one line what a machine waits for."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.record.job import KEPT, WAITS_OWNER, WAITS_PARTS, Hold
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label

HINTS = {
    WAITS_PARTS: "two modules, ordered on Monday",
    WAITS_OWNER: "asked whether the data may go",
    KEPT: "what is left in it",
}


class HoldSheet(QDialog):
    """A sheet over the window; Return keeps what was typed, Escape leaves the record as it was."""

    def __init__(self, parent: QWidget, session: Session, on: str) -> None:
        super().__init__(parent)
        self._session, self._on = session, on
        job = session.job()
        self.setWindowTitle(say(on))
        self.setMinimumWidth(420)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(8)
        layout.addWidget(label(phrase("{job}: {on}", job=job.name if job else "Machine", on=on.lower()), "title"))
        layout.addWidget(label("What exactly? It shows in the rail; may stay empty.", "soft", True))
        self.note = QLineEdit(job.hold.note if job is not None and job.hold is not None else "")
        self.note.setAccessibleName(say("What exactly"))
        self.note.setPlaceholderText(say(HINTS[on]))
        self.note.setMaxLength(120)
        layout.addWidget(self.note)
        row = QHBoxLayout()
        self.keep = button("Keep it so", self._keep, "primary")
        self.keep.setDefault(True)
        row.addWidget(self.keep)
        row.addWidget(button("Give up", self.close, "quiet"))
        row.addStretch(1)
        layout.addLayout(row)
        self.note.setFocus()

    def _keep(self) -> None:
        job = self._session.job()
        if job is not None:
            hold = Hold(self._on, self.note.text().strip(), now_text())
            self._session.edit(self._on.lower(), replace(job, hold=hold))
        self.close()
