"""What a run on this machine needs to know: room temperature and the folder for drive tests; asked once."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QWidget

from brachium.core.job.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button

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
                              "Air temperature where the machine draws it in, in degrees Celsius")  # fmt: skip
        self.room.setFixedWidth(190)
        self.folder = LineField("Folder for drive tests", self._set_folder, "none: no drive tests",
                                "A folder on the drive to be tested; one file is made there, then removed")  # fmt: skip
        row.addWidget(self.room)
        row.addWidget(self.folder, 1)
        self.choose = button("Choose…", self._choose, "", "Choose the folder for drive tests")
        row.addWidget(self.choose)

    def show_job(self, job: Job) -> None:
        self.room.show_value("" if job.setup.room_c is None else f"{job.setup.room_c:g}")
        self.folder.show_value(job.setup.drive_folder)

    def _set_room(self, text: str) -> str | None:
        job = self._session.job()
        if job is None:
            return None
        value: float | None = None
        if text:
            try:
                value = float(text.replace(",", "."))
            except ValueError:
                return "Type degrees Celsius, such as 23.5."
            if not ROOM_LOW_C <= value <= ROOM_HIGH_C:
                return f"A room has {ROOM_LOW_C:g} to {ROOM_HIGH_C:g} °C."
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
        name = QFileDialog.getExistingDirectory(self, "Folder for drive tests", start)
        if name:
            self._set_folder(name)
