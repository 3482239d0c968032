"""What stands where a stage is not open yet: what is missing, the way there, and continuing anyway with a reason."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QWidget

from brachium.app.shop.workspace import now_text
from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, phrase, upper_first
from brachium.core.base.why import Because
from brachium.core.condition.findings import stopping
from brachium.core.figures.base.verdict_shape import latch_shape
from brachium.core.machine.locks import LockState
from brachium.core.record.job import Job, LatchLift, Stage
from brachium.core.stage.latches import LockQuestion, lock_questions
from brachium.ui.pages.base.page import Page
from brachium.ui.theme import theme
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.paint import paint_items

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView


LOCK_ANSWERS = tuple((s.name, upper_first(s.value)) for s in LockState if s is not LockState.NOT_ASKED)


class _LatchPicture(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(120)

    def sizeHint(self) -> QSize:
        return QSize(400, 120)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        paint_items(painter, latch_shape(False, False, 0, 12, 96))
        painter.fillRect(QRectF(96, 60, max(self.width() - 96, 0), 1), theme.qcolor("hair"))
        painter.end()


class ClosedLatchPage(Page):
    """Shown in place of a stage whose latch is closed."""

    def build(self) -> None:
        self._stage = Stage.MEASURE
        self.body.addSpacing(16)
        self.body.addWidget(_LatchPicture())
        row = QHBoxLayout()
        self.go = button("", self._go, "primary")
        row.addWidget(self.go)
        row.addStretch(1)
        self.body.addLayout(row)
        self._questions = QGridLayout()
        self._questions.setHorizontalSpacing(16)
        self._questions.setVerticalSpacing(8)
        self._questions.setColumnStretch(1, 1)
        self._asked: tuple[LockQuestion, ...] = ()
        self.body.addSpacing(8)
        self.body.addLayout(self._questions)
        self.body.addSpacing(20)
        self._lift_title = label("Or continue anyway, with a reason", "section")
        self._lift_words = label("It stays in log and report.", "soft")
        self.body.addWidget(self._lift_title)
        self.body.addWidget(self._lift_words)
        line = QHBoxLayout()
        self.reason = QLineEdit()
        self.reason.setPlaceholderText(say("Why it may begin"))
        self.reason.setAccessibleName(say("Reason for continuing anyway"))
        self.lift = button("Continue anyway", self._lift, "", "At least eight characters of reason")
        self.reason.textChanged.connect(lambda text: self.lift.setEnabled(len(text.strip()) >= 8))
        self.reason.returnPressed.connect(self._lift)
        self.lift.setEnabled(False)
        line.addWidget(self.reason, 1)
        line.addWidget(self.lift)
        self.body.addLayout(line)
        self.body.addStretch(1)

    def show_stage(self, stage: Stage) -> None:
        self._stage = stage
        self.reason.clear()

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None or self._stage not in view.standing.latches:
            self.set_heading(self._stage.value, "Reading the record…")
            return
        latch = view.standing.latches[self._stage]
        self.set_heading(
            phrase("{stage} is not open yet", stage=self._stage.value),
            phrase("{missing}.", missing=upper_first(latch.missing)),
        )
        self.go.setText(say(phrase("Go to {remedy}", remedy=latch.remedy.value)))
        asked = (
            lock_questions(job, view.standing.progress)
            if self._stage is Stage.WORK and job.data_safe.state.settled
            else ()
        )
        self.go.setVisible(not asked)
        stopped = stopping(job.findings) is not None
        for w in (self._lift_title, self._lift_words, self.reason, self.lift):
            w.setVisible(not stopped)  # what can hurt somebody is not lifted by a sentence
        if asked != self._asked:
            self._asked = asked
            self._ask(asked)

    def _ask(self, asked: tuple[LockQuestion, ...]) -> None:
        """Locks that the plan touches are asked for here, where they are in the way."""
        clear(self._questions)
        for row, question in enumerate(asked):
            self._questions.addWidget(label(question.title, "section"), row, 0)
            answers = Switch(LOCK_ANSWERS, lambda key, q=question: self._answer(q, key), question.title)  # type: ignore[misc]
            self._questions.addWidget(answers, row, 1)

    def _answer(self, question: LockQuestion, key: str) -> None:
        job = self.session.job()
        if job is not None:
            locks = replace(job.locks, **{question.key: LockState[key]})
            self.session.edit(
                phrase("{question}: {value}", question=lower_first(question.title), value=LockState[key].value),
                replace(job, locks=locks),
            )

    def default_because(self) -> Because | None:
        view, job = self.session.view(), self.session.job()
        if view is None or self._stage not in view.standing.latches:
            return None
        latch = view.standing.latches[self._stage]
        return Because(
            phrase("Before {stage} is closed", stage=self._stage.value), "latch",
            phrase("{missing}. It cannot be made good later.", missing=upper_first(latch.missing)),
            would_change="The finding gone; no reason lifts this."
            if job is not None and stopping(job.findings)
            else phrase("Doing it in {remedy}, or a written reason.", remedy=latch.remedy.value),
        )  # fmt: skip

    def _go(self) -> None:
        view = self.session.view()
        if view is not None and self._stage in view.standing.latches:
            self.session.select_stage(view.standing.latches[self._stage].remedy)

    def _lift(self) -> None:
        job, reason = self.session.job(), self.reason.text().strip()
        if job is not None and len(reason) >= 8:
            lift = LatchLift(self._stage, reason, now_text())
            self.session.edit(
                phrase("{stage} opened all the same", stage=self._stage.value), replace(job, lifts=(*job.lifts, lift))
            )
