"""Shows a drawing; its regions can be chosen by mouse and arrow keys, copied and saved as a picture."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QMimeData, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QDrag,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QFocusEvent,
    QGuiApplication,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PySide6.QtWidgets import QApplication, QMenu, QToolTip, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.figures.base.drawing import Drawing, Region, region_at
from brachium.ui.theme import theme
from brachium.ui.widgets.paint import paint_drawing
from brachium.ui.widgets.tool_tips import tip_text

DRAGGED = "application/x-brachium-region"
Builder = Callable[[float, float], Drawing | None]


class DrawingView(QWidget):
    """`set_builder` gives a function of width and height; it is called again when the size changes."""

    chosen = Signal(object)  # the Region
    activated = Signal(object)  # the Region, by Return or double click
    save_asked = Signal(object)  # the Drawing

    def __init__(self, parent: QWidget | None = None, minimum: QSize | None = None) -> None:
        super().__init__(parent)
        self._builder: Builder | None = None
        self._drawing: Drawing | None = None
        self._hover = ""
        self.selected = ""
        self.show_selection = True
        self.fits_height = False  # takes the height of its drawing at every width
        self.draggable = False  # regions can be dragged onto another figure
        self._pressed: QPointF | None = None
        self._over: Callable[[str, str], str] | None = None
        self._drop: Callable[[str, str], object] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        if minimum is not None:
            self.setMinimumSize(minimum)

    def accept_dragged(self, over: Callable[[str, str], str], drop: Callable[[str, str], object]) -> None:
        """Take regions of other figures: both get the dragged id and the region under it; `over` gives its words."""
        self._over, self._drop = over, drop
        self.setAcceptDrops(True)

    def set_builder(self, builder: Builder | None) -> None:
        self._builder = builder
        self._rebuild()

    def drawing(self) -> Drawing | None:
        return self._drawing

    def regions(self) -> tuple[Region, ...]:
        return self._drawing.regions if self._drawing else ()

    def region(self, region_id: str) -> Region | None:
        return next((r for r in self.regions() if r.id == region_id), None)

    def choose(self, region_id: str) -> None:
        """Choose a region as a click would; unknown ids are ignored."""
        found = self.region(region_id)
        if found is not None:
            self.selected = region_id
            self.update()
            self.chosen.emit(found)

    def fit_height(self) -> None:
        """Take the height that the drawing came out with (figures that size themselves by their rows)."""
        if self._drawing is not None:
            self.setFixedHeight(round(self._drawing.height) + 2)

    def _rebuild(self) -> None:
        self._drawing = self._builder(self.width(), self.height()) if self._builder and self.width() > 40 else None
        if self._drawing is not None:
            self.setAccessibleName(say(self._drawing.title))
            self.setAccessibleDescription(say(self._drawing.about))
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.size() != event.oldSize():
            self._rebuild()
            if self.fits_height and event.size().width() != event.oldSize().width():
                self.fit_height()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._drawing is None:
            return
        painter = QPainter(self)
        paint_drawing(painter, self._drawing)
        for region in self._drawing.regions:
            chosen = region.id == self.selected and self.show_selection
            if chosen or region.id == self._hover:
                self._mark(painter, region, chosen)
        painter.end()

    def _mark(self, painter: QPainter, region: Region, chosen: bool) -> None:
        focus = chosen and self.hasFocus()
        pen = QPen(theme.qcolor("cool" if chosen else "hair"), 2.0 if focus else 1.0)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(region.x, region.y, region.w, region.h).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)

    def _at(self, point: QPointF) -> Region | None:
        return region_at(self.regions(), point.x(), point.y())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drags(event):
            self._start_drag()
            return
        found = self._at(event.position())
        hover = found.id if found else ""
        if hover != self._hover:
            self._hover = hover
            self.setCursor(Qt.CursorShape.PointingHandCursor if hover else Qt.CursorShape.ArrowCursor)
            self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = ""
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self._at(event.position())
        if found is not None and event.button() == Qt.MouseButton.LeftButton:
            self.choose(found.id)
            self._pressed = event.position()

    def _drags(self, event: QMouseEvent) -> bool:
        held = self.draggable and self._pressed is not None and event.buttons() & Qt.MouseButton.LeftButton
        if not held or self._pressed is None:
            return False
        far = (event.position() - self._pressed).manhattanLength()
        return far >= QApplication.startDragDistance() and bool(self.selected)

    def _start_drag(self) -> None:
        self._pressed = None
        drag, mime = QDrag(self), QMimeData()
        mime.setData(DRAGGED, self.selected.encode())
        drag.setMimeData(mime)
        region = self.region(self.selected)
        if region is not None:
            drag.setPixmap(self.grab(QRectF(region.x, region.y, region.w, region.h).toRect()))
        drag.exec(Qt.DropAction.CopyAction)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if self._over is not None and event.mimeData().hasFormat(DRAGGED):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        found = self._at(event.position())
        if self._over is None or found is None:
            event.ignore()
            return
        if found.id != self._hover:
            self._hover = found.id
            words = self._over(bytes(event.mimeData().data(DRAGGED).data()).decode(), found.id)
            QToolTip.showText(self.mapToGlobal(event.position().toPoint()), tip_text(words), self)
            self.update()
        event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        found = self._at(event.position())
        if self._drop is not None and found is not None:
            event.acceptProposedAction()
            self._drop(bytes(event.mimeData().data(DRAGGED).data()).decode(), found.id)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        found = self._at(event.position())
        if found is not None:
            self.activated.emit(found)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1}
        regions = self.regions()
        if event.key() in steps and regions:
            ids = [r.id for r in regions]
            at = ids.index(self.selected) + steps[Qt.Key(event.key())] if self.selected in ids else 0
            self.choose(ids[at % len(ids)])
        elif (
            event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space)
            and self.region(self.selected)
            and not event.modifiers()
        ):
            self.activated.emit(self.region(self.selected))
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        if not self.selected and self.regions():
            self.selected = self.regions()[0].id
        self.update()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            found = self._at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), tip_text(found.label) if found else "", self)
            return True
        return super().event(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self._drawing is None:
            return
        drawing = self._drawing
        menu = QMenu(self)
        menu.addAction(say("Copy picture"), lambda: QGuiApplication.clipboard().setPixmap(self.grab()))
        menu.addAction(say("Copy as text"), lambda: QGuiApplication.clipboard().setText(say(as_text(drawing))))
        menu.addAction(say("Save picture as SVG or PNG…"), lambda: self.save_asked.emit(drawing))
        menu.exec(event.globalPos())


def as_text(drawing: Drawing) -> str:
    """The regions of a drawing as lines of text, for the clipboard."""
    return joined(
        "\n",
        [phrase("{drawing}: {about}", drawing=drawing.title, about=drawing.about), *(r.label for r in drawing.regions)],
    )
