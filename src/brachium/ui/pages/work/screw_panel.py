"""Screws of the step at hand: what comes out of a layer is recorded, what goes back is counted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.base.typed_numbers import typed_float, typed_int
from brachium.core.figures.plots.screw_tray import screw_tray, tighten_figure
from brachium.core.record.job import Job
from brachium.core.record.work.screws import ScrewGroup
from brachium.core.work.layers import BATTERY_LAYER, GLASS, RIBBON, SHROUD, TRIM
from brachium.core.work.screws import HEADS, THREADS, open_screws, tighten_plan, tray_groups
from brachium.core.work.step import Step
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, clear, label, paragraph

NAMES = {
    "cover": "Cover", "cooler": "Cooler", "cage": "Drive cage", "board-out": "Main board", "stand": "Stand",
    "optical": "Optical drive",
}  # fmt: skip


UNSCREWED = (BATTERY_LAYER, GLASS, TRIM, RIBBON, SHROUD)  # a plug, glue, clips, a lock: no screws


class ScrewPanel(QWidget):
    """Shown at steps that take a layer off or put one back; hidden elsewhere."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(4)
        self._title = label("", "section")
        layout.addWidget(self._title)
        self.tray = DrawingView()
        self.tray.chosen.connect(lambda region: session.explain(region.because))
        layout.addWidget(self.tray)
        self.plate = DrawingView()
        self.plate.setFixedWidth(284)
        self._fields = QHBoxLayout()
        self._fields.setSpacing(8)
        row = QHBoxLayout()
        row.addLayout(self._fields, 1)
        row.addWidget(self.plate)
        layout.addLayout(row)
        self.problem = paragraph("", "warm")
        layout.addWidget(self.problem)
        self.count: LineField | None = None
        self.back: list[LineField] = []

    def show_step(self, job: Job, step: Step | None, steps: Sequence[Step]) -> None:
        layer = step.layer[1:] if step is not None and step.layer else ""
        if layer in UNSCREWED:
            layer = ""
        self.setVisible(bool(layer))
        if step is None or not layer:
            return
        off = [s.layer[1:] for s in steps if s.layer.startswith("-")]
        groups = tray_groups(job.screws, off)
        state = (job.id, step.id, groups)
        if state == self._shown:
            return
        self._shown = state
        refitting = step.layer.startswith("+")
        self._title.setText(say("Count them back" if refitting else "What came out"))
        self.tray.setVisible(bool(groups))
        self.tray.set_builder(lambda w, h: screw_tray(groups, NAMES, refitting, w))
        self.tray.fit_height()
        mine = [g for g in groups if g.layer == layer]
        self._show_plate(mine, refitting)
        clear(self._fields)
        self.back = []
        if refitting:
            self._ask_back(mine)
        else:
            self._ask_out(layer)
        problem = open_screws(job.screws, layer) if refitting else ""
        self.problem.setVisible(bool(problem))
        self.problem.setText(say(phrase("{problem}.", problem=problem) if problem else ""))

    def _show_plate(self, mine: Sequence[ScrewGroup], refitting: bool) -> None:
        plates = [g for g in mine if g.layer == "cooler" or g.numbered]
        self.plate.setVisible(refitting and bool(plates))
        if refitting and plates:
            plan, numbered = tighten_plan(plates[0].count), plates[0].numbered
            self.plate.set_builder(lambda w, h: tighten_figure(plan, numbered))
            self.plate.fit_height()

    def _ask_out(self, layer: str) -> None:
        self.count = LineField("Count", lambda _: None, "8")
        self.head = ChoiceField("Driver", [(h, h) for h in HEADS], lambda _: None)
        self.length = LineField("Length [mm]", lambda _: None, "5")
        self.thread_kind = ChoiceField("Thread", [(t, t) for t in THREADS], lambda _: None)
        self.kind = ChoiceField(
            "They", [("", "come out"), ("captive", "stay in"), ("numbered", "are numbered")], lambda _: None
        )
        self.head.show_value(self._usual_head(layer))
        self.thread_kind.show_value("M2.5")
        for w in (self.count, self.head, self.length, self.thread_kind, self.kind):
            self._fields.addWidget(w)
        self.add = button("Into the tray", lambda: self._put(layer))
        self._fields.addWidget(self.add, 0, Qt.AlignmentFlag.AlignBottom)

    def _usual_head(self, layer: str) -> str:
        """The driver that the record names for the cover, where the list has it; else the one that is met most."""
        job = self._session.job()
        named = job.machine.platform.build.screw_head if job is not None and layer == "cover" else None
        return named if named in HEADS else "PH1"

    def _put(self, layer: str) -> None:
        job = self._session.job()
        try:
            count = typed_int(self.count.edit.text()) if self.count is not None else 0
            length = typed_float(self.length.edit.text() or "5")
        except ValueError:
            self._session.say("A whole number, and a length in mm.")
            return
        if job is None or not 0 < count < 100 or not 0 < length < 200:
            self._session.say("From 1 to 99 screws, up to 200 mm long.")
            return
        kind = str(self.kind.box.currentData())
        thread = str(self.thread_kind.box.currentData())
        group = ScrewGroup(layer, count, str(self.head.box.currentData()), length, thread,
                           kind == "captive", kind == "numbered")  # fmt: skip
        self._session.edit("screws into the tray", replace(job, screws=(*job.screws, group)))

    def _ask_back(self, mine: Sequence[ScrewGroup]) -> None:
        for group in mine:
            if group.captive:
                continue
            size = f"{group.thread} × {group.length_mm:g}"
            name = phrase("{size}: back of {count}", size=size, count=group.count)
            field = LineField(name, lambda text, g=group: self._count(g, text), str(group.count))  # type: ignore[misc]
            field.show_value("" if group.back is None else str(group.back))
            self.back.append(field)
            self._fields.addWidget(field)
        if not mine:
            self._fields.addWidget(label("No screws were recorded for it.", "soft"))
        self._fields.addStretch(1)

    def _count(self, group: ScrewGroup, text: str) -> str | None:
        job = self._session.job()
        if text and not (text.isdecimal() and len(text) < 5):
            return "A whole number."
        if job is not None:
            back = int(text) if text else None
            screws = tuple(replace(g, back=back) if g == group else g for g in job.screws)
            self._session.edit("screws counted back", replace(job, screws=screws))
        return None
