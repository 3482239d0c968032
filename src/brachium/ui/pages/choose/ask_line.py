"""A line that asks whether a part fits: read and judged while it is typed, off the window's thread."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from brachium.app.view.fit_answer import AskedOffers, offers_of_part
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.label.quick_line import read_quick_line
from brachium.ui.session import Session
from brachium.ui.widgets.labels import label
from brachium.ui.widgets.tool_tips import tip_text

WARMING = "1gb ddr3 sodimm; 1gb sata ssd; 1 W adapter; gpu 1gb; 1c1t"
EXAMPLE = "Does it fit? 8gb ddr3 1600 sodimm"
WAIT_MS = 25  # from the last keystroke on: a first verdict is there within a tenth of a second


class _Line(QLineEdit):
    left = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape leaves the question."""
        if event.key() == Qt.Key.Key_Escape and self.text():
            self.clear()
            self.left.emit()
            return
        super().keyPressEvent(event)


class AskLine(QWidget):
    """`answered` follows each reading; the last one is `answer`, None while nothing is asked."""

    answered = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._asked, self._job = 0, ""
        self.answer: AskedOffers | None = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        self.edit = _Line()
        self.edit.setPlaceholderText(say(EXAMPLE))
        self.edit.setAccessibleName(say("Does it fit?"))
        self.edit.setObjectName("ask_line")
        self.edit.setClearButtonEnabled(True)
        self.edit.setToolTip(tip_text("Judged beside the plan, in every slot. Esc leaves."))
        layout.addWidget(self.edit)
        self.note = label("", "soft", True)
        layout.addWidget(self.note)
        self.note.hide()
        self._wait = QTimer(self, interval=WAIT_MS, singleShot=True)
        self._wait.timeout.connect(self.read)
        self.edit.textChanged.connect(lambda _: self._wait.start())
        self.edit.left.connect(self.read)

    def show_job(self, job_id: str) -> None:
        """Another machine is another question; the same one after an edit is asked again."""
        if not self._job:  # the first reading of all takes longest: it is done before anybody types
            lanes = self._session.workspace.lanes
            lanes.submit("watch", lambda: read_quick_line(WARMING), lambda _: None, self._session.report)
        if job_id != self._job:
            self._job = job_id
            self.edit.clear()
            self._take(None)
        elif self.edit.text().strip():
            self._wait.start()

    def read(self) -> None:
        """Read what stands there; an answer to an older text is dropped."""
        view, text = self._session.view(), self.edit.text().strip()
        self._asked += 1
        if view is None or not text:
            self._take(None)
            return
        asked = self._asked
        self._session.workspace.lanes.submit(
            "watch", lambda: offers_of_part(view, text), lambda found: self._arrived(asked, found), self._session.report
        )

    def _arrived(self, asked: int, found: AskedOffers) -> None:
        if asked == self._asked:
            self._take(found)

    def _take(self, found: AskedOffers | None) -> None:
        before, self.answer = self.answer, found
        words = "" if found is None else found.lacks or joined("; ", found.asked.as_place)
        self.note.setText(say(phrase("{words}.", words=upper_first(words)) if words else ""))
        self.note.setVisible(bool(words))
        if before is not None or found is not None:
            self.answered.emit()
