"""Causes: ranked at the left with the checks below, what speaks for and against the chosen one at the right."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.intake.practice import is_practice, made_check
from brachium.app.shop.workspace import now_text
from brachium.app.view.cause_record import with_check, without_check
from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, phrase, upper_first
from brachium.core.base.units import minutes
from brachium.core.base.why import Because
from brachium.core.cause.assess import Assessment, because_of
from brachium.core.cause.check import Check
from brachium.core.cause.checks import BY_ID, on_kind, possible
from brachium.core.cause.ranking import NextCheck, Ranked
from brachium.core.cause.start.checks import BY_ID as START_CHECKS
from brachium.core.figures.base.drawing import Region
from brachium.core.figures.lists.cause_list import cause_list
from brachium.core.figures.lists.check_list import check_list
from brachium.core.figures.plots.evidence_balance import evidence_balance
from brachium.core.record.checks import CheckDone
from brachium.core.record.drive_states import failing_places
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, clear, label, paragraph

CHECK_ROWS = 6
DATA_FIRST = "This opens the machine: settle the owner's data first, or open it to rescue them."
MOST_ANSWERS = 10
KEY_EDGE = 38  # px of a key beside its words


@dataclass(frozen=True)
class Search:
    """What a panel looks for: its assessment in a view, the checks that it knows, an example of a note."""

    assessment: Callable[[JobView], Assessment]
    checks: Mapping[str, Check]
    note: str


SLOW_OR_HOT = Search(lambda view: view.causes.assessment, BY_ID, "Such as 4.2 K cooler")
DOES_NOT_START = Search(lambda view: view.causes.start, START_CHECKS, "Note, such as the code heard")


class CausePanel(QWidget):
    """`figure` makes drawing views that explain themselves in Because."""

    def __init__(self, session: Session, figure: Callable[[], DrawingView], search: Search = SLOW_OR_HOT) -> None:
        super().__init__()
        self._session, self._search = session, search
        self._cause = self._check = ""
        self._shown: Assessment | None = None
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 8, 0, 0)
        columns.setSpacing(24)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        right.setSpacing(4)
        self.causes = figure()
        self.causes.setMinimumSize(QSize(380, 120))
        self.causes.chosen.connect(self._choose_cause)
        left.addWidget(self.causes)
        left.addSpacing(6)
        self._checks_title = label("", "section")
        left.addWidget(self._checks_title)
        self.checks = figure()
        self.checks.setMinimumSize(QSize(380, 70))
        self.checks.chosen.connect(self._choose_check)
        left.addWidget(self.checks)
        left.addStretch(1)
        self._check_title = label("", "section", True)
        self._check_how = paragraph("", "soft")
        self._check_caution = paragraph("", "warm")
        for w in (self._check_title, self._check_how, self._check_caution):
            right.addWidget(w)
        self._answers = QGridLayout()
        self._answers.setSpacing(4)
        right.addLayout(self._answers)
        self.note = QLineEdit()
        self.note.setPlaceholderText(say(search.note))
        self.note.setAccessibleName(say("Note on the check"))
        right.addWidget(self.note)
        right.addSpacing(10)
        self._balance_title = label("", "section", True)
        right.addWidget(self._balance_title)
        self.balance = figure()
        self.balance.setMinimumSize(QSize(280, 100))
        right.addWidget(self.balance)
        right.addStretch(1)
        columns.addLayout(left, 5)
        columns.addLayout(right, 4)
        for number in range(1, MOST_ANSWERS + 1):
            key = QShortcut(QKeySequence(str(number % 10)), self, lambda n=number: self._by_number(n))
            key.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("Answers, by their numbers"))

    def show_view(self, view: JobView) -> None:
        """The view's assessment, with the cause and check that are chosen."""
        assessment = self._search.assessment(view)
        if self._cause not in {r.kind.id for r in assessment.open} and assessment.open:
            self._cause = assessment.open[0].kind.id
        blind = is_practice(view.job) and not view.job.named_cause
        checks = _blind_checks(view.job) if blind else assessment.checks
        if self._check not in {c.check.id for c in checks} | {c.check for c in self._made(view.job)}:
            self._check = "" if blind else _proposed(assessment)
        self._show_lists(assessment, checks, self._made(view.job), blind)
        self._show_balance(view)
        self._show_check(view.job)
        if assessment is not self._shown and self.isVisible() and not blind:
            self._session.explain(self.because())
        self._shown = assessment

    def _show_lists(
        self, assessment: Assessment, checks: Sequence[NextCheck], made: Sequence[CheckDone], blind: bool
    ) -> None:
        """Causes, where any stands out yet, and checks; `blind` to practise, without the ranking."""
        self._checks_title.setText(say("Checks" if blind else "Checks, by what they tell for a minute"))
        for w in (self.causes, self.balance, self._balance_title):
            w.setVisible(not blind and assessment.least < 1.0)
        self.causes.selected = f"cause:{self._cause}"
        self.causes.set_builder(lambda w, h: cause_list(assessment, w))
        self.causes.fit_height()
        self.checks.selected = f"check:{self._check}"
        self.checks.set_builder(lambda w, h: check_list(checks, made, w, CHECK_ROWS, blind))
        self.checks.fit_height()

    def because(self) -> Because | None:
        view = self._session.view()
        if view is not None and is_practice(view.job) and not view.job.named_cause:
            return None
        cause = self._chosen(view) if view is not None else None
        found = self._search.assessment(view) if view is not None else None
        return because_of(cause, found.next) if found is not None and cause is not None else None

    def _chosen(self, view: JobView) -> Ranked | None:
        return next((r for r in self._search.assessment(view).ranked if r.kind.id == self._cause), None)

    def _made(self, job: Job) -> tuple[CheckDone, ...]:
        """Checks of this search that were made."""
        return tuple(c for c in job.checks if c.check in self._search.checks)

    def _show_balance(self, view: JobView) -> None:
        cause = self._chosen(view)
        self._balance_title.setText(
            say(phrase("For and against: {kind}", kind=lower_first(cause.kind.title)) if cause is not None else "")
        )
        self.balance.set_builder((lambda w, h: evidence_balance(cause, w)) if cause is not None else None)
        self.balance.fit_height()

    def _show_check(self, job: Job) -> None:
        clear(self._answers)
        check = self._search.checks.get(self._check)
        for w in (self._check_title, self._check_how, self._check_caution, self.note):
            w.setVisible(check is not None)
        if check is None:
            return
        self._check_title.setText(say(check.title))
        self._check_how.setText(
            say(phrase("{how} Tools: {tools}.", how=check.how, tools=check.tools) if check.tools else check.how)
        )
        self._check_caution.setText(say(check.caution))
        self._check_caution.setVisible(bool(check.caution))
        done = next((c for c in job.checks if c.check == check.id), None)
        self.note.setVisible(not is_practice(job))
        if not is_practice(job):
            self._show_answers(check, done)
        elif done is not None:
            self._answers.addWidget(paragraph(phrase("Answer: {answer}.", answer=done.answer), ""))
        else:
            text = phrase("Do it, {attended_min}", attended_min=minutes(on_kind(check, job.machine.kind).attended_min))
            self._answers.addWidget(button(text, lambda: self.make(check.id), "primary"))

    def _show_answers(self, check: Check, done: CheckDone | None) -> None:
        """One key each, by its number or letter; the one that was given stays correctable."""
        if self._shut(check):
            self._answers.addWidget(paragraph(DATA_FIRST, "warm"))
            return
        titles = [phrase("{state}", state=upper_first(state)) for state in check.sign.states]
        columns = 2 if len(titles) > 2 and self._fit_beside(titles) else 1
        rows = -(-len(titles) // columns)
        for number, (state, title) in enumerate(zip(check.sign.states, titles, strict=True), 1):
            answer = button(
                phrase("{number}   {title}", number=number % 10, title=title),
                partial(self.answer, check.id, state),
                "",
                phrase("Key {number}", number=number % 10),
            )
            answer.setCheckable(done is not None)
            answer.setChecked(done is not None and done.answer == state)
            answer.setAccessibleName(say(title))
            self._answers.addWidget(answer, (number - 1) % rows, (number - 1) // rows)
        if done is not None:
            if done.note:
                self._answers.addWidget(paragraph(done.note, "soft"), rows, 0, 1, columns)
            back = button("Take the answer back", lambda: self._take_back(check.id), "quiet")
            self._answers.addWidget(back, rows + 1, 0, 1, columns)

    def _fit_beside(self, titles: Sequence[str]) -> bool:
        """Whether all answers fit into half the column each."""
        metrics, half = self.fontMetrics(), self._check_title.width() / 2
        return all(metrics.horizontalAdvance(f"0   {say(t)}") + KEY_EDGE <= half for t in titles)

    def _shut(self, check: Check) -> bool:
        """Nothing is opened before the owner's data is settled, or the machine opened to rescue it."""
        job = self._session.job()
        return job is not None and check.opens and not job.data_safe.state.may_open

    def _by_number(self, number: int) -> None:
        """The answer of that number, of the check that is shown."""
        job, check = self._session.job(), self._search.checks.get(self._check)
        if job is None or check is None or self._shut(check):
            return
        if not is_practice(job) and number <= len(check.sign.states):
            self.answer(check.id, check.sign.states[number - 1])

    def _choose_cause(self, region: Region) -> None:
        self._cause = region.id.removeprefix("cause:")
        view = self._session.view()
        if view is not None:
            self._show_balance(view)

    def _choose_check(self, region: Region) -> None:
        self.choose_check(region.id.removeprefix("check:"))

    def choose_check(self, check_id: str) -> None:
        """Show how a check is done and its answers."""
        self._check = check_id
        self.checks.selected = f"check:{check_id}"
        self.checks.update()
        job = self._session.job()
        if job is not None:
            self._show_check(job)

    def answer(self, check_id: str, state: str) -> None:
        """Enter what a check said."""
        job, check = self._session.job(), self._search.checks[check_id]
        if job is not None and not self._shut(check):
            taken = on_kind(check, job.machine.kind).attended_min
            done = CheckDone(check_id, state, taken, now_text(), self.note.text().strip())
            self.note.clear()
            if check_id not in {c.check for c in job.checks}:
                self._check = ""  # on to the next one; one that is corrected stays in view
            self._session.edit(phrase("check: {check}", check=lower_first(check.title)), with_check(job, done))

    def make(self, check_id: str) -> None:
        """Have the simulated machine answer."""
        job = self._session.job()
        if job is not None:
            self._session.edit(
                phrase("check: {title}", title=lower_first(BY_ID[check_id].title)),
                made_check(job, check_id, now_text()),
            )

    def _take_back(self, check_id: str) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("answer taken back", without_check(job, check_id))


def _blind_checks(job: Job) -> tuple[NextCheck, ...]:
    """Checks to practise with: what would tell little must not be told from what tells much."""
    made = {c.check for c in job.checks}
    every = possible(job.machine, bool(failing_places(job)))
    return tuple(NextCheck(c, 0.0) for c in every if c.id not in made and c.sign.given)


def _proposed(assessment: Assessment) -> str:
    """The check that is worth its time most; empty where none is."""
    return assessment.next.check.id if assessment.next is not None else ""
