"""What the owner complains of, asked where the machine is taken in: it leads the search for the cause."""

from __future__ import annotations

from brachium.app.intake.practice import is_practice
from brachium.app.shop.workspace import now_text
from brachium.app.view.cause_record import complaint_of, with_complaint
from brachium.core.cause.first_checks import COMPLAINTS
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField

NOT_ASKED = "not asked"


class ComplaintField(ChoiceField):
    """The first question of Find cause; the same answer stands there."""

    def __init__(self, session: Session) -> None:
        choices = [("", NOT_ASKED), *((words, words.capitalize()) for words in COMPLAINTS)]
        super().__init__("Complaint", choices, self._set_words)
        self._session = session

    def show_job(self, job: Job) -> None:
        self.show_value(complaint_of(job))
        self.setEnabled(not is_practice(job))  # there the simulated owner is asked, on Find cause

    def _set_words(self, words: str) -> None:
        job = self._session.job()
        if job is not None and words != complaint_of(job):
            self._session.edit("complaint noted", with_complaint(job, words, now_text()))
