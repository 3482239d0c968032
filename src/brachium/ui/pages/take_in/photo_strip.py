"""Photos of a machine as a strip of small pictures; one opens large, with its caption."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from brachium.app.intake.photos import attach_photos, read_all, with_caption, without_photo
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.record.job import Job, Photo
from brachium.formats.photo import SUFFIXES, ScaledPhoto
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.tool_tips import tip_text

THUMB = QSize(76, 57)
MOST_SHOWN = 5


class PhotoStrip(QWidget):
    """Adds, shows and takes out photos of the selected job."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        self._pictures = QHBoxLayout()
        self._pictures.setSpacing(6)
        row.addLayout(self._pictures)
        self._none = label("No photos yet.", "soft")
        row.addWidget(self._none)
        row.addStretch(1)
        self.setFixedHeight(THUMB.height() + 2)
        tip = "Scaled copies, without place or time. Pictures can be dropped too."
        self.add = button("Add photos…", self._ask, "", tip)
        row.addWidget(self.add)

    def show_job(self, job: Job) -> None:
        state = (job.id, job.photos)
        if state == self._shown:
            return
        self._shown = state
        clear(self._pictures)
        self._none.setVisible(not job.photos)
        for number, photo in enumerate(job.photos[:MOST_SHOWN], 1):
            self._pictures.addWidget(self._thumb(number, photo))
        more = len(job.photos) - MOST_SHOWN
        if more > 0:
            following = job.photos[MOST_SHOWN].id
            self._pictures.addWidget(
                button(phrase("{more} more", more=more), lambda: self.open_photo(following), "quiet")
            )

    def _thumb(self, number: int, photo: Photo) -> QPushButton:
        out = QPushButton()
        out.setProperty("kind", "picture")
        out.setFixedSize(THUMB)
        out.setIconSize(THUMB)
        out.setAccessibleName(
            say(
                phrase(
                    "Photo {number}{more}",
                    number=number,
                    more=phrase(": {caption}", caption=photo.caption) if photo.caption else "",
                )
            )
        )
        out.setToolTip(tip_text(photo.caption or phrase("Photo {number}, {added}", number=number, added=photo.added)))
        out.clicked.connect(lambda: self.open_photo(photo.id))
        self._session.workspace.lanes.submit(
            "compute", lambda: self._session.workspace.photo(photo.id), lambda data: _show_icon(out, data),
            self._session.report,
        )  # fmt: skip
        return out

    def open_photo(self, photo_id: str) -> PhotoSheet:
        """Show a photo large."""
        sheet = PhotoSheet(self.window(), self._session, photo_id)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _ask(self) -> None:
        pattern = joined(" ", (phrase("*{s}", s=s) for s in SUFFIXES))
        names, _ = QFileDialog.getOpenFileNames(
            self, say("Photos"), str(Path.home()), say(phrase("Pictures ({pattern});;All (*)", pattern=pattern))
        )
        if names:
            add_photos(self._session, tuple(Path(n) for n in names))


def add_photos(session: Session, paths: Sequence[Path]) -> None:
    """Read pictures off the window's thread and keep them with the selected job."""
    job_id = session.job_id

    def arrived(found: tuple[tuple[ScaledPhoto, ...], tuple[Problem, ...]]) -> None:
        good, bad = found
        count = attach_photos(session.workspace, job_id, good)
        for problem in bad[:1]:
            session.report(problem)
        if not bad:
            session.say(
                phrase("{photos} added.", photos=many(count, "photo")) if count else "These photos are here already."
            )

    session.read(lambda stopped: read_all(paths, stopped), arrived)


def _show_icon(out: QPushButton, data: bytes) -> None:
    import shiboken6

    if data and shiboken6.isValid(out):  # the strip may have been rebuilt meanwhile
        picture = QPixmap()
        picture.loadFromData(data)
        mode = Qt.AspectRatioMode.KeepAspectRatioByExpanding
        grown = picture.scaled(THUMB, mode, Qt.TransformationMode.SmoothTransformation)
        left, top = (grown.width() - THUMB.width()) // 2, (grown.height() - THUMB.height()) // 2
        out.setIcon(QIcon(grown.copy(left, top, THUMB.width(), THUMB.height())))


class PhotoSheet(QDialog):
    """One photo at the size of the window; Left and Right go through all of them."""

    def __init__(self, parent: QWidget, session: Session, photo_id: str) -> None:
        super().__init__(parent)
        self._session, self._id = session, photo_id
        self.setWindowTitle(say("Photo"))
        self.resize(min(parent.width() - 80, 900), min(parent.height() - 80, 700))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 16, 16, 12)
        self.picture = QLabel()
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout.addWidget(self.picture, 1)
        row = QHBoxLayout()
        self.caption = QLineEdit()
        self.caption.setPlaceholderText(say("What it shows"))
        self.caption.setAccessibleName(say("What it shows"))
        self.caption.editingFinished.connect(self._write)
        row.addWidget(self.caption, 1)
        self.earlier = button("Earlier", lambda: self._step(-1), "quiet")
        self.later = button("Later", lambda: self._step(1), "quiet")
        self.remove = button("Take it out", self._remove, "quiet", "Undo brings it back")
        for one in (self.earlier, self.later, self.remove, button("Close", self.close, "")):
            row.addWidget(one)
        layout.addLayout(row)
        self._show()

    def _photos(self) -> tuple[Photo, ...]:
        job = self._session.job()
        return job.photos if job is not None else ()

    def _show(self) -> None:
        photos = self._photos()
        index = next((k for k, p in enumerate(photos) if p.id == self._id), None)
        if index is None:
            self.close()
            return
        photo = photos[index]
        self.setWindowTitle(
            say(phrase("Photo {index} of {count}, {added}", index=index + 1, count=len(photos), added=photo.added))
        )
        self.caption.setText(say(photo.caption))
        self.earlier.setEnabled(index > 0)
        self.later.setEnabled(index + 1 < len(photos))
        data = self._session.workspace.photo(photo.id)
        if not data:
            self.picture.setText(say("This picture did not come with its record."))
            return
        pixels = QPixmap()
        pixels.loadFromData(data)
        room = QSize(self.width() - 32, self.height() - 80)
        mode = Qt.TransformationMode.SmoothTransformation
        self.picture.setPixmap(pixels.scaled(room, Qt.AspectRatioMode.KeepAspectRatio, mode))

    def _step(self, by: int) -> None:
        photos = self._photos()
        index = next((k for k, p in enumerate(photos) if p.id == self._id), 0) + by
        if 0 <= index < len(photos):
            self._id = photos[index].id
            self._show()

    def _write(self) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("photo captioned", with_caption(job, self._id, self.caption.text().strip()))

    def _remove(self) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("photo taken out", without_photo(job, self._id))
        self.close()
