"""Records as they are in view here: what lies in the shop, with the edits of this bench that are still on their way."""

from __future__ import annotations

from collections import defaultdict

from brachium.core.base.merge import with_mine
from brachium.core.record.job import Job
from brachium.store.edits import JobEdit
from brachium.store.stored import StoredJob


class MergedRecords:
    """Belongs to the thread that made the workspace. Answers None where a record in view need not change."""

    def __init__(self) -> None:
        self._on_their_way: dict[str, list[JobEdit]] = defaultdict(list)
        self._stored: dict[str, StoredJob] = {}

    def sent(self, edit: JobEdit) -> None:
        """An edit was made here."""
        self._on_their_way[edit.job_id].append(edit)

    def refused(self, edit: JobEdit) -> Job | None:
        """The shop did not take an edit: the record without it."""
        self._drop(edit)
        return self._in_view(edit.job_id) if edit.job_id in self._stored else None

    def settled(self, edit: JobEdit, stored: StoredJob) -> Job | None:
        """An edit lies in the shop, as the record that it became there."""
        self._drop(edit)
        known = self._stored.get(edit.job_id)
        expected = known is None or known.revision + 1 == stored.revision or not stored.revision
        if known is None or stored.revision >= known.revision:
            self._stored[edit.job_id] = stored
        return None if expected and stored.job == edit.after else self._in_view(edit.job_id)

    def arrived(self, job_id: str, stored: StoredJob) -> Job | None:
        """A record as it lies in the shop was read; what is older than what is known says nothing."""
        known = self._stored.get(job_id)
        if known is not None and stored.revision <= known.revision:
            return None
        self._stored[job_id] = stored
        return self._in_view(job_id)

    def revision(self, job_id: str) -> int:
        """The revision that is known; 0 where none is."""
        known = self._stored.get(job_id)
        return known.revision if known is not None else 0

    def _drop(self, edit: JobEdit) -> None:
        mine = self._on_their_way[edit.job_id]
        mine[:] = [e for e in mine if e.token != edit.token]

    def _in_view(self, job_id: str) -> Job:
        job = self._stored[job_id].job
        for edit in self._on_their_way[job_id]:
            job = edit.after if edit.before is None else with_mine(edit.before, edit.after, job)
        return job
