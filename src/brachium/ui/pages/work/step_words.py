"""What is said of a step beside its picture: its gate, what to do, tools, cautions, what taking it back costs."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.placing import scaled
from brachium.core.figures.lists.caution_list import caution_list
from brachium.core.record.job import Job
from brachium.core.record.work.step_minutes import StepMinutes
from brachium.core.work.doing.why_now import why_now
from brachium.core.work.step import Step
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import paragraph

LEAST_TIMED = 3  # timed steps on machines of a kind before its minutes are said beside the usual ones


class StepWords(QWidget):
    """The column of words; `factor` makes its type and signs larger."""

    def __init__(self, factor: float = 1.0) -> None:
        super().__init__()
        self._factor = factor
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(round(8 * factor))
        tail = "" if factor == 1.0 else " bench"
        self.problem = paragraph("", f"alarm{tail}")
        self.detail = paragraph("", f"step{tail}")
        self.tools = paragraph("", f"soft{tail}")
        self.cautions = DrawingView()
        self.cautions.fits_height = True
        self.trouble = paragraph("", f"warm{tail}")
        self.undo = paragraph("", f"soft{tail}")
        for w in (self.problem, self.detail, self.tools, self.cautions, self.trouble, self.undo):
            layout.addWidget(w)
        layout.addStretch(1)

    def show_step(self, job: Job, step: Step, view: JobView, problem: str) -> None:
        """`problem` is why it may not be ticked yet; empty where it may, or is."""
        _shown(self.problem, phrase("Not yet: {problem}.", problem=problem) if problem else "")
        _shown(self.detail, step.detail)
        hint = next((h.words for h in job.plan_edits.hints if h.step_id == step.id), "")
        told = (
            phrase("Get: {tools}.", tools=step.tools) if step.tools else "",
            phrase("Last time: {hint}.", hint=hint) if hint else "",
        )
        _shown(self.tools, "  ".join(t for t in told if t))
        rows = tuple(zip(step.signs, step.cautions, strict=True))
        self.cautions.setVisible(bool(rows))
        f = self._factor
        self.cautions.set_builder(lambda w, h: scaled(caution_list(rows, w / f), f))
        self.cautions.fit_height()
        met = [t for t in job.troubles if t.step_id == step.id]
        _shown(
            self.trouble,
            phrase("Trouble here: {met}.", met=joined("; ", (t.words or t.kind for t in met))) if met else "",
        )
        back = "Point of no return. " if step.no_return else ""
        _shown(
            self.undo,
            phrase("{back}Taking it back costs: {undo}.", back=back, undo=step.undo)
            if step.undo not in ("", "none")
            else back,
        )


def _shown(widget: QLabel, text: str) -> None:
    """A line that takes no room while it is empty."""
    widget.setVisible(bool(text))
    widget.setText(say(text))


def expected_minutes(step: Step, usual: StepMinutes | None) -> str:
    """What the step takes of a person: as this shop's log of such machines says, else as usual."""
    learned = usual is not None and usual.count >= LEAST_TIMED
    attended = step.attended_min * usual.factor if usual is not None and learned else step.attended_min
    return minutes(attended) if attended else ""


def step_because(step: Step, steps: Sequence[Step], usual: StepMinutes | None = None) -> Because:
    """Why the step of a plan is where it is, and its cautions."""
    facts = [
        Fact("attended", minutes(step.attended_min), Origin.ASSUMED),
        Fact("done", step.mode.value, Origin.COMPUTED),
    ]
    if usual is not None:
        facts.append(Fact(phrase("here, timed {count} ×", count=usual.count),
                          minutes(step.attended_min * usual.factor), Origin.MEASURED))  # fmt: skip
    if step.unattended_min:
        facts.append(Fact("runs by itself", minutes(step.unattended_min), Origin.ASSUMED))
    if step.undo:
        facts.append(Fact("undo", step.undo, Origin.ASSUMED))
    local = "Local codes and licensed people come before this list." if step.cautions else ""
    gate = phrase("gate: only if {gate}", gate=step.gate.value) if step.gate else ""
    notes = (*step.cautions, *((local,) if local else ()))
    return Because(step.title, "work step", why_now(step, steps), tuple(facts), gate, "", notes)
