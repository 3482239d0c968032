"""Findings: what was found on the part of the machine that is chosen, how bad, what it means; what all come to."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, many, phrase, upper_first
from brachium.core.base.units import minutes
from brachium.core.condition.findings import KINDS, Finding, Severity, added_minutes, kind_of, stopping
from brachium.core.condition.zones import zone_title
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import PlainChoice, Switch
from brachium.ui.widgets.labels import button, clear, label, paragraph

SEVERITIES = tuple((s.name, upper_first(s.words)) for s in Severity)


class FindingsPanel(QWidget):
    """`add` and `sums` are laid out by the page, beside the drawing and below it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._zone = session, ""
        self._shown: object = None
        kinds = [("", "Add a finding here…"), *((k.id, k.title) for k in KINDS)]
        self.add = PlainChoice(kinds, self._add, "Add a finding here", narrow=True)
        self.sums = label("", "soft")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        self.zone_title = label("", "title")
        layout.addWidget(self.zone_title)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        layout.addLayout(self._rows)

    def show_zone(self, job: Job, zone: str) -> None:
        """The findings of a zone; nothing where there is none of them."""
        self._zone = zone
        state = (job.id, job.machine.kind, job.findings, zone)
        if state == self._shown:
            return
        self._shown = state
        self.add.setCurrentIndex(0)
        self.zone_title.setText(say(zone_title(job.machine.kind, zone)))
        clear(self._rows)
        own = [(k, f) for k, f in enumerate(job.findings) if f.zone == zone]
        for index, finding in own:
            self._rows.addWidget(self._row(index, finding))
        self.setVisible(bool(own))
        self.sums.setText(say(_sums(job)))

    def _row(self, index: int, finding: Finding) -> QWidget:
        kind = kind_of(finding)
        out = QWidget()
        layout = QVBoxLayout(out)
        layout.setContentsMargins(0, 2, 0, 2)
        layout.setSpacing(2)
        line = QHBoxLayout()
        line.addWidget(paragraph(kind.title, "alarm" if kind.stops else "title"), 1)
        severity = Switch(SEVERITIES, lambda key: self._change(index, severity=Severity[key]), kind.title)
        severity.show_value(finding.severity.name)
        line.addWidget(severity)
        remove = button(
            "×", lambda: self._remove(index), "quiet", phrase("Take {kind} out", kind=lower_first(kind.title))
        )
        remove.setAccessibleName(say(phrase("Take {kind} out", kind=kind.title)))
        line.addWidget(remove)
        layout.addLayout(line)
        means = phrase("{means}; worth: {price}.", means=upper_first(kind.means), price=kind.price)
        layout.addWidget(label(means, "soft", True))
        if kind.caution:
            layout.addWidget(label(kind.caution, "alarm" if kind.stops else "warm", True))
        note = QLineEdit(finding.note)
        note.setPlaceholderText(say("note"))
        note.setAccessibleName(say(phrase("Note on {kind}", kind=kind.title)))
        note.editingFinished.connect(lambda: self._change(index, note=note.text().strip()))
        layout.addWidget(note)
        return out

    # -- edits

    def _edit(self, text: str, change: Callable[[Job], Job]) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(text, change(job))

    def _add(self, key: str) -> None:
        if key:
            found = Finding(key, self._zone)
            self._edit(
                phrase("found: {title}", title=lower_first(kind_of(found).title)),
                lambda j: replace(j, findings=(*j.findings, found)),
            )

    def _change(self, index: int, **changes: object) -> None:
        def change(job: Job) -> Job:
            findings = list(job.findings)
            findings[index] = replace(findings[index], **changes)  # type: ignore[arg-type]
            return replace(job, findings=tuple(findings))

        self._edit("finding changed", change)

    def _remove(self, index: int) -> None:
        self._edit("finding taken out", lambda j: replace(j, findings=(*j.findings[:index], *j.findings[index + 1 :])))


def _sums(job: Job) -> str:
    """What the findings come to."""
    stop = stopping(job.findings)
    if stop is not None:
        return phrase("{title} stops the job until it is gone", title=kind_of(stop).title)
    if not job.findings:
        return "No finding yet"
    added = added_minutes(job.findings)
    return phrase("{findings}, {added} more work", findings=many(len(job.findings), "finding"), added=minutes(added))
