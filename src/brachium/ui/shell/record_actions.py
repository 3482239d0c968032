"""What the window does with records: new by hand, this machine, copies, batches, the archive."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QWidget

from brachium.app.shop.workspace import now_text
from brachium.core.base.text import phrase
from brachium.core.record.job import Stage
from brachium.ui.session import Session

if TYPE_CHECKING:
    from brachium.core.machine.scanned.scan import Scan
    from brachium.core.record.job import Job
    from brachium.ui.shell.batch_sheet import BatchSheet
    from brachium.ui.shell.hold_sheet import HoldSheet


class RecordActions(QObject):
    """Acts on the selected record; sheets open over `parent`."""

    line_wanted = Signal()  # a new record waits for its line

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._parent = session, parent

    def take_by_hand(self) -> None:
        """A new, empty record; its line comes first."""
        from brachium.app.intake.copies import new_record

        self._session.select_job(new_record(self._session.workspace))
        self._session.select_stage(Stage.TAKE_IN)
        self.line_wanted.emit()

    def take_by_line(self, text: str) -> None:
        """A new record of what a line says; without one it is asked for on the record."""
        from brachium.app.intake.copies import new_record
        from brachium.app.intake.quick_take_in import kept_line

        if not text:
            self.take_by_hand()
            return
        workspace = self._session.workspace
        job_id = new_record(workspace)
        self._session.select_job(job_id)
        self._session.select_stage(Stage.TAKE_IN)
        workspace.lanes.submit(
            "watch", lambda: kept_line(workspace.job(job_id), text), self._line_read, self._session.report
        )

    def _line_read(self, made: Job) -> None:
        """Into its own record, also where another machine is in view by then."""
        self._session.edit("quick line recorded", made)

    def practise(self, cause: str | None = None) -> None:
        """A simulated machine with a hidden cause, or one that is set up: taken in and measured, the rest is yours."""
        from brachium.app.intake.practice import practice_job, seed_with
        from brachium.core.record.job import PRACTICE_PREFIX

        known = [
            j.removeprefix(PRACTICE_PREFIX) for j in self._session.workspace.job_ids() if j.startswith(PRACTICE_PREFIX)
        ]
        job = practice_job(seed_with(cause, max((int(k) for k in known if k.isdigit()), default=0)))
        self._session.workspace.add_job(job)
        self._session.select_job(job.id)
        self._session.select_stage(Stage.FIND_CAUSE)
        self._session.when_viewed(job.id, lambda: self._session.start_run("before", None))

    def duplicate_record(self) -> None:
        from brachium.app.intake.copies import duplicate

        self._session.select_job(duplicate(self._session.workspace, self._session.job_id))
        self._session.select_stage(Stage.TAKE_IN)

    def archive_record(self) -> None:
        """Put the record away, or take it out again; it stays where it is shown until another one is chosen."""
        job = self._session.job()
        if job is not None:
            label = "taken out of the archive" if job.archived else "archived"
            self._session.edit(label, replace(job, archived="" if job.archived else now_text()))
            self._session.say(phrase("{job} is {label}.", job=job.name, label=label))

    def ask_hold(self, on: str) -> HoldSheet:
        """Say what the machine waits for; the sheet keeps it."""
        from brachium.ui.shell.hold_sheet import HoldSheet

        sheet = HoldSheet(self._parent, self._session, on)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def nothing_to_resume(self) -> str:
        """Why there is nothing to take up again; empty where there is."""
        job = self._session.job()
        return "" if job is not None and job.hold is not None else "This machine waits for nothing."

    def resume(self) -> None:
        job = self._session.job()
        if job is not None and job.hold is not None:
            self._session.edit("back on the bench", replace(job, hold=None))
            self._session.say(phrase("{job} is back on the bench.", job=job.name))

    def ask_batch(self) -> BatchSheet:
        """Ask for the serial numbers of a batch of machines like the selected one."""
        from brachium.ui.shell.batch_sheet import BatchSheet

        sheet = BatchSheet(self._parent, self._session)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def take_this_machine(self) -> None:
        """Scan off the window's thread, then make the record; one that is there already is shown."""
        from brachium.app.intake.local_job import scan_tree, this_machine

        known = this_machine(self._session.workspace)
        if known:
            self._session.select_job(known)
            return
        self._session.workspace.lanes.submit("compute", scan_tree, self._take_scanned, self._session.report)

    def _take_scanned(self, scan: Scan) -> None:
        from brachium.app.intake.local_job import take_this_machine

        self._session.select_job(take_this_machine(self._session.workspace, scan))
        self._session.select_stage(Stage.TAKE_IN)
