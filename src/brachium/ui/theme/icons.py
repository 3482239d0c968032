"""Shipped SVG icons in a colour role of the theme."""

from __future__ import annotations

from importlib.resources import files

from PySide6.QtCore import QByteArray, QRectF, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap
from PySide6.QtSvg import QSvgRenderer

from brachium.ui.theme import theme


def icon(name: str, role: str = "ink", size: int = 18) -> QIcon:
    """An icon by file name without suffix; raises FileNotFoundError for an unknown one."""
    svg = files("brachium.resources").joinpath("icons", f"{name}.svg").read_text(encoding="utf-8")
    svg = svg.replace("currentColor", theme.colours().role(role)).replace('stroke-width="2"', 'stroke-width="1.6"')
    renderer = QSvgRenderer(QByteArray(svg.encode()))
    pixmap = QPixmap(size * 2, size * 2)
    pixmap.setDevicePixelRatio(2.0)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0, 0, size, size))
    painter.end()
    return QIcon(pixmap)
