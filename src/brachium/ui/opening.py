"""The outline of the window, painted while what fills it is loaded: where the window will stand, and as large."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QRect, QSettings, Qt
from PySide6.QtGui import QCloseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from brachium.core.figures.base.theme import SPACE
from brachium.ui.theme import theme

SIZE = (1280, 800)
LINES = (0.62, 0.4, 0.86, 0.74, 0.52)


class Opening(QWidget):
    """Header, rail and page as they will stand; it can be closed, then nothing is opened."""

    def __init__(self, settings: QSettings) -> None:
        super().__init__()
        self.closed = False
        self.setWindowTitle("Brachium")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        geometry = settings.value("geometry")
        if not isinstance(geometry, QByteArray) or not self.restoreGeometry(geometry):
            self.resize(*SIZE)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.closed = True
        super().closeEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        width, height = self.width(), self.height()
        page = QRect(SPACE.rail, SPACE.header, width - SPACE.rail, height - SPACE.header - SPACE.next)
        painter.fillRect(self.rect(), theme.qcolor("sheet"))
        painter.fillRect(page, theme.qcolor("film"))
        for x, y, w, h in (
            (0, SPACE.header - 1, width, 1), (SPACE.rail - 1, SPACE.header, 1, page.height()),
            (0, height - SPACE.next, width, 1),
        ):  # fmt: skip
            painter.fillRect(x, y, w, h, theme.qcolor("hair"))
        painter.setFont(theme.font(17, 600))
        painter.setPen(theme.qcolor("ink"))
        painter.drawText(QRect(16, 0, SPACE.rail, SPACE.header - 1), Qt.AlignmentFlag.AlignVCenter, "Brachium")
        for number, share in enumerate(LINES):
            y = page.top() + 100 + 46 * number
            painter.fillRect(page.left() + SPACE.gutter, y, int(share * 0.6 * page.width()), 22, theme.qcolor("grid"))
            painter.fillRect(16, y, int(share * (SPACE.rail - 40)), 12, theme.qcolor("grid"))
        painter.end()
