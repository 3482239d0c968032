"""Condition: findings pinned to the machine's drawing, what they mean, and what was tried before opening."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from brachium.app.intake.quick_take_in import with_kind
from brachium.core.base.units import many, minutes
from brachium.core.condition.findings import KINDS, Finding, Severity, added_minutes, kind_of, stopping
from brachium.core.condition.trials import FunctionalTest, TestResult, TrialOutcome, tests_for
from brachium.core.condition.zones import ZONES, zone_title
from brachium.core.figures.plots.condition_map import condition_map
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.job import Job
from brachium.ui.pages.take_in.photo_strip import PhotoStrip
from brachium.ui.session import Session
from brachium.ui.theme.icons import icon
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import ChoiceField, Switch
from brachium.ui.widgets.labels import button, clear, label

SEVERITIES = tuple((s.name, s.words[:1].upper() + s.words[1:]) for s in Severity)
CYCLE = (TrialOutcome.NOT_TRIED, TrialOutcome.WORKS, TrialOutcome.FAILS, TrialOutcome.ABSENT)
OUTCOME_ICONS = {
    TrialOutcome.NOT_TRIED: ("circle", "soft"), TrialOutcome.WORKS: ("check", "cool"),
    TrialOutcome.FAILS: ("x", "alarm"), TrialOutcome.ABSENT: ("minus", "soft"),
}  # fmt: skip


class ConditionPanel(QWidget):
    """The drawing at the left; findings of the chosen zone and the functional tests at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        columns = QHBoxLayout(self)
        columns.setContentsMargins(0, 8, 0, 0)
        columns.setSpacing(24)
        left = QVBoxLayout()
        self.kind = ChoiceField(
            "Kind of machine", [(k.value, k.value.capitalize()) for k in MachineKind], self._set_kind
        )
        self.kind.setFixedWidth(220)
        left.addWidget(self.kind)
        self.map = DrawingView()
        self.map.setMinimumSize(QSize(380, 290))
        self.map.chosen.connect(self._zone_chosen)
        left.addWidget(self.map, 1)
        self.sums = label("", "soft", True)
        left.addWidget(self.sums)
        self.photos = PhotoStrip(session)
        left.addWidget(self.photos)
        columns.addLayout(left, 1)
        columns.addLayout(self._right(), 1)

    def _right(self) -> QVBoxLayout:
        right = QVBoxLayout()
        right.setSpacing(4)
        self.zone_title = label("", "section")
        right.addWidget(self.zone_title)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        right.addLayout(self._rows)
        kinds = [("", "Add a finding here…"), *((k.id, k.title) for k in KINDS)]
        self.add = ChoiceField("Finding", kinds, self._add)
        right.addWidget(self.add)
        right.addSpacing(8)
        right.addWidget(label("Tried before opening", "section"))
        right.addWidget(label("Press a test for works, fails, not there.", "field"))
        self._tests = QGridLayout()
        self._tests.setHorizontalSpacing(12)
        self._tests.setVerticalSpacing(2)
        self._tests.setColumnStretch(0, 1)
        self._tests.setColumnStretch(1, 1)
        right.addLayout(self._tests)
        right.addStretch(1)
        return right

    def zone(self) -> str:
        """The chosen zone's id."""
        return self.map.selected.removeprefix("zone:")

    def show_job(self, job: Job) -> None:
        self.photos.show_job(job)
        kind = job.machine.kind
        if self.zone() not in [z.id for z in ZONES[kind.build]]:
            self.map.selected = f"zone:{ZONES[kind.build][0].id}"
        state = (job.id, kind, job.findings, job.tried, self.zone())
        if state == self._shown:
            return
        self._shown = state
        self.kind.show_value(kind.value)
        zone = self.zone()
        self.map.set_builder(lambda w, h: condition_map(kind, job.findings, zone, w, h))
        self.zone_title.setText(zone_title(kind, zone))
        self.add.show_value("")
        clear(self._rows)
        for index, finding in enumerate(job.findings):
            if finding.zone == zone:
                self._rows.addWidget(self._row(index, finding))
        self._show_tests(job)
        self.sums.setText(_sums(job))

    def _row(self, index: int, finding: Finding) -> QWidget:
        kind = kind_of(finding)
        out = QWidget()
        layout = QVBoxLayout(out)
        layout.setContentsMargins(0, 2, 0, 2)
        layout.setSpacing(2)
        line = QHBoxLayout()
        line.addWidget(label(kind.title, "alarm" if kind.stops else "title"))
        line.addStretch(1)
        severity = Switch(SEVERITIES, lambda key: self._change(index, severity=Severity[key]), kind.title)
        severity.show_value(finding.severity.name)
        line.addWidget(severity)
        remove = button("×", lambda: self._remove(index), "quiet", f"Take {kind.title.lower()} out")
        remove.setAccessibleName(f"Take {kind.title} out")
        line.addWidget(remove)
        layout.addLayout(line)
        means = f"{kind.means[:1].upper()}{kind.means[1:]}; worth: {kind.price}."
        layout.addWidget(label(means, "soft", True))
        if kind.caution:
            layout.addWidget(label(kind.caution, "alarm" if kind.stops else "warm", True))
        note = QLineEdit(finding.note)
        note.setPlaceholderText("note")
        note.setAccessibleName(f"Note on {kind.title}")
        note.editingFinished.connect(lambda: self._change(index, note=note.text().strip()))
        layout.addWidget(note)
        return out

    def _show_tests(self, job: Job) -> None:
        clear(self._tests)
        known = {r.id: r for r in job.tried}
        tests = tests_for(job.machine.kind)
        rows = (len(tests) + 1) // 2
        for index, test in enumerate(tests):
            result = known.get(test.id)
            outcome = result.outcome if result else TrialOutcome.NOT_TRIED
            self._tests.addWidget(self._outcome(test, outcome), index % rows, index // rows)

    def _outcome(self, test: FunctionalTest, outcome: TrialOutcome) -> QPushButton:
        """One test as a button; every press gives the next outcome."""
        following = CYCLE[(CYCLE.index(outcome) + 1) % len(CYCLE)]
        out = button(
            test.title, lambda: self._try(test.id, following), "outcome", f"{test.hint}\nPress for the next outcome"
        )
        out.setIcon(icon(*OUTCOME_ICONS[outcome]))
        out.setProperty("outcome", outcome.name)
        out.setAccessibleName(f"{test.title}: {outcome}")
        return out

    # -- edits

    def _edit(self, text: str, change: Callable[[Job], Job]) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(text, change(job))

    def _set_kind(self, key: str) -> None:
        self._edit(
            "kind of machine changed", lambda j: replace(j, machine=with_kind(j.machine, MachineKind(key)))
        )  # fmt: skip

    def _zone_chosen(self, region: object) -> None:
        job = self._session.job()
        if job is not None:
            self.show_job(job)
        self._session.explain(getattr(region, "because", None))

    def _add(self, key: str) -> None:
        if key:
            found = Finding(key, self.zone())
            self._edit(f"found: {kind_of(found).title.lower()}", lambda j: replace(j, findings=(*j.findings, found)))

    def _change(self, index: int, **changes: object) -> None:
        def change(job: Job) -> Job:
            findings = list(job.findings)
            findings[index] = replace(findings[index], **changes)  # type: ignore[arg-type]
            return replace(job, findings=tuple(findings))

        self._edit("finding changed", change)

    def _remove(self, index: int) -> None:
        self._edit("finding taken out", lambda j: replace(j, findings=(*j.findings[:index], *j.findings[index + 1 :])))

    def _try(self, test: str, outcome: TrialOutcome) -> None:
        def change(job: Job) -> Job:
            rest = tuple(r for r in job.tried if r.id != test)
            return replace(job, tried=rest if outcome is TrialOutcome.NOT_TRIED else (*rest, TestResult(test, outcome)))

        self._edit(f"tried: {test}", change)


def _sums(job: Job) -> str:
    """What the findings come to."""
    stop = stopping(job.findings)
    if stop is not None:
        return f"{kind_of(stop).title} stops the job: every stage is shut until it is gone."
    if not job.findings:
        return "Nothing found yet. Choose a zone of the drawing, then what you found there."
    added = added_minutes(job.findings)
    return f"{many(len(job.findings), 'finding')}, {minutes(added)} more work."
