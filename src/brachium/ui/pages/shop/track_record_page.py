"""Track record: how right predictions and estimates were, what rarely paid, whether it corrects what is predicted."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.kept import keep_settings
from brachium.app.shop.track_record import TrackRecord, differently, track_record
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.base.units import percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.day.durations import Learned
from brachium.core.figures.plots.calibration import calibration
from brachium.core.learn.summary import Minutes, Sales
from brachium.ui.pages.base.page import Page
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import clear, label, paragraph

CORRECT = (("on", "Correct by this record"), ("off", "As the model says"))


class TrackRecordPage(Page):
    """A page of the shop; everything on it comes from jobs that were handed over."""

    def build(self) -> None:
        self.correct = Switch(CORRECT, self._set, "Predictions")
        self._heading_row.addWidget(self.correct)
        self.body.addSpacing(8)
        columns = QHBoxLayout()
        columns.setSpacing(24)
        self.plot = self.figure()
        self.plot.setMinimumSize(QSize(340, 320))
        columns.addWidget(self.plot, 5)
        right = QVBoxLayout()
        right.setSpacing(4)
        titles = ("By kind of change", "Best value by kind of machine", "Minutes and sales")
        self._titles = [label(title, "section") for title in titles]
        right.addWidget(self._titles[0])
        self._kinds = QGridLayout()
        self._kinds.setHorizontalSpacing(10)
        self._kinds.setVerticalSpacing(8)
        right.addLayout(self._kinds)
        right.addSpacing(12)
        right.addWidget(self._titles[1])
        self._machines = QGridLayout()
        self._machines.setHorizontalSpacing(10)
        self._machines.setVerticalSpacing(8)
        right.addLayout(self._machines)
        right.addSpacing(12)
        right.addWidget(self._titles[2])
        self.minutes = paragraph("", "plain")
        right.addWidget(self.minutes)
        right.addStretch(1)
        columns.addLayout(right, 4)
        self.body.addLayout(columns, 1)

    def show_shop(self) -> None:
        """The record as it is now."""
        record = track_record(self.session.workspace)
        empty = "Nothing yet: a job handed over counts here."
        told = (
            phrase("{differently} {jobs} handed over.", differently=differently(record), jobs=many(record.jobs, "job"))
            if record.jobs
            else empty
        )
        aside = " A part of it could not be read and is kept aside; a backup may hold it."
        said = _coverage_words(record) or "No prediction was tested yet"
        self.set_heading(said, told + (aside if record.aside else ""))
        self.correct.show_value("on" if record.corrects else "off")
        self.plot.set_builder(lambda w, h: calibration(record.points, w, h))
        for title in self._titles:
            title.setVisible(bool(record.jobs))
        rows: list[tuple[str, ...]] = [("", "jobs", "predicted", "brought", "")]
        rows += [
            (
                k.group,
                str(k.count),
                phrase("× {predicted:.2f}", predicted=k.predicted),
                phrase("× {brought:.2f}", brought=k.brought),
                "rarely paid" if k.rarely_pays else "",
            )
            for k in record.kinds
        ]
        _fill(self._kinds, rows if len(rows) > 1 else [])
        machines: list[tuple[str, ...]] = [("", "jobs", "gain", "cost", "per 100 EUR")]
        machines += [
            (
                m.kind,
                str(m.count),
                phrase("× {gain:.2f}", gain=m.gain),
                phrase("{cost:.0f} EUR", cost=m.cost),
                phrase("{per_100} more", per_100=percent(m.per_100)),
            )
            for m in record.machines
        ]
        _fill(self._machines, machines if len(machines) > 1 else [])
        lines = (_minutes_words(record.took), _steps_words(record.steps_off), _sales_words(record.sold))
        self.minutes.setText(say(joined("\n", (line for line in lines if line))))

    def _set(self, key: str) -> None:
        workspace = self.session.workspace
        keep_settings(workspace, correct_predictions=key != "off")
        workspace.refresh_viewed()
        self.show_shop()

    def default_because(self) -> Because | None:
        correction = track_record(self.session.workspace).correction
        facts = [Fact("jobs that count", str(correction.count), Origin.LOGGED)]
        facts += [
            Fact(phrase("{g}, moved by", g=g), phrase("{b:+.1f} %", b=100 * b), Origin.COMPUTED)
            for g, b in sorted(correction.by_group.items())
        ]
        facts.append(Fact("width of the band", phrase("× {spread:.2f}", spread=correction.spread), Origin.COMPUTED))
        text = (
            "With n jobs of a kind their weight is n / (n + 15). The band is set so that 8 of 10 measured "
            "gains lie in it."
        )
        return Because("Track record", "empirical Bayes", text, tuple(facts), "", "One more job handed over.")


def _minutes_words(took: Minutes) -> str:
    if took.ratio is None:
        return ""
    return phrase(
        "Work took {ratio} of the estimate, median of {jobs}.",
        ratio=percent(took.ratio),
        jobs=many(took.count, "job"),
    )


def _steps_words(off: Sequence[tuple[str, Learned]]) -> str:
    """The steps whose minutes are off most, by how many times they were timed."""
    words = joined(
        ", ",
        (
            phrase("{k} {factor:+.0f} % ({count})", k=k.replace("-", " "), factor=100 * (v.factor - 1), count=v.count)
            for k, v in off
        ),
    )
    return phrase("Steps furthest off: {words}.", words=words) if words else ""


def _sales_words(sold: Sales) -> str:
    if not sold.count:
        return ""
    likely = (
        phrase(" for {ratio} of the price thought likely (median)", ratio=percent(sold.ratio))
        if sold.ratio is not None
        else ""
    )
    over = phrase("{margin:.0f} EUR over the work's cost, {losses} at a loss", margin=sold.margin, losses=sold.losses)
    return phrase("Sold: {machines}{likely}, {over}.", machines=many(sold.count, "machine"), likely=likely, over=over)


def _coverage_words(record: TrackRecord) -> str:
    if not record.total:
        return ""
    return phrase(
        "{inside} of {total} gains lie in their band; 8 of 10 are meant",
        inside=record.inside,
        total=record.total,
    )


def _fill(grid: QGridLayout, rows: list[tuple[str, ...]]) -> None:
    clear(grid)
    for k, cells in enumerate(rows):
        for column, text in enumerate(cells):
            cell: QWidget = label(text, "soft" if k == 0 else "warm" if text == "rarely paid" else "plain")
            side = Qt.AlignmentFlag.AlignRight if column and text != "rarely paid" else Qt.AlignmentFlag.AlignLeft
            grid.addWidget(cell, k, column, side)
