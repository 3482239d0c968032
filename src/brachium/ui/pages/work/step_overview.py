"""All steps as a list in place of the picture, with the ticks of a printed sheet typed back in one line."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import Problem
from brachium.core.base.text import many, phrase
from brachium.core.figures.lists.step_list import step_list
from brachium.core.record.job import StepDone
from brachium.core.work.doing.typed_ticks import read_ticks
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import label


class StepOverview(QWidget):
    """Hidden until it is asked for."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        self._paper = QWidget()
        row = QHBoxLayout(self._paper)
        row.setContentsMargins(0, 0, 0, 0)
        self.ticks = LineField("Ticks from the printed sheet", self.take_ticks, "1-5 7:12 9")
        row.addWidget(self.ticks, 2)
        row.addWidget(label("Step numbers; 7:12 is step 7 in 12 minutes.", "soft", True), 3)
        layout.addWidget(self._paper)
        self.list = DrawingView()
        layout.addWidget(self.list)
        layout.addStretch(1)

    def show_view(self, view: JobView) -> None:
        """The steps of a view."""
        done = {s.step_id: s for s in view.job.steps_done}
        self._paper.setVisible(any(s.id not in done for s in view.work.steps))
        self.list.set_builder(lambda w, h: step_list(view.work.steps, done, w))
        self.list.fit_height()

    def take_ticks(self, text: str) -> str | None:
        """Tick what was ticked on paper, all of it or, where a gate is shut, nothing; the sentence why not."""
        job, view = self._session.job(), self._session.view()
        if not text.strip() or job is None or view is None:
            return None
        try:
            ticks = read_ticks(text, view.work.steps)
        except ValueError as problem:
            return str(problem)
        there = {d.step_id for d in job.steps_done}
        fresh = tuple(StepDone(t.step_id, now_text(), t.minutes) for t in ticks if t.step_id not in there)
        if not fresh:
            return "All are ticked already."
        try:
            self._session.workspace.edit(phrase("{ticks} from paper", ticks=many(len(fresh), 'tick')),
                                         replace(job, steps_done=(*job.steps_done, *fresh)))  # fmt: skip
        except Problem as problem:
            return phrase("Nothing was ticked: {problem}.", problem=problem.what)
        self._session.say(phrase("{steps} ticked from paper.", steps=many(len(fresh), "step")))
        return None
