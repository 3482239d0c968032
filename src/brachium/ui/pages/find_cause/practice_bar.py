"""The bar of a practice machine: minutes paid, naming the cause, and how it went."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.intake.practice import Marked, is_practice, mark_practice
from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, lower_first, many, phrase
from brachium.core.base.units import minutes
from brachium.core.cause.checks import BY_ID
from brachium.core.cause.kinds import KINDS
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import PlainChoice
from brachium.ui.widgets.labels import button, label, paragraph

FIRST = ("", "Name the cause…")


class PracticeBar(QWidget):
    """Hidden on every other machine."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 6, 0, 0)
        body.setSpacing(4)
        row = QHBoxLayout()
        self.paid = label("", "title")
        choices = [FIRST, ("well", "Nothing is wrong with it"), *((k.id, k.title) for k in KINDS)]
        self.name = PlainChoice(choices, self.name_cause, "Name the cause", narrow=True)
        self.again = button("Start over", self._again, "quiet", "Forget the checks and the name")
        row.addWidget(self.paid)
        row.addSpacing(12)
        row.addWidget(self.name)
        row.addWidget(self.again)
        others = [("", "Another machine…"), ("hidden", "with a hidden cause"), ("well", "with nothing wrong"),
                  *((k.id, phrase("set up: {title}", title=lower_first(k.title))) for k in KINDS)]  # fmt: skip
        self.another = PlainChoice(others, self._another, "Another practice machine", narrow=True)
        row.addWidget(self.another)
        row.addStretch(1)
        body.addLayout(row)
        self.verdict = paragraph("", "")
        body.addWidget(self.verdict)
        self.hide()

    def show_job(self, job: Job, view: JobView | None) -> None:
        practice = is_practice(job)
        self.setVisible(practice)
        if not practice:
            return
        cost = sum(c.minutes for c in job.checks)
        self.paid.setText(
            say(phrase("Practice: {checks}, {cost} paid", checks=many(len(job.checks), "check"), cost=minutes(cost)))
        )
        named = bool(job.named_cause)
        self.name.setVisible(not named)
        self.name.setCurrentIndex(0)
        self.again.setVisible(named)
        self.verdict.setVisible(named and view is not None)
        if named and view is not None:
            self.verdict.setText(say(verdict_words(mark_practice(job, view.measured.before, view.causes.figures))))

    def name_cause(self, cause_id: str) -> None:
        """Name the cause, or "well"; the truth is shown then."""
        job = self._session.job()
        if job is not None and cause_id:
            self._session.edit("cause named", replace(job, named_cause=cause_id))

    def _another(self, choice: str) -> None:
        self.another.setCurrentIndex(0)
        if choice:
            self._session.practice_asked.emit({"hidden": None, "well": ""}.get(choice, choice))

    def _again(self) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("practice started over", replace(job, named_cause="", checks=()))


def verdict_words(marked: Marked) -> str:
    """How it went, and the efficient path."""
    head = "Right" if marked.named_it else "Not so"
    path = (
        joined(
            ", ",
            (
                phrase("{title} ({answer})", title=lower_first(BY_ID[c.check].title), answer=c.answer)
                for c in marked.path
            ),
        )
        or "no check at all"
    )
    return phrase(
        "{head}: {truth_title}. You paid {minutes}. The efficient path, {path_minutes}: {path}.",
        head=head,
        truth_title=marked.truth_title,
        minutes=minutes(marked.minutes),
        path_minutes=minutes(marked.path_minutes),
        path=path,
    )
