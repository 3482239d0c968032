"""Take in: who the machine is, what sits in its places, what it is for, its condition, the owner's data."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from decimal import InvalidOperation
from typing import TYPE_CHECKING

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.core.base.typed_numbers import typed_int
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.plots.fit_board import BoardState, board_height, fit_board
from brachium.core.machine.facts.place_facts import facts_of
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_part import MemoryGeneration
from brachium.core.machine.places import PLACE_KINDS, with_place
from brachium.core.machine.typical_places import with_typical_places
from brachium.core.record.job import DataState, Job
from brachium.core.use.profile import PROFILES
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.take_in.backup_fields import BackupFields
from brachium.ui.pages.take_in.complaint_field import ComplaintField
from brachium.ui.pages.take_in.condition_panel import ConditionPanel
from brachium.ui.pages.take_in.facts_panel import FactsPanel
from brachium.ui.pages.take_in.kind_figure import KindFigure
from brachium.ui.pages.take_in.money_panel import MoneyPanel, amount
from brachium.ui.pages.take_in.place_editor import PlaceEditor
from brachium.ui.pages.take_in.quick_line_field import QuickLineField
from brachium.ui.pages.take_in.scan_panel import ScanPanel
from brachium.ui.pages.take_in.targets_editor import TargetsEditor
from brachium.ui.widgets.fields import ChoiceField, LineField, PlainChoice, Switch
from brachium.ui.widgets.labels import label

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView
from brachium.app.view.other_use import changed_by_use

ORIGINS = {
    "maker": ("identity.maker", "identity.maker"), "model": ("identity.model", "identity.model"),
    "serial": ("identity.serial", "identity.serial"), "firmware": ("identity.firmware", "firmware.version"),
    "system": ("identity.system", "system.name"), "processor": ("processor", "processor.name"),
}  # fmt: skip
DATA_CHOICES = (("OPEN", "Not settled"), ("BACKED_UP", "Backed up"), ("NOT_NEEDED", "Not needed"), ("RESCUE", "Rescue"))
PARTS = (("record", "Record"), ("facts", "All facts"), ("condition", "Condition"), ("money", "Money"))
YEARS = (MemoryGeneration.DDR, MemoryGeneration.DDR2, MemoryGeneration.DDR3, MemoryGeneration.DDR4,
         MemoryGeneration.DDR5)  # fmt: skip
EXAMPLES = {
    "year": "A whole number such as 2014.",
    "budget": "An amount such as 150 or 149.50.",
    "needed_by": "A date such as 2026-11-27.",
}


class TakeInPage(Page):
    """Everything is saved as it is left; Ctrl+Z takes it back."""

    def build(self) -> None:
        self._before_use: JobView | None = None  # while another use is judged
        self._fields: dict[str, LineField] = {}
        self.part = Switch(PARTS, self.show_part, "Part of Take in")
        self.part.show_value("record")
        self._heading_row.addWidget(self.part)
        self._record = QWidget()
        whole = QVBoxLayout(self._record)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(4)
        self.quick = QuickLineField(self.session)
        whole.addWidget(self.quick)
        columns = QHBoxLayout()
        whole.addLayout(columns, 1)
        columns.setSpacing(24)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        right.setSpacing(4)
        columns.addLayout(left, 1)
        columns.addLayout(right, 1)
        self.body.addSpacing(4)
        self.body.addWidget(self._record, 1)
        self.facts = FactsPanel(self.session)
        self.facts.hide()
        self.body.addWidget(self.facts, 1)
        self.condition = ConditionPanel(self.session)
        self.condition.hide()
        self.body.addWidget(self.condition, 1)
        self.money = MoneyPanel(self.session)
        self.money.hide()
        self.body.addWidget(self.money, 1)
        self._build_identity(left)
        self._build_goal(left)
        self._build_places(right)
        self._build_condition(right)

    def show_part(self, key: str) -> None:
        """The record, all its facts, the condition map, or money and provenance."""
        self.part.show_value(key)
        parts = (("record", self._record), ("facts", self.facts), ("condition", self.condition), ("money", self.money))
        for name, part in parts:
            part.setVisible(name == key)
        job = self.session.job()
        if job is not None and key == "money":
            self.session.explain(self.money.because(job, self.session.view()))

    def ask_line(self) -> None:
        """The record, with the cursor in the quick line."""
        self.show_part("record")
        self.quick.edit.setFocus()

    def _build_identity(self, layout: QVBoxLayout) -> None:
        layout.addWidget(label("Who it is", "section"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(2)
        grid.addWidget(self._field("name", "Name in the shop", ""), 0, 0, 1, 2)
        grid.addWidget(self._field("year", "Year", "about"), 0, 2)
        rows: tuple[tuple[str, str, str], ...] = (
            ("maker", "Maker", ""), ("model", "Model", "from the label"), ("serial", "Serial or asset tag", ""),
            ("firmware", "Firmware", "version"), ("system", "System", ""), ("processor", "Processor", ""),
        )  # fmt: skip
        for index, (key, name, hint) in enumerate(rows, 3):
            grid.addWidget(self._field(key, name, hint), index // 3, index % 3)
        for column in range(3):
            grid.setColumnStretch(column, 1)
        layout.addLayout(grid)

    def _build_goal(self, layout: QVBoxLayout) -> None:
        layout.addSpacing(4)
        layout.addWidget(label("What it is for", "section"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(2)
        grid.addWidget(self._field("goal", "Goal", "in the owner's words"), 0, 0)
        self._profile = ChoiceField("Kind of use", [(p.id, p.title) for p in PROFILES], self._set_profile)
        self.complaint = ComplaintField(self.session)
        grid.addWidget(self.complaint, 0, 1, 1, 2)
        grid.addWidget(self._profile, 1, 0)
        grid.addWidget(self._field("budget", "Budget, EUR", "ceiling, parts and work"), 1, 1)
        grid.addWidget(self._field("needed_by", "Needed by", "year-month-day"), 1, 2)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(2, 1)
        layout.addLayout(grid)
        self.targets = TargetsEditor(self.session)
        layout.addWidget(self.targets)
        self.scan = ScanPanel(self.session)
        layout.addWidget(self.scan)
        layout.addStretch(1)

    def _build_condition(self, layout: QVBoxLayout) -> None:
        layout.addSpacing(2)
        layout.addWidget(label("Condition as it came in", "section"))
        self.notes = _Notes(self._set_condition)
        self.notes.setAccessibleName("Condition notes, one per line")
        layout.addWidget(self.notes, 1)
        layout.addSpacing(2)
        layout.addWidget(label("The owner's data", "section"))
        self.data = Switch(DATA_CHOICES, self._set_data, "The owner's data")
        layout.addWidget(self.data)
        self.backup = BackupFields(self.session)
        layout.addWidget(self.backup)
        self._data_note = label("", "soft", True)
        layout.addWidget(self._data_note)

    def _build_places(self, layout: QVBoxLayout) -> None:
        head = QHBoxLayout()
        self._places_title = label("", "section")
        head.addWidget(self._places_title)
        head.addStretch(1)
        kinds = [("", "Add a slot or bay…"), *((k.id, k.title) for k in PLACE_KINDS)]
        self.add_place = PlainChoice(kinds, self._add_place, "Add a slot or bay")
        head.addWidget(self.add_place)
        layout.addLayout(head)
        self.kinds = KindFigure(self)
        self.kinds.kind_chosen.connect(self._choose_kind)
        layout.addWidget(self.kinds)
        self.years = _Years(self._choose_memory)
        layout.addWidget(self.years)
        self.board = self.figure()
        self.board.setMinimumSize(QSize(330, 236))
        layout.addWidget(self.board, 3)
        self.editor = PlaceEditor(self.session)
        self.editor.emptied.connect(self.board.setFocus)
        self.board.chosen.connect(lambda region: self.editor.show_place(region.id))
        layout.addWidget(self.editor)

    def _choose_kind(self, kind: MachineKind) -> None:
        self.quick.choose_kind(kind)
        self.quick.edit.setFocus()

    def _choose_memory(self, generation: str) -> None:
        job = self.session.job()
        if job is not None:
            machine = with_typical_places(job.machine, MemoryGeneration(generation))
            self.session.edit("kind of memory chosen", replace(job, machine=machine))

    def _add_place(self, kind: str) -> None:
        job = self.session.job()
        if job is not None and kind:
            machine, place = with_place(job.machine, kind)
            self.board.selected = place
            self.editor.show_place(place)
            self.session.edit("slot added", replace(job, machine=machine))

    def _field(self, key: str, name: str, hint: str) -> QWidget:
        field = LineField(name, lambda text, k=key: self._set(k, text), hint)  # type: ignore[misc]
        field.edit.setObjectName(key)
        self._fields[key] = field
        if key in ORIGINS:
            field.edit.focused.connect(lambda k=key: self._explain_field(k))
        return field

    def _explain_field(self, key: str) -> None:
        job = self.session.job()
        if job is not None:
            self.session.explain(field_because(job, key, self._fields[key].caption.text()))

    def field(self, key: str) -> LineField:
        return self._fields[key]

    def show_job(self, job: Job, view: JobView | None) -> None:
        self._say_what_changed(job, view)
        machine = job.machine
        waiting = "Everything needed is recorded." if view is None else self._waiting(view)
        self.set_heading(f"Take in: {job.name}", waiting)
        values = {
            "name": job.name, "maker": machine.identity.maker, "model": machine.identity.model,
            "serial": machine.identity.serial, "year": str(machine.identity.year or ""),
            "firmware": machine.identity.firmware, "system": machine.identity.system,
            "processor": machine.processor.name, "goal": job.goal,
            "budget": "" if job.budget is None else f"{job.budget:f}", "needed_by": job.needed_by,
        }  # fmt: skip
        for key, value in values.items():
            self._fields[key].show_value(value)
        self._profile.show_value(job.profile_id)
        self.complaint.show_job(job)
        self.notes.show_lines(job.condition)
        self.data.show_value(job.data_safe.state.name)
        self.backup.show_job(job)
        self._data_note.setText(_data_words(job))
        self._data_note.setVisible(job.data_safe.state is not DataState.BACKED_UP)
        self.targets.show_job(job)
        self.scan.show_job(job)
        self.quick.show_job(job)
        self.facts.show_job(job)
        self.condition.show_job(job)
        self.money.show_job(job, view)
        ids = [s.id for s in machine.slots] + [b.id for b in machine.bays]
        if self.board.selected not in ids and not facts_of(machine, self.board.selected):
            self.board.selected = ids[0] if ids else ""
            self.editor.show_place(self.board.selected)
        self.editor.show_job(job)
        self.add_place.setCurrentIndex(0)
        state = BoardState(machine, machine.configuration(), {})
        asked = machine.kind is MachineKind.NOT_KNOWN and not ids
        self._places_title.setText("What kind of machine is it?" if asked else "What is in its slots")
        for widget, shown in ((self.kinds, asked), (self.board, not asked), (self.editor, not asked)):
            widget.setVisible(shown)
        self.years.setVisible(not asked and machine.kind is not MachineKind.NOT_KNOWN and not machine.slots)
        self.kinds.fit_height()
        self.board.setMinimumHeight(round(board_height(machine)))
        self.board.set_builder(lambda w, h: fit_board(state, w, h))

    def _waiting(self, view: JobView) -> str:
        latch = next(iter(view.standing.latches.values()))
        if latch.open:
            return "Everything needed is recorded; edits are saved as you leave a field."
        return f"Still needed: {latch.missing}."

    def default_because(self) -> Because | None:
        job = self.session.job()
        return data_because(job) if job is not None else None

    def _set(self, key: str, text: str) -> str | None:
        job = self.session.job()
        if job is None:
            return None
        setters: dict[str, Callable[[], Job]] = {
            "name": lambda: replace(job, name=text or job.name),
            "goal": lambda: replace(job, goal=text),
            "needed_by": lambda: replace(job, needed_by=date.fromisoformat(text).isoformat() if text else ""),
            "budget": lambda: replace(job, budget=amount(text) if text else None),
            "processor": lambda: replace(
                job, machine=replace(job.machine, processor=replace(job.machine.processor, name=text))
            ),
            "year": lambda: replace(job, machine=_identity(job.machine, year=typed_int(text) if text else None)),
        }
        make = setters.get(key, lambda: replace(job, machine=_identity(job.machine, **{key: text})))
        try:
            self.session.edit(f"{self._fields[key].caption.text().lower()} changed", make())
        except (ValueError, InvalidOperation):
            return EXAMPLES[key]
        return None

    def _set_profile(self, key: str) -> None:
        job = self.session.job()
        if job is not None:
            self._before_use = self.session.view()
            self.session.edit("kind of use changed", replace(job, profile_id=key))

    def _say_what_changed(self, job: Job, view: JobView | None) -> None:
        """Once the machine was judged anew for another use: what that changes."""
        before = self._before_use
        if before is None or view is None or view.job.profile_id != job.profile_id or view is before:
            return
        self._before_use = None
        words = changed_by_use(before, view)
        if words:
            self.session.say(words)

    def _set_condition(self, lines: tuple[str, ...]) -> None:
        job = self.session.job()
        if job is not None:
            self.session.edit("condition notes changed", replace(job, condition=lines))

    def _set_data(self, key: str) -> None:
        job = self.session.job()
        if job is not None:
            when = "" if DataState[key] is DataState.OPEN else now_text()
            safe = replace(job.data_safe, state=DataState[key], who=job.data_safe.who or "the bench", when=when)
            changed = replace(job, data_safe=safe)
            self.session.edit("data state changed", changed)
            self.session.explain(data_because(changed))


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


class _Notes(QPlainTextEdit):
    """Notes, one a line, written when the field is left."""

    def __init__(self, changed: Callable[[tuple[str, ...]], None]) -> None:
        super().__init__()
        self._changed = changed
        self._lines: tuple[str, ...] = ()
        self.setPlaceholderText("One finding a line: loose cable, missing screw, blocked vent, swollen battery…")
        self.setTabChangesFocus(True)

    def show_lines(self, lines: tuple[str, ...]) -> None:
        self._lines = lines
        if not self.hasFocus() and self.toPlainText() != "\n".join(lines):
            self.setPlainText("\n".join(lines))

    def sizeHint(self) -> QSize:
        return QSize(200, 48)

    def minimumSizeHint(self) -> QSize:
        return QSize(120, 46)

    def focusOutEvent(self, event: object) -> None:
        super().focusOutEvent(event)  # type: ignore[arg-type]
        lines = tuple(line.strip() for line in self.toPlainText().splitlines() if line.strip())
        if lines != self._lines:
            self._changed(lines)


def _identity(machine: Machine, **changes: object) -> Machine:
    origins = {**machine.origins, **{f"identity.{k}": Origin.TYPED for k in changes}}
    return replace(machine, identity=replace(machine.identity, **changes), origins=origins)  # type: ignore[arg-type]


def _data_words(job: Job) -> str:
    safe = job.data_safe
    if safe.state is DataState.OPEN:
        return "Nothing is loaded or opened before this is settled."
    if safe.state is DataState.RESCUE:
        return f"Opened to rescue the data, recorded {safe.when}: no load, no other work before it is out."
    return f"{safe.state.value.capitalize()}, recorded {safe.when}."


def field_because(job: Job, key: str, name: str) -> Because:
    """Where a field of the record came from: origin, raw value, what it was read from."""
    origin_key, scan_key = ORIGINS[key]
    origin = job.machine.origin(origin_key)
    seen = job.scan.field(scan_key) if job.scan is not None else None
    facts = [Fact("in the record", _recorded(job.machine, key) or "nothing", origin)]
    if seen is not None:
        facts += [Fact("seen", str(seen.value), Origin.SCANNED), Fact("raw", seen.raw or "the same", Origin.SCANNED),
                  Fact("read from", seen.source, Origin.SCANNED)]  # fmt: skip
    text = "What a person recorded stands; a scan only fills what is empty, and asks where the two disagree."
    return Because(name, "origin", text, tuple(facts), f"origin: {origin}", "Typing it, or taking what was seen.")


def _recorded(machine: Machine, key: str) -> str:
    return machine.processor.name if key == "processor" else str(getattr(machine.identity, key) or "")


def data_because(job: Job) -> Because:
    """Why the owner's data comes first."""
    safe = job.data_safe
    return Because(
        "The owner's data comes first", "latch",
        "A load test can finish off a failing drive, and an opened machine can fail to come back. Backed up means "
        "copied and read back once.",
        (Fact("state", safe.state.value, Origin.TYPED), Fact("recorded", safe.when or "not yet", Origin.TYPED),
         *(Fact(name, value, Origin.TYPED) for name, value in (("lies on", safe.where), ("size", safe.size),
                                                              ("verified by", safe.verified)) if value)),
        "the way to Measure is open" if safe.state.settled else "the way to Measure is closed",
        "Choosing one of the two settled states.",
    )  # fmt: skip
