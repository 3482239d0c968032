"""Takes in a batch of identical machines: one serial number a line."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from brachium.app.intake.copies import take_in_batch
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import many, phrase
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label


class BatchSheet(QDialog):
    """A sheet over the window; nothing is taken in while a line is wrong."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        job = session.job()
        self.setWindowTitle(say("Take in a batch"))
        self.setMinimumSize(420, 360)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(8)
        layout.addWidget(label(phrase("Machines like {job}", job=job.name if job else "this one"), "title"))
        words = "One serial number or asset tag a line. Runs, condition and data are not copied."
        layout.addWidget(label(words, "soft", True))
        self.lines = QPlainTextEdit()
        self.lines.setAccessibleName(say("Serial numbers, one per line"))
        self.lines.setPlaceholderText(say("OM-T14-20418\nOM-T14-20419"))
        self.lines.setTabChangesFocus(True)
        layout.addWidget(self.lines, 1)
        self.problem = label("", "alarm", True)
        self.problem.hide()
        layout.addWidget(self.problem)
        row = QHBoxLayout()
        self.take = button("Take them in", self._take, "primary")
        row.addWidget(self.take)
        row.addWidget(button("Give up", self.close, "quiet"))
        row.addStretch(1)
        layout.addLayout(row)
        self.lines.setFocus()

    def _take(self) -> None:
        try:
            made = take_in_batch(self._session.workspace, self._session.job_id, self.lines.toPlainText().splitlines())
        except Problem as problem:
            self.problem.setText(say(problem.text))
            self.problem.show()
            return
        if made:
            self._session.say(phrase("{machines} taken in.", machines=many(len(made), "machine")))
            self._session.select_job(made[0])
        self.close()
