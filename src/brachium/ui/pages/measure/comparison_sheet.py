"""Two or more runs of one machine compared: the first against each of the others, one after the other."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.app.files.compare_files import series_all
from brachium.app.view.figures import is_sampled, ledger_of, traces_of
from brachium.app.view.listed_runs import listed_runs
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.figures.lists.series_ledger import series_ledger
from brachium.core.figures.plots.heat_stair import StairColumn, heat_stair
from brachium.core.figures.plots.repeats import repeat_dots
from brachium.core.measure.permutation import permutation
from brachium.core.measure.run import Run
from brachium.core.prove.comparison import Comparison
from brachium.core.prove.offered_causes import offered_causes
from brachium.core.prove.series import ConfigurationSeries
from brachium.core.prove.verdict_words import headline, subline
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.save_figure import save_figure


class ComparisonSheet(QDialog):
    """Computes off the window's thread."""

    def __init__(self, parent: QWidget, session: Session, runs: Sequence[Run], limit_c: float | None) -> None:
        super().__init__(parent)
        self._session, self._limit_c = session, limit_c
        stored, job = session.workspace.all_runs(session.job_id), session.job()
        arrived = [s.run.id for s in (listed_runs(job, stored) if job is not None else stored)]
        runs = sorted(runs, key=lambda r: arrived.index(r.id) if r.id in arrived else len(arrived))
        first = runs[0]
        self.setWindowTitle(say("Runs compared"))
        self.resize(min(parent.width() - 60, 1000), min(parent.height() - 60, 720))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 12)
        layout.addWidget(
            label(phrase("Against {configuration}{on}", configuration=first.configuration, on=_on(first)), "title")
        )
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        inner = QWidget()
        inner.setObjectName("page")
        self._list = QVBoxLayout(inner)
        self._list.setSpacing(6)
        self._list.addWidget(label("Comparing…", "soft"))
        area.setWidget(inner)
        layout.addWidget(area, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Close", self.close, "quiet"))
        layout.addLayout(row)
        self.comparisons: tuple[Comparison, ...] = ()
        self.series: ConfigurationSeries | None = None
        history = [s.run for s in stored if s.run.complete and not s.run.void_reason]
        session.workspace.lanes.submit(
            "compute", lambda: series_all(list(runs), history, limit_c, True), self._show, self._failed
        )

    def _failed(self, error: Exception) -> None:
        self.close()
        self._session.report(error)

    def _show(self, series: ConfigurationSeries) -> None:
        import shiboken6

        if not shiboken6.isValid(self):  # closed meanwhile
            return
        self.series, self.comparisons = series, series.comparisons
        clear(self._list)
        if len(series.comparisons) > 1:
            self._whole(series)
        for comparison in series.comparisons:
            self._one(comparison)
        self._list.addStretch(1)

    def _whole(self, series: ConfigurationSeries) -> None:
        """All configurations at once, before each alone."""
        names = [
            phrase("{k}: {configuration}{on}", k=k, configuration=r.configuration or r.id, on=_on(r))
            for k, r in enumerate(series.runs, 1)
        ]
        self._list.addWidget(label("All in time order", "section"))
        self._list.addWidget(label(joined(". ", names) + ".", "soft", True))
        if any(g.result is not None for c in series.comparisons for g in c.gains):
            ledger = self._figure(lambda w, h: series_ledger(series, w))
            ledger.setMinimumHeight(40)
            self._list.addWidget(ledger)
            ledger.fit_height()
        stairs = series.stairs
        if stairs.refusal:
            self._list.addWidget(label(phrase("No heat stairs: {refusal}.", refusal=stairs.refusal), "soft", True))
        else:
            columns = tuple(StairColumn(str(k), s, k == len(stairs.stairs)) for k, s in enumerate(stairs.stairs, 1))
            figure = self._figure(lambda w, h: heat_stair(columns, stairs.power_ref_w, stairs.fan_ref_rpm, w, h))
            figure.setMinimumSize(QSize(500, 220))
            self._list.addWidget(figure)
        for number, step in enumerate(series.steps, 1):
            for cause in offered_causes(step):
                self._list.addWidget(
                    label(
                        phrase("{number} to {number2}: {cause}.", number=number, number2=number + 1, cause=cause),
                        "",
                        True,
                    )
                )
        out = [phrase("{name}: {test}, {why}", name=name, test=test, why=why) for name, test, why in series.left_out()]
        if out:
            self._list.addWidget(label(phrase("Left out: {out}.", out=joined("; ", out)), "soft", True))
        self._list.addSpacing(14)

    def _one(self, comparison: Comparison) -> None:
        after = comparison.after
        self._list.addWidget(
            label(phrase("{configuration}{on}", configuration=after.configuration, on=_on(after)), "section")
        )
        self._list.addWidget(label(headline(comparison), "title", True))
        self._list.addWidget(label(subline(comparison), "soft", True))
        if is_sampled(comparison.before) and is_sampled(after):
            traces = self._figure(lambda w, h, c=comparison: traces_of(c, self._limit_c, w, h))
            traces.setMinimumSize(QSize(500, 230))
            self._list.addWidget(traces)
        strips = QHBoxLayout()
        for run, last in ((comparison.before, False), (after, True)):
            rows = tuple((t, run.results(t.key)) for t in run.tests if run.results(t.key))
            if rows:
                dots = self._figure(lambda w, h, r=rows, a=last: repeat_dots(r, w, h, a))
                dots.setMinimumSize(QSize(300, round(30 * len(rows))))
                strips.addWidget(dots)
        self._list.addLayout(strips)
        if comparison.gains:
            ledger = self._figure(lambda w, h, c=comparison: ledger_of(c, w, 25.0))
            self._list.addWidget(ledger)
            ledger.setMinimumHeight(round(25 * len(comparison.gains) + 24))
        said = [
            phrase("{name}: {sides} ({text})", name=d.name, sides=d.sides, text=d.text) for d in comparison.differences
        ]
        said += _permutations(comparison)
        for cause in offered_causes(comparison):
            self._list.addWidget(label(phrase("{cause}.", cause=cause), "", True))
        if said:
            self._list.addWidget(label(joined(". ", said) + ".", "soft", True))
        self._list.addSpacing(14)

    def _figure(self, builder: object) -> DrawingView:
        view = DrawingView()
        view.set_builder(builder)  # type: ignore[arg-type]
        view.chosen.connect(lambda region: self._session.explain(region.because))
        view.save_asked.connect(lambda drawing: save_figure(self, drawing, self._session))
        return view


def _on(run: Run) -> str:
    return phrase(", {taken_at}", taken_at=run.taken_at) if run.taken_at else ""


def _permutations(comparison: Comparison) -> list[str]:
    """Exact values beside the intervals, where both sides have one session."""
    out = []
    for gain in comparison.gains:
        sides = [run.results(gain.test.key) for run in (comparison.before, comparison.after)]
        if gain.result is not None and all(len(s) == 1 for s in sides):
            found = permutation(sides[0][0], sides[1][0])
            if found is not None:
                out.append(phrase("{test}: {found}", test=gain.test.title, found=found.words))
    return out
