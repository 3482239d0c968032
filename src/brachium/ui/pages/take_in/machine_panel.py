"""The machine: one line, its drawing with slots and findings, what is still open beside it, what was tried below it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.figures.board.fit_board import BoardState, board_height
from brachium.core.figures.board.machine_figure import machine_figure, outside_zones, strip_height, zone_of
from brachium.core.machine.facts.place_facts import facts_of
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.memory_part import MemoryGeneration
from brachium.core.machine.places import PLACE_KINDS, with_place
from brachium.core.machine.typical_places import with_typical_places
from brachium.core.record.job import Job
from brachium.ui.pages.take_in.findings_panel import FindingsPanel
from brachium.ui.pages.take_in.kind_figure import KindFigure
from brachium.ui.pages.take_in.open_panel import OpenPanel
from brachium.ui.pages.take_in.place_editor import PlaceEditor
from brachium.ui.pages.take_in.quick_line_field import QuickLineField
from brachium.ui.pages.take_in.scan_panel import ScanPanel
from brachium.ui.pages.take_in.trials_panel import TrialsPanel
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import PlainChoice, Switch
from brachium.ui.widgets.labels import label, paragraph

YEARS = (MemoryGeneration.DDR, MemoryGeneration.DDR2, MemoryGeneration.DDR3, MemoryGeneration.DDR4,
         MemoryGeneration.DDR5)  # fmt: skip
SIDE_W, BOARD_H = 296, 236


class MachinePanel(QWidget):
    """A part of the drawing is chosen by click or arrow keys; below it stand its part and its findings."""

    def __init__(self, session: Session, figure: Callable[[], DrawingView]) -> None:
        super().__init__()
        self._session = session
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(6)
        self.quick = QuickLineField(session)
        whole.addWidget(self.quick)
        columns = QHBoxLayout()
        columns.setSpacing(24)
        columns.addLayout(self._drawing_side(figure), 1)
        side = QWidget()
        side.setFixedWidth(SIDE_W)
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        self.open = OpenPanel(session)
        right.addWidget(self.open)
        self.scan = ScanPanel(session)
        right.addWidget(self.scan)
        right.addStretch(1)
        columns.addWidget(side)
        whole.addLayout(columns)
        self.trials = TrialsPanel(session, self.findings.sums)
        whole.addWidget(self.trials)

    def _drawing_side(self, figure: Callable[[], DrawingView]) -> QVBoxLayout:
        left = QVBoxLayout()
        left.setSpacing(4)
        head = QHBoxLayout()
        head.setSpacing(12)
        self._title = paragraph("", "section")
        head.addWidget(self._title, 1)
        self.findings = FindingsPanel(self._session)
        kinds = [("", "Add a slot or bay…"), *((k.id, k.title) for k in PLACE_KINDS)]
        self.add_place = PlainChoice(kinds, self._add_place, "Add a slot or bay", narrow=True)
        head.addWidget(self.findings.add)
        head.addWidget(self.add_place)
        left.addLayout(head)
        self.kinds = KindFigure(self)
        self.kinds.kind_chosen.connect(self._choose_kind)
        left.addWidget(self.kinds)
        self.years = _Years(self._choose_memory)
        left.addWidget(self.years)
        self.board = figure()
        self.board.setMinimumSize(QSize(380, BOARD_H))
        left.addWidget(self.board)
        self.editor = PlaceEditor(self._session)
        self.editor.emptied.connect(self.board.setFocus)
        self.board.chosen.connect(lambda region: self.choose(region.id))
        left.addWidget(self.editor)
        left.addWidget(self.findings)
        left.addStretch(1)
        return left

    def choose(self, region_id: str) -> None:
        """Show what is in a slot or bay and what was found there; of the outside, the findings alone."""
        job = self._session.job()
        self.editor.setVisible(not region_id.startswith("zone:"))
        self.editor.show_place(region_id)
        if job is not None:
            self._draw(job)
            self.findings.show_zone(job, zone_of(job.machine, region_id))

    def choose_outside(self) -> None:
        """The first part of the outside, for findings."""
        job = self._session.job()
        zones = outside_zones(job.machine) if job is not None else ()
        if zones and not self.board.selected.startswith("zone:"):
            self.board.choose(f"zone:{zones[0].id}")
        self.board.setFocus()

    def show_job(self, job: Job, view: JobView | None) -> None:
        """The record as it is now."""
        machine = job.machine
        self.quick.show_job(job)
        self.open.show_job(job, view)
        self.scan.show_job(job)
        self.trials.show_job(job)
        ids = [s.id for s in machine.slots] + [b.id for b in machine.bays]
        chosen = self.board.selected
        known = chosen in ids or bool(facts_of(machine, chosen))
        if not known and chosen not in [f"zone:{z.id}" for z in outside_zones(machine)]:
            self.board.selected = ids[0] if ids else ""
            self.editor.show_place(self.board.selected)
        self.editor.show_job(job)
        self.add_place.setCurrentIndex(0)
        asked = machine.kind is MachineKind.NOT_KNOWN and not ids
        self._title.setText(say("What kind of machine is it?" if asked else "What is in its slots"))
        zone = self.board.selected.startswith("zone:")
        for widget, shown in ((self.kinds, asked), (self.board, not asked), (self.editor, not asked and not zone),
                              (self.add_place, not asked), (self.findings.add, not asked)):  # fmt: skip
            widget.setVisible(shown)
        self.years.setVisible(not asked and machine.kind is not MachineKind.NOT_KNOWN and not machine.slots)
        self.kinds.fit_height()
        self._draw(job)
        self.findings.show_zone(job, zone_of(machine, self.board.selected))

    def _draw(self, job: Job) -> None:
        machine = job.machine
        state = BoardState(machine, machine.configuration(), {})
        findings, selected = job.findings, self.board.selected
        inside = max(BOARD_H, round(board_height(machine)))
        self.board.setFixedHeight(round(inside + strip_height(machine, max(self.board.width(), 380)) + 4))
        self.board.set_builder(lambda w, h: machine_figure(state, findings, selected, w, h))

    def _choose_kind(self, kind: MachineKind) -> None:
        self.quick.choose_kind(kind)
        self.quick.edit.setFocus()

    def _choose_memory(self, generation: str) -> None:
        job = self._session.job()
        if job is not None:
            machine = with_typical_places(job.machine, MemoryGeneration(generation))
            self._session.edit("kind of memory chosen", replace(job, machine=machine))

    def _add_place(self, kind: str) -> None:
        job = self._session.job()
        if job is not None and kind:
            machine, place = with_place(job.machine, kind)
            self.board.selected = place
            self.editor.show_place(place)
            self._session.edit("slot added", replace(job, machine=machine))


class _Years(QWidget):
    """The memory of a machine's years, which brings the usual memory slots of its kind."""

    def __init__(self, chosen: Callable[[str], object]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(label("Kind of memory", "field"))
        self.switch = Switch([(g.value, g.value) for g in YEARS], chosen, "Kind of memory")
        row.addWidget(self.switch, 1)
