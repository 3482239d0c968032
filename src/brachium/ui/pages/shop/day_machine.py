"""Dates of one machine on the day sheet: when its parts are there, when it is promised."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date

from PySide6.QtWidgets import QHBoxLayout, QWidget

from brachium.core.base.problems import Problem
from brachium.core.base.text import phrase
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import label


class DayMachine(QWidget):
    """Shown once a stretch is chosen; `changed` hears of a date that was typed."""

    def __init__(self, session: Session, changed: Callable[[], object]) -> None:
        super().__init__()
        self._session, self._changed, self._job_id = session, changed, ""
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 6, 0, 6)
        row.setSpacing(16)
        self.name = label("", "section")
        tip = "Year, month, day"
        self.parts = LineField("Parts are there on", lambda t: self._keep("parts_due", t), "2026-12-01", tip)
        self.promise = LineField("Promised for", lambda t: self._keep("needed_by", t), "2026-12-04", tip)
        row.addWidget(self.name, 2)
        row.addWidget(self.parts, 2)
        row.addWidget(self.promise, 2)
        row.addStretch(1)
        self.hide()

    def show_job(self, job_id: str) -> None:
        """The dates of a machine."""
        try:
            job = self._session.workspace.job(job_id)
        except (KeyError, Problem):
            self.hide()
            return
        self._job_id = job_id
        self.name.setText(job.name)
        self.parts.show_value(job.parts_due[:10])
        self.promise.show_value(job.needed_by[:10])
        self.show()

    def _keep(self, field: str, text: str) -> str | None:
        if text:
            try:
                text = date.fromisoformat(text).isoformat()
            except ValueError:
                return "Year, month, day, such as 2026-12-01."
        job = self._session.workspace.job(self._job_id)
        word = "arrival of parts" if field == "parts_due" else "promise"
        changes: dict[str, str] = {field: text}
        self._session.workspace.edit(phrase("{word} of {job}", word=word, job=job.name), replace(job, **changes))  # type: ignore[arg-type]
        self._changed()
        return None
