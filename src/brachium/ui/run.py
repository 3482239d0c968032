"""Starts the window on a shop file."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication

from brachium.app.shop import open_shop
from brachium.core.problems import Problem
from brachium.ui import bug_dialog
from brachium.ui.session import Poster, Session
from brachium.ui.shell.window import MainWindow
from brachium.ui.theme import theme


def settings_for(path: Path) -> QSettings:
    """Window state lies beside the shop file, so that every shop remembers its own."""
    return QSettings(str(path.with_suffix(".ini")), QSettings.Format.IniFormat)


def make_window(path: Path, demo: bool) -> tuple[MainWindow, Poster]:
    """A window on a shop file. Raises Problem; the poster must outlive the window."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Brachium")
    settings = settings_for(path)
    poster = Poster()
    workspace = open_shop(path, demo, poster.post)
    theme.apply(app, settings.value("dark", False, bool) is True)
    return MainWindow(Session(workspace), settings), poster


def has_display() -> bool:
    """Whether a window can be shown; Qt would end the process where it cannot."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def run(path: Path, demo: bool) -> int:
    """Open the window and stay until it is closed; returns the exit code."""
    if not has_display():
        print("There is no display here. Use `brachium demo --headless --out DIR`, or start from a desktop session.",
              file=sys.stderr)  # fmt: skip
        return 1
    app = QApplication(sys.argv[:1])
    bug_dialog.install()
    try:
        window, poster = make_window(path, demo)
    except Problem as problem:
        print(problem.text, file=sys.stderr)
        return 1
    window.show()
    code = app.exec()
    window.session.workspace.close()
    poster.deleteLater()
    return code
