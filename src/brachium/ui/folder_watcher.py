"""Looks into the watched folder off the window's thread and says what appeared in it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from brachium.app.files.watched_folder import FolderWatch
from brachium.app.shop.kept import keep_settings, settings_of
from brachium.app.shop.workspace import Workspace

LOOK_MS = 2000


class FolderWatcher(QObject):
    """One per window; the folder is kept in the shop's settings."""

    changed = Signal()  # it comes or goes
    found = Signal(object)  # paths of files that are whole
    failed = Signal(object)

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._watch: FolderWatch | None = None
        self._looking = False
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self.look)
        kept = settings_of(workspace).watched_folder
        if kept:
            self._start(Path(kept))

    @property
    def folder(self) -> Path | None:
        """The folder that is watched; None where none is."""
        return self._watch.folder if self._watch is not None else None

    @property
    def there(self) -> bool:
        """Whether the folder could be read at the last look; a stick may not be plugged in."""
        return self._watch is not None and self._watch.there

    def set_folder(self, folder: Path | None) -> None:
        """Watch this folder from now on, or none."""
        keep_settings(self._workspace, watched_folder=str(folder) if folder is not None else None)
        self._timer.stop()
        self._watch = None
        if folder is not None:
            self._start(folder)
        self.changed.emit()

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
        self._workspace.lanes.submit("watch", watch.look, lambda found: self._arrived(watch, was, found), self._failed)

    def _arrived(self, watch: FolderWatch, was: bool, found: tuple[Path, ...]) -> None:
        self._looking = False
        if watch is not self._watch:
            return
        if watch.there != was:
            self.changed.emit()
        if found:
            self.found.emit(found)

    def _failed(self, error: Exception) -> None:
        self._looking = False
        self.failed.emit(error)
