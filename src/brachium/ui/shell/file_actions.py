"""What the window does with files: logs, run files and job archives in, a job out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSettings, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.formats.ids import file_stem
from brachium.formats.photo import is_photo
from brachium.formats.run_file import is_run_file
from brachium.ui.recent_files import remember_files
from brachium.ui.session import Session

if TYPE_CHECKING:
    from brachium.app.files.job_transfer import Carried, Taken
    from brachium.app.shop.reading import ShopReading


class FileActions(QObject):
    """Reads and writes off the window's thread; dialogs open over `parent`."""

    logs_given = Signal(object)  # paths of sensor logs to be looked at

    def __init__(self, session: Session, parent: QWidget, settings: QSettings) -> None:
        super().__init__(parent)
        self._session, self._parent, self._settings = session, parent, settings

    def open_files(self, paths: tuple[Path, ...]) -> None:
        """Job archives and run files are taken in, pictures kept; anything else is read as a sensor log."""
        photos = tuple(p for p in paths if is_photo(p))
        carried = tuple(p for p in paths if p.suffix.lower() == ".zip" or is_run_file(p))
        logs = tuple(p for p in paths if p not in carried and p not in photos)
        remember_files(self._settings, (*carried, *logs))
        if photos:
            self.add_photos(photos)
        if carried:
            self.take_in(carried)
        if logs:
            self.logs_given.emit(logs)

    def add_photos(self, paths: tuple[Path, ...]) -> None:
        """Keep pictures with the machine in view."""
        from brachium.ui.pages.take_in.photo_strip import add_photos

        if self._session.job_id:
            add_photos(self._session, paths)
        else:
            self._session.say("Take a machine in first; photos belong to one.")

    def ask_export(self) -> None:
        start = str(Path.home() / f"{file_stem(self._session.job_id)}.brachium.zip")
        name, _ = QFileDialog.getSaveFileName(self._parent, say("Export the job"), start, say("Job archive (*.zip)"))
        if name:
            self.export_job(Path(name))

    def export_job(self, path: Path) -> None:
        """Write the selected job as an archive, off the window's thread."""
        from brachium.app.files.job_transfer import export_job

        workspace, job_id = self._session.workspace, self._session.job_id
        reading = workspace.reading()
        workspace.lanes.submit(
            "compute",
            lambda: export_job(reading, job_id, path),
            lambda count: self._session.say(
                phrase("{runs} exported to {path}.", runs=many(count, "run"), path=path.name)
            ),
            self._session.report,
        )

    def ask_import(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(
            self._parent,
            say("Job archives, run files, logs"),
            str(Path.home()),
            say("Jobs, runs, logs (*.zip *.json *.jsonl *.csv *.txt *.tsv *.log);;All (*)"),
        )
        if names:
            self.open_files(tuple(Path(n) for n in names))

    def take_in(self, paths: tuple[Path, ...], quiet: bool = False) -> None:
        """Read archives and run files off the window's thread, then keep what was read.

        `quiet`: nobody asked for it, so the machine in view stays, and what is here already is not spoken of.
        """
        reading = self._session.workspace.reading()
        for path in paths:
            work = partial(_carried, path, reading)
            self._session.read(work, partial(self._keep_carried, quiet=quiet))

    def _keep_carried(self, carried: Carried, quiet: bool) -> None:
        """A damaged part is named, the rest is kept."""
        from brachium.app.files.job_transfer import keep_carried

        workspace = self._session.workspace
        try:
            taken = keep_carried(workspace, carried)
        except Problem as problem:
            self._session.report(problem)
            return
        if quiet and not taken.fresh:
            return
        if not quiet or not self._session.job_id:
            self._session.select_job(taken.job_id)
        workspace.after_stored(taken.tickets, lambda: self._say_taken(carried, taken))

    def _say_taken(self, carried: Carried, taken: Taken) -> None:
        """Only once it is on disk: what the shop file refused is not taken in."""
        if taken.damaged:
            self._session.report(ExpectedProblem(joined("; ", taken.damaged), carried.path.name, taken.said))
        else:
            self._session.say(taken.said)

    def ask_logs(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(
            self._parent, say("Sensor logs"), str(Path.home()), say("Logs (*.csv *.txt *.tsv *.log);;All (*)")
        )
        if names:
            self.logs_given.emit(tuple(Path(n) for n in names))


def _carried(path: Path, reading: ShopReading, stopped: Callable[[], bool]) -> Carried:
    from brachium.app.files.job_transfer import read_carried  # late: the window opens without it

    return read_carried(path, reading, stopped)
