"""What was edited in each record and can be taken back, or made again."""

from __future__ import annotations

from dataclasses import dataclass, field

from brachium.core.record.job import Job

UNDO_DEPTH = 200


@dataclass(frozen=True)
class Edit:
    """One edit of a record: what it is called, the record before and after."""

    label: str
    before: Job
    after: Job


@dataclass
class _OfOne:
    done: list[Edit] = field(default_factory=list)
    undone: list[Edit] = field(default_factory=list)


class EditHistory:
    """By job id; None where there is nothing to take back or to make again."""

    def __init__(self) -> None:
        self._of: dict[str, _OfOne] = {}

    def add(self, edit: Edit) -> None:
        """A fresh edit; what was undone before it cannot be made again."""
        own = self._of.setdefault(edit.after.id, _OfOne())
        own.done.append(edit)
        del own.done[:-UNDO_DEPTH]
        own.undone.clear()

    def last(self, job_id: str) -> Edit | None:
        own = self._of.get(job_id)
        return own.done[-1] if own is not None and own.done else None

    def last_undone(self, job_id: str) -> Edit | None:
        own = self._of.get(job_id)
        return own.undone[-1] if own is not None and own.undone else None

    def undo(self, job_id: str) -> Edit | None:
        edit = self.last(job_id)
        if edit is not None:
            self._of[job_id].undone.append(self._of[job_id].done.pop())
        return edit

    def redo(self, job_id: str) -> Edit | None:
        edit = self.last_undone(job_id)
        if edit is not None:
            self._of[job_id].done.append(self._of[job_id].undone.pop())
        return edit

    def forget(self, job_id: str) -> None:
        """The last edit can no longer be taken back."""
        self._of[job_id].done.pop()

    def forget_undone(self, job_id: str) -> None:
        """The edit that was taken back last can no longer be made again."""
        self._of[job_id].undone.pop()
