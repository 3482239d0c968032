"""Takes in what appears in the watched folder, off the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer

from brachium.app.files.watched_folder import FolderWatch
from brachium.app.shop.kept import keep_settings, settings_of

if TYPE_CHECKING:
    from brachium.ui.shell.window import MainWindow

LOOK_MS = 2000


class FolderWatcher:
    """One per window; the folder is kept in the shop's settings. `on_changed` hears when it comes or goes."""

    def __init__(self, window: MainWindow) -> None:
        self._w = window
        self._watch: FolderWatch | None = None
        self._looking = False
        self.on_changed: list[Callable[[], None]] = []
        self._timer = QTimer(window)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self.look)
        kept = settings_of(window.session.workspace).watched_folder
        if kept:
            self._start(Path(kept))

    @property
    def folder(self) -> Path | None:
        return self._watch.folder if self._watch is not None else None

    @property
    def there(self) -> bool:
        """Whether the folder could be read at the last look; a stick may not be plugged in."""
        return self._watch is not None and self._watch.there

    def set_folder(self, folder: Path | None) -> None:
        """Watch this folder from now on, or none."""
        keep_settings(self._w.session.workspace, watched_folder=str(folder) if folder is not None else None)
        self._timer.stop()
        self._watch = None
        if folder is not None:
            self._start(folder)
        self._tell()

    def _start(self, folder: Path) -> None:
        self._watch = FolderWatch(folder)
        self._timer.start()

    def look(self) -> None:
        """One look; a slow stick never piles looks up."""
        watch = self._watch
        if watch is None or self._looking:
            return
        self._looking = True
        was = watch.there
        self._w.session.workspace.lanes.submit(
            "watch", watch.look, lambda found: self._found(watch, was, found), self._failed
        )

    def _found(self, watch: FolderWatch, was: bool, found: tuple[Path, ...]) -> None:
        self._looking = False
        if watch is not self._watch:
            return
        if watch.there != was:
            self._tell()
        if found:
            self._w.files.take_in(found, quiet=True)

    def _failed(self, error: Exception) -> None:
        self._looking = False
        self._w.session.report(error)

    def _tell(self) -> None:
        for listener in self.on_changed:
            listener()
