"""The shop's parts shelf: edited with undo, saved at once, pulled parts move there from a record."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import replace

from brachium.app.shop.workspace import Workspace
from brachium.core.base.text import lower_first, phrase
from brachium.core.plan.shelf_items import part_of
from brachium.core.record.parts_shelf import ShelfPart, pull_part, put_on, with_changed_part
from brachium.formats.shop_documents import SHELF

PULLED, RESERVED = "part pulled", "part kept for a job"
PULLED_RECORD, PLANNED_RECORD, UNPLANNED_RECORD = "pulled to the shelf", "planned from the shelf", "left on the shelf"
OLD, OLD_RECORD = "old part put here", "old part put on the shelf"
PAIRED = {PULLED_RECORD: PULLED, PLANNED_RECORD: RESERVED, UNPLANNED_RECORD: RESERVED, OLD_RECORD: OLD}
Parts = tuple[ShelfPart, ...]


class Shelf:
    """One per workspace. Listeners hear of every change."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self.parts: Parts = workspace.shelf_parts
        self._done: list[tuple[str, Parts, Parts]] = []
        self._undone: list[tuple[str, Parts, Parts]] = []
        self.on_changed: list[Callable[[], None]] = []
        workspace.on_settings.append(self._elsewhere)

    @property
    def mark(self) -> str:
        """What the ids of new parts end in, so that two benches never give the same one."""
        return f"-{secrets.token_hex(2)}" if self._workspace.shared else ""

    def _elsewhere(self, key: str) -> None:
        """Another bench changed the shelf: what was done here before cannot be taken back over it."""
        if key == SHELF.key and self._workspace.shelf_parts != self.parts:
            self.parts = self._workspace.shelf_parts
            self._done.clear()
            self._undone.clear()
            for listener in self.on_changed:
                listener()

    def edit(self, label: str, parts: Parts) -> None:
        """Replace the shelf; saved at once, undoable."""
        if parts == self.parts:
            return
        self._done.append((label, self.parts, parts))
        self._undone.clear()
        self._put(parts)

    def undo_with(self, record_label: str) -> None:
        """An edit that touched record and shelf is taken back in both, so that no part is in two places."""
        if self._done and self._done[-1][0] == _partner(record_label):
            self.undo()

    def redo_with(self, record_label: str) -> None:
        if self._undone and self._undone[-1][0] == _partner(record_label):
            self.redo()

    def plan(self, job_id: str, title: str, plan: tuple[str, ...], planned: bool) -> None:
        """Give a job a plan that takes or leaves parts of the shelf: those it takes are kept for it, those it lets go
        are free again. One edit for undo."""
        job = self._workspace.job(job_id)
        parts = self.parts
        for part_id in {part_of(c) for c in (*job.plan, *plan)} - {""}:
            keep = part_id in {part_of(c) for c in plan}
            parts = with_changed_part(parts, part_id, reserved_for=job_id if keep else "")
        self.edit(RESERVED, parts)
        word = PLANNED_RECORD if planned else UNPLANNED_RECORD
        self._workspace.edit(phrase("{title} {word}", title=title, word=word), replace(job, plan=plan))

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
        moved = pull_part(job, place_id, self.parts, self.mark)
        if moved is None:
            return ""
        record, parts = moved
        self.edit(PULLED, parts)
        self._workspace.edit(
            phrase(
                "{place_label} {pulled_record}",
                place_label=lower_first(job.machine.place_label(place_id)),
                pulled_record=PULLED_RECORD,
            ),
            record,
        )
        return parts[-1].origin

    def put_old(self, job_id: str, places: tuple[str, ...]) -> int:
        """Put the parts that a plan takes out of these places on the shelf, each once; the machine's record stays as it
        was found. Returns how many."""
        job = self._workspace.job(job_id)
        here = job.machine.configuration().parts
        fresh = tuple(p for p in places if p in here and p not in job.shelved)
        parts = self.parts
        for place in fresh:
            parts = put_on(
                parts,
                here[place],
                phrase("{job}, {place_label}", job=job.name, place_label=lower_first(job.machine.place_label(place))),
                self.mark,
            )
        if fresh:
            self.edit(OLD, parts)
            self._workspace.edit(OLD_RECORD, replace(job, shelved=(*job.shelved, *fresh)))
        return len(fresh)

    def _put(self, parts: Parts) -> None:
        self.parts = parts
        self._workspace.shelf_parts = parts
        self._workspace.keep(SHELF, parts)
        for listener in self.on_changed:
            listener()


def _partner(record_label: str) -> str:
    """The shelf's own label of an edit that touched a record too."""
    return next((own for end, own in PAIRED.items() if record_label.endswith(end)), "no partner")
