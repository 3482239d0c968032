"""The runs of the shop: those of a job are read when first asked for, from whatever thread asks."""

from __future__ import annotations

import threading
from collections.abc import Collection
from dataclasses import replace
from typing import TYPE_CHECKING

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.measure.history import History
from brachium.core.measure.run import Run
from brachium.store.edits import StoredRun
from brachium.store.fingerprint import fingerprint_of

if TYPE_CHECKING:
    from brachium.store.repository import Repository

TEACHING_RUNS = 200
"""So many of the shop's latest runs teach how much sessions scatter; older ones say little about today's bench."""


class RunCache:
    """Everything here may be called from the window's thread and from a lane."""

    def __init__(self, repository: Repository) -> None:
        self._repository = repository
        self._runs: dict[str, list[StoredRun]] = {}
        self._stale: set[str] = set()  # jobs whose runs changed in the shop since they were read
        self._on_their_way: dict[str, list[StoredRun]] = {}
        self._teaching: dict[str, StoredRun] | None = None
        self._teaching_stale = False
        self._unread: dict[str, int] = {}  # runs of a job that cannot be read
        self._problems: list[ExpectedProblem] = []
        self._lock = threading.RLock()

    def begin(self, job_id: str) -> None:
        """A new job has no runs yet; nothing needs to be read for it."""
        with self._lock:
            self._runs.setdefault(job_id, [])

    def of(self, job_id: str) -> tuple[StoredRun, ...]:
        """Every run of a job in the order they arrived, voided and incomplete ones too."""
        return tuple(self._loaded(job_id))

    def next_number(self, job_id: str) -> int:
        """A number for another run of a job; those that cannot be read keep theirs."""
        return 1 + len(self._loaded(job_id)) + self._unread.get(job_id, 0)

    def unread(self) -> tuple[ExpectedProblem, ...]:
        """Runs that could not be read since this was last asked; each is left in the file as it is."""
        with self._lock:
            found, self._problems = tuple(self._problems), []
            return found

    def latest(self, job_id: str, role: str) -> Run | None:
        """The latest complete run of a role that is not voided."""
        runs = [s.run for s in self.of(job_id) if s.role == role and s.run.complete and not s.run.void_reason]
        return runs[-1] if runs else None

    def add(self, stored: StoredRun) -> None:
        """Keep a run behind those that arrived before it, whatever its date says."""
        with self._lock:
            if stored.job_id in self._runs:
                self._runs[stored.job_id].append(stored)
            self._on_their_way.setdefault(stored.job_id, []).append(stored)
            if self._teaching is not None:
                self._teaching[stored.run.id] = stored

    def kept(self, stored: StoredRun) -> None:
        """A run that was added lies in the shop."""
        with self._lock:
            mine = self._on_their_way.get(stored.job_id, [])
            mine[:] = [s for s in mine if s is not stored]

    def drop(self, stored: StoredRun) -> None:
        """Take a run out again that the shop file refused."""
        with self._lock:
            for runs in (self._runs.get(stored.job_id, []), self._on_their_way.get(stored.job_id, [])):
                runs[:] = [s for s in runs if s is not stored]
            if self._teaching is not None:
                self._teaching.pop(stored.run.id, None)

    def forget(self, job_id: str) -> None:
        """Runs of a job changed in the shop: they are read when they are next asked for; empty = of every job.

        Where the shop does not answer then, those that are at hand stand.
        """
        with self._lock:
            self._stale |= {job_id} if job_id else set(self._runs)
            self._teaching_stale = True

    def void(self, job_id: str, run_id: str, reason: str) -> StoredRun:
        """The run, voided. Raises StopIteration where the job has no such run."""
        with self._lock:
            runs = self._loaded(job_id)
            index = next(k for k, stored in enumerate(runs) if stored.run.id == run_id)
            runs[index] = replace(runs[index], run=replace(runs[index].run, void_reason=reason))
            if self._teaching is not None:
                self._teaching.pop(run_id, None)
            return runs[index]

    def history(self, job_id: str, roles: tuple[str, ...], alike: Collection[str] = ()) -> tuple[History, ...]:
        """What earlier runs teach: all of this machine and the shop's latest, without those shown in `roles`; `alike`
        are machines of the same hardware."""
        shown = {run.id for role in roles if (run := self.latest(job_id, role)) is not None}
        teaching = {**self._taught(), **{s.run.id: s for s in self.of(job_id)}}
        groups: dict[tuple[str, str], list[Run]] = {}
        for stored in teaching.values():
            if stored.run.complete and not stored.run.void_reason and stored.run.id not in shown:
                groups.setdefault((stored.job_id, stored.role), []).append(stored.run)
        return tuple(History(tuple(runs), other == job_id, other in alike) for (other, _), runs in groups.items())

    def befores(self, job_ids: Collection[str]) -> dict[str, list[Run]]:
        """Latest complete before-runs of other jobs, by job, without their traces."""
        teaching = self._taught()
        out: dict[str, list[Run]] = {}
        for stored in teaching.values():
            good = stored.role == "before" and stored.run.complete and not stored.run.void_reason
            if good and stored.job_id in job_ids:
                out.setdefault(stored.job_id, []).append(stored.run)
        return out

    def _taught(self) -> dict[str, StoredRun]:
        with self._lock:
            if self._teaching is None or self._teaching_stale:
                try:
                    self._teaching = {s.run.id: s for s in self._repository.headings(TEACHING_RUNS)}
                    self._teaching_stale = False
                except EnvironmentProblem:
                    if self._teaching is None:
                        raise
            return dict(self._teaching)

    def twin(self, run: Run) -> str:
        """The job that already holds this very run, whatever id it was given there; empty where none does."""
        wanted = fingerprint_of(run)
        with self._lock:  # runs that are on their way to the disk are looked at here
            for job_id, runs in self._runs.items():
                if any(fingerprint_of(s.run) == wanted for s in runs):
                    return job_id
        return self._repository.twin(wanted)

    def _loaded(self, job_id: str) -> list[StoredRun]:
        with self._lock:
            if job_id not in self._runs or job_id in self._stale:
                self._load(job_id)
            return self._runs[job_id]

    def _load(self, job_id: str) -> None:
        try:
            found, bad = self._repository.runs(job_id)
        except EnvironmentProblem:
            if job_id not in self._runs:
                raise
            return
        there = {s.run.id for s in found}
        mine = [s for s in self._on_their_way.get(job_id, []) if s.run.id not in there]
        self._runs[job_id], self._unread[job_id] = [*found, *mine], len(bad)
        self._problems += bad
        self._stale.discard(job_id)
