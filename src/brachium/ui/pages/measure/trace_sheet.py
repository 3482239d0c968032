"""The traces of one or two runs, to zoom into and to move along."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.figures.plots.traces import strand
from brachium.core.measure.run import Run
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.save_figure import save_figure
from brachium.ui.widgets.trace_view import TraceView


class TraceSheet(QDialog):
    """A sheet over the window; everything that was sampled in the first session of each run."""

    def __init__(self, parent: QWidget, session: Session, runs: Sequence[Run]) -> None:
        super().__init__(parent)
        self.setWindowTitle(say("Traces"))
        self.resize(min(parent.width() - 40, 1100), min(parent.height() - 40, 740))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 14, 20, 12)
        names = joined(
            " and ",
            (phrase("{configuration}, {taken_at}", configuration=r.configuration, taken_at=r.taken_at) for r in runs),
        )
        layout.addWidget(label(names, "title"))
        layout.addWidget(label("Wheel or + and − zoom; drag or arrows move; Home shows all.", "soft"))
        strands = [strand(r.sessions[0].trace, r.configuration or r.id, k > 0) for k, r in enumerate(runs)]
        self.traces = TraceView(strands)
        self.traces.setMinimumSize(QSize(600, 400))
        self.traces.chosen.connect(lambda region: session.explain(region.because))
        self.traces.save_asked.connect(lambda drawing: save_figure(self, drawing, session))
        layout.addWidget(self.traces, 1)
        row = QHBoxLayout()
        row.addWidget(button("All of it", lambda: self.traces.show_span(*self.traces.whole)))
        row.addWidget(button("Closer", lambda: self.traces.zoom(0.5)))
        row.addWidget(button("Wider", lambda: self.traces.zoom(2.0)))
        row.addStretch(1)
        row.addWidget(button("Close", self.close, "quiet"))
        layout.addLayout(row)
        self.traces.setFocus()
