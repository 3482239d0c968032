"""Last chance before the first screw: every item that is lost afterwards, each with its word."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.record.job import Job
from brachium.core.work.last_chance import Chance, LastMark
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.tool_tips import tip_text

WORDS = ((LastMark.DONE, "Done"), (LastMark.WAIVED, "Waive"), (LastMark.NOT_APPLICABLE, "Not here"))


class LastChancePanel(QWidget):
    """Shown while something is open; what the record shows by itself needs no word."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 6)
        layout.setSpacing(2)
        layout.addWidget(label("Before you open it: never again", "section"))
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(10)
        self._grid.setVerticalSpacing(2)
        self._grid.setColumnStretch(0, 1)
        layout.addLayout(self._grid)
        self._shown: object = None

    def show_chances(self, job: Job, found: Sequence[Chance]) -> None:
        state = (job.id, tuple((c.item.id, c.state) for c in found))
        if state == self._shown:
            return
        self._shown = state
        clear(self._grid)
        said = [c for c in found if c.state and not dict(self._marks()).get(c.item.id)]
        rest = [c for c in found if c not in said]
        if said:
            words = joined(", ", (lower_first(c.title) for c in said))
            self._grid.addWidget(label(phrase("Done: {words}.", words=words), "soft", True), 0, 0, 1, 5)
        for row, chance in enumerate(rest, 1):
            self._row(row, chance)

    def _row(self, row: int, chance: Chance) -> None:
        words = label(chance.title, "" if not chance.state else "soft")
        words.setToolTip(tip_text(chance.item.why))
        self._grid.addWidget(words, row, 0)
        if chance.state:
            self._grid.addWidget(label(chance.state, "cool" if chance.state == LastMark.DONE else "soft"), row, 1, 1, 3)
            if dict(self._marks()).get(chance.item.id):
                self._grid.addWidget(button("×", lambda: self._put(chance.item.id, ""), "quiet", "Ask again"), row, 4)
            return
        for column, (mark, title) in enumerate(WORDS, 1):
            say = button(title, partial(self._put, chance.item.id, mark.value), "", chance.item.why)
            self._grid.addWidget(say, row, column)

    def _marks(self) -> tuple[tuple[str, str], ...]:
        job = self._session.job()
        return job.last_chance if job is not None else ()

    def _put(self, item_id: str, state: str) -> None:
        job = self._session.job()
        if job is None:
            return
        rest = tuple(m for m in job.last_chance if m[0] != item_id)
        marks = (*rest, (item_id, state)) if state else rest
        self._session.edit("before you open it", replace(job, last_chance=marks))
