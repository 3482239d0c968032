"""Causes: what holds the machine back, and the figures that predictions start from."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.app.view.cause_record import assessment_of, no_start, start_assessment
from brachium.app.view.measured import Measured
from brachium.app.view.read_once import figures_once
from brachium.core.cause.assess import Assessment
from brachium.core.cause.cures import with_chances
from brachium.core.choose.after_day import figures_of_day, figures_with_day
from brachium.core.heat.before_figures import BeforeFigures
from brachium.core.prove.target_results import judge_alone
from brachium.core.record.job import Job
from brachium.core.record.use_of_job import use_of
from brachium.core.use.profile import UseProfile

HEAT_TARGETS = ("peak_c", "held_back", "own:chip", "own:clock")  # beginnings of their keys


@dataclass(frozen=True)
class Causes:
    """`figures` of the before-run, of a watched day or of what was typed, with the chances that paste or fins are at
    fault; None without any; `sampled` that there is a run. `met_by` is the first configuration after the first that
    keeps every target about heat; empty where none does. `start` is what keeps it from starting, where `no_start` says
    that it does not."""

    assessment: Assessment
    profile: UseProfile
    figures: BeforeFigures | None
    met_by: str
    start: Assessment
    no_start: bool
    sampled: bool

    @property
    def in_front(self) -> Assessment:
        """What is to be found first: why it does not start, where it does not, else what holds it back."""
        return self.start if self.no_start and not self.sampled else self.assessment


def causes_of(job: Job, measured: Measured) -> Causes:
    """What Find cause shows."""
    before, shown = measured.before, measured.shown_before
    figures = figures_once(shown, job.machine.processor.limit_c) if shown is not None else None
    assessment = assessment_of(job, before, figures if before is not None else None, measured.beside_others)
    if before is None and figures is not None and not figures.typed_of_work:
        figures = None
    day, watched = measured.day_before, measured.watched[0]
    if day is not None and watched is not None and (figures is None or job.measured_shares):
        figures = figures_with_day(figures, day) if figures is not None else figures_of_day(watched, day)
    if figures is not None:
        figures = with_chances(figures, assessment, job.machine.processor.base_mhz)
    return Causes(
        assessment,
        use_of(job, assessment.limits, measured.day_before, before),
        figures,
        _met_by(job, measured),
        start_assessment(job),
        no_start(job),
        before is not None,
    )


def _met_by(job: Job, measured: Measured) -> str:
    asked = tuple(t for t in job.targets if t.key.startswith(HEAT_TARGETS))
    for run in measured.configurations[1:] if asked else ():
        if all(r.met for r in judge_alone(asked, run, job.machine.processor.limit_c, measured.known)):
            return run.configuration or run.id
    return ""
