"""Pages that are no stage of a job: the empty shop, dropped logs, the shop's own pages. Built when first needed."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from brachium.core.base.why import Because

if TYPE_CHECKING:
    from brachium.ui.pages.day import DayPage
    from brachium.ui.pages.empty_shop import EmptyShopPage
    from brachium.ui.pages.import_log import ImportPage
    from brachium.ui.pages.prices import PricesPage
    from brachium.ui.pages.settings import SettingsPage
    from brachium.ui.pages.shelf import ShelfPage
    from brachium.ui.pages.track_record import TrackRecordPage
    from brachium.ui.shell.window import MainWindow

SHOP_TITLES = {"day": "day sheet", "shelf": "parts shelf", "prices": "parts and prices", "track": "track record"}


class SidePages:
    """Shows them in place of a stage. `shop` is the name of the shop's page in view, empty where there is none."""

    def __init__(self, window: MainWindow) -> None:
        self._w = window
        self.shop = ""
        self._import: ImportPage | None = None
        self._empty: EmptyShopPage | None = None
        self._shelf: ShelfPage | None = None
        self._settings: SettingsPage | None = None
        self.prices: PricesPage | None = None
        self.day: DayPage | None = None
        self.track: TrackRecordPage | None = None

    def in_view(self) -> bool:
        """Whether such a page is shown instead of the selected job."""
        current = self._w.stack.currentWidget()
        return bool(self.shop) or (current is not None and current is self._import)

    def show_empty(self) -> None:
        if self._empty is None:
            from brachium.ui.pages.empty_shop import EmptyShopPage

            records = self._w.records
            self._empty = EmptyShopPage(
                self._w.session, self._w.files.ask_logs, records.take_this_machine, records.take_by_hand
            )
            self._w.stack.addWidget(self._empty)
        self._w.track.hide()
        self._w.stack.setCurrentWidget(self._empty)
        self._empty.logs.setFocus()

    def show_shop(self, name: str) -> None:
        """Show a page of the shop."""
        page = self._shop_page(name)
        self.shop = name
        page.show_shop()
        self._w.header.show_shop(SHOP_TITLES.get(name, name))
        self._w.track.hide()
        self._w.stack.setCurrentWidget(page)
        first = {"shelf": "add", "prices": "search", "settings": "choose", "day": "plan_button", "track": "plot"}[name]
        getattr(page, first).setFocus()
        because: Because | None = page.default_because()
        self._w.session.explain(because)
        self._w.show_rail()

    def _shop_page(self, name: str) -> ShelfPage | PricesPage | SettingsPage | DayPage | TrackRecordPage:
        if name == "shelf":
            return self._shelf_page()
        if name == "day":
            return self.day_page()
        if name == "track":
            return self.track_page()
        return self.prices_page() if name == "prices" else self._settings_page()

    def prices_page(self) -> PricesPage:
        if self.prices is None:
            from brachium.ui.pages.prices import PricesPage

            self.prices = PricesPage(self._w.session)
            self._w.stack.addWidget(self.prices)
        return self.prices

    def day_page(self) -> DayPage:
        if self.day is None:
            from brachium.ui.pages.day import DayPage

            self.day = DayPage(self._w.session)
            self._w.stack.addWidget(self.day)
        return self.day

    def track_page(self) -> TrackRecordPage:
        if self.track is None:
            from brachium.ui.pages.track_record import TrackRecordPage

            self.track = TrackRecordPage(self._w.session)
            self._w.stack.addWidget(self.track)
        return self.track

    def _shelf_page(self) -> ShelfPage:
        if self._shelf is None:
            from brachium.ui.pages.shelf import ShelfPage

            self._shelf = ShelfPage(self._w.session)
            self._w.stack.addWidget(self._shelf)
        return self._shelf

    def _settings_page(self) -> SettingsPage:
        if self._settings is None:
            from brachium.ui.pages.settings import SettingsPage

            self._settings = SettingsPage(self._w.session, self._w.watch, self._w.set_dark)
            self._w.stack.addWidget(self._settings)
        return self._settings

    @property
    def import_page(self) -> ImportPage:
        """The page for dropped logs."""
        if self._import is None:
            from brachium.ui.pages.import_log import ImportPage

            self._import = ImportPage(self._w.session)
            self._import.finished.connect(self._imported)
            self._w.stack.addWidget(self._import)
        return self._import

    def open_logs(self, paths: tuple[Path, ...]) -> None:
        """Read logs and show what was found in them."""
        self._w.stack.setCurrentWidget(self.import_page)
        self._w.session.explain(self.import_page.default_because())
        self.import_page.open_files(paths)

    def _imported(self, job_id: str) -> None:
        w = self._w
        if w.session.job_id:
            w.stack.setCurrentWidget(w.pages[w.session.stage])
        if job_id and job_id == w.session.job_id:
            w.opening = True
        elif job_id:
            w.session.select_job(job_id)
        w.show_page()
