"""The work plan edited by hand: own steps, other minutes, another order, steps left out with a reason."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.figures.lists.step_list import step_list
from brachium.core.record.work.plan_edits import OWN, LeftOut, OwnMinutes, OwnStep, PlanEdits
from brachium.core.work.edits import free_own_id, why_kept, why_not_swapped
from brachium.core.work.step import Step
from brachium.ui.pages.work.touches_field import TouchesField
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.number_fields import number_field


class PlanEditSheet(QDialog):
    """Edits hold at once and are undone like every other. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Change the work plan"))
        self.resize(800, 640)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Change the work plan", "title"))
        columns = QHBoxLayout()
        columns.setSpacing(20)
        self.steps = DrawingView(minimum=QSize(330, 200))
        self.steps.setAccessibleName(say("Steps"))
        self.steps.chosen.connect(lambda _: self._show())
        area = QScrollArea()
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setWidget(self.steps)
        columns.addWidget(area, 5)
        columns.addLayout(self._build_fields(), 4)
        layout.addLayout(columns, 1)
        foot = QHBoxLayout()
        self.count = label("", "soft")
        self.reset = button("Back to the generated plan", self.reset_all, "quiet")
        foot.addWidget(self.count)
        foot.addWidget(self.reset)
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(foot)
        session.view_arrived.connect(self._arrived)
        self._show()

    def _build_fields(self) -> QVBoxLayout:
        right = QVBoxLayout()
        right.setSpacing(6)
        self.title = label("", "section", True)
        right.addWidget(self.title)
        row = QHBoxLayout()
        self.attended = number_field("Of yours [min]", 0, 600, lambda v: self._minutes(v, None), "as usual")
        self.away = number_field("By itself [min]", 0, 6000, lambda v: self._minutes(None, v), "as usual")
        row.addWidget(self.attended)
        row.addWidget(self.away)
        right.addLayout(row)
        row = QHBoxLayout()
        self.earlier = button("Earlier", lambda: self.move_step(-1), "", "Before the step above it")
        self.later = button("Later", lambda: self.move_step(1), "", "After the step below it")
        row.addWidget(self.earlier)
        row.addWidget(self.later)
        row.addStretch(1)
        right.addLayout(row)
        right.addSpacing(8)
        right.addWidget(label("A step of your own after it", "section"))
        self.own_title = _line("What is done", "such as: new felt under the fan")
        self.own_detail = _line("How", "how, with what (optional)")
        right.addWidget(self.own_title)
        right.addWidget(self.own_detail)
        right.addWidget(label("It touches", "field"))
        self.touches = TouchesField()
        right.addWidget(self.touches)
        for line in (self.own_title, self.own_detail):
            line.textChanged.connect(
                lambda _: self.touches.follow(
                    phrase("{text} {text2}", text=self.own_title.text(), text2=self.own_detail.text())
                )
            )
        self.add = button("Add the step", self.add_step)
        right.addWidget(self.add)
        right.addSpacing(8)
        right.addWidget(label("Leave it out", "section"))
        self.reason = _line("Reason for leaving it out", "why it is not needed here")
        right.addWidget(self.reason)
        self.leave = button("Leave this step out", self.leave_out, "quiet")
        right.addWidget(self.leave)
        self.said = paragraph("", "warm")
        right.addWidget(self.said)
        right.addStretch(1)
        return right

    def _arrived(self, job_id: str) -> None:
        if job_id == self._session.job_id and self.isVisible():
            self._show()

    def _steps(self) -> tuple[Step, ...]:
        view = self._session.view()
        return view.work.steps if view is not None else ()

    def _selected(self) -> Step | None:
        return next((s for s in self._steps() if s.id == self.steps.selected), None)

    def _show(self) -> None:
        job, steps = self._session.job(), self._steps()
        if job is None:
            return
        done = {d.step_id: d for d in job.steps_done}
        self.steps.set_builder(lambda w, h: step_list(steps, done, w))
        self.steps.fit_height()
        if self._selected() is None and steps:
            self.steps.selected = steps[0].id
        step = self._selected()
        if step is not None:
            self.title.setText(say(step.title))
            self.attended.show_value(phrase("{attended_min:g}", attended_min=step.attended_min))
            self.away.show_value(phrase("{unattended_min:g}", unattended_min=step.unattended_min))
            own = step.id.startswith(OWN)
            self.leave.setText(say("Take your step out" if own else "Leave this step out"))
            kept = "" if own else why_kept(step)
            self.leave.setEnabled(not kept)
            self.reason.setVisible(not own)
            self.reason.setEnabled(not kept)
            self.reason.setPlaceholderText(say(kept or "why it is not needed here"))
        edits = job.plan_edits
        self.count.setText(say(many(edits.count, "edit") if edits.count else "As it was generated"))
        self.reset.setVisible(edits.count > 0)
        left = joined(
            "; ", (phrase("“{step_id}” left out: {reason}", step_id=x.step_id, reason=x.reason) for x in edits.left_out)
        )
        self.said.setText(say(phrase("{left}.", left=left) if left else ""))

    def _keep(self, label_: str, **changes: object) -> None:
        job = self._session.job()
        if job is not None:
            edits: PlanEdits = replace(job.plan_edits, **changes)  # type: ignore[arg-type]
            self._session.edit(label_, replace(job, plan_edits=edits))

    def _minutes(self, attended: Decimal | None, away: Decimal | None) -> None:
        job, step = self._session.job(), self._selected()
        if job is None or step is None or (attended is None and away is None):
            return
        minutes = OwnMinutes(
            step.id, step.attended_min if attended is None else float(attended),
            step.unattended_min if away is None else float(away),
        )  # fmt: skip
        rest = tuple(m for m in job.plan_edits.minutes if m.step_id != step.id)
        self._keep("minutes of a step", minutes=(*rest, minutes))

    def move_step(self, by: int) -> None:
        """Change places with a neighbour, or say why that cannot be."""
        job, step, steps = self._session.job(), self._selected(), self._steps()
        if job is None or step is None:
            return
        at = [s.id for s in steps].index(step.id)
        if not 0 <= at + by < len(steps):
            return
        first, second = (steps[at - 1], step) if by < 0 else (step, steps[at + 1])
        problem = why_not_swapped(first, second)
        if problem:
            self.said.setText(say(phrase("It stays where it is: {problem}.", problem=problem)))
            return
        back = (first.id, second.id)
        pairs = job.plan_edits.first
        pairs = pairs[:-1] if pairs and pairs[-1] == back else (*pairs, (second.id, first.id))
        self._keep("order of the steps", first=pairs)

    def add_step(self) -> None:
        """One more step right after the selected one."""
        job, step, title = self._session.job(), self._selected(), self.own_title.text().strip()
        if job is None or step is None:
            return
        if not title:
            self.said.setText(say("Say what is done first."))
            self.own_title.setFocus()
            return
        own = OwnStep(free_own_id(job.plan_edits), step.id, title, self.own_detail.text().strip(),
                      touches=self.touches.stated())  # fmt: skip
        self.own_title.clear()
        self.own_detail.clear()
        self.touches.empty()
        self._keep("own step added", own=(*job.plan_edits.own, own))
        self.steps.selected = own.id

    def leave_out(self) -> None:
        """Leave the selected step out with a reason; an own one is simply taken out."""
        job, step, reason = self._session.job(), self._selected(), self.reason.text().strip()
        if job is None or step is None:
            return
        if step.id.startswith(OWN):
            rest = tuple(o for o in job.plan_edits.own if o.id != step.id)
            self._keep("own step taken out", own=rest)
            return
        if not reason:
            self.said.setText(say("Write the reason first; it stays with the job."))
            self.reason.setFocus()
            return
        self.reason.clear()
        self._keep("step left out with a reason", left_out=(*job.plan_edits.left_out, LeftOut(step.id, reason)))

    def reset_all(self) -> None:
        """The plan as it is generated; hints of earlier jobs stay."""
        job = self._session.job()
        if job is not None:
            fresh = PlanEdits(hints=job.plan_edits.hints, learned_from=job.plan_edits.learned_from)
            self._session.edit("back to the generated plan", replace(job, plan_edits=fresh))


def _line(name: str, hint: str) -> QLineEdit:
    edit = QLineEdit()
    edit.setAccessibleName(say(name))
    edit.setPlaceholderText(say(hint))
    edit.setMaxLength(200)
    return edit
