"""Track record: how right predictions and estimates were, what rarely paid, whether it corrects what is foretold."""

from __future__ import annotations

from math import log

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.kept import keep_settings
from brachium.app.shop.shop_record import corrects_predictions, outcomes_of, part_lies_aside
from brachium.core.base.units import many, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.day.durations import learn_durations
from brachium.core.figures.plots.calibration import calibration, calibration_points
from brachium.core.learn.correction import correction_of, coverage
from brachium.core.learn.outcomes import JobOutcome
from brachium.core.learn.summary import FEW, by_kind, by_machine, minutes_of, sales_of
from brachium.core.record.correction import NONE, Correction
from brachium.ui.pages.base.page import Page
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import clear, label, paragraph

MOST_STEPS = 3
CORRECT = (("on", "Correct by this record"), ("off", "As the model says"))


class TrackRecordPage(Page):
    """A page of the shop; everything on it comes from jobs that were handed over."""

    def build(self) -> None:
        self.correct = Switch(CORRECT, self._set, "Predictions")
        self._heading_row.addWidget(self.correct)
        self.body.addSpacing(8)
        self.words = paragraph("", "section")
        self.body.addWidget(self.words)
        columns = QHBoxLayout()
        columns.setSpacing(24)
        self.plot = self.figure()
        self.plot.setMinimumSize(QSize(380, 320))
        columns.addWidget(self.plot, 5)
        right = QVBoxLayout()
        titles = ("By kind of change", "Best value by kind of machine", "Minutes and sales")
        self._titles = [label(title, "section") for title in titles]
        right.addWidget(self._titles[0])
        self._kinds = QGridLayout()
        self._kinds.setHorizontalSpacing(16)
        self._kinds.setVerticalSpacing(8)
        right.addLayout(self._kinds)
        right.addSpacing(12)
        right.addWidget(self._titles[1])
        self._machines = QGridLayout()
        self._machines.setHorizontalSpacing(16)
        self._machines.setVerticalSpacing(8)
        right.addLayout(self._machines)
        right.addSpacing(12)
        right.addWidget(self._titles[2])
        self.minutes = paragraph("", "plain")
        right.addWidget(self.minutes)
        right.addStretch(1)
        columns.addLayout(right, 4)
        self.body.addLayout(columns, 1)

    def _outcomes(self) -> tuple[JobOutcome, ...]:
        return outcomes_of(self.session.workspace)

    def _correction(self) -> Correction:
        return correction_of(self._outcomes()) if corrects_predictions(self.session.workspace) else NONE

    def show_shop(self) -> None:
        """The record as it is now."""
        outcomes, correction = self._outcomes(), self._correction()
        rules = self.session.workspace.shop_rules()
        empty = "Nothing yet: a job that is handed over leaves its figures here."
        told = f"{many(len(outcomes), 'job')} handed over." if outcomes else empty
        aside = " A part of the record could not be read: it is kept aside, and a backup may hold it whole."
        self.set_heading("Track record", told + (aside if part_lies_aside(self.session.workspace) else ""))
        self.correct.show_value("on" if corrects_predictions(self.session.workspace) else "off")
        found = calibration_points(outcomes, correction)
        self.plot.set_builder(lambda w, h: calibration(found, w, h))
        self.words.setText(_coverage_words(outcomes, correction))
        for title in self._titles:
            title.setVisible(bool(outcomes))
        rows: list[tuple[str, ...]] = [("", "jobs", "predicted", "brought", "")]
        rows += [
            (
                k.group,
                str(k.count),
                f"× {k.predicted:.2f}",
                f"× {k.brought:.2f}",
                "rarely paid" if k.rarely_pays else "",
            )
            for k in by_kind(outcomes, rules.worth_per_eur)
        ]
        _fill(self._kinds, rows if len(rows) > 1 else [])
        machines: list[tuple[str, ...]] = [("", "jobs", "gain", "cost", "per 100 EUR")]
        machines += [
            (m.kind, str(m.count), f"× {m.gain:.2f}", f"{m.cost:.0f} EUR", f"{percent(m.per_100)} more")
            for m in by_machine(outcomes)
        ]
        _fill(self._machines, machines if len(machines) > 1 else [])
        lines = (_minutes_words(outcomes), _steps_words(outcomes), _sales_words(outcomes))
        self.minutes.setText("\n".join(line for line in lines if line))

    def _set(self, key: str) -> None:
        workspace = self.session.workspace
        keep_settings(workspace, correct_predictions=key != "off")
        workspace.refresh_viewed()
        self.show_shop()

    def default_because(self) -> Because | None:
        correction = self._correction()
        facts = [Fact("jobs that count", str(correction.count), Origin.LOGGED)]
        facts += [
            Fact(f"{g}, moved by", f"{100 * b:+.1f} %", Origin.COMPUTED) for g, b in sorted(correction.by_group.items())
        ]
        facts.append(Fact("width of the band", f"× {correction.spread:.2f}", Origin.COMPUTED))
        text = (
            "What finished jobs brought against what was predicted, kind by kind. Few jobs change little: with n of "
            "them the weight is n / (n + 15). The band is widened or narrowed until 8 of 10 measured gains lie in it. "
            "Choose and the day sheet use it while it is switched on."
        )
        return Because("Track record", "empirical Bayes", text, tuple(facts), "", "One more job handed over.")


def _minutes_words(outcomes: tuple[JobOutcome, ...]) -> str:
    took = minutes_of(outcomes)
    if took.ratio is None:
        return ""
    return f"Work took {percent(took.ratio)} of the estimated minutes, median of {many(took.count, 'job')}."


def _steps_words(outcomes: tuple[JobOutcome, ...]) -> str:
    """The steps whose minutes are off most, by how many times they were timed."""
    learned = [(k, v) for k, v in learn_durations(step for o in outcomes for step in o.steps).items() if v.count >= FEW]
    off = sorted(learned, key=lambda x: -abs(log(x[1].factor)))[:MOST_STEPS]
    words = ", ".join(f"{k.replace('-', ' ')} {100 * (v.factor - 1):+.0f} % ({v.count})" for k, v in off)
    return f"Steps furthest off, as the day sheet counts them: {words}." if words else ""


def _sales_words(outcomes: tuple[JobOutcome, ...]) -> str:
    sold = sales_of(outcomes)
    if not sold.count:
        return ""
    likely = f" for {percent(sold.ratio)} of the price thought likely (median)" if sold.ratio is not None else ""
    over = f"{sold.margin:.0f} EUR over the work's cost, {sold.losses} at a loss"
    return f"Sold: {many(sold.count, 'machine')}{likely}, {over}."


def _coverage_words(outcomes: tuple[JobOutcome, ...], correction: Correction) -> str:
    inside, total = coverage(outcomes, correction)
    if not total:
        return ""
    return f"{inside} of {total} measured gains lie in their band; 8 of 10 are meant."


def _fill(grid: QGridLayout, rows: list[tuple[str, ...]]) -> None:
    clear(grid)
    for k, cells in enumerate(rows):
        for column, text in enumerate(cells):
            cell: QWidget = label(text, "soft" if k == 0 else "warm" if text == "rarely paid" else "plain")
            side = Qt.AlignmentFlag.AlignRight if column and text != "rarely paid" else Qt.AlignmentFlag.AlignLeft
            grid.addWidget(cell, k, column, side)
