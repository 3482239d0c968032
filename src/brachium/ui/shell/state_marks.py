"""A small shape for what a machine waits for: told apart without colour and without reading."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from brachium.core.record.card import Waits

SIZE = 9.0


def paint_state(painter: QPainter, waits: Waits, x: float, y: float, colour: QColor) -> None:
    """Paint the shape of a state into a square of `SIZE` px whose top left corner is at x, y."""
    box = QRectF(x + 0.5, y + 0.5, SIZE - 1, SIZE - 1)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    painter.setPen(QPen(colour, 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if waits is Waits.BENCH:
        painter.fillRect(box, colour)
    elif waits is Waits.RUNNING:
        painter.setBrush(colour)
        painter.drawPolygon(QPolygonF([box.topLeft(), QPointF(box.right(), box.center().y()), box.bottomLeft()]))
    elif waits is Waits.PARTS:
        for a, b in ((box.topLeft(), box.bottomLeft()), (box.bottomLeft(), box.bottomRight()),
                     (box.bottomRight(), box.topRight())):  # fmt: skip
            painter.drawLine(a, b)
    elif waits is Waits.OWNER:
        painter.drawEllipse(box)
    elif waits is Waits.AGAIN:
        painter.drawArc(box, 60 * 16, 300 * 16)
        painter.drawLine(box.center(), QPointF(box.center().x(), box.top()))
    elif waits is Waits.DONE:
        middle = QPointF(box.left() + 0.35 * box.width(), box.bottom())
        painter.drawPolyline(QPolygonF([QPointF(box.left(), box.center().y()), middle, box.topRight()]))
    elif waits is Waits.KEPT:
        painter.setPen(QPen(colour, 1.4, Qt.PenStyle.DotLine))
        painter.drawRect(box)
    else:
        painter.drawLine(QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y()))
    painter.restore()
