"""Conditions of the next run, of figures on paper or of a log: each changes by its letter or a press."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, phrase
from brachium.core.measure.typed_conditions import (
    AS_READ,
    FIELDS,
    REMARK,
    REMARK_LENGTH,
    ROOM,
    WRITTEN,
    TypedCondition,
    WrittenCondition,
    next_choice,
)
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text

NOT_STATED = "not stated"


@dataclass(frozen=True)
class Stated:
    """What is stated of one thing: `of` in words, where it is read and kept (with words for the undo), `kept` in words.

    `unstated` is what stands where nothing is; `fields` are the written ones.
    """

    of: str
    kept: str
    read: Callable[[], Mapping[str, str]]
    write: Callable[[Mapping[str, str], str], None]
    unstated: str = NOT_STATED
    fields: tuple[WrittenCondition, ...] = WRITTEN


def of_next_run(session: Session) -> Stated:
    """Conditions that the machine in view remembers for every run."""

    def write(job: Job, typed: Mapping[str, str]) -> Job:
        return replace(job, setup=replace(job.setup, typed=typed))

    about = "They are remembered with the machine."
    return _of_job(session, "the next run", about, lambda job: job.setup.typed, write, AS_READ, WRITTEN)


def of_typed_results(session: Session, key: str, name: str) -> Stated:
    """Conditions of one configuration of the machine in view whose results were typed."""

    def write(job: Job, typed: Mapping[str, str]) -> Job:
        return replace(job, own_conditions={**job.own_conditions, key: typed})

    of, kept = phrase("the typed results of {name}", name=name), "They stand beside the typed results."
    return _of_job(session, of, kept, lambda job: job.own_conditions.get(key, {}), write, NOT_STATED, (ROOM, *WRITTEN))


def _of_job(
    session: Session, of: str, kept: str, read: Callable[[Job], Mapping[str, str]],
    write: Callable[[Job, Mapping[str, str]], Job], unstated: str, fields: tuple[WrittenCondition, ...],
) -> Stated:  # fmt: skip
    """They belong to the machine that was in view when they were asked for, whatever is in view now."""
    job_id, workspace = session.job_id, session.workspace

    def stated() -> Mapping[str, str]:
        return read(workspace.job(job_id)) if job_id in workspace.job_ids() else {}

    def keep(typed: Mapping[str, str], words: str) -> None:
        if job_id in workspace.job_ids():
            session.edit(words, write(workspace.job(job_id), typed))

    return Stated(of, kept, stated, keep, unstated, fields)


class ConditionsSheet(QDialog):
    """Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, stated: Stated) -> None:
        super().__init__(parent)
        self._stated = stated
        self.setWindowTitle(say("Conditions"))
        self.setMinimumWidth(680)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(6)
        layout.addWidget(label(phrase("Conditions of {of}", of=stated.of), "title"))
        layout.addWidget(label(phrase("Press the letter, or the value. {kept}", kept=stated.kept), "soft", True))
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
        self.remark.setPlaceholderText(say("Anything else that could differ later"))
        self.remark.setAccessibleName(say("Other condition, in words"))
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
        fields = self._stated.fields
        half = (len(fields) + 1) // 2
        for index, field in enumerate(fields):
            row, column = index % half, 2 * (index // half)
            unit = phrase(", {field}", field=field.unit) if field.unit else ""
            grid.addWidget(label(phrase("{field}{unit}", field=field.title, unit=unit), "field"), row, column)
            edit = QLineEdit()
            edit.setMaxLength(REMARK_LENGTH)
            edit.setPlaceholderText(say(self._stated.unstated))
            edit.setAccessibleName(say(phrase("{field}{unit}", field=field.title, unit=unit)))
            if field.unit:
                edit.setToolTip(
                    tip_text(
                        phrase(
                            "{low:g} to {high:g} {field}; empty: {unstated}",
                            low=field.low,
                            high=field.high,
                            field=field.unit,
                            unstated=self._stated.unstated,
                        )
                    )
                )
            edit.editingFinished.connect(lambda f=field: self._write(f))
            self.written[field.key] = edit
            grid.addWidget(edit, row, column + 1)
        self.problem = label("", "warm", True)
        self.problem.hide()
        grid.addWidget(self.problem, half, 0, 1, 4)
        return grid

    def _state(self, key: str, value: str, words: str) -> None:
        """State one condition, or take it back where the value is empty; nothing where it stands already."""
        typed = dict(self._stated.read())
        if value != typed.pop(key, ""):
            self._stated.write(typed | ({key: value} if value else {}), words)

    def _write(self, field: WrittenCondition) -> None:
        """Keep a written condition; a value that cannot be stays in its field and says so."""
        said = self.written[field.key].text().strip()
        wrong = field.problem(said)
        self.problem.setText(say(phrase("{wrong}.", wrong=wrong) if wrong else ""))
        self.problem.setVisible(bool(wrong))
        if not wrong:
            self._state(field.key, said, lower_first(field.title))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        field = next((f for f in FIELDS if event.text().upper() == f.letter), None)
        if field is None:
            super().keyPressEvent(event)
        else:
            self.change(field)

    def done(self, result: int) -> None:
        """Words still being typed count."""
        self._say()
        for field in self._stated.fields:
            self._write(field)
        super().done(result)

    def change(self, field: TypedCondition) -> None:
        """The next value of a condition."""
        value = next_choice(field, self._stated.read().get(field.key, AS_READ))
        self._state(
            field.key,
            "" if value == AS_READ else value,
            phrase("{field}: {value}", field=lower_first(field.title), value=value),
        )
        self._show()

    def _say(self) -> None:
        self._state(REMARK, self.remark.text().strip(), "condition in words")

    def _show(self) -> None:
        typed = self._stated.read()
        self.remark.setText(typed.get(REMARK, ""))
        for written in self._stated.fields:
            self.written[written.key].setText(typed.get(written.key, ""))
        for field in FIELDS:
            value = typed.get(field.key, self._stated.unstated)
            self.values[field.key].setText(value)
            self.values[field.key].setAccessibleName(say(phrase("{field}: {value}", field=field.title, value=value)))
