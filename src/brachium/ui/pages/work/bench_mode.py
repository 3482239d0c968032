"""Bench mode: one step over the whole screen, type of twice the size, three keys; read from an arm's length."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QDialog, QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.view.job_view import JobView
from brachium.app.view.step_scene import view_scene
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.figures.base.placing import scaled
from brachium.core.figures.work.step_figure import step_figure
from brachium.core.figures.work.step_strip import step_strip
from brachium.core.record.job import Job
from brachium.core.work.step import Step
from brachium.ui.pages.work.step_words import StepWords
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, label

FACTOR, STRIP_FACTOR = 2.0, 1.5
HINT = "Space done, N note, T trouble, arrows, Esc"


class BenchMode(QDialog):
    """What `done`, `note` and `trouble` do is given by the page; `go` chooses the step so many further."""

    def __init__(
        self, parent: QWidget, done: Callable[[], object], note: Callable[[], object], trouble: Callable[[], object],
        go: Callable[[int], None],
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setWindowTitle(say("Bench mode"))
        self.setObjectName("bench")
        self.setWindowFlag(Qt.WindowType.Window)
        self.setSizeGripEnabled(False)
        self.resize(parent.window().size())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 14, 24, 12)
        layout.setSpacing(10)
        head = QHBoxLayout()
        self.title = label("", "bench title", True)
        self.clock = label("", "bench clock")
        head.addWidget(self.title, 1)
        head.addWidget(self.clock)
        layout.addLayout(head)
        middle = QHBoxLayout()
        middle.setSpacing(28)
        self.picture = DrawingView(minimum=QSize(420, 240))
        self.words = StepWords(FACTOR)
        area = QScrollArea()
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.words.setObjectName("page")
        area.setWidget(self.words)
        self.area = area
        middle.addWidget(self.picture, 5)
        middle.addWidget(area, 4)
        layout.addLayout(middle, 1)
        keys = QHBoxLayout()
        keys.setSpacing(16)
        self.done_key = button("Done", done, "primary", "Tick this step  (Space)")
        self.note_key = button("Note", note, "", "What went differently  (N)")
        self.trouble_key = button("Trouble", trouble, "trouble", "What to do now, and what it costs  (T)")
        for key, wide in ((self.done_key, 5), (self.note_key, 2), (self.trouble_key, 2)):
            key.setProperty("bench", "true")
            key.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            keys.addWidget(key, wide)
        layout.addLayout(keys)
        self.strip = DrawingView()
        layout.addWidget(self.strip)
        layout.addWidget(label(HINT, "soft"))
        for k, run in ((Qt.Key.Key_Space, done), (Qt.Key.Key_N, note), (Qt.Key.Key_T, trouble),
                       (Qt.Key.Key_Right, lambda: go(1)), (Qt.Key.Key_Left, lambda: go(-1)),
                       (QKeySequence("Ctrl+Shift+B"), self.close)):  # fmt: skip
            QShortcut(QKeySequence(k), self).activated.connect(run)

    def show_step(self, job: Job, view: JobView, step: Step, problem: str, ticked: bool) -> None:
        """The step at hand; `ticked` = it is done already."""
        steps = view.work.whole
        at = next((k for k, s in enumerate(steps) if s.id == step.id), 0)
        self.title.setText(say(phrase("{at} of {count}   {step}", at=at + 1, count=len(steps), step=step.title)))
        scene = view_scene(view, step)
        self.picture.set_builder(lambda w, h: scaled(step_figure(scene, w / FACTOR, h / FACTOR), FACTOR))
        self.words.show_step(job, step, view, problem)
        self.area.verticalScrollBar().setValue(0)
        self.done_key.setText(say("Undo the tick" if ticked else "Done"))
        ids = {d.step_id for d in job.steps_done}
        f = STRIP_FACTOR
        self.strip.set_builder(lambda w, h: scaled(step_strip(steps, ids, step.id, w / f), f))
        self.strip.fit_height()

    def show_clock(self, text: str) -> None:
        """The stopwatch of the step."""
        self.clock.setText(say(text))
