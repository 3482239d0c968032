"""What the machine says of itself: how much was read, where it contradicts the record, what could not be read."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase, upper_first
from brachium.core.machine.scanned.remarks import remarks
from brachium.core.machine.scanned.scan import Scan
from brachium.core.machine.scanned.scan_differences import ScanDifference, scan_differences, with_scanned
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, clear, label


class ScanPanel(QWidget):
    """Shown for the machine the program stands on and for records that came with a scan."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(4)
        head = QHBoxLayout()
        head.addWidget(label("Scan", "section"))
        head.addStretch(1)
        self.scan = button("Scan this machine", self._scan, "", "Reads firmware tables, drives, batteries and sensors")
        self.all = button("All of it", self._show_all, "quiet", "Every field and what it was read from")
        head.addWidget(self.all)
        head.addWidget(self.scan)
        layout.addLayout(head)
        self._words = label("", "soft", True)
        layout.addWidget(self._words)
        self._remarks = QVBoxLayout()
        self._remarks.setSpacing(2)
        layout.addLayout(self._remarks)
        self._asked = QGridLayout()
        self._asked.setHorizontalSpacing(12)
        self._asked.setVerticalSpacing(4)
        self._asked.setColumnStretch(0, 1)
        layout.addLayout(self._asked)
        self._absent = QGridLayout()
        self._absent.setHorizontalSpacing(12)
        self._absent.setVerticalSpacing(3)
        self._absent.setColumnStretch(1, 1)
        layout.addLayout(self._absent)
        self._shown: object = None

    def show_job(self, job: Job) -> None:
        self.setVisible(job.can_be_scanned or job.scan is not None)
        self.scan.setVisible(job.can_be_scanned)
        state = (job.id, job.machine, job.scan, job.scan_kept)
        if state == self._shown:
            return
        self._shown = state
        clear(self._asked)
        clear(self._absent)
        clear(self._remarks)
        self.all.setVisible(job.scan is not None)
        if job.scan is None:
            self._words.setText(say("Not scanned yet."))
            return
        open_questions = questions(job)
        read = many(len(job.scan.fields), "field")
        words = [
            phrase(
                "{read}, {drives}, {slots} read.",
                read=read,
                drives=many(len(job.scan.drives), "drive"),
                slots=many(len(job.scan.places), "memory slot"),
            )
        ]
        if open_questions:
            words.append("Record and machine disagree; what is true now?")
        self._words.setText(say(joined(" ", (*words, *(phrase("{n}.", n=upper_first(n)) for n in job.scan.notes)))))
        for remark in remarks(job.machine, job.scan):
            line = button(
                phrase("{remark}.", remark=remark.text),
                partial(self._session.explain, remark.because),
                "remark",
                "Why it matters",
            )
            self._remarks.addWidget(line)
        for row, question in enumerate(open_questions):
            self._ask(row, question)
        self._show_absent(job.scan)

    def _ask(self, row: int, question: ScanDifference) -> None:
        top = Qt.AlignmentFlag.AlignVCenter
        what = phrase(
            "{question}: {recorded} in the record, {seen} seen",
            question=upper_first(question.label),
            recorded=question.recorded,
            seen=question.seen,
        )
        self._asked.addWidget(label(what, "", True), row, 0, top)
        take = button(
            "Take", lambda: self._take(question), "", phrase("Put {seen} into the record", seen=question.seen)
        )
        keep = button(
            "Keep",
            lambda: self._keep(question),
            "quiet",
            phrase("Leave {recorded} in the record", recorded=question.recorded),
        )
        take.setAccessibleName(say(phrase("Take {question}: {seen}", question=question.label, seen=question.seen)))
        keep.setAccessibleName(
            say(phrase("Keep {question}: {recorded}", question=question.label, recorded=question.recorded))
        )
        self._asked.addWidget(take, row, 1)
        self._asked.addWidget(keep, row, 2)

    def _show_absent(self, scan: Scan) -> None:
        for row, absent in enumerate(scan.absent):
            text = phrase("{why}.", why=upper_first(absent.why)) + (
                phrase(" To fill it, {command}.", command=absent.command) if absent.command else ""
            )
            what = absent.what.removeprefix("identity.").removeprefix("board.").replace(".", " ")
            self._absent.addWidget(label(upper_first(what), "field"), row, 0, Qt.AlignmentFlag.AlignTop)
            self._absent.addWidget(label(text, "soft", True), row, 1)

    def _show_all(self) -> None:
        from brachium.ui.pages.take_in.scan_sheet import ScanSheet

        job = self._session.job()
        if job is not None and job.scan is not None:
            sheet = ScanSheet(self.window(), job.scan)
            sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            sheet.show()

    def _scan(self) -> None:
        """Read off the window's thread, then fill in what the record does not hold."""
        from brachium.app.intake.scanning import scan_of

        job = self._session.job()
        if job is not None:
            self._session.workspace.lanes.submit(
                "compute", lambda: scan_of(job), lambda found: self._scanned(job.id, found), self._session.report
            )

    def _scanned(self, job_id: str, found: Scan) -> None:
        from brachium.app.intake.local_job import with_scan

        job = self._session.workspace.job(job_id)
        self._session.edit("scanned", with_scan(job, found))
        self._session.say("Scanned; what was empty is filled in.")

    def _take(self, question: ScanDifference) -> None:
        job = self._session.job()
        if job is not None and job.scan is not None:
            machine = with_scanned(job.machine, job.scan, (question.key,))
            self._session.edit(
                phrase("{question} taken from the scan", question=question.label), replace(job, machine=machine)
            )

    def _keep(self, question: ScanDifference) -> None:
        job = self._session.job()
        if job is not None:
            kept = (*job.scan_kept, _mark(question))
            self._session.edit(phrase("{question} kept", question=question.label), replace(job, scan_kept=kept))


def questions(job: Job) -> tuple[ScanDifference, ...]:
    """Where record and scan disagree and nobody has said yet which is true; a new sighting asks again."""
    if job.scan is None:
        return ()
    return tuple(d for d in scan_differences(job.machine, job.scan) if _mark(d) not in job.scan_kept)


def _mark(question: ScanDifference) -> str:
    return phrase("{key}={seen}", key=question.key, seen=question.seen)
