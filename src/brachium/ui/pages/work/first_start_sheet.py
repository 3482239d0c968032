"""First start: each thing as it should read and as it reads, from a scan or typed, with what a difference may come
from."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.bench.run_roles import STABILITY
from brachium.app.intake.scanning import scan_of
from brachium.app.view.finished_machine import as_finished
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.machine.machine import Machine
from brachium.core.machine.scanned.scan import Scan
from brachium.core.record.job import LOCAL, SIMULATED
from brachium.core.work.first_start import Looked, looked_at, seen_in
from brachium.core.work.stability import stability_of
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, label, paragraph

WORDS = {True: ("agrees", "cool"), False: ("differs", "alarm"), None: ("not checked", "soft")}


class FirstStartSheet(QDialog):
    """What is typed goes into the record at once. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("First start"))
        self.resize(720, 620)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Is everything seen?", "title"))
        self.words = paragraph("", "soft")
        layout.addWidget(self.words)
        area = QScrollArea()
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidgetResizable(True)
        inner = QWidget()
        inner.setObjectName("page")
        self._grid = QGridLayout(inner)
        self._grid.setHorizontalSpacing(14)
        self._grid.setColumnStretch(2, 1)
        area.setWidget(inner)
        layout.addWidget(area, 1)
        self.causes = paragraph("", "warm")
        layout.addWidget(self.causes)
        self.stable = paragraph("", "soft")
        layout.addWidget(self.stable)
        foot = QHBoxLayout()
        self.scan = button("Read it from a scan", self.read_scan, "", "A fresh scan of the machine as it is now")
        foot.addWidget(self.scan)
        self.test = button("Test memory and load for an hour", self.test_stability, "quiet",
                           "Half an hour of memory test, half an hour of checked load")  # fmt: skip
        foot.addWidget(self.test)
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(foot)
        self.fields: dict[str, LineField] = {}
        self._build()
        self._show()

    def _machine(self) -> Machine | None:
        view = self._session.view()
        return as_finished(view) if view is not None else None

    def _looked(self) -> tuple[Looked, ...]:
        job, machine = self._session.job(), self._machine()
        return looked_at(machine, job.first_start) if job is not None and machine is not None else ()

    def _build(self) -> None:
        for row, one in enumerate(self._looked()):
            key = one.expected.key
            self._grid.addWidget(label(one.expected.label, "title"), row, 0)
            self._grid.addWidget(label(one.expected.words, "soft"), row, 1)
            field = LineField("as it reads", lambda text, k=key: self._keep(k, text), "type it off the screen")  # type: ignore[misc]
            field.edit.setAccessibleName(say(phrase("{expected} as it reads", expected=one.expected.label)))
            self.fields[key] = field
            self._grid.addWidget(field, row, 2)
            self._grid.addWidget(label("", "soft"), row, 3)

    def _keep(self, key: str, text: str) -> str | None:
        job = self._session.job()
        if job is not None:
            seen = {k: v for k, v in {**job.first_start, key: text}.items() if v}
            self._session.edit("first start checked", replace(job, first_start=seen))
        self._show()
        return None

    def test_stability(self) -> None:
        """An hour of our own verifying workload; progress and stop stand in the window's foot."""
        self.close()
        self._session.start_run(STABILITY, None)

    def read_scan(self) -> None:
        """Read the machine as it is now, beside the window."""
        job, machine = self._session.job(), self._machine()
        if job is None or machine is None:
            return
        now = replace(job, machine=machine)
        self._session.workspace.lanes.submit("watch", lambda: scan_of(now), self._scanned, self._session.report)

    def _scanned(self, scan: Scan) -> None:
        job, machine = self._session.job(), self._machine()
        if job is None or machine is None:
            return
        seen = {**job.first_start, **seen_in(machine, scan)}
        self._session.edit("first start read from a scan", replace(job, first_start=seen))
        self._show()

    def _show(self) -> None:
        job, found = self._session.job(), self._looked()
        if job is None:
            return
        self.scan.setVisible(job.can_be_scanned)
        differs = [x for x in found if x.agrees is False]
        open_ = sum(x.agrees is None for x in found)
        told = (
            phrase("{differences}", differences=many(len(differs), "difference")) if differs else "No difference so far"
        )
        self.words.setText(say(phrase("{told}; {open} not checked.", told=told, open=open_)))
        for row, one in enumerate(found):
            self.fields[one.expected.key].show_value(one.seen)
            words, role = WORDS[one.agrees]
            item = self._grid.itemAtPosition(row, 3)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.setText(say(words))  # type: ignore[attr-defined]
                widget.setProperty("role", role)
                widget.style().unpolish(widget)
                widget.style().polish(widget)
        self.test.setVisible(job.bench in (LOCAL, SIMULATED))
        found_stable = stability_of(self._session.workspace.last_of(job.id, STABILITY))
        cannot = (
            phrase(" It cannot exclude {cannot}.", cannot=joined("; ", found_stable.cannot))
            if found_stable is not None
            else ""
        )
        self.stable.setText(
            say(
                phrase("{found_stable}.{cannot}", found_stable=found_stable.words, cannot=cannot)
                if found_stable is not None
                else ""
            )
        )
        lines = [
            phrase("{expected} reads “{seen}”: ", expected=x.expected.label, seen=x.seen)
            + joined("; ", (phrase("{words} ({check})", words=c.words, check=c.check) for c in x.causes))
            for x in differs[:3]
        ]
        self.causes.setText(say(joined(". ", lines) + ("." if lines else "")))


def shown_reading(parent: QWidget, session: Session) -> FirstStartSheet:
    """The sheet over the window."""
    sheet = FirstStartSheet(parent, session)
    sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    sheet.show()
    return sheet
