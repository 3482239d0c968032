"""Writes resources/fonts/advances.json: how wide each sign of the shipped fonts is, so that figures need no screen."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtGui import QFontMetricsF, QGuiApplication

from brachium.ui.theme import theme

OUT = Path(__file__).parents[1] / "src/brachium/resources/fonts/advances.json"
SIZE = 1000  # px, so that widths are thousandths of the type size
SIGNS = [chr(c) for c in (*range(0x20, 0x7F), *range(0xA0, 0x180), *range(0x2000, 0x2070), 0x20AC, 0x2190, 0x2191,
                          0x2192, 0x2193, 0x2212, 0x2248, 0x2264, 0x2265, 0x03A9, 0x03BC)]  # fmt: skip


def main() -> None:
    QGuiApplication(sys.argv)
    theme.load_fonts()
    faces = {}
    for condensed in (False, True):
        for weight in (400, 500, 600):
            metrics = QFontMetricsF(theme.font(SIZE, weight, condensed))
            name = f"{'condensed' if condensed else 'normal'}-{weight}"
            faces[name] = {s: round(metrics.horizontalAdvance(s)) for s in SIGNS}
    OUT.write_text(json.dumps(faces, ensure_ascii=True, separators=(",", ":")) + "\n")
    print(f"{len(SIGNS)} signs of {len(faces)} faces")


if __name__ == "__main__":
    main()
