"""Drive health: what each SMART data say, readings typed or read from a file, what to do in which order."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.app.view.cause_record import drive_verdicts, with_reading
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because
from brachium.core.drives.health import COUNTERS, DriveState
from brachium.core.drives.readings import HealthReading
from brachium.core.figures.lists.drive_list import DriveRow, drive_list
from brachium.core.record.job import Job
from brachium.formats.drive_counters import read_counters
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.tool_tips import tip_text

ORDER = "Counters, then an image, then the cable, then the drive. Pending sectors: no load test."
TYPED = tuple(c for c in COUNTERS if c.key != "warning")


class DrivePanel(QWidget):
    """Choose a drive, type its counters or read them from a file; a second reading shows what rises."""

    def __init__(self, session: Session, figure: Callable[[], DrawingView]) -> None:
        super().__init__()
        self._session = session
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 8, 0, 0)
        body.setSpacing(6)
        self.drives = figure()
        self.drives.setMinimumSize(QSize(420, 80))
        self.drives.chosen.connect(lambda _: self._name_drive())
        body.addWidget(self.drives)
        body.addSpacing(8)
        self._title = label("", "section")
        body.addWidget(self._title)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(0)
        self.fields: dict[str, QLineEdit] = {}
        for k, counter in enumerate(TYPED):
            edit = QLineEdit()
            edit.setAccessibleName(say(counter.title))
            number = (
                phrase("attribute {map}", map=joined(", ", map(str, counter.ata))) if counter.ata else "NVMe health log"
            )
            edit.setToolTip(tip_text(phrase("{counter}: {number}", counter=counter.title, number=number)))
            edit.setPlaceholderText(say("not read"))
            edit.returnPressed.connect(self.add)
            caption = label(counter.title, "field")
            caption.setBuddy(edit)
            row, column = divmod(k, 4)
            grid.addWidget(caption, 2 * row, column)
            grid.addWidget(edit, 2 * row + 1, column)
            self.fields[counter.key] = edit
        body.addLayout(grid)
        bar = QHBoxLayout()
        self.add_button = button("Add the reading", self.add, "primary")
        bar.addWidget(self.add_button)
        tip = "Text, CSV or JSON with the counters' names"
        bar.addWidget(button("Read from a file…", self._open, "", tip))
        bar.addStretch(1)
        body.addLayout(bar)
        self.problem = paragraph("", "warm")
        body.addWidget(self.problem)
        body.addWidget(paragraph(ORDER, "soft"))
        body.addStretch(1)
        self._name_drive()

    def place(self) -> str:
        """The chosen drive's place."""
        return self.drives.selected.removeprefix("drive:")

    def show_job(self, job: Job) -> None:
        verdicts = drive_verdicts(job)
        drives = job.machine.configuration().drives()
        rows = tuple(
            DriveRow(place, job.machine.place_label(place), drive.name, verdicts[place],
                     tuple(h for h in job.health if h.place == place))
            for place, drive in drives.items()
        )  # fmt: skip
        if self.place() not in drives:
            worst = max(rows, key=lambda r: list(DriveState).index(r.verdict.state), default=None)
            self.drives.selected = f"drive:{worst.place}" if worst is not None else ""
        self.drives.set_builder(lambda w, h: drive_list(rows, w))
        self.drives.fit_height()
        self._name_drive()

    def because(self) -> Because | None:
        region = self.drives.region(self.drives.selected)
        return region.because if region is not None else None

    def _name_drive(self) -> None:
        job = self._session.job()
        place = self.place()
        self._title.setText(
            say(
                phrase("Reading of: {place_label}", place_label=job.machine.place_label(place))
                if job is not None and place
                else "No drive"
            )
        )
        self.add_button.setEnabled(bool(place))

    def add(self) -> None:
        """Keep what was typed as a reading of now."""
        job = self._session.job()
        if job is None or not self.place():
            return
        counters: dict[str, int] = {}
        for key, edit in self.fields.items():
            text = edit.text().strip().replace(" ", "")
            if text and not (text.isdecimal() and len(text) <= 20):
                self.problem.setText(
                    say(
                        phrase(
                            "{accessiblename}: a whole number, as the drive counts it.",
                            accessiblename=edit.accessibleName(),
                        )
                    )
                )
                edit.setFocus()
                return
            if text:
                counters[key] = int(text)
        if not counters:
            self.problem.setText(say("Type at least one counter."))
            return
        self.problem.setText("")
        for edit in self.fields.values():
            edit.clear()
        self._keep(job, self.place(), counters, "typed")

    def _keep(self, job: Job, place: str, counters: dict[str, int], source: str) -> None:
        self._session.edit("drive read", with_reading(job, HealthReading(place, now_text(), counters, source)))

    def _open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, say("Counters of the drive"), str(Path.home()))
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Keep the counters of a file as a reading of now, with the drive that they were asked for."""
        job_id, place, workspace = self._session.job_id, self.place(), self._session.workspace
        if not job_id or not place:
            return

        def arrived(counters: Mapping[str, int]) -> None:
            self.problem.setText("")
            if job_id in workspace.job_ids():
                self._keep(workspace.job(job_id), place, dict(counters), path.name)

        def failed(error: Exception) -> None:
            if isinstance(error, Problem):
                self.problem.setText(say(error.text))
            else:
                self._session.report(error)

        self._session.read(lambda _: read_counters(path), arrived, failed, "watch")
