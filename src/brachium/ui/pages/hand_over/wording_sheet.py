"""The sentences of a report in words of one's own: figures stay, faults and limits stay said."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.reports.report_speech import speech_of
from brachium.app.reports.rewording import Sentence, problem_of, sentences
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.record.own_wording import LEFT_OUT
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, clear, label, paragraph

WHO = {"owner": "the owner's page", "report": "the technician's report", "buyer": "the buyer's sheet"}


class WordingSheet(QDialog):
    """Edits hold at once and are undone like every other. Escape closes."""

    def __init__(self, parent: QWidget, session: Session, reader: str) -> None:
        super().__init__(parent)
        self._session, self._reader = session, reader
        self.setWindowTitle(say("Edit wording"))
        self.resize(760, 560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label(phrase("The words of {who}", who=WHO[reader]), "title"))
        hint = "Write over a sentence; empty it to have the program's words back."
        layout.addWidget(paragraph(hint, "soft"))
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        self._rows = QVBoxLayout(inner)
        self._rows.setContentsMargins(0, 0, 12, 0)
        self._rows.setSpacing(4)
        area.setWidget(inner)
        for plain in (inner, area.viewport()):
            plain.setAutoFillBackground(False)
        layout.addWidget(area, 1)
        foot = QHBoxLayout()
        self.reset = button("All in the program's words", self.reset_all, "quiet")
        foot.addWidget(self.reset)
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(foot)
        self.fields: dict[str, LineField] = {}
        self._shown: tuple[Sentence, ...] = ()
        session.view_arrived.connect(lambda *_: self._show())
        self._show()

    def _show(self) -> None:
        job, view = self._session.job(), self._session.view()
        if job is None or view is None:
            return
        found = sentences(view, self._reader, speech_of(self._session.workspace, job))
        if found != self._shown:
            self._build(found)
        for text, field in self.fields.items():
            new = job.wording.get(text, text)
            field.show_value("" if new == LEFT_OUT else new)
            field.edit.setPlaceholderText(say("left out" if new == LEFT_OUT else text))
        self.reset.setEnabled(any(s.text in job.wording for s in found))

    def _build(self, found: tuple[Sentence, ...]) -> None:
        """A field for each sentence, under the heading it stands below."""
        clear(self._rows)
        self.fields, self._shown = {}, found
        section = ""
        for sentence in found:
            if sentence.section != section:
                section = sentence.section
                self._rows.addSpacing(8)
                self._rows.addWidget(label(section, "section"))
            untold = "" if sentence.spoken else "no wording in this language yet"
            field = LineField(untold, partial(self._word, sentence))
            field.edit.setAccessibleName(say(phrase("{section}: {sentence}", section=section, sentence=sentence.text)))
            field.caption.setVisible(not sentence.spoken)
            self.fields[sentence.text] = field
            row = QHBoxLayout()
            row.addWidget(field, 1)
            if not sentence.must_stay:
                row.addWidget(button("Leave out", partial(self._word, sentence, LEFT_OUT), "quiet"))
            self._rows.addLayout(row)
        self._rows.addStretch(1)

    def _word(self, sentence: Sentence, new: str) -> str | None:
        """Keep a wording; empty and the program's own words take it back."""
        job = self._session.job()
        problem = problem_of(sentence, new) if new else ""
        if job is None or problem:
            return problem or None
        wording = {k: v for k, v in job.wording.items() if k != sentence.text}
        if new and new != sentence.text:
            wording[sentence.text] = new
        self._session.edit("worded otherwise", replace(job, wording=wording))
        self._show()
        return None

    def reset_all(self) -> None:
        """Every sentence of this reader in the program's words again."""
        job = self._session.job()
        if job is not None:
            wording = {k: v for k, v in job.wording.items() if k not in self.fields}
            self._session.edit("in the program's words again", replace(job, wording=wording))
            self._show()
