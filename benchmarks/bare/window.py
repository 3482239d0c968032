"""A window as it was taken down (`start_limits.py`), made again by nothing but Qt, SQLite's module and NumPy.

The same widgets with the same texts, places and style sheet, the same fonts, the same rows of the shop read; with
`samples` the runs' arrays too, as what is drawn comes from them. Run by itself: SHOP SNAPSHOT FONTS [samples].
"""

import json
import os
import sqlite3
import sys
import zlib
from pathlib import Path

from PySide6 import QtWidgets
from PySide6.QtGui import QFontDatabase

shop, snapshot, fonts = sys.argv[1:4]
taken = json.loads(Path(snapshot).read_text())
app = QtWidgets.QApplication([])
for font in Path(fonts).glob("*.ttf"):
    QFontDatabase.addApplicationFontFromData(font.read_bytes())
with sqlite3.connect(shop) as rows:
    cards = [json.loads(card) for (card,) in rows.execute("select card from job")]
    settings = rows.execute("select * from setting").fetchall()
    documents = [json.loads(text) for (text,) in rows.execute("select document from job limit 1")]
    if sys.argv[4:] == ["samples"]:
        import numpy as np

        runs = [json.loads(text) for (text,) in rows.execute("select document from run")]
        arrays = [np.frombuffer(zlib.decompress(d), "<f8") for (d,) in rows.execute("select data from series")]
app.setStyleSheet(taken["style"])
made: list[QtWidgets.QWidget] = []
for kind, parent, name, text, place, visible in taken["widgets"]:
    window = kind in ("QMainWindow", "QDialog")
    widget = (QtWidgets.QWidget if window else getattr(QtWidgets, kind))(made[parent] if parent >= 0 else None)
    widget.setObjectName(name)
    if text and hasattr(widget, "setText"):
        widget.setText(text)
    widget.setGeometry(*place)
    if not visible and parent >= 0:
        widget.hide()
    made.append(widget)
made[0].show()
app.processEvents()
made[0].grab()
os._exit(0)
