"""Pages of the shop: one table feeds rail, commands and window; each page is imported and built when first shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING, Protocol, cast

from PySide6.QtWidgets import QStackedWidget, QWidget

from brachium.core.base.text import many
from brachium.ui.session import Session

if TYPE_CHECKING:
    from brachium.ui.pages.base.page import Page


class Undoable(Protocol):
    """What keeps edits of its own; both answer with the label of the edit, empty where there is none."""

    def undo(self) -> str: ...

    def redo(self) -> str: ...


@dataclass(frozen=True)
class ShopPage:
    """`module` and `name` say the class below `ui/pages/shop`, `first` its field that has the focus when it is shown.

    `undo` gives what keeps the page's own edits, `note` what stands behind its title in the rail.
    """

    id: str
    title: str
    module: str
    name: str
    first: str
    shortcut: str = ""
    undo: Callable[[Session, QWidget], Undoable] | None = None
    note: Callable[[Session], str] = lambda _: ""


SHOP_PAGES = (
    ShopPage("day", "Day sheet", "day_page", "DayPage", "plan_button", "Ctrl+Shift+D"),
    ShopPage("shelf", "Parts shelf", "shelf_page", "ShelfPage", "add", "Ctrl+Shift+P", lambda session, _: session.shelf,
             lambda session: many(len(session.shelf.parts), "part")),
    ShopPage("prices", "Parts and prices", "prices_page", "PricesPage", "search", "",
             lambda _, page: cast(Undoable, page)),
    ShopPage("track", "Track record", "track_record_page", "TrackRecordPage", "plot", "Ctrl+Shift+T"),
    ShopPage("settings", "Settings", "settings_page", "SettingsPage", "choose", "Ctrl+,"),
)  # fmt: skip
BY_ID = {page.id: page for page in SHOP_PAGES}


class ShopPages:
    """Shows them in place of a stage. `shown` is the id of the one in view, empty where there is none."""

    def __init__(self, session: Session, stack: QStackedWidget) -> None:
        self._session, self._stack = session, stack
        self._built: dict[str, Page] = {}
        self.shown = ""

    def page(self, page_id: str) -> Page:
        """The page, built into the stack on first use."""
        if page_id not in self._built:
            entry = BY_ID[page_id]
            make: Callable[[Session], Page] = getattr(
                import_module(f"brachium.ui.pages.shop.{entry.module}"), entry.name
            )
            self._built[page_id] = make(self._session)
            self._stack.addWidget(self._built[page_id])
        return self._built[page_id]

    def show(self, page_id: str) -> None:
        """Show a page as the shop is now."""
        page = self.page(page_id)
        self.shown = page_id
        page.show_shop()
        self._stack.setCurrentWidget(page)
        getattr(page, BY_ID[page_id].first).setFocus()
        self._session.explain(page.default_because())

    def edits(self) -> Undoable | None:
        """What keeps the edits of the page in view; None where a record is in view, or the page has none."""
        undo = BY_ID[self.shown].undo if self.shown else None
        return undo(self._session, self.page(self.shown)) if undo is not None else None
