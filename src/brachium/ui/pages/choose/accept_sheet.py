"""Takes verdicts of the plan on with a written reason: not known, and limited by power. Never refused."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.fit.verdict import Verdict
from brachium.core.record.acceptance import Acceptance
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label, paragraph


class AcceptSheet(QDialog):
    """Return keeps the reason for every verdict shown, Escape leaves the plan waiting."""

    def __init__(self, parent: QWidget, session: Session, verdicts: Sequence[Verdict]) -> None:
        super().__init__(parent)
        self._session, self._verdicts = session, tuple(verdicts)
        self.setWindowTitle(say("Accept with a reason"))
        self.setMinimumWidth(480)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("The plan waits for your word", "title"))
        for verdict in self._verdicts:
            layout.addWidget(
                paragraph(
                    phrase(
                        "{rule}, {level}: {verdict}.",
                        rule=verdict.rule,
                        level=verdict.level.words,
                        verdict=verdict.sentence,
                    )
                )
            )
        layout.addWidget(paragraph("It stays in the report. What is refused stays refused.",
                                   "soft"))  # fmt: skip
        self.reason = QLineEdit()
        self.reason.setAccessibleName(say("Reason"))
        self.reason.setPlaceholderText(say("why the risk is taken"))
        self.reason.setMaxLength(200)
        layout.addWidget(self.reason)
        row = QHBoxLayout()
        self.accept_button = button("Accept", self._accept, "primary")
        self.accept_button.setDefault(True)
        self.accept_button.setEnabled(False)
        self.reason.textChanged.connect(lambda text: self.accept_button.setEnabled(bool(text.strip())))
        row.addWidget(self.accept_button)
        row.addWidget(button("Decide later", self.close, "quiet"))
        row.addStretch(1)
        layout.addLayout(row)
        self.reason.setFocus()

    def _accept(self) -> None:
        job, reason = self._session.job(), self.reason.text().strip()
        if job is None or not reason:
            return
        now = now_text()
        new = tuple(Acceptance(v.rule, v.places, v.sentence, reason, now) for v in self._verdicts)
        self._session.edit("accepted with a reason", replace(job, acceptances=(*job.acceptances, *new)))
        self.close()
