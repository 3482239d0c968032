"""Conditions of the next run: each changes by its letter or a press; what is not stated is taken as read."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from brachium.core.measure.typed_conditions import (
    AS_READ,
    FIELDS,
    REMARK,
    REMARK_LENGTH,
    WRITTEN,
    TypedCondition,
    WrittenCondition,
    next_choice,
)
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text


class ConditionsSheet(QDialog):
    """Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Conditions")
        self.setMinimumWidth(680)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(6)
        layout.addWidget(label("Conditions of the next run", "title"))
        layout.addWidget(label("Press the letter, or the value. They are remembered with the machine.", "soft", True))
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(4)
        self.values: dict[str, QPushButton] = {}
        half = (len(FIELDS) + 1) // 2
        for index, field in enumerate(FIELDS):
            row, column = index % half, 4 * (index // half)
            grid.addWidget(label(field.letter, "section"), row, column)
            grid.addWidget(label(field.title, "field"), row, column + 1)
            value = button("", lambda f=field: self.change(f), "outcome")  # type: ignore[misc]
            self.values[field.key] = value
            grid.addWidget(value, row, column + 2)
        for column in (2, 6):
            grid.setColumnStretch(column, 1)
        grid.setColumnMinimumWidth(3, 16)
        layout.addLayout(grid)
        layout.addSpacing(6)
        layout.addLayout(self._written())
        self.remark = QLineEdit()
        self.remark.setMaxLength(REMARK_LENGTH)
        self.remark.setPlaceholderText("Anything else that could differ later, in a few words")
        self.remark.setAccessibleName("Other condition, in words")
        self.remark.editingFinished.connect(self._say)
        layout.addWidget(self.remark)
        row_ = QHBoxLayout()
        row_.addStretch(1)
        row_.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row_)
        self._show()

    def _written(self) -> QGridLayout:
        """Conditions that are written: a number with its unit, or words."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        self.written: dict[str, QLineEdit] = {}
        for index, field in enumerate(WRITTEN):
            row, column = index % 2, 2 * (index // 2)
            unit = f", {field.unit}" if field.unit else ""
            grid.addWidget(label(f"{field.title}{unit}", "field"), row, column)
            edit = QLineEdit()
            edit.setMaxLength(REMARK_LENGTH)
            edit.setPlaceholderText(AS_READ)
            edit.setAccessibleName(f"{field.title}{unit}")
            if field.unit:
                edit.setToolTip(tip_text(f"{field.low:g} to {field.high:g} {field.unit}; empty: as read"))
            edit.editingFinished.connect(lambda f=field: self._write(f))
            self.written[field.key] = edit
            grid.addWidget(edit, row, column + 1)
        self.problem = label("", "warm", True)
        self.problem.hide()
        grid.addWidget(self.problem, 2, 0, 1, 4)
        return grid

    def _write(self, field: WrittenCondition) -> None:
        """Keep a written condition; a value that cannot be stays in its field and says so."""
        job, said = self._session.job(), self.written[field.key].text().strip()
        wrong = field.problem(said)
        self.problem.setText(f"{wrong}." if wrong else "")
        self.problem.setVisible(bool(wrong))
        if job is None or wrong or said == job.setup.typed.get(field.key, ""):
            return
        typed = {k: v for k, v in job.setup.typed.items() if k != field.key} | ({field.key: said} if said else {})
        self._session.edit(field.title.lower(), replace(job, setup=replace(job.setup, typed=typed)))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        field = next((f for f in FIELDS if event.text().upper() == f.letter), None)
        if field is None:
            super().keyPressEvent(event)
        else:
            self.change(field)

    def done(self, result: int) -> None:
        """Words still being typed count."""
        self._say()
        for field in WRITTEN:
            self._write(field)
        super().done(result)

    def change(self, field: TypedCondition) -> None:
        """The next value of a condition."""
        job = self._session.job()
        if job is None:
            return
        typed = dict(job.setup.typed)
        value = next_choice(field, typed.pop(field.key, AS_READ))
        if value != AS_READ:
            typed[field.key] = value
        self._session.edit(f"{field.title.lower()}: {value}", replace(job, setup=replace(job.setup, typed=typed)))
        self._show()

    def _say(self) -> None:
        job = self._session.job()
        said = self.remark.text().strip()
        if job is None or said == job.setup.typed.get(REMARK, ""):
            return
        typed = {k: v for k, v in job.setup.typed.items() if k != REMARK} | ({REMARK: said} if said else {})
        self._session.edit("condition in words", replace(job, setup=replace(job.setup, typed=typed)))

    def _show(self) -> None:
        job = self._session.job()
        typed = job.setup.typed if job is not None else {}
        self.remark.setText(typed.get(REMARK, ""))
        for written in WRITTEN:
            self.written[written.key].setText(typed.get(written.key, ""))
        for field in FIELDS:
            value = typed.get(field.key, AS_READ)
            self.values[field.key].setText(value)
            self.values[field.key].setAccessibleName(f"{field.title}: {value}")
