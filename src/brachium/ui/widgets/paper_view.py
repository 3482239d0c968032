"""Pages of a report as they will be printed: rendered off the window's thread, with zoom, words to copy."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QGuiApplication, QImage, QPixmap, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import counted, joined, phrase
from brachium.report.pdf_pages import PdfPage, pages_as_pictures
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, clear, label

ZOOMS = (0.5, 0.67, 0.8, 1.0, 1.25, 1.5, 2.0, 3.0)
FIT, MARGIN, SOON_MS = 1.0, 28, 120


class PaperView(QWidget):
    """`show_paper` gives what makes the PDF; the last one asked for wins. Zoom 1 is the width of the view."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._asked, self._drawing, self._zoom = 0, 0, FIT
        self._pdf = b""
        self._pages: tuple[PdfPage, ...] = ()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        row = QHBoxLayout()
        self._note = label("", "soft")
        row.addWidget(self._note, 1)
        self.smaller = button("−", lambda: self._step(-1), "quiet", "Smaller  (Ctrl+wheel)")
        self.zoom = label("100 %", "soft")
        self.larger = button("+", lambda: self._step(1), "quiet", "Larger  (Ctrl+wheel)")
        self.smaller.setAccessibleName(say("Smaller"))
        self.larger.setAccessibleName(say("Larger"))
        for widget in (self.smaller, self.zoom, self.larger):
            row.addWidget(widget)
        row.addWidget(button("Copy text", self._copy, "quiet", "The words of all pages"))
        layout.addLayout(row)
        self.area = QScrollArea()
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidgetResizable(True)
        self.area.setAccessibleName(say("Pages"))
        inner = QWidget()
        inner.setObjectName("paper")
        self._column = QVBoxLayout(inner)
        self._column.setContentsMargins(0, 6, 0, 6)
        self._column.setSpacing(12)
        self.area.setWidget(inner)
        layout.addWidget(self.area, 1)
        self._soon = QTimer(self, interval=SOON_MS, singleShot=True)
        self._soon.timeout.connect(self._draw)

    def show_paper(self, make: Callable[[], bytes]) -> None:
        """Make the PDF and show its pages; what stood there stays until then."""
        self._asked += 1
        asked = self._asked
        self._note.setText(say("Setting the pages…"))
        self._session.workspace.lanes.submit("compute", make, partial(self._made, asked), self._failed)

    def pages(self) -> tuple[PdfPage, ...]:
        """The pages in view."""
        return self._pages

    def text(self) -> str:
        """The words of all pages in view."""
        return joined("\n", (p.text for p in self._pages))

    def pdf(self) -> bytes:
        """What is in view, as it would be saved."""
        return self._pdf

    def busy(self) -> bool:
        """Whether pages are still being made."""
        return self._note.text().endswith("…")

    def _made(self, asked: int, pdf: bytes) -> None:
        if asked == self._asked:
            self._pdf = pdf
            self._draw()

    def _failed(self, error: Exception) -> None:
        self._note.setText(say("The pages cannot be shown."))
        self._session.report(error)

    def _draw(self) -> None:
        """Render at the present width and zoom."""
        if not self._pdf:
            return
        ratio = self.devicePixelRatioF()
        width = round(max(self.area.viewport().width() - MARGIN, 200) * self._zoom * ratio)
        self._drawing += 1  # apart from what is asked for: a new size must not drop a paper that is being made
        drawing, pdf = self._drawing, self._pdf
        self._session.workspace.lanes.submit(
            "watch", lambda: pages_as_pictures(pdf, width), lambda pages: self._drawn(drawing, pages, ratio),
            self._failed,
        )  # fmt: skip

    def _drawn(self, drawing: int, pages: tuple[PdfPage, ...], ratio: float) -> None:
        if drawing != self._drawing:
            return
        self._pages = pages
        clear(self._column)
        for number, page in enumerate(pages, 1):
            image = QImage(page.pixels, page.width, page.height, QImage.Format.Format_RGBX8888)
            picture = QPixmap.fromImage(image)
            picture.setDevicePixelRatio(ratio)
            sheet = QLabel()
            sheet.setPixmap(picture)
            sheet.setProperty("role", "paper")
            sheet.setAccessibleName(say(phrase("Page {number} of {count}", number=number, count=len(pages))))
            sheet.setAccessibleDescription(say(page.text))
            self._column.addWidget(sheet, 0, Qt.AlignmentFlag.AlignHCenter)
        self._column.addStretch(1)
        self._note.setText(say(counted(len(pages), "{count} page", "{count} pages")))
        self.zoom.setText(say(phrase("{zoom:.0f} %", zoom=100 * self._zoom)))

    def _step(self, by: int) -> None:
        at = min(range(len(ZOOMS)), key=lambda k: abs(ZOOMS[k] - self._zoom)) + by
        self._zoom = ZOOMS[min(max(at, 0), len(ZOOMS) - 1)]
        self._draw()

    def _copy(self) -> None:
        QGuiApplication.clipboard().setText(say(self.text()))

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._step(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
        else:
            super().wheelEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.size().width() != event.oldSize().width():
            self._soon.start()
