"""Prove: the verdict in words, twin traces, heat stair, gain ledger, targets, conditions that differ."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QHideEvent
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from brachium.app.view.figures import is_sampled, ledger_of, stair_of, traces_of
from brachium.app.view.job_view import JobView
from brachium.core.base.arrays import FloatArray
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.lists.attribution_list import attribution_list
from brachium.core.figures.lists.claim_list import claim_list
from brachium.core.figures.plots.latency_curve import latency_curve
from brachium.core.figures.plots.repeats import repeat_dots
from brachium.core.heat.throttle import HeldBack, ThrottleFinding
from brachium.core.measure.run import Run, TestSpec, curve_of
from brachium.core.measure.run_checks import Flag
from brachium.core.prove.comparison import Comparison
from brachium.core.prove.heat_results import sustained_clocks
from brachium.core.prove.offered_causes import offered_causes
from brachium.core.prove.verdict_words import headline, subline
from brachium.core.record.job import CONNECTED, Job
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.measure.comparison_sheet import ComparisonSheet
from brachium.ui.pages.measure.feel_figures import FeelFigures
from brachium.ui.pages.measure.measure_page import WIDGET_MAX, MeasurePage
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label

RESULT_ROW = 38
LATENCY_H = 210
TITLE = 36  # height of a title with the room around it


class AfterRunPage(MeasurePage):
    """Measuring the after, inside Prove."""

    role = "after"

    def build(self) -> None:
        super().build()
        self.part.hide()  # own tests and all runs are on Measure

    def _kept(self, view: JobView | None) -> Run | None:
        return view.measured.after if view is not None else None

    def _shown(self, view: JobView | None) -> Run | None:
        return view.measured.shown_after if view is not None else None

    def _flags(self, view: JobView | None) -> tuple[Flag, ...]:
        return view.measured.flags_after if view is not None else ()


class ComparisonPage(Page):
    """Before and after against each other."""

    measuring_asked = Signal()

    def build(self) -> None:
        tip = "Every configuration, against the first and the one before"
        self.all = button("", self._compare_all, "", tip)
        self._heading_row.addWidget(self.all, 0, Qt.AlignmentFlag.AlignTop)
        self.measure_after = button("Measure the after", self.measuring_asked.emit, "", "The typed results stay")
        self._heading_row.addWidget(self.measure_after, 0, Qt.AlignmentFlag.AlignTop)
        self.body.addSpacing(6)
        self._heat = QWidget()
        columns = QHBoxLayout(self._heat)
        columns.setContentsMargins(0, 0, 0, 0)
        columns.setSpacing(20)
        self.traces = self.figure()
        self.traces.setMinimumSize(QSize(400, 262))
        columns.addWidget(self.traces, 4)
        right = QVBoxLayout()
        right.setSpacing(2)
        self._stair_title = label("", "section", True)
        right.addWidget(self._stair_title)
        self.stair = self.figure()
        self.stair.setMinimumSize(QSize(280, 140))
        right.addWidget(self.stair, 1)
        self.claims = self.figure()
        self.claims.setMinimumHeight(60)
        right.addWidget(self.claims)
        self._no_stair = QWidget()  # takes the room of the stair where there is none
        right.addWidget(self._no_stair, 1)
        columns.addLayout(right, 3)
        self.body.addWidget(self._heat, 1)
        self.body.addSpacing(6)
        row = QHBoxLayout()
        self._ledger_title = label("Gain per test", "section")
        row.addWidget(self._ledger_title)
        row.addStretch(1)
        self._ledger_note = label("after / before, in the better direction, 95 % interval", "field")
        row.addWidget(self._ledger_note)
        self.body.addLayout(row)
        self.ledger = self.figure()
        self.ledger.setMinimumHeight(60)
        self.body.addWidget(self.ledger)
        self._brought_title = label("What each change brought", "section")
        self.body.addWidget(self._brought_title)
        self.brought = self.figure()
        self.brought.setMinimumHeight(50)
        self.body.addWidget(self.brought)
        self._results_title = label("Results, before and after", "section")
        self.body.addWidget(self._results_title)
        sides = QHBoxLayout()
        sides.setSpacing(20)
        self.dots = (self.figure(), self.figure())
        for figure in self.dots:
            sides.addWidget(figure)
        self.body.addLayout(sides)
        self._latency_title = label("Memory latency by working set", "section")
        self.body.addWidget(self._latency_title)
        self.latency = self.figure()
        self.latency.setFixedHeight(LATENCY_H)
        self.body.addWidget(self.latency)
        self.feel = FeelFigures(self.figure)
        self.body.addWidget(self.feel)
        self._conditions = label("", "soft", True)
        self.body.addWidget(self._conditions)
        self._rest = QWidget()  # takes the room of the traces where there are none
        self.body.addWidget(self._rest, 1)

    def show_job(self, job: Job, view: JobView | None) -> None:
        comparison = view.proof.comparison if view is not None else None
        if view is None or comparison is None:
            self.set_heading("Prove", "Comparing the runs…")
            return
        self.set_heading(headline(comparison), subline(comparison))
        count = len(view.measured.configurations)
        self.all.setVisible(count > 2)
        self.all.setText(say(phrase("All {count} configurations…", count=count)))
        self.measure_after.setVisible(view.measured.after is None and job.bench in CONNECTED)
        limit = job.machine.processor.limit_c
        sampled = is_sampled(comparison.before) and is_sampled(comparison.after)
        self.traces.setVisible(sampled)
        self.traces.set_builder((lambda w, h: traces_of(comparison, limit, w, h)) if sampled else None)
        heat = comparison.heat
        self._heat.setVisible(sampled or heat.stairs is not None or bool(view.proof.targets))
        self._rest.setVisible(not sampled)
        self._show_results(comparison, not sampled)
        self.stair.setVisible(heat.stairs is not None)
        self._no_stair.setVisible(heat.stairs is None)
        if heat.stairs is None:
            self._stair_title.setText(say(phrase("No heat verdict: {refusal}", refusal=heat.refusal)))
            self.stair.set_builder(None)
        else:
            self._stair_title.setText(
                say(
                    phrase(
                        "Temperature drops, at {power_ref_w:.0f} W and {fan_ref_rpm:.0f} /min",
                        power_ref_w=heat.power_ref_w,
                        fan_ref_rpm=heat.fan_ref_rpm,
                    )
                )
            )
            self.stair.set_builder(lambda w, h: stair_of(comparison, w, h))
        self.claims.set_builder(lambda w, h: claim_list(heat, view.proof.targets, w))
        self.claims.fit_height()
        drawn = sampled or heat.stairs is not None
        self._heat.setMaximumHeight(WIDGET_MAX if drawn else self.claims.minimumHeight() + TITLE)
        has_tests = bool(comparison.gains)
        for w in (self._ledger_title, self._ledger_note, self.ledger):
            w.setVisible(has_tests)
        if has_tests:
            self.ledger.set_builder(lambda w, h: ledger_of(comparison, w, 25.0))
            self.ledger.fit_height()
        self._show_brought(view, comparison)
        self._show_latency(comparison)
        shown = self.feel.show_runs(comparison.before, comparison.after, view.proof.days)
        self.feel.setVisible(shown)
        self._conditions.setText(say(_conditions_text(comparison)))

    def _show_results(self, comparison: Comparison, shown: bool) -> None:
        """Every repeat of both sides, where there are no traces to look at."""
        tests = [g.test for g in comparison.gains if g.result is not None]
        self._results_title.setVisible(shown and bool(tests))
        for figure, run, last in zip(self.dots, (comparison.before, comparison.after), (False, True), strict=True):
            figure.setVisible(shown and bool(tests))
            rows = tuple((t, run.results(t.key)) for t in tests)
            figure.set_builder(partial(_dots, rows, last) if shown and rows else None)
            figure.setMinimumSize(QSize(300, RESULT_ROW * len(rows)))
            figure.setMaximumHeight(RESULT_ROW * max(len(rows), 1))

    def _show_latency(self, comparison: Comparison) -> None:
        """How long one load waits, by working set, where either side measured it."""
        before, after = (curve_of(run, "mem_latency") for run in (comparison.before, comparison.after))
        shown = bool(before or after) and comparison.gain("mem_latency") is not None
        for w in (self._latency_title, self.latency):
            w.setVisible(shown)
        self.latency.set_builder((lambda w, h: latency_curve(before, after, w, h)) if shown else None)

    def _show_brought(self, view: JobView, comparison: Comparison) -> None:
        """What each change brought of the measured gain."""
        found = view.proof.attribution if not comparison.refusal else None
        for w in (self._brought_title, self.brought):
            w.setVisible(found is not None and bool(found.parts))
        if found is not None and found.parts:
            how = "estimated from the model" if found.estimated else "measured between runs"
            self._brought_title.setText(say(phrase("What each change brought of the work per time, {how}", how=how)))
            self.brought.set_builder(lambda w, h: attribution_list(found, w))
            self.brought.fit_height()

    def _compare_all(self) -> None:
        view = self.session.view()
        if view is not None:
            limit = view.job.machine.processor.limit_c
            sheet = ComparisonSheet(self.window(), self.session, view.measured.configurations, limit)
            sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            sheet.show()

    def default_because(self) -> Because | None:
        view = self.session.view()
        comparison = view.proof.comparison if view is not None else None
        return verdict_because(comparison) if comparison is not None else None


def _dots(rows: tuple[tuple[TestSpec, tuple[FloatArray, ...]], ...], last: bool, w: float, h: float) -> Drawing:
    return repeat_dots(rows, w, h, last)


def _conditions_text(comparison: Comparison) -> str:
    """What differs between the runs, then what else has to be said."""
    parts = [
        phrase("{name} {sides} ({text})", name=d.name, sides=d.sides, text=d.text)
        for d in comparison.differences
        if not d.unknown
    ]
    text = phrase("Differs: {parts}.", parts=joined("; ", parts)) if parts else "No recorded condition differs."
    unknown = [d.text for d in comparison.differences if d.unknown]
    text += "".join(phrase(" {t}.", t=upper_first(t)) for t in unknown)
    causes = offered_causes(comparison)
    text += phrase(" May be the cause: {causes}.", causes=joined("; ", causes)) if causes else ""
    notes = comparison.heat.warnings
    return phrase("{text} Note: {notes}.", text=text, notes=joined("; ", notes)) if notes else text


class ProvePage(QStackedWidget):
    """Measuring while there is no after-run or one is in progress; comparing otherwise."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.after = AfterRunPage(session)
        self.comparison = ComparisonPage(session)
        self.addWidget(self.after)
        self.addWidget(self.comparison)
        self._measuring = ""  # the job whose after is to be measured though results were typed
        self.comparison.measuring_asked.connect(self._measure)

    def _measure(self) -> None:
        self._measuring = self._session.job_id
        job = self._session.job()
        if job is not None:
            self.show_job(job, self._session.view())

    def hideEvent(self, event: QHideEvent) -> None:
        """Who comes back sees the proof again."""
        super().hideEvent(event)
        self._measuring = ""

    def show_job(self, job: Job, view: JobView | None) -> None:
        active = self._session.measure.active
        measuring = active is not None and active.job_id == job.id
        alone = view is None or view.proof.comparison is None
        alone = alone or (self._measuring == job.id and view is not None and view.measured.after is None)
        page: Page = self.after if measuring or alone else self.comparison
        self.setCurrentWidget(page)
        page.show_job(job, view)

    def default_because(self) -> Because | None:
        page = self.currentWidget()
        return page.default_because() if isinstance(page, Page) else None


