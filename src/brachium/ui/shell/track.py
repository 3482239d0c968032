"""The stage track: seven stages with a latch in front of each but the first."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFocusEvent, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.figures.base.theme import SPACE
from brachium.core.figures.base.verdict_shape import latch_shape
from brachium.core.record.job import STAGES, Stage
from brachium.core.stage.latches import Latch
from brachium.ui.theme import theme
from brachium.ui.widgets.paint import paint_items
from brachium.ui.widgets.tool_tips import tip_text


class StageTrack(QWidget):
    """Emits `stage_chosen`; left and right arrows move along the track."""

    stage_chosen = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._latches: Mapping[Stage, Latch] = {}
        self._current = Stage.TAKE_IN
        self._hover = -1
        self._ring = False
        self.setFixedHeight(SPACE.track)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("Stages"))

    def sizeHint(self) -> QSize:
        return QSize(1100, SPACE.track)

    def set_state(self, current: Stage, latches: Mapping[Stage, Latch]) -> None:
        self._current, self._latches = current, latches
        self.setAccessibleDescription(say(phrase("at {current}", current=current)))
        self.update()

    def cell(self, stage: Stage) -> QRectF:
        """Where a stage is drawn, latch included."""
        width = (self.width() - SPACE.gutter) / len(STAGES)
        return QRectF(SPACE.gutter / 2 + STAGES.index(stage) * width, 0, width, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        painter.fillRect(self.rect(), theme.qcolor("film"))
        painter.fillRect(QRectF(0, self.height() - 1, self.width(), 1), theme.qcolor("hair"))
        for index, stage in enumerate(STAGES):
            self._stage(painter, index, stage)
        painter.end()

    def _stage(self, painter: QPainter, index: int, stage: Stage) -> None:
        cell = self.cell(stage)
        latch = self._latches.get(stage)
        left = cell.left() + (34 if index else 8)
        if latch is not None:
            paint_items(
                painter, latch_shape(latch.open, bool(latch.lifted), cell.left() + 4, cell.center().y() - 8, 18)
            )
        here = stage is self._current
        closed = latch is not None and not latch.open
        if index == self._hover and not here:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.qcolor("grid"))
            painter.drawRoundedRect(QRectF(left - 8, 10, cell.right() - left + 4, 32), 3, 3)
        painter.setFont(theme.font(15, 600 if here else 400, True))
        painter.setPen(theme.qcolor("soft" if closed and not here else "ink"))
        painter.drawText(
            QRectF(left, 0, cell.right() - left, self.height()), Qt.AlignmentFlag.AlignVCenter, say(stage.value)
        )
        if here:
            painter.fillRect(QRectF(left - 8, self.height() - 4, cell.right() - left + 4, 4), theme.qcolor("cool"))
            if self.hasFocus() and self._ring:
                painter.setPen(QPen(theme.qcolor("cool"), 1.5))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(QRectF(left - 7, 10, cell.right() - left + 2, 32), 3, 3)

    def _at(self, point: QPointF) -> int:
        return next((k for k, s in enumerate(STAGES) if self.cell(s).contains(point)), -1)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = self._at(event.position())
        if at != self._hover:
            self._hover = at
            self.setCursor(Qt.CursorShape.PointingHandCursor)
            self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = -1
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self._at(event.position())
        if at >= 0:
            self.stage_chosen.emit(STAGES[at])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()), 0)
        at = STAGES.index(self._current) + step
        if step and 0 <= at < len(STAGES):
            self._ring = True
            self.stage_chosen.emit(STAGES[at])
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self._ring = event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason)
        self.update()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            at = self._at(QPointF(event.pos()))
            latch = self._latches.get(STAGES[at]) if at >= 0 else None
            words = "" if latch is None else _latch_words(latch)
            QToolTip.showText(event.globalPos(), tip_text(words), self)
            return True
        return super().event(event)


def _latch_words(latch: Latch) -> str:
    if latch.lifted:
        return phrase("Continued anyway: {lifted}", lifted=latch.lifted)
    return "Possible now" if latch.open else phrase("Not possible yet: {missing}", missing=latch.missing)
