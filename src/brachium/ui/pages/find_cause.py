"""Find cause: what takes the owner's time, costliest first, with the traces and the heat stair as evidence."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from brachium.app.figures import run_strand
from brachium.app.view import JobView
from brachium.core.because import Because
from brachium.core.cause.causes import Strength
from brachium.core.figures.cause_list import cause_list
from brachium.core.figures.heat_stair import StairColumn, heat_stair
from brachium.core.figures.traces import LANES, twin_traces
from brachium.core.job.job import Job
from brachium.core.measure.run import missing_of
from brachium.ui.pages.measure_setup import MissingList
from brachium.ui.pages.page import Page
from brachium.ui.widgets.labels import label

CAUSE_LANES = (*LANES[:2], ("io_stall_frac", "waiting", "%", 100.0))


class FindCausePage(Page):
    """Ranked causes above, their evidence below."""

    def build(self) -> None:
        self.causes = self.figure()
        self.causes.setMinimumHeight(200)
        self.body.addSpacing(6)
        self.body.addWidget(self.causes)
        self.body.addSpacing(8)
        columns = QHBoxLayout()
        columns.setSpacing(24)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        right.setSpacing(4)
        left.addWidget(label("The whole first session", "section"))
        self.traces = self.figure()
        self.traces.setMinimumSize(QSize(420, 236))
        left.addWidget(self.traces, 1)
        self._stair_title = label("Where the heat falls", "section")
        right.addWidget(self._stair_title)
        self.stair = self.figure()
        self.stair.setMinimumSize(QSize(230, 236))
        right.addWidget(self.stair, 1)
        self.missing = MissingList("What could not be judged")
        right.addWidget(self.missing)
        self._below = QWidget()
        self._below.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        right.addWidget(self._below, 1)
        columns.addLayout(left, 5)
        columns.addLayout(right, 3)
        self.body.addLayout(columns, 1)

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None or view.before is None or view.figures is None:
            if job.no_before:
                self.set_heading(
                    f"No before: {job.no_before}", "Without a run no cause shows in figures; look and try."
                )
            else:
                self.set_heading("Find cause", "Reading the before-run…")
            for figure in (self.causes, self.traces, self.stair):
                figure.set_builder(None)
            return
        real = [c for c in view.causes if c.strength is not Strength.RULED_OUT]
        blind = missing_of(view.before)
        nothing = "No cause shows in what was sampled" if blind else "Nothing in the before-run holds this machine back"
        first = real[0].title if real else nothing
        self.set_heading(f"{first}.", f"{len(real)} causes found, {len(view.causes) - len(real)} ruled out; "
                         f"shares are of the time of {view.profile.title.lower()}.")  # fmt: skip
        self.causes.setVisible(bool(view.causes))
        self.causes.set_builder(lambda w, h: cause_list(view.causes, w))
        self.causes.fit_height()
        whole = run_strand(view.before, "before", False, job.machine.processor.limit_c)
        session = view.before.sessions[0].trace
        full = type(whole)(session, whole.onset_s, None, "before", False)
        self.traces.set_builder(lambda w, h: twin_traces((full,), w, h, CAUSE_LANES))
        reading = view.figures.reading
        has_stair = reading is not None and reading.stair is not None
        self.stair.setVisible(has_stair)
        self.missing.show_lines(() if has_stair else blind)
        self._below.setVisible(not has_stair)
        if reading is None or reading.stair is None:
            self._stair_title.setText("No heat stair: " + (reading.refusal if reading else "no temperature sampled"))
            self.stair.set_builder(None)
            return
        stair = reading.stair
        self._stair_title.setText(f"Where the heat falls, at {reading.power_ref_w:.0f} W")
        self.stair.set_builder(
            lambda w, h: heat_stair(
                (StairColumn("before", stair, False),), reading.power_ref_w, reading.fan_ref_rpm, w, h
            )
        )

    def default_because(self) -> Because | None:
        view = self.session.view()
        return view.causes[0].because if view is not None and view.causes else None
