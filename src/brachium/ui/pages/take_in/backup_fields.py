"""Of a backup: where it lies, how large, how it was verified; and whether the owner agreed that files are looked at."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtWidgets import QGridLayout, QWidget

from brachium.core.record.job import DataState, Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField


class BackupFields(QWidget):
    """Shown once the data is backed up; written as its fields are left."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(2)
        self.where = LineField("Backup lies on", self._setter("where"), "which disk")
        self.amount = LineField("Size", self._setter("size"), "GB")
        self.verified = LineField("Verified by", self._setter("verified"), "how it was read back")
        self.consent = ChoiceField("Looking at files", (("no", "not agreed"), ("yes", "agreed")), self._set_consent)
        for k, widget in enumerate((self.where, self.amount, self.verified, self.consent)):
            grid.addWidget(widget, k // 2, k % 2)
        grid.setColumnStretch(0, 3)
        grid.setColumnStretch(1, 2)

    def show_job(self, job: Job) -> None:
        safe = job.data_safe
        self.setVisible(safe.state is DataState.BACKED_UP)
        for field, value in ((self.where, safe.where), (self.amount, safe.size), (self.verified, safe.verified)):
            field.show_value(value)
        self.consent.show_value("yes" if safe.consent else "no")

    def _setter(self, key: str) -> Callable[[str], str | None]:
        def write(text: str) -> str | None:
            self._edit(**{key: text})
            return None

        return write

    def _set_consent(self, key: str) -> None:
        self._edit(consent=key == "yes")

    def _edit(self, **changes: object) -> None:
        job = self._session.job()
        if job is not None:
            safe = replace(job.data_safe, **changes)  # type: ignore[arg-type]
            self._session.edit("backup noted", replace(job, data_safe=safe))
