"""Which machine it is and what it is for: identity, goal, targets, notes, photos; written as fields are left."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from decimal import InvalidOperation

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import typed_int
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.machine.machine import Machine
from brachium.core.record.job import Job
from brachium.core.use.profile import PROFILES
from brachium.ui.pages.take_in.complaint_field import ComplaintField
from brachium.ui.pages.take_in.money_panel import amount
from brachium.ui.pages.take_in.photo_strip import PhotoStrip
from brachium.ui.pages.take_in.targets_editor import TargetsEditor
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import label

ORIGINS = {
    "maker": ("identity.maker", "identity.maker"), "model": ("identity.model", "identity.model"),
    "serial": ("identity.serial", "identity.serial"), "firmware": ("identity.firmware", "firmware.version"),
    "system": ("identity.system", "system.name"), "processor": ("processor", "processor.name"),
}  # fmt: skip
EXAMPLES = {
    "year": "A whole number such as 2014.",
    "budget": "An amount such as 150 or 149.50.",
    "needed_by": "A date such as 2026-11-27.",
}
WHO = (
    (("name", "Name in the shop", "", 2), ("maker", "Maker", "", 2), ("model", "Model", "from the label", 2)),
    (("serial", "Serial or asset tag", "", 2), ("processor", "Processor", "", 2), ("year", "Year", "about", 2)),
    (("firmware", "Firmware", "version", 2), ("system", "System", "", 4)),
)
WHAT = (("budget", "Budget, EUR", "parts and work"), ("needed_by", "Needed by", "year-month-day"))
COLUMNS = 6


class OwnerPanel(QWidget):
    """Fields on one grid of six columns, so that all of them line up."""

    def __init__(self, session: Session, use_chosen: Callable[[str], object]) -> None:
        super().__init__()
        self._session = session
        self.fields: dict[str, LineField] = {}
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 10, 0, 0)
        columns.setSpacing(24)
        left, right = QVBoxLayout(), QVBoxLayout()
        for column in (left, right):
            column.setSpacing(4)
            columns.addLayout(column, 1)
        left.addWidget(label("Which machine it is", "section"))
        left.addLayout(self._grid(WHO))
        left.addStretch(1)
        right.addWidget(label("What it is for", "section"))
        right.addLayout(self._goal(use_chosen))
        self.targets = TargetsEditor(session)
        right.addWidget(self.targets)
        left.addWidget(label("Notes on its condition", "section"))
        self.notes = _Notes(self._set_condition)
        self.notes.setAccessibleName(say("Condition notes, one per line"))
        left.addWidget(self.notes)
        self.photos = PhotoStrip(session)
        left.addWidget(self.photos)
        right.addStretch(1)

    def _grid(self, rows: tuple[tuple[tuple[str, str, str, int], ...], ...]) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(2)
        for row, fields in enumerate(rows):
            at = 0
            for key, name, hint, span in fields:
                grid.addWidget(self._field(key, name, hint), row, at, 1, span)
                at += span
        for column in range(COLUMNS):
            grid.setColumnStretch(column, 1)
        return grid

    def _goal(self, use_chosen: Callable[[str], object]) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(2)
        grid.addWidget(self._field("goal", "Goal", "in the owner's words"), 0, 0, 1, COLUMNS)
        self.complaint = ComplaintField(self._session)
        grid.addWidget(self.complaint, 1, 0, 1, COLUMNS)
        self.profile = ChoiceField("Kind of use", [(p.id, p.title) for p in PROFILES], use_chosen)
        grid.addWidget(self.profile, 2, 0, 1, 3)
        for at, (key, name, hint) in enumerate(WHAT, 1):
            grid.addWidget(self._field(key, name, hint), 2 + at // 2, 3 * (at % 2), 1, 3)
        for column in range(COLUMNS):
            grid.setColumnStretch(column, 1)
        return grid

    def _field(self, key: str, name: str, hint: str) -> QWidget:
        field = LineField(name, lambda text, k=key: self._set(k, text), hint)  # type: ignore[misc]
        field.edit.setObjectName(key)
        self.fields[key] = field
        if key in ORIGINS:
            field.edit.focused.connect(lambda k=key: self._explain_field(k))
        return field

    def _explain_field(self, key: str) -> None:
        job = self._session.job()
        if job is not None:
            self._session.explain(field_because(job, key, self.fields[key].caption.text()))

    def show_job(self, job: Job) -> None:
        """The record as it is now."""
        identity = job.machine.identity
        values = {
            "name": job.name, "maker": identity.maker, "model": identity.model, "serial": identity.serial,
            "year": str(identity.year or ""), "firmware": identity.firmware, "system": identity.system,
            "processor": job.machine.processor.name, "goal": job.goal,
            "budget": "" if job.budget is None else phrase("{budget:f}", budget=job.budget), "needed_by": job.needed_by,
        }  # fmt: skip
        for key, value in values.items():
            self.fields[key].show_value(value)
        self.profile.show_value(job.profile_id)
        self.complaint.show_job(job)
        self.notes.show_lines(job.condition)
        self.targets.show_job(job)
        self.photos.show_job(job)

    def _set(self, key: str, text: str) -> str | None:
        job = self._session.job()
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
            self._session.edit(phrase("{text} changed", text=self.fields[key].caption.text().lower()), make())
        except (ValueError, InvalidOperation):
            return EXAMPLES[key]
        return None

    def _set_condition(self, lines: tuple[str, ...]) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("condition notes changed", replace(job, condition=lines))


class _Notes(QPlainTextEdit):
    """Notes, one a line, written when the field is left."""

    def __init__(self, changed: Callable[[tuple[str, ...]], None]) -> None:
        super().__init__()
        self._changed = changed
        self._lines: tuple[str, ...] = ()
        self.setPlaceholderText(say("One a line: loose cable, missing screw…"))
        self.setTabChangesFocus(True)

    def show_lines(self, lines: tuple[str, ...]) -> None:
        self._lines = lines
        if not self.hasFocus() and self.toPlainText() != "\n".join(lines):
            self.setPlainText(joined("\n", lines))

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


def field_because(job: Job, key: str, name: str) -> Because:
    """Where a field of the record came from: origin, raw value, what it was read from."""
    origin_key, scan_key = ORIGINS[key]
    origin = job.machine.origin(origin_key)
    seen = job.scan.field(scan_key) if job.scan is not None else None
    facts = [Fact("in the record", _recorded(job.machine, key) or "nothing", origin)]
    if seen is not None:
        facts += [Fact("seen", str(seen.value), Origin.SCANNED), Fact("raw", seen.raw or "the same", Origin.SCANNED),
                  Fact("read from", seen.source, Origin.SCANNED)]  # fmt: skip
    text = "What a person recorded stands; a scan fills what is empty."
    return Because(
        name,
        "origin",
        text,
        tuple(facts),
        phrase("origin: {origin}", origin=origin),
        "Typing it, or taking what was seen.",
    )


def _recorded(machine: Machine, key: str) -> str:
    return machine.processor.name if key == "processor" else str(getattr(machine.identity, key) or "")
