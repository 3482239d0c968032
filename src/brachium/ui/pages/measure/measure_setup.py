"""What a run on this machine needs to know, asked once: room and drive folder; and what it will not be able to say."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase, upper_first
from brachium.core.base.typed_numbers import typed_float
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, clear, label, paragraph

ROOM_LOW_C, ROOM_HIGH_C = -10.0, 50.0


class MeasureSetupRow(QWidget):
    """Writes into the job's setup as its fields are left."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 6, 0, 0)
        row.setSpacing(16)
        self.room = LineField("Room at the intake, °C", self._set_room, "needed for heat figures",
                              "Air where the machine draws it in, °C")  # fmt: skip
        self.room.setFixedWidth(190)
        self.folder = LineField("Folder for drive tests", self._set_folder, "none: no drive tests",
                                "On the drive to be tested; a file is made there, then removed")  # fmt: skip
        row.addWidget(self.room)
        row.addWidget(self.folder, 1)
        self.choose = button("Choose…", self._choose, "", "Choose the folder for drive tests")
        row.addWidget(self.choose)

    def show_job(self, job: Job) -> None:
        self.room.show_value("" if job.setup.room_c is None else phrase("{room_c:g}", room_c=job.setup.room_c))
        self.folder.show_value(job.setup.drive_folder)

    def _set_room(self, text: str) -> str | None:
        job = self._session.job()
        if job is None:
            return None
        value: float | None = None
        if text:
            try:
                value = typed_float(text)
            except ValueError:
                return "Type degrees Celsius, such as 23.5."
            if not ROOM_LOW_C <= value <= ROOM_HIGH_C:
                return phrase(
                    "A room has {room_low_c:g} to {room_high_c:g} °C.", room_low_c=ROOM_LOW_C, room_high_c=ROOM_HIGH_C
                )
        self._session.edit("room temperature changed", replace(job, setup=replace(job.setup, room_c=value)))
        return None

    def _set_folder(self, text: str) -> str | None:
        job = self._session.job()
        if job is None:
            return None
        if text and not Path(text).is_dir():
            return "There is no such folder."
        self._session.edit("drive folder changed", replace(job, setup=replace(job.setup, drive_folder=text)))
        return None

    def _choose(self) -> None:
        job = self._session.job()
        start = job.setup.drive_folder if job is not None and job.setup.drive_folder else str(Path.home())
        name = QFileDialog.getExistingDirectory(self, say("Folder for drive tests"), start)
        if name:
            self._set_folder(name)


class MissingList(QWidget):
    """What cannot be measured or concluded, each with its reason and what would help."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self._title = title
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 10, 0, 0)
        self._grid.setHorizontalSpacing(16)
        self._grid.setVerticalSpacing(5)
        self._grid.setColumnStretch(1, 1)
        self._shown: object = None

    def show_lines(self, lines: tuple[tuple[str, str], ...], title: str = "") -> None:
        """(what, why) pairs under the list's title or another one; nothing is shown for none."""
        self.setVisible(bool(lines))
        if (lines, title) == self._shown:
            return
        self._shown = (lines, title)
        clear(self._grid)
        if not lines:
            return
        self._grid.addWidget(label(title or self._title, "section"), 0, 0, 1, 2)
        last = ""
        for row, (what, why) in enumerate(lines, 1):
            top = Qt.AlignmentFlag.AlignTop
            self._grid.addWidget(label("" if what == last else upper_first(what), "field"), row, 0, top)
            words = paragraph(upper_first(why) + ".", "soft")
            self._grid.addWidget(words, row, 1)
            last = what
