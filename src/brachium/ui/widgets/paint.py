"""Paints a drawing with Qt in the colours of the theme."""

from __future__ import annotations

from PySide6.QtCore import QByteArray, QDataStream, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QFontMetricsF, QPainter, QPen, QPolygonF

from brachium.core.base.arrays import FloatArray
from brachium.core.base.late_numpy import np
from brachium.core.base.spoken import say
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Item, Line, Polyline, Text
from brachium.ui.theme import theme

LONG, ZIGZAG = 200, 800  # points


def paint_drawing(painter: QPainter, drawing: Drawing) -> None:
    """Paint all items in order."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    paint_items(painter, drawing.items)


def paint_items(painter: QPainter, items: tuple[Item, ...]) -> None:
    for item in items:
        match item:
            case Line():
                painter.setPen(_pen(item.role, item.width, item.dash))
                painter.drawLine(QPointF(_crisp(item, item.x1), _crisp(item, item.y1)),
                                 QPointF(_crisp(item, item.x2), _crisp(item, item.y2)))  # fmt: skip
            case Polyline():
                _polyline(painter, item)
            case Box():
                _box(painter, item)
            case Dot():
                painter.setPen(_pen(item.role, item.width) if item.width else Qt.PenStyle.NoPen)
                painter.setBrush(_brush(item.fill))
                painter.drawEllipse(QPointF(item.x, item.y), item.r, item.r)
            case Hatch():
                _hatch(painter, item)
            case Text():
                _text(painter, item)


def _crisp(line: Line, value: float) -> float:
    """Upright and level hairlines sit on pixel centres."""
    straight = line.x1 == line.x2 or line.y1 == line.y2
    return round(value) + 0.5 if straight and line.width <= 1.2 else value


def _pen(role: str, width: float, dash: tuple[float, ...] = ()) -> QPen:
    pen = QPen(theme.qcolor(role), width)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    if dash:
        pen.setDashPattern([d / max(width, 0.1) for d in dash])
    return pen


def _brush(role: str) -> QBrush:
    return QBrush(theme.qcolor(role)) if role else QBrush(Qt.BrushStyle.NoBrush)


def polygon_of(points: FloatArray) -> QPolygonF:
    """Points, shape (n, 2), as a polygon by Qt's own stream format: ten times as fast as point by point."""
    data = len(points).to_bytes(4, "big") + np.ascontiguousarray(points, dtype=">f8").tobytes()
    stream = QDataStream(QByteArray(data))
    stream.setFloatingPointPrecision(QDataStream.FloatingPointPrecision.DoublePrecision)
    out = QPolygonF()
    stream >> out
    return out


def _polyline(painter: QPainter, item: Polyline) -> None:
    """Qt paints smoothed lines of one pixel twenty times as fast as wider ones with joins. So a long line is painted in
    lines of one pixel, some over each other where it is wider; a very long zigzag, which covers its columns either way,
    unsmoothed."""
    polygon = polygon_of(item.points)
    if len(item.points) > LONG and not item.closed and not item.dash:
        _long_line(painter, item, polygon)
        return
    painter.setPen(_pen(item.role, item.width, item.dash))
    painter.setBrush(_brush(item.fill))
    if item.closed:
        painter.drawPolygon(polygon)
    else:
        painter.drawPolyline(polygon)


def _long_line(painter: QPainter, item: Polyline, polygon: QPolygonF) -> None:
    if len(item.points) > ZIGZAG:
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setPen(QPen(theme.qcolor(item.role), 0))
        painter.drawPolyline(polygon)
        painter.restore()
        return
    painter.setPen(_pen(item.role, 1.0))
    aside = max(item.width - 1.0, 0.0) / 2.0
    for move in (-aside, 0.0, aside) if aside > 0.2 else (-aside, aside):
        painter.drawPolyline(polygon.translated(move, move))


def _box(painter: QPainter, item: Box) -> None:
    painter.setPen(_pen(item.role, item.width, item.dash) if item.role else Qt.PenStyle.NoPen)
    painter.setBrush(_brush(item.fill))
    rect = (
        QRectF(round(item.x) + 0.5, round(item.y) + 0.5, round(item.w), round(item.h))
        if item.width <= 1.4 and item.w > 20
        else QRectF(item.x, item.y, item.w, item.h)
    )
    if item.radius:
        painter.drawRoundedRect(rect, item.radius, item.radius)
    else:
        painter.drawRect(rect)


def _hatch(painter: QPainter, item: Hatch) -> None:
    painter.save()
    painter.setClipRect(QRectF(item.x, item.y, item.w, item.h))
    painter.setPen(_pen(item.role, 1.0))
    x = item.x - item.h
    while x < item.x + item.w:
        painter.drawLine(QPointF(x, item.y + item.h), QPointF(x + item.h, item.y))
        x += item.spacing
    painter.restore()


def _text(painter: QPainter, item: Text) -> None:
    font = theme.font(item.size, item.weight, item.condensed)
    painter.setFont(font)
    painter.setPen(theme.qcolor(item.role))
    x, text = item.x, say(item.text)
    if item.anchor != "start":
        width = QFontMetricsF(font).horizontalAdvance(text)
        x -= width if item.anchor == "end" else width / 2
    painter.drawText(QPointF(x, item.y), text)
