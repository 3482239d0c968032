"""Take in: the machine round its drawing, what is still open, whom it belongs to; all facts and money beside them."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QVBoxLayout, QWidget

from brachium.core.base.text import phrase
from brachium.core.base.why import Because
from brachium.core.record.job import Job
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.take_in.facts_panel import FactsPanel
from brachium.ui.pages.take_in.machine_panel import MachinePanel
from brachium.ui.pages.take_in.money_panel import MoneyPanel
from brachium.ui.pages.take_in.open_panel import data_because
from brachium.ui.pages.take_in.owner_panel import OwnerPanel
from brachium.ui.widgets.fields import LineField, Switch

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView

PARTS = (("record", "Machine"), ("facts", "All facts"), ("money", "Money"))
CONDITION = "condition"  # of the machine: the drawing with a part of the outside chosen


class TakeInPage(Page):
    """Everything is saved as it is left; Ctrl+Z takes it back."""

    def build(self) -> None:
        self._before_use: JobView | None = None  # while another use is judged
        self.part = Switch(PARTS, self.show_part, "Part of Take in")
        self.part.show_value("record")
        self._heading_row.addWidget(self.part)
        self.record = QWidget()
        whole = QVBoxLayout(self.record)
        whole.setContentsMargins(0, 4, 0, 0)
        whole.setSpacing(4)
        self.machine = MachinePanel(self.session, self.figure)
        self.owner = OwnerPanel(self.session, self._set_profile)
        whole.addWidget(self.machine)
        whole.addWidget(self.owner)
        whole.addStretch(1)
        self.facts = FactsPanel(self.session)
        self.money = MoneyPanel(self.session)
        self._parts: dict[str, QWidget] = {"record": self.record, "facts": self.facts, "money": self.money}
        for key, part in self._parts.items():
            self.body.addWidget(part, 1)
            part.setVisible(key == "record")

    def show_part(self, key: str) -> None:
        """The machine, all its facts, or money and provenance; `condition` is the machine seen from outside."""
        shown = "record" if key == CONDITION else key
        self.part.show_value(shown)
        for name, part in self._parts.items():
            part.setVisible(name == shown)
        job = self.session.job()
        if job is not None and key == "money":
            self.session.explain(self.money.because(job, self.session.view()))
        if key == CONDITION:
            self.machine.choose_outside()

    def ask_line(self) -> None:
        """The machine, with the cursor in the quick line."""
        self.show_part("record")
        self.machine.quick.edit.setFocus()

    def field(self, key: str) -> LineField:
        """A field of the owner's part by its key."""
        return self.owner.fields[key]

    def show_job(self, job: Job, view: JobView | None) -> None:
        self._say_what_changed(job, view)
        self.set_heading(*self._answer(job, view))
        self.machine.show_job(job, view)
        self.owner.show_job(job)
        self.facts.show_job(job)
        self.money.show_job(job, view)

    def _answer(self, job: Job, view: JobView | None) -> tuple[str, str]:
        """Whether enough is known to go on, and what is missing."""
        if view is None:
            return phrase("Take in: {job}", job=job.name), ""
        latch = next(iter(view.standing.latches.values()))
        if latch.open:
            return "Known well enough to measure", ""
        return phrase("Still needed: {missing}", missing=latch.missing), ""

    def default_because(self) -> Because | None:
        job = self.session.job()
        return data_because(job) if job is not None else None

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
        from brachium.app.view.other_use import changed_by_use  # late: it brings every figure with it

        words = changed_by_use(before, view)
        if words:
            self.session.say(words)
