"""Two benches gave one field two values: both stand here, and a person chooses."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.shared.field_words import field_words, value_words
from brachium.app.shared.open_clashes import OpenClash
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.store.edits import JobEdit
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label, paragraph


class ClashSheet(QDialog):
    """One row a field; the sheet closes with the last choice. What is closed without a choice is asked again."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Two values for one field"))
        self.setMinimumSize(560, 240)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(8)
        layout.addWidget(label("Changed at two benches", "title"))
        layout.addWidget(paragraph("The other bench's value stands in the shop until you choose.", "soft"))
        self._rows = QVBoxLayout()
        self._rows.setContentsMargins(0, 8, 12, 0)
        self._rows.setSpacing(18)
        inner = QWidget()
        inner.setLayout(self._rows)
        area = QScrollArea()
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setWidget(inner)
        for plain in (inner, area.viewport()):
            plain.setAutoFillBackground(False)
        layout.addWidget(area, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Decide later", self.close, "quiet"))
        layout.addLayout(row)
        for clash in session.workspace.clashes.open:
            self._rows.addWidget(self._row(clash))
        self._rows.addStretch(1)

    def _row(self, clash: OpenClash) -> QWidget:
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label(self._title(clash), "section"))
        for words, value, mine in (
            (phrase("{bench}, in the shop now", bench=clash.who or "another bench"), clash.clash.theirs, False),
            ("typed here", clash.clash.mine, True),
        ):
            line = QHBoxLayout()
            line.setSpacing(10)
            texts = QVBoxLayout()
            texts.setSpacing(0)
            texts.addWidget(paragraph(value_words(value), ""))
            texts.addWidget(label(words, "soft"))
            line.addLayout(texts, 1)
            title = "Take this one" if mine else "Leave it so"
            choose = partial(self._choose, whole, clash, mine)
            line.addWidget(button(title, choose))
            column.addLayout(line)
        return whole

    def _title(self, clash: OpenClash) -> str:
        workspace, edit = self._session.workspace, clash.edit
        if isinstance(edit, JobEdit) and edit.job_id in workspace.job_ids():
            name = workspace.card(edit.job_id).name
            return phrase("{machine}: {field}", machine=name, field=field_words(clash.clash.path))
        return field_words(clash.clash.path)

    def _choose(self, row: QWidget, clash: OpenClash, mine: bool) -> None:
        try:
            self._session.workspace.choose(clash, mine)
        except Problem as problem:
            self._session.report(problem)
            return
        row.hide()
        if not self._session.workspace.clashes.open:
            self.close()
