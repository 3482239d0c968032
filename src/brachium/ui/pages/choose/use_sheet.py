"""How the owner's work spends its time: shares that are edited, or taken from the before-run's timed task."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.record.use_of_job import measured_of, typed_use
from brachium.core.use.day_of_use import DayOfUse
from brachium.core.use.profile import RESOURCES, UseProfile
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField, Switch
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.number_fields import number_field

TITLES = {
    "single": "One thread", "all": "All threads", "memory": "Memory bandwidth", "random": "Small reads",
    "sequential": "Long reads", "graphics": "Graphics", "network": "Network", "person": "A person",
}  # fmt: skip
OTHERS = (("overlap", "Overlap [%]", 100), ("working_set_gib", "Working set [GiB]", 1000), ("skew", "Access skew", 1))


class UseSheet(QDialog):
    """Shares are made whole again when one is changed. Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Use of time"))
        self.setMinimumWidth(600)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        self._title = label("", "title")
        layout.addWidget(self._title)
        self.source = Switch((("typed", "Shares as stated"), ("measured", "As the timed task showed")),
                             self._set_source,
                             "Where the shares come from")  # fmt: skip
        layout.addWidget(self.source)
        self.note = paragraph("", "soft")
        layout.addWidget(self.note)
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        self.fields: dict[str, LineField] = {}
        for k, key in enumerate(RESOURCES):
            name = phrase("{title} [%]", title=TITLES[key])
            self.fields[key] = number_field(name, 0, 100, lambda v, k=key: self._share(k, v))  # type: ignore[misc]
            grid.addWidget(self.fields[key], k // 4, k % 4)
        for k, (key, title, most) in enumerate(OTHERS):
            self.fields[key] = number_field(title, 0, most, lambda v, name=key: self._other(name, v))  # type: ignore[misc]
            grid.addWidget(self.fields[key], 2, k)
        layout.addLayout(grid)
        row = QHBoxLayout()
        self.reset = button("Back to the shipped profile", self._reset, "quiet")
        row.addWidget(self.reset)
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)
        self._show()

    def _measured(self) -> UseProfile | None:
        job, view = self._session.job(), self._session.view()
        if job is None or view is None:
            return None
        measured = view.measured
        return measured_of(typed_use(job), view.causes.assessment.limits, measured.day_before, measured.before)

    def _put(self, profile: UseProfile) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("use of time", replace(job, own_use=profile))
        self._show()

    def _share(self, key: str, value: Decimal | None) -> None:
        job = self._session.job()
        if job is None:
            return
        now = typed_use(job)
        share = min(float(value or 0) / 100.0, 1.0)
        rest = sum(v for k, v in now.shares.items() if k != key)
        left = 1.0 - share
        shares = {k: share if k == key else (v * left / rest if rest > 0 else 0.0) for k, v in now.shares.items()}
        if rest <= 0.0:
            shares["person" if key != "person" else "single"] = left
        self._put(replace(now, shares=shares))

    def _other(self, key: str, value: Decimal | None) -> None:
        job = self._session.job()
        if job is None or value is None:
            self._show()
            return
        given = float(value) / (100.0 if key == "overlap" else 1.0)
        if key != "overlap" and given <= 0.0:
            given = 0.1
        self._put(replace(typed_use(job), **{key: given}))  # type: ignore[arg-type]

    def _set_source(self, key: str) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("use of time", replace(job, measured_shares=key == "measured"))
        self._show()

    def _reset(self) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("use of time", replace(job, own_use=None, measured_shares=False))
        self._show()

    def _show(self) -> None:
        job = self._session.job()
        if job is None:
            return
        measured = self._measured()
        asked = job.measured_shares and measured is not None
        profile = measured if asked and measured is not None else typed_use(job)
        self._title.setText(say(phrase("{profile}: how the work spends its time", profile=profile.title)))
        self.source.show_value("measured" if asked else "typed")
        self.source.buttons["measured"].setEnabled(measured is not None)
        view = self._session.view()
        day = view.measured.day_before if view is not None else None
        name, note = _source(measured, day)
        self.source.buttons["measured"].setText(say(name))
        self.note.setText(say(note))  # fmt: skip
        for key in RESOURCES:
            self.fields[key].show_value(phrase("{shares:.0f}", shares=100 * profile.shares.get(key, 0.0)))
            self.fields[key].edit.setReadOnly(asked)
        self.fields["overlap"].show_value(phrase("{overlap:.0f}", overlap=100 * profile.overlap))
        self.fields["working_set_gib"].show_value(
            phrase("{working_set_gib:g}", working_set_gib=profile.working_set_gib)
        )
        self.fields["skew"].show_value(phrase("{skew:g}", skew=profile.skew))
        self.reset.setVisible(job.own_use is not None or job.measured_shares)


def _source(measured: UseProfile | None, day: DayOfUse | None) -> tuple[str, str]:
    """(name of the measured shares, where they come from)."""
    if day is not None:
        note = phrase(
            "Watched for {hours_at_work:.1f} h at work: the figures of those days.",
            hours_at_work=day.hours_at_work,
        )
        return "As watched", note
    if measured is None:
        return "As measured", "Not measured yet: watch a day, or take everyday tasks, in Measure."
    if "everyday" in measured.title:
        note = "From the everyday tasks of the before-run."
        return "By everyday tasks", note
    note = "The before-run sampled the owner's own task: choose it to use its profile."
    return "As the timed task showed", note
