"""What an empty shop says: the ways to begin."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout

from brachium.app.demo.demo_shop import add_demo_jobs
from brachium.ui.pages.base.page import Page
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label


class EmptyShopPage(Page):
    """Shown while the shop has no machine."""

    def __init__(
        self, session: Session, ask_logs: Callable[[], None], take_this: Callable[[], None], by_hand: Callable[[], None]
    ) -> None:
        self._ask_logs, self._take_this, self._by_hand = ask_logs, take_this, by_hand
        super().__init__(session)

    def build(self) -> None:
        self.set_heading(
            "No machine yet", "Drop sensor logs, a run file or a job archive here, or begin with one of these."
        )
        row = QHBoxLayout()
        self.logs = button("Import sensor logs…", self._ask_logs, "primary")
        self.demo = button("Look at the demo shop", self._add_demo, "", "Eight machines of an invented radio station")
        self.this = button("Check in this PC", self._take_this, "", "Measures the machine that the program runs on")
        row.addWidget(self.logs)
        row.addWidget(self.this)
        self.hand = button("Take a machine in by hand", self._by_hand, "", "For a machine that does not start")
        row.addWidget(self.hand)
        row.addWidget(self.demo)
        row.addStretch(1)
        self.body.addSpacing(10)
        self.body.addLayout(row)
        self.body.addSpacing(18)
        self.body.addWidget(label(
            "A log needs time and chip temperature, and power or utilisation: two minutes idle, ten minutes of steady "
            "load, five minutes of cool-down. Nothing leaves this computer.", "soft", True,
        ))  # fmt: skip
        self.body.addStretch(1)

    def _add_demo(self) -> None:
        job_id = add_demo_jobs(self.session.workspace)
        self.session.select_job(job_id)
