"""The pages of the window, each imported and built when it is first asked for: that keeps the start light."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import TYPE_CHECKING

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

    def is_current(self, stage: Stage) -> bool:
        """Whether a stage's page is the one in view; builds nothing."""
        return self._stack.currentWidget() is self._built.get(stage, self)
