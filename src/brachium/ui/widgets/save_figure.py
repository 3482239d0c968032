"""Saving a figure as SVG or PNG."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice
from PySide6.QtGui import QImage, QPainter, QPixmap
from PySide6.QtWidgets import QFileDialog, QWidget

from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.figures.base.drawing import Drawing
from brachium.formats.atomic import write_atomically
from brachium.ui.session import Session
from brachium.ui.theme import theme
from brachium.ui.widgets.paint import paint_drawing

SCALE = 2


def save_figure(parent: QWidget, drawing: Drawing, session: Session) -> None:
    """Ask where, then write; problems go to the Next bar."""
    name = say(drawing.title).lower().replace(" ", "-")
    chosen, _ = QFileDialog.getSaveFileName(parent, say("Save picture"), f"{name}.svg", say("SVG (*.svg);;PNG (*.png)"))
    if not chosen:
        return
    try:
        path = Path(chosen)
        if path.suffix.lower() == ".png":
            write_atomically(path, drawing_to_png(drawing))
        else:
            from brachium.app.files.figure_export import save_svg  # late: few starts save a picture

            save_svg(drawing, path, theme.colours())
        session.say(phrase("Saved {path}", path=path.name))
    except Problem as problem:
        session.report(problem)


def drawing_to_png(drawing: Drawing) -> bytes:
    """The drawing as PNG at twice its size, in the theme in force."""
    image = QImage(round(drawing.width * SCALE), round(drawing.height * SCALE), QImage.Format.Format_ARGB32)
    image.fill(theme.qcolor("film"))
    painter = QPainter(image)
    painter.scale(SCALE, SCALE)
    paint_drawing(painter, drawing)
    painter.end()
    return png_bytes(QPixmap.fromImage(image))


def png_bytes(pixmap: QPixmap) -> bytes:
    """A pixmap encoded as PNG."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    pixmap.save(buffer, "PNG")
    return bytes(data.data())
