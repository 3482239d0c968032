"""What every stage page has in common: headline, subline, a body that scrolls, refresh from job and view."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.why import Because
from brachium.core.figures.base.theme import SPACE
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import label, paragraph
from brachium.ui.widgets.reading_order import step
from brachium.ui.widgets.save_figure import save_figure

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView


class Page(QScrollArea):
    """One stage. Subclasses fill `body` in `build` and show a job in `show_job`."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        inner.setObjectName("page")
        self.body = QVBoxLayout(inner)
        self.body.setContentsMargins(SPACE.gutter, 12, SPACE.gutter, 10)
        self.body.setSpacing(4)
        self._headline = paragraph("", "headline")
        self._subline = label("", "soft", True)
        self._heading_row = QHBoxLayout()
        self._heading_row.addWidget(self._headline, 1)
        self.body.addLayout(self._heading_row)
        self.body.addWidget(self._subline)
        self.setWidget(inner)
        self.build()

    def build(self) -> None:
        """Add the page's own widgets to `body`."""

    def show_job(self, job: Job, view: JobView | None) -> None:
        """Show the job; `view` is None until it is computed."""

    def show_shop(self) -> None:
        """Show the shop as it is now, where the page is one of the shop."""

    def default_because(self) -> Because | None:
        """What Because says when the page is entered."""
        return None

    def set_heading(self, headline: str, subline: str) -> None:
        self._headline.setText(say(headline))
        self._subline.setText(say(subline))
        self._subline.setVisible(bool(subline))

    def focusNextPrevChild(self, onward: bool) -> bool:
        """Tab goes over the page as it is read."""
        if not step(self, onward):
            return super().focusNextPrevChild(onward)
        if (focused := self.focusWidget()) is not None and self.isAncestorOf(focused):
            self.ensureWidgetVisible(focused)
        return True

    def figure(self) -> DrawingView:
        """A figure whose chosen region explains itself in Because."""
        view = DrawingView()
        view.chosen.connect(lambda region: self.session.explain(region.because))
        view.save_asked.connect(lambda drawing: save_figure(self, drawing, self.session))
        return view
