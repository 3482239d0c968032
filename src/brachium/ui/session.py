"""What the window is looking at, and facts about it as signals in the past tense."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QObject, Signal

from brachium.app.measure.service import ActiveRun, MeasureService
from brachium.app.shop.open_shop import join_benches
from brachium.app.shop.parts_shelf import Shelf
from brachium.app.shop.workspace import Workspace
from brachium.core.base.problems import Problem
from brachium.core.base.why import Because
from brachium.core.measure.run import Run
from brachium.core.record.job import Job, Stage
from brachium.ui.folder_watcher import FolderWatcher

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView


T = TypeVar("T")


class Poster(QObject):
    """Delivers calls from worker threads to the window's thread."""

    posted = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.posted.connect(self._run)

    def post(self, call: Callable[[], None]) -> None:
        self.posted.emit(call)

    def _run(self, call: Callable[[], None]) -> None:
        call()


class Session(QObject):
    """The selected job, stage and explanation; pages read it and ask it to change things."""

    job_selected = Signal(str)
    stage_selected = Signal(object)
    view_arrived = Signal(str)
    job_edited = Signal(str)
    because_chosen = Signal(object)
    run_started = Signal(object)
    run_finished = Signal(object, object)
    search_done = Signal(str, str)  # what was looked for, what was found
    problem_raised = Signal(object)
    saving_changed = Signal(int)  # how many edits wait for the disk
    message_given = Signal(str)
    look_asked = Signal(str)  # the name of a look
    language_asked = Signal(str)  # the code of a language, empty = as the system speaks
    benches_changed = Signal()  # another bench took a machine in hand, or let go of it
    practice_asked = Signal(object)  # the id of the cause to set up, None for a hidden one

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        self.workspace = workspace
        self.measure = MeasureService(workspace)
        self.shelf = Shelf(workspace)
        self.shared = join_benches(workspace)
        if self.shared is not None:
            self.shared.on_benches.append(self.benches_changed.emit)
        self.watch = FolderWatcher(workspace, self)
        self.shelf.on_changed.append(self._shelf_changed)
        self.job_id = ""
        self._unreadable: set[str] = set()
        self._stop_reading, self.reading = threading.Event(), 0
        self.stage = Stage.TAKE_IN
        workspace.on_edited.append(self.job_edited.emit)
        workspace.on_view.append(self.view_arrived.emit)
        workspace.on_problem.append(self.report)
        workspace.on_saving.append(self.saving_changed.emit)
        self.measure.on_finished.append(self._run_finished)

    def job(self) -> Job | None:
        """The selected record; None where none is selected, or where it cannot be read, which is said once."""
        if not self.job_id or self.job_id in self._unreadable or self.job_id not in self.workspace.job_ids():
            return None
        try:
            return self.workspace.job(self.job_id)
        except Problem as problem:
            self._unreadable.add(self.job_id)
            self.report(problem)
            return None

    def view(self) -> JobView | None:
        return self.workspace.view(self.job_id) if self.job_id else None

    def select_job(self, job_id: str) -> None:
        if job_id != self.job_id:
            self.job_id = self.workspace.start_with = job_id
            self.job_selected.emit(job_id)
            if self.workspace.view(job_id) is None:
                self.workspace.refresh(job_id)
            else:
                self.view_arrived.emit(job_id)

    def select_stage(self, stage: Stage) -> None:
        self.stage = stage
        self.stage_selected.emit(stage)

    def explain(self, because: Because | None) -> None:
        self.because_chosen.emit(because)

    def edit(self, label: str, job: Job) -> None:
        """Change a record; a gate that is shut says why and changes nothing."""
        try:
            self.workspace.edit(label, job)
        except Problem as problem:
            self.report(problem)

    def undo(self) -> str | None:
        """Take the last edit of the selected record back; its label, empty where there is none, None where a gate is
        shut, which is said."""
        return self._moved(self.workspace.undo)

    def redo(self) -> str | None:
        """Make the edit that was taken back last again; answers as `undo` does."""
        return self._moved(self.workspace.redo)

    def _moved(self, move: Callable[[str], str]) -> str | None:
        try:
            return move(self.job_id)
        except Problem as problem:
            self.report(problem)
            return None

    def start_run(self, role: str, speed: float | None, go_on: bool = False) -> None:
        """Measure; `go_on` finishes the run that was cut off."""
        try:
            self.measure.start(self.job_id, role, speed, go_on)
        except Problem as problem:
            self.report(problem)
            return
        self.run_started.emit(self.measure.active)

    def when_viewed(self, job_id: str, then: Callable[[], object]) -> None:
        """Do something once the job's view is there."""
        if self.workspace.view(job_id) is not None:
            then()
            return

        def arrived(viewed: str) -> None:
            if viewed == job_id:
                self.view_arrived.disconnect(arrived)
                then()

        self.view_arrived.connect(arrived)

    def report(self, error: Exception) -> None:
        """A problem for people goes to the Next bar; anything else is a bug and is raised."""
        if isinstance(error, Problem):
            self.problem_raised.emit(error)
        else:
            raise error

    def read(
        self, work: Callable[[Callable[[], bool]], T], arrived: Callable[[T], object],
        failed: Callable[[Exception], object] | None = None, lane: str = "compute",
    ) -> None:  # fmt: skip
        """Read files in a lane. `work` may ask whether it was stopped; what was stopped never arrives."""
        stop = self._stop_reading
        self.reading += 1

        def done(result: T) -> None:
            self.reading -= 1
            if not stop.is_set():
                arrived(result)

        def bad(error: Exception) -> None:
            self.reading -= 1
            if not stop.is_set():
                (failed or self.report)(error)

        self.workspace.lanes.submit(lane, lambda: work(stop.is_set), done, bad)

    def stop_reading(self) -> None:
        """Let go of every file that is being read; nothing of them is taken in."""
        self._stop_reading.set()
        self._stop_reading = threading.Event()
        self.say("Stopped; nothing of it is taken in.")

    def say(self, message: str) -> None:
        self.message_given.emit(message)

    def _shelf_changed(self) -> None:
        """What the shelf holds is offered in Choose."""
        if self.job_id:
            self.workspace.refresh(self.job_id)

    def _run_finished(self, active: ActiveRun, run: Run | None, error: Exception | None) -> None:
        self.run_finished.emit(active, run)
        if error is not None:
            self.report(error)
