"""The shop's parts shelf: edited with undo, saved at once, pulled parts move there from a record."""

from __future__ import annotations

from collections.abc import Callable

from brachium.app.workspace import Workspace
from brachium.core.shelf.shelf import ShelfPart, pulled
from brachium.formats.records import shelf_from_json, shelf_to_json

KEY = "shelf"
PULLED = "part pulled"
PULLED_RECORD = "pulled to the shelf"
Parts = tuple[ShelfPart, ...]


class Shelf:
    """One per workspace. Listeners hear of every change."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        text = workspace.repository.setting(KEY)
        self.parts: Parts = shelf_from_json(text, "parts shelf") if text else ()
        self._done: list[tuple[str, Parts, Parts]] = []
        self._undone: list[tuple[str, Parts, Parts]] = []
        self.on_changed: list[Callable[[], None]] = []

    def edit(self, label: str, parts: Parts) -> None:
        """Replace the shelf; saved at once, undoable."""
        if parts == self.parts:
            return
        self._done.append((label, self.parts, parts))
        self._undone.clear()
        self._put(parts)

    def undo_pull(self, record_label: str) -> None:
        """A pull taken back in the record is taken back here too, so that no part is in two places."""
        if record_label.endswith(PULLED_RECORD) and self._done and self._done[-1][0] == PULLED:
            self.undo()

    def redo_pull(self, record_label: str) -> None:
        if record_label.endswith(PULLED_RECORD) and self._undone and self._undone[-1][0] == PULLED:
            self.redo()

    def undo(self) -> str:
        """Take the last edit back; returns its label, empty where there is none."""
        if not self._done:
            return ""
        edit = self._done.pop()
        self._undone.append(edit)
        self._put(edit[1])
        return edit[0]

    def redo(self) -> str:
        if not self._undone:
            return ""
        edit = self._undone.pop()
        self._done.append(edit)
        self._put(edit[2])
        return edit[0]

    def pull(self, job_id: str, place_id: str) -> str:
        """Move what sits in a place of a machine to the shelf; returns where from, empty where nothing sits there."""
        job = self._workspace.job(job_id)
        moved = pulled(job, place_id, self.parts)
        if moved is None:
            return ""
        record, parts = moved
        self.edit(PULLED, parts)
        self._workspace.edit(f"{job.machine.place_label(place_id).lower()} {PULLED_RECORD}", record)
        return parts[-1].origin

    def _put(self, parts: Parts) -> None:
        self.parts = parts
        text = shelf_to_json(parts)
        self._workspace.save_setting(KEY, text)
        for listener in self.on_changed:
            listener()
