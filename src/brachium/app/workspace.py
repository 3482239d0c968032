"""The shop at work: jobs with undo and autosave, their runs, their computed views."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from brachium.app.lanes import Lanes
from brachium.core.choose.catalogue import CatalogueItem
from brachium.core.job.job import Job
from brachium.core.measure.history import History
from brachium.core.measure.run import Run
from brachium.core.problems import Problem
from brachium.formats.run_file import read_run_file
from brachium.formats.run_journal import JOURNAL_SUFFIX
from brachium.store.database import Database
from brachium.store.repository import Repository, StoredRun

if TYPE_CHECKING:
    from brachium.app.view import JobView

BEFORE, AFTER = "before", "after"
UNDO_DEPTH = 200


@dataclass(frozen=True)
class Edit:
    """One edit of a record: what it is called, the record before and after."""

    label: str
    before: Job
    after: Job


@dataclass
class _History:
    done: list[Edit] = field(default_factory=list)
    undone: list[Edit] = field(default_factory=list)


Listener = Callable[[str], None]


class Workspace:
    """All jobs of one database. Records are edited here and nowhere else; listeners hear the job's id."""

    def __init__(self, path: Path, lanes: Lanes, catalogue: tuple[CatalogueItem, ...]) -> None:
        self.lanes = lanes
        self.catalogue = catalogue
        self.database = Database(path)
        self.repository = Repository(self.database)
        self._jobs = {job.id: job for job in self.repository.jobs()}
        self._runs: dict[str, list[StoredRun]] = {}
        self._history: dict[str, _History] = {}
        self._views: dict[str, JobView] = {}
        self._generation: dict[str, int] = {}
        self.recovered: tuple[str, ...] = ()
        self.on_edited: list[Listener] = []
        self.on_view: list[Listener] = []
        self.on_problem: list[Callable[[Exception], None]] = []
        for job_id in self._jobs:
            self._runs[job_id] = list(self.repository.runs(job_id))

    # -- reading

    def job_ids(self) -> tuple[str, ...]:
        return tuple(self._jobs)

    def job(self, job_id: str) -> Job:
        return self._jobs[job_id]

    def run(self, job_id: str, role: str) -> Run | None:
        """The latest complete run of a role that is not voided."""
        good = [s.run for s in self._runs.get(job_id, []) if s.role == role and not s.run.void_reason]
        complete = [r for r in good if r.complete]
        return complete[-1] if complete else None

    def all_runs(self, job_id: str) -> tuple[StoredRun, ...]:
        """Every run of a job, voided and incomplete ones too."""
        return tuple(self._runs.get(job_id, ()))

    def history(self, job_id: str) -> tuple[History, ...]:
        """Earlier runs that teach how much sessions scatter; the runs being compared are left out."""
        shown = {run.id for role in (BEFORE, AFTER) if (run := self.run(job_id, role)) is not None}
        groups: dict[tuple[str, str], list[Run]] = {}
        for other, stored_runs in self._runs.items():
            for stored in stored_runs:
                if stored.run.complete and not stored.run.void_reason and stored.run.id not in shown:
                    groups.setdefault((other, stored.role), []).append(stored.run)
        return tuple(History(tuple(runs), other == job_id) for (other, _), runs in groups.items())

    def view(self, job_id: str) -> JobView | None:
        """The last computed view; None until the first one is there."""
        return self._views.get(job_id)

    def undo_label(self, job_id: str) -> str:
        done = self._history.get(job_id, _History()).done
        return done[-1].label if done else ""

    def redo_label(self, job_id: str) -> str:
        undone = self._history.get(job_id, _History()).undone
        return undone[-1].label if undone else ""

    # -- editing

    def add_job(self, job: Job) -> None:
        self._jobs[job.id] = job
        self._runs.setdefault(job.id, [])
        self._save(job, "taken in")
        self._changed(job.id)

    def edit(self, label: str, job: Job) -> None:
        """Replace a job's record; saved at once, undoable."""
        before = self._jobs[job.id]
        if before == job:
            return
        history = self._history.setdefault(job.id, _History())
        history.done.append(Edit(label, before, job))
        del history.done[:-UNDO_DEPTH]
        history.undone.clear()
        self._put(label, job)

    def undo(self, job_id: str) -> str:
        """Take the last edit back; returns its label, empty where there is none."""
        history = self._history.setdefault(job_id, _History())
        if not history.done:
            return ""
        edit = history.done.pop()
        history.undone.append(edit)
        self._put(f"undo: {edit.label}", edit.before)
        return edit.label

    def redo(self, job_id: str) -> str:
        history = self._history.setdefault(job_id, _History())
        if not history.undone:
            return ""
        edit = history.undone.pop()
        history.done.append(edit)
        self._put(f"redo: {edit.label}", edit.after)
        return edit.label

    def _put(self, label: str, job: Job) -> None:
        self._jobs[job.id] = job
        self._save(job, label)
        self._changed(job.id)

    def _save(self, job: Job, label: str) -> None:
        self.lanes.submit("store", lambda: self.repository.save_job(job, label), None, self._failed)

    def save_setting(self, key: str, text: str) -> None:
        """Keep something of the shop's own, such as its shelf."""
        self.lanes.submit("store", lambda: self.repository.set_setting(key, text), None, self._failed)

    # -- runs

    def add_run(self, job_id: str, role: str, run: Run, kept: Callable[[], None] = lambda: None) -> None:
        """Keep a captured run; `kept` is called once it is on disk, never where it could not be written."""
        stored = StoredRun(job_id, role, run)
        self._runs.setdefault(job_id, []).append(stored)
        self.lanes.submit("store", lambda: self.repository.add_run(stored), lambda _: kept(), self._failed)
        self._changed(job_id)

    def void_run(self, job_id: str, run_id: str, reason: str) -> None:
        """Void a run with a reason; it stays stored."""
        runs = self._runs[job_id]
        index = next(k for k, stored in enumerate(runs) if stored.run.id == run_id)
        voided = replace(runs[index].run, void_reason=reason)
        runs[index] = replace(runs[index], run=voided)
        self.lanes.submit("store", lambda: self.repository.replace_head(voided), None, self._failed)
        self._changed(job_id)

    def journal_path(self, job_id: str, role: str, run_id: str) -> Path:
        """Where a run in progress is written."""
        return self._journals() / f"{job_id}@{role}-{run_id.rpartition('-')[2]}{JOURNAL_SUFFIX}"

    def _journals(self) -> Path:
        return self.database.path.with_name(f"{self.database.path.stem}-runs")

    def recover_runs(self) -> tuple[str, ...]:
        """Keep what killed programs had sampled, as incomplete runs; says what was found."""
        said = []
        for journal in sorted(self._journals().glob(f"*{JOURNAL_SUFFIX}")):
            job_id, _, rest = journal.name.removesuffix(JOURNAL_SUFFIX).rpartition("@")
            try:
                run = read_run_file(journal).run
            except Problem as problem:
                journal.rename(journal.with_suffix(".damaged"))
                said.append(problem.text)
                continue
            if job_id in self._jobs and run.sessions:
                taken = {s.run.id for s in self._runs[job_id]}
                if run.id not in taken:
                    self.add_run(job_id, rest.partition("-")[0], run)
                    said.append(f"{self._jobs[job_id].name}: a run was cut off; what it had sampled is kept.")
                self.lanes.drain("store")
            journal.unlink(missing_ok=True)
        return tuple(said)

    # -- views

    def refresh(self, job_id: str) -> None:
        """Compute the view anew in the background; a later request overtakes an earlier one."""
        generation = self._generation.get(job_id, 0) + 1
        self._generation[job_id] = generation
        job, before, after = self.job(job_id), self.run(job_id, BEFORE), self.run(job_id, AFTER)
        history = self.history(job_id)

        def work() -> JobView | None:
            from brachium.app.view import compute_view  # late: the window opens without it

            if self._generation[job_id] != generation:
                return None
            return compute_view(job, before, after, self.catalogue, history)

        def arrived(view: JobView | None) -> None:
            if view is not None and self._generation[job_id] == generation:
                self._views[job_id] = view
                for listener in self.on_view:
                    listener(job_id)

        self.lanes.submit("compute", work, arrived, self._failed)

    def compute_now(self, job_id: str) -> JobView:
        """Compute the view in this thread; for the command line."""
        from brachium.app.view import compute_view

        before, after = self.run(job_id, BEFORE), self.run(job_id, AFTER)
        view = compute_view(self.job(job_id), before, after, self.catalogue, self.history(job_id))
        self._views[job_id] = view
        return view

    def _changed(self, job_id: str) -> None:
        for listener in self.on_edited:
            listener(job_id)
        self.refresh(job_id)

    def _failed(self, error: Exception) -> None:
        for listener in self.on_problem:
            listener(error)

    def close(self) -> None:
        self.lanes.close()
        self.database.close()


def now_text() -> str:
    return datetime.now().strftime("%Y-%m-%d %H:%M")
