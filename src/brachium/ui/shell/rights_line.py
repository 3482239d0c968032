"""Above a page that this bench's role may only look at: why. The page below is grey and can still be read."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from brachium.app.shared.bench_rights import bench_work_problem, owner_problem
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase, upper_first
from brachium.core.figures.base.theme import SPACE
from brachium.core.record.job import Stage
from brachium.ui.session import Session
from brachium.ui.widgets.labels import label

OWNERS_PAGES, BENCH_PAGES = ("prices",), ("shelf", "day")


class RightsLine(QWidget):
    """Hidden where the role may do everything on the page in view."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(SPACE.gutter, 8, SPACE.gutter, 0)
        self.words = label("", "alarm", True)
        row.addWidget(self.words)
        self.hide()

    def show_stage(self, stage: Stage, page: QWidget) -> None:
        """Of a stage of the selected machine."""
        workspace = self._session.workspace
        reason = workspace.role_problem(self._session.job_id)
        self._show(reason or (bench_work_problem(workspace.database.role) if stage is not Stage.TAKE_IN else ""), page)

    def show_shop(self, page_id: str, page: QWidget) -> None:
        """Of a page of the shop."""
        role = self._session.workspace.database.role
        owners, bench = owner_problem(role) if page_id in OWNERS_PAGES else "", bench_work_problem(role)
        self._show(owners or (bench if page_id in BENCH_PAGES else ""), page)

    def _show(self, reason: str, page: QWidget) -> None:
        inner = page.widget() if isinstance(page, QScrollArea) else page
        if inner is not None:
            inner.setEnabled(not reason)
        self.words.setText(say(phrase("{reason}.", reason=upper_first(reason)) if reason else ""))
        self.setVisible(bool(reason))