def _held_words(found: ThrottleFinding) -> str:
    if found.kind in (HeldBack.NOT_KNOWN, HeldBack.BOOST_OVER, HeldBack.NONE):
        return found.kind.value
    return phrase("{share:.0f} % of the load, {kind}", share=100 * found.share, kind=found.kind.value)


def verdict_because(comparison: Comparison) -> Because:
    """How the headline came about."""
    heat = comparison.heat
    facts = []
    if heat.throttles is not None:
        facts += [Fact(phrase("held back {name}", name=name), _held_words(t), Origin.MEASURED)
                  for name, t in zip(("before", "after"), heat.throttles, strict=True)]  # fmt: skip
        if sustained_clocks(heat):
            facts.append(Fact("sustained clock", sustained_clocks(heat),
                              Origin.MEASURED))  # fmt: skip
    if heat.peaks_c is not None:
        facts.append(
            Fact(
                "peak",
                phrase("{peaks_c:.0f}, then {peaks_c2:.0f} °C", peaks_c=heat.peaks_c[0], peaks_c2=heat.peaks_c[1]),
                Origin.MEASURED,
            )
        )
    for name, claim in (("paste and mounting", heat.paste), ("fins, fan and vents", heat.airflow)):
        if claim is not None:
            facts.append(Fact(name, claim.text, Origin.FITTED))
    return Because(
        headline(comparison), "comparison",
        "Judged by sustained work and the heat path, not by the peak temperature.",
        tuple(facts), heat.helped_more, "An after-run in more sessions, or like conditions.",
    )  # fmt: skip
