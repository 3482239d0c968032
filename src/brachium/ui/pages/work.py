"""Work: the steps of the plan in order, one tick each, with cautions at the step and minutes logged."""

from __future__ import annotations

import time
from dataclasses import replace

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout

from brachium.app.view import JobView
from brachium.app.workspace import now_text
from brachium.core.because import Because, Fact, Origin
from brachium.core.figures.step_list import step_list
from brachium.core.job.job import Job, StepDone
from brachium.core.units import minutes
from brachium.core.work.step import Step
from brachium.ui.pages.page import Page
from brachium.ui.widgets.labels import button, clear, label


class WorkPage(Page):
    """Steps at the left, the step at hand at the right; a tick logs the minutes since the last one."""

    def build(self) -> None:
        self._since = time.monotonic()
        self._shown: tuple[str, StepDone | None] = ("", None)
        columns = QHBoxLayout()
        columns.setSpacing(24)
        self.steps = self.figure()
        self.steps.setMinimumSize(QSize(380, 200))
        self.steps.chosen.connect(lambda region: self._show_step(region.id))
        self.steps.activated.connect(lambda region: self.tick(region.id))
        holder = QVBoxLayout()
        holder.addWidget(self.steps)
        holder.addStretch(1)
        columns.addLayout(holder, 1)
        self._detail = QVBoxLayout()
        self._detail.setSpacing(6)
        right = QVBoxLayout()
        right.setSpacing(4)
        right.addLayout(self._detail)
        right.addSpacing(8)
        line = QHBoxLayout()
        line.setSpacing(12)
        self.done = button("Done", lambda: self.tick(self.steps.selected), "primary", "Tick this step  (Ctrl+Return)")
        self.minutes = QLineEdit()
        self.minutes.setFixedWidth(56)
        self.minutes.setPlaceholderText("min")
        self.minutes.setAccessibleName("Minutes for this step")
        self.minutes.setToolTip("Minutes for this step; empty takes the time since the last tick")
        self.note = QLineEdit()
        self.note.setPlaceholderText("what went differently")
        self.note.setAccessibleName("Note for this step")
        line.addWidget(self.done)
        line.addWidget(self.minutes)
        line.addWidget(label("min", "field"))
        line.addWidget(self.note, 1)
        right.addLayout(line)
        right.addStretch(1)
        columns.addLayout(right, 1)
        self.body.addSpacing(8)
        self.body.addLayout(columns)
        self.body.addStretch(1)

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            self.set_heading("Work", "Making the steps…")
            return
        done = {s.step_id: s for s in job.steps_done}
        left = [s for s in view.steps if s.id not in done]
        attended = sum(s.attended_min for s in left)
        logged = sum(s.minutes for s in job.steps_done)
        head = "All steps are done" if view.steps and not left else f"{len(left)} of {len(view.steps)} steps to do"
        self.set_heading(head, f"{minutes(attended)} of work left, {minutes(logged)} logged, "
                         f"{minutes(sum(s.unattended_min for s in left))} run by themselves.")  # fmt: skip
        self.steps.set_builder(lambda w, h: step_list(view.steps, done, w))
        self.steps.fit_height()
        ids = [s.id for s in view.steps]
        if self.steps.selected not in ids or self.steps.selected in done:
            self.steps.selected = left[0].id if left else (ids[-1] if ids else "")
        self._show_step(self.steps.selected)

    def _show_step(self, step_id: str) -> None:
        view, job = self.session.view(), self.session.job()
        clear(self._detail)
        step = next((s for s in view.steps if s.id == step_id), None) if view is not None else None
        if step is None or job is None:
            return
        self._detail.addWidget(label(step.title, "title", True))
        problem = view.gate_problem(step) if view is not None else ""
        if problem and not any(d.step_id == step_id for d in job.steps_done):
            self._detail.addWidget(label(f"Not yet: {problem}.", "alarm", True))
        self._detail.addWidget(label(step.detail, "", True, True))
        if step.tools:
            self._detail.addWidget(label(f"Tools: {step.tools}", "soft", True))
        for caution in step.cautions:
            self._detail.addWidget(label(caution, "warm", True))
        if step.no_return:
            self._detail.addWidget(label("Point of no return: the old bond is broken.", "alarm", True))
        if step.undo:
            self._detail.addWidget(label(f"Taking it back costs: {step.undo}", "soft", True))
        entry = next((d for d in job.steps_done if d.step_id == step_id), None)
        self.done.setText("Undo the tick" if entry else "Done")
        if (step_id, entry) != self._shown:  # what is being typed for this step stays
            self._shown = (step_id, entry)
            self.minutes.setText(f"{entry.minutes:g}" if entry else "")
            self.note.setText(entry.note if entry else "")
        self.session.explain(step_because(step))

    def tick(self, step_id: str = "") -> None:
        """Tick a step (the next open one by default), or take its tick back."""
        job, view = self.session.job(), self.session.view()
        if job is None or view is None:
            return
        upcoming = view.next_step()
        step_id = step_id or (upcoming.id if upcoming else "")
        step = next((s for s in view.steps if s.id == step_id), None)
        if step is None:
            return
        if any(d.step_id == step_id for d in job.steps_done):
            rest = tuple(d for d in job.steps_done if d.step_id != step_id)
            self.session.edit(f"tick taken back: {step.title}", replace(job, steps_done=rest))
            return
        problem = view.gate_problem(step)
        if problem:
            self.session.say(f"Not yet: {problem}.")
            return
        entry = StepDone(step_id, now_text(), self._minutes(), self.note.text().strip())
        self._since = time.monotonic()
        self.session.edit(f"done: {step.title}", replace(job, steps_done=(*job.steps_done, entry)))

    def _minutes(self) -> float:
        try:
            return max(float(self.minutes.text().replace(",", ".")), 0.0)
        except ValueError:
            return round((time.monotonic() - self._since) / 60.0, 1)

    def default_because(self) -> Because | None:
        view = self.session.view()
        step = view.next_step() if view is not None else None
        return step_because(step) if step is not None else None


def step_because(step: Step) -> Because:
    """Why the step is where it is, and its cautions."""
    facts = [Fact("attended", minutes(step.attended_min), Origin.ASSUMED)]
    if step.unattended_min:
        facts.append(Fact("runs by itself", minutes(step.unattended_min), Origin.ASSUMED))
    if step.undo:
        facts.append(Fact("undo", step.undo, Origin.ASSUMED))
    local = "Local codes and licensed people come before this list." if step.cautions else ""
    gate = f"gate: only if {step.gate.value}" if step.gate else ""
    notes = (*step.cautions, *((local,) if local else ()))
    return Because(step.title, "work step", step.detail, tuple(facts), gate, "", notes)
