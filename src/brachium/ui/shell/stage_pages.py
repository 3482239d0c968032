"""The pages of the window, each imported and built when it is first asked for: that keeps the start light."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QStackedWidget

from brachium.core.record.job import Stage
from brachium.ui.session import Session

if TYPE_CHECKING:
    from brachium.ui.pages.base.page import Page
    from brachium.ui.pages.prove.prove_page import ProvePage

MODULES: dict[Stage, tuple[str, str]] = {
    Stage.TAKE_IN: ("take_in.take_in_page", "TakeInPage"),
    Stage.MEASURE: ("measure.measure_page", "MeasurePage"),
    Stage.FIND_CAUSE: ("find_cause.find_cause_page", "FindCausePage"),
    Stage.CHOOSE: ("choose.choose_page", "ChoosePage"),
    Stage.WORK: ("work.work_page", "WorkPage"),
    Stage.PROVE: ("prove.prove_page", "ProvePage"),
    Stage.HAND_OVER: ("hand_over.hand_over_page", "HandOverPage"),
}


WARM_MS = 150  # between two pages that are built ahead


class StagePages:
    """Pages by stage; `shelf[stage]` builds the page into the stack on first use."""

    def __init__(self, session: Session, stack: QStackedWidget) -> None:
        self._session, self._stack = session, stack
        self._built: dict[Stage, Page | ProvePage] = {}

    def __getitem__(self, stage: Stage) -> Page | ProvePage:
        if stage not in self._built:
            module, name = MODULES[stage]
            make: Callable[[Session], Page | ProvePage] = getattr(import_module(f"brachium.ui.pages.{module}"), name)
            self._built[stage] = make(self._session)
            self._stack.addWidget(self._built[stage])
        return self._built[stage]

    def warm(self) -> None:
        """Load what the other stages are made of in a lane, then build their pages one by one while nobody is busy: so
        that the first look at one of them waits for nothing."""
        lanes = self._session.workspace.lanes
        names = [f"brachium.ui.pages.{module}" for module, _ in MODULES.values()]

        def load() -> None:
            for name in names:
                if not lanes.closing:
                    import_module(name)

        lanes.submit("compute", load, lambda _: self._build_next(), lambda _: None)

    def _build_next(self) -> None:
        left = [stage for stage in MODULES if stage not in self._built]
        if left and not self._session.workspace.lanes.closing:
            self[left[0]]
            QTimer.singleShot(WARM_MS, self._stack, self._build_next)

    def is_current(self, stage: Stage) -> bool:
        """Whether a stage's page is the one in view; builds nothing."""
        return self._stack.currentWidget() is self._built.get(stage, self)
