"""Find cause: ranked causes with their evidence and next check; heat, limits, drives and the swap grid beside them."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QVBoxLayout, QWidget

from brachium.app.intake.practice import is_practice
from brachium.app.view.cause_headlines import drives_headline, heat_headline, limits_headline, swap_headline
from brachium.app.view.job_view import JobView
from brachium.core.base.text import joined, lower_first, many, phrase, upper_first
from brachium.core.base.why import Because
from brachium.core.figures.plots.limit_bars import limit_bars
from brachium.core.measure.run import missing_of
from brachium.core.record.job import Job
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.find_cause.cause_panel import DOES_NOT_START, CausePanel
from brachium.ui.pages.find_cause.drive_panel import DrivePanel
from brachium.ui.pages.find_cause.heat_panel import HeatPanel
from brachium.ui.pages.find_cause.practice_bar import PracticeBar
from brachium.ui.pages.find_cause.swap_panel import SwapPanel
from brachium.ui.widgets.fields import Switch

PARTS = (
    ("causes", "Causes"),
    ("start", "No start"),
    ("heat", "Heat"),
    ("limits", "Limits"),
    ("drives", "Drives"),
    ("swap", "Swap grid"),
)
SUBLINES = {
    "start": "The cheapest first; buy nothing before it is found.",
    "heat": "Changes speak, absolute steps do not.",
    "limits": "What it waited for, in shares of time.",
    "drives": "Sectors: the drive. New interface errors: its cable.",
    "swap": "One change at a time, as few as can be.",
}


class FindCausePage(Page):
    """Five parts over one assessment."""

    def build(self) -> None:
        self.part = Switch(PARTS, self.show_part, "Part of Find cause")
        self.part.show_value("causes")
        self._heading_row.addWidget(self.part)
        self.practice = PracticeBar(self.session)
        self.body.addWidget(self.practice)
        self.causes = CausePanel(self.session, self.figure)
        self.start = CausePanel(self.session, self.figure, DOES_NOT_START)
        self.heat = HeatPanel(self.session, self.figure, self._to_check)
        self.limits = QWidget()
        layout = QVBoxLayout(self.limits)
        layout.setContentsMargins(0, 10, 0, 0)
        self.bars = self.figure()
        self.bars.setMinimumSize(QSize(420, 120))
        layout.addWidget(self.bars)
        layout.addStretch(1)
        self.drives = DrivePanel(self.session, self.figure)
        self.swap = SwapPanel(self.session, self.figure)
        self._parts: dict[str, QWidget] = {
            "causes": self.causes, "start": self.start, "heat": self.heat, "limits": self.limits,
            "drives": self.drives, "swap": self.swap,
        }  # fmt: skip
        for key, part in self._parts.items():
            self.body.addWidget(part, 1)  # first: shown without a parent it would be a window of its own
            part.setVisible(key == "causes")
        self._key, self._job_id = "causes", ""

    def show_part(self, key: str) -> None:
        """Causes, heat, limits, drives or the swap grid."""
        self._key = key
        self.part.show_value(key)
        for name, part in self._parts.items():
            part.setVisible(name == key)
        job = self.session.job()
        if job is not None:
            self.show_job(job, self.session.view())
            self.session.explain(self.default_because())

    def begin_start_path(self) -> None:
        """The path of a machine that does not start, also where nobody said yet that it does not."""
        job = self.session.job()
        self._job_id = job.id if job is not None else ""  # chosen, whatever this machine would begin with
        self.part.show_option("start", True)
        self.show_part("start")

    def _to_check(self, check_id: str) -> None:
        self.show_part("causes")
        self.causes.choose_check(check_id)

    def show_job(self, job: Job, view: JobView | None) -> None:
        self.practice.show_job(job, view)
        if view is None:
            self.set_heading("Find cause", "Reading the before-run…")
            return
        if job.id != self._job_id and (begins := _first_part(view, self._key)) != self._key:
            self._job_id = job.id
            self.show_part(begins)
            return
        self._job_id = job.id
        self.part.show_option("start", view.causes.no_start or self._key == "start")
        self._head(job, view)
        if self._key == "causes":
            self.causes.show_view(replace(view, job=job))
        elif self._key == "start":
            self.start.show_view(replace(view, job=job))
        elif self._key == "heat":
            self.heat.show_view(view)
        elif self._key == "limits":
            limits = view.causes.assessment.limits
            self.bars.set_builder(lambda w, h: limit_bars(limits, w))
            self.bars.fit_height()
        elif self._key == "drives":
            self.drives.show_job(job)
        else:
            self.swap.show_job(job)

    def _head(self, job: Job, view: JobView) -> None:
        start = view.causes.start
        if self._key == "start":
            why = phrase("No before-run ({no_before}). ", no_before=job.no_before) if job.no_before else ""
            risk = next((r.kind for r in view.causes.assessment.called if r.kind.at_risk), None)
            first = phrase("{risk}: {remedy}. ", risk=risk.title, remedy=risk.remedy) if risk is not None else ""
            self.set_heading(
                phrase("{headline}.", headline=start.headline),
                phrase("{first}{why}{sublines}", first=first, why=why, sublines=SUBLINES["start"]),
            )
            return
        assessment = view.causes.assessment
        called = len(assessment.called)
        if view.measured.before is None:
            why = (
                phrase("No before-run ({no_before})", no_before=job.no_before) if job.no_before else "No before-run yet"
            )
            typed = "typed figures, " if view.measured.shown_before is not None else ""
            line = phrase("{why}: what {typed}the record, the scan and what was checked say.", why=why, typed=typed)
        else:
            blind = [what for what, _ in missing_of(view.measured.before)]
            line = phrase(
                "{causes} called, {count} possible; ", causes=many(called, "cause"), count=len(assessment.open) - called
            )
            line += phrase("times are shares of {profile}", profile=lower_first(view.causes.profile.title))
            line += phrase(". Not sampled: {blind}.", blind=joined(", ", blind)) if blind else "."
        headline = self._answer(job, view) or assessment.headline
        self.set_heading(phrase("{headline}.", headline=upper_first(headline)), SUBLINES.get(self._key, line))
        if is_practice(job):
            hidden = "The ranking stays hidden until you name the cause."
            self.set_heading("What holds it back?", line if job.named_cause else SUBLINES.get(self._key, hidden))

    def _answer(self, job: Job, view: JobView) -> str:
        """What the part in view says; empty for the causes."""
        if self._key == "heat":
            return heat_headline(view)
        if self._key == "limits":
            return limits_headline(view)
        if self._key == "drives":
            return drives_headline(job)
        return swap_headline(job) if self._key == "swap" else ""

    def default_because(self) -> Because | None:
        view = self.session.view()
        if view is None:
            return None
        if self._key == "causes":
            return self.causes.because()
        if self._key == "start":
            return self.start.because()
        if self._key == "heat":
            return self.heat.because()
        if self._key == "drives":
            return self.drives.because()
        if self._key == "swap":
            return self.swap.because()
        regions = self.bars.regions() if self._key == "limits" else ()
        return regions[0].because if regions else None


def _first_part(view: JobView, now: str) -> str:
    """What is shown of another job first: why it does not start, where it does not."""
    if view.causes.in_front is view.causes.start:
        return "start" if now == "causes" else now
    return "causes" if now == "start" else now
