"""Pages by which machines come in: the empty shop, and logs that were dropped. Built when first needed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QStackedWidget

from brachium.ui.session import Session

if TYPE_CHECKING:
    from brachium.ui.pages.shop.empty_page import Ways
    from brachium.ui.pages.shop.import_page import ImportPage


class EntryPages(QObject):
    """Shows them in place of a stage."""

    imported = Signal(str)  # the job that logs were taken into; empty where the page was left

    def __init__(self, session: Session, stack: QStackedWidget) -> None:
        super().__init__(stack)
        self._session, self._stack = session, stack
        self._import: ImportPage | None = None

    def in_view(self) -> bool:
        """Whether dropped logs are shown instead of the selected job."""
        current = self._stack.currentWidget()
        return current is not None and current is self._import

    def show_empty(self, ways: Callable[[], Ways]) -> None:
        """Show the shop without a machine, and the ways to take one in."""
        from brachium.ui.pages.shop.empty_page import EmptyShopPage

        page = self._stack.findChild(EmptyShopPage)
        if page is None:
            page = EmptyShopPage(self._session, ways())
            self._stack.addWidget(page)
        self._stack.setCurrentWidget(page)
        page.show_ways()

    @property
    def import_page(self) -> ImportPage:
        """The page for dropped logs."""
        if self._import is None:
            from brachium.ui.pages.shop.import_page import ImportPage

            self._import = ImportPage(self._session)
            self._import.finished.connect(self.imported)
            self._stack.addWidget(self._import)
        return self._import

    def open_logs(self, paths: tuple[Path, ...]) -> None:
        """Read logs and show what was found in them."""
        self._stack.setCurrentWidget(self.import_page)
        self._session.explain(self.import_page.default_because())
        self.import_page.open_files(paths)
