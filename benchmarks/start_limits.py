"""Starts of the window against bare Qt: the same widgets, fonts, style sheet and rows, and an empty window."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable
from importlib.resources import files
from pathlib import Path

from benchmarks.in_turn import Limit, in_turn

EMPTY = (
    "from PySide6.QtWidgets import QApplication, QMainWindow, QLabel\n"
    "a = QApplication([]); w = QMainWindow(); w.setCentralWidget(QLabel('x')); w.resize(1280, 800); w.show()\n"
    "a.processEvents(); w.grab()\n"
)
BEGIN = "from brachium.ui.quick_start import begin\nmethods = begin()\n"
OUTLINE = (
    BEGIN + "import sys, pathlib\n"
    "from brachium.ui.run import settings_for, chosen_look, theme, Opening\n"
    "from PySide6.QtWidgets import QApplication\n"
    "a = QApplication([]); s = settings_for(pathlib.Path(sys.argv[1])); theme.apply(a, chosen_look(s))\n"
    "o = Opening(s); o.show(); a.processEvents(); o.grab()\n"
)
WINDOW = (
    BEGIN + "import sys, pathlib, time\n"
    "from brachium.ui.run import make_window\n"
    "from PySide6.QtWidgets import QApplication\n"
    "w, p = make_window(pathlib.Path(sys.argv[1]), False); w.show(); QApplication.processEvents()\n"
)
FIGURES = WINDOW + "while w.session.view() is None: QApplication.processEvents(); time.sleep(0.001)\nw.grab()\n"
KEEP = FIGURES + "w.close(); w.session.workspace.close(); methods.write()\n"
TAKE_DOWN = """
import json
from PySide6.QtWidgets import QWidget
rows, seen = [], {}
for widget in (w, *w.findChildren(QWidget)):
    seen[id(widget)] = len(rows)
    kind = next(c.__name__ for c in type(widget).__mro__ if c.__module__ == "PySide6.QtWidgets")
    text = str(widget.text()) if callable(getattr(widget, "text", None)) else ""
    place = widget.geometry()
    rows.append((kind, seen.get(id(widget.parentWidget()), -1), widget.objectName(), text,
                 (place.x(), place.y(), place.width(), place.height()), widget.isVisible()))
taken = {"style": QApplication.instance().styleSheet(), "widgets": rows}
pathlib.Path(sys.argv[2]).write_text(json.dumps(taken))
w.close(); w.session.workspace.close()
"""
END = "import os; os._exit(0)\n"
TIMES = 7


def child(script: str, *arguments: str) -> Callable[[], object]:
    """A process of its own, from its start to its end."""
    return lambda: subprocess.run([sys.executable, "-c", script + END, *arguments], check=True, capture_output=True)


def bare_window(*arguments: str) -> Callable[[], object]:
    script = str(Path(__file__).parent / "bare" / "window.py")
    return lambda: subprocess.run([sys.executable, script, *arguments], check=True, capture_output=True)


def starts(shop: Path) -> tuple[list[Limit], list[Limit]]:
    """(against the same work, against an empty window); on the demo job, as it was kept when it closed."""
    place, fonts = str(shop), str(files("brachium.resources").joinpath("fonts"))
    child(KEEP, place)()
    same, empty = [], []
    for name, script, more, bare in (
        ("window that can be used", WINDOW, (), "Qt, SQL: the same widgets, fonts, style sheet, rows"),
        ("first figures, kept from the last start", FIGURES, ("samples",), "the same, and NumPy: the samples"),
    ):
        snapshot = str(shop.with_name(f"{len(same)}.json"))
        child(script + TAKE_DOWN, place, snapshot)()
        same.append(
            Limit(name, *in_turn(child(script, place), bare_window(place, snapshot, fonts, *more), TIMES), bare)
        )
    for name, script in (("outline of the window painted", OUTLINE), ("window that can be used", WINDOW),
                         ("first figures", FIGURES)):  # fmt: skip
        empty.append(Limit(name, *in_turn(child(script, place), child(EMPTY), TIMES), "Qt: an empty window"))
    return [Limit(empty[0].name, empty[0].program_s, empty[0].bare_s, empty[0].bare), *same], empty
