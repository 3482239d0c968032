"""Renders the program's icon in every size that desktops ask for: packaging/linux/icons/<size>.png."""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

FOLDER = Path(__file__).parents[1] / "packaging/linux"
SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)


def main() -> None:
    QGuiApplication(sys.argv)
    renderer = QSvgRenderer(str(FOLDER.parents[1] / "src/brachium/resources/icons/org.brachium.Brachium.svg"))
    for size in SIZES:
        image = QImage(size, size, QImage.Format.Format_ARGB32)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        renderer.render(painter)
        painter.end()
        image.save(str(FOLDER / "icons" / f"{size}.png"))
    print(f"{len(SIZES)} sizes")


if __name__ == "__main__":
    main()
