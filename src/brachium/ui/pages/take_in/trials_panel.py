"""What was tried before the machine is opened: one key a test, each press the next outcome."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.condition.trials import FunctionalTest, TestResult, TrialOutcome, tests_for
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.theme.icons import icon
from brachium.ui.widgets.labels import button, clear, label

MOST_COLUMNS = 4
ROOM_PX = 780  # that the columns may take together
EDGE_PX = 62  # of a key beside its words
CYCLE = (TrialOutcome.NOT_TRIED, TrialOutcome.WORKS, TrialOutcome.FAILS, TrialOutcome.ABSENT)
OUTCOME_ICONS = {
    TrialOutcome.NOT_TRIED: ("circle", "soft"), TrialOutcome.WORKS: ("check", "cool"),
    TrialOutcome.FAILS: ("x", "alarm"), TrialOutcome.ABSENT: ("minus", "soft"),
}  # fmt: skip


class TrialsPanel(QWidget):
    """The tests of the kind of machine, in columns of equal width; `sums` says what the findings come to."""

    def __init__(self, session: Session, sums: QLabel) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(2)
        head = QHBoxLayout()
        head.setSpacing(12)
        head.addWidget(label("Tried before opening", "section"))
        head.addStretch(1)
        head.addWidget(sums)
        layout.addLayout(head)
        self._tests = QGridLayout()
        self._tests.setHorizontalSpacing(8)
        self._tests.setVerticalSpacing(0)
        layout.addLayout(self._tests)

    def show_job(self, job: Job) -> None:
        """The outcomes so far."""
        state = (job.id, job.machine.kind, job.tried)
        if state == self._shown:
            return
        self._shown = state
        clear(self._tests)
        known = {r.id: r for r in job.tried}
        tests = tests_for(job.machine.kind)
        rows = -(-len(tests) // self._columns([say(t.title) for t in tests]))
        for index, test in enumerate(tests):
            result = known.get(test.id)
            outcome = result.outcome if result else TrialOutcome.NOT_TRIED
            self._tests.addWidget(self._outcome(test, outcome), index % rows, index // rows)

    def _columns(self, titles: list[str]) -> int:
        """As many as there is room for in the language of the window."""
        for count in range(MOST_COLUMNS, 1, -1):
            rows = -(-len(titles) // count)
            of_column = [titles[k * rows : (k + 1) * rows] for k in range(count)]
            wide = sum(max((self.fontMetrics().horizontalAdvance(t) for t in some), default=0) for some in of_column)
            if wide + count * EDGE_PX <= ROOM_PX:
                break
        for column in range(MOST_COLUMNS):
            self._tests.setColumnStretch(column, 1 if column < count else 0)
        return count

    def _outcome(self, test: FunctionalTest, outcome: TrialOutcome) -> QPushButton:
        following = CYCLE[(CYCLE.index(outcome) + 1) % len(CYCLE)]
        out = button(
            test.title,
            lambda: self._try(test.id, following),
            "outcome",
            phrase("{hint}\nPress for the next outcome", hint=test.hint),
        )
        out.setIcon(icon(*OUTCOME_ICONS[outcome]))
        out.setProperty("outcome", outcome.name)
        out.setAccessibleName(say(phrase("{test}: {outcome}", test=test.title, outcome=outcome)))
        return out

    def _try(self, test: str, outcome: TrialOutcome) -> None:
        job = self._session.job()
        if job is None:
            return
        rest = tuple(r for r in job.tried if r.id != test)
        tried = rest if outcome is TrialOutcome.NOT_TRIED else (*rest, TestResult(test, outcome))
        self._session.edit(phrase("tried: {test}", test=test), replace(job, tried=tried))
