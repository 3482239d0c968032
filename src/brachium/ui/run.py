"""Starts the window on a shop file."""

from __future__ import annotations

import os
import sys
import tempfile
import threading
from importlib import import_module
from importlib.resources import files as resource_files
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtGui import QGuiApplication, QIcon
from PySide6.QtWidgets import QApplication

from brachium.core.base.late_numpy import load_numpy
from brachium.core.base.problems import Problem
from brachium.store.location import Place, ServerPlace
from brachium.ui.opening import Opening
from brachium.ui.quick_start import KeptMethods, settle
from brachium.ui.theme import theme

if TYPE_CHECKING:
    from brachium.app.shop.workspace import Workspace
    from brachium.ui.session import Poster
    from brachium.ui.shell.window import MainWindow

DESKTOP_ID = "org.brachium.Brachium"
LOOK_S = 0.01
SETTLE_MS = 3000  # after which a start is over
IDLE_MS = 400  # after the first figures, before the other pages are loaded
UNSEEN = ("offscreen", "minimal")  # platforms on which nobody could answer


def settings_for(path: Path) -> QSettings:
    """Window state lies beside the shop file, or what this computer keeps of a server's shop: each remembers its own.

    A link in its place is never followed: the state of that window is then forgotten when it closes.
    """
    beside = path.with_suffix(".ini")
    if beside.is_symlink() or not (beside.is_file() or not beside.exists()):
        beside = Path(tempfile.mkdtemp(prefix="brachium-")) / "window.ini"
    return QSettings(str(beside), QSettings.Format.IniFormat)


def make_window(place: Place, demo: bool, bench: str = "") -> tuple[MainWindow, Poster]:
    """A window on a shop. Raises Problem; the poster must outlive the window."""
    from brachium.app.shop.open_shop import open_shop  # late: the window's outline is painted first
    from brachium.speech.languages import SYSTEM
    from brachium.ui.session import Poster, Session
    from brachium.ui.shell.window import MainWindow
    from brachium.ui.window_language import speak

    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("Brachium")
    QGuiApplication.setDesktopFileName(DESKTOP_ID)
    app.setWindowIcon(QIcon(str(resource_files("brachium.resources").joinpath("icons", f"{DESKTOP_ID}.svg"))))
    poster = Poster()
    workspace = open_shop(place, poster.post, _filled if demo else None, bench)
    settings = settings_for(workspace.database.path)
    theme.apply(app, chosen_look(settings))
    speak(app, str(settings.value("language", SYSTEM)))
    return MainWindow(Session(workspace), settings), poster


def chosen_look(settings: QSettings) -> str:
    """The look that was chosen; of older windows whether they were dark; else the system's wish."""
    kept = str(settings.value("look", ""))
    return kept or ("dark" if is_true(settings, "dark") else theme.SYSTEM)


def is_true(settings: QSettings, key: str) -> bool:
    """A switch of the window's; whatever else stands there is off."""
    return str(settings.value(key, "")).lower() == "true"


def has_display() -> bool:
    """Whether a window can be shown; Qt would end the process where it cannot."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


def _load(app: QApplication) -> None:
    """Load what the window is made of in a thread, while its outline is painted and can be moved or closed."""
    loading = threading.Thread(target=import_module, args=("brachium.ui.shell.everything",), daemon=True)
    loading.start()
    while loading.is_alive():
        app.processEvents()
        loading.join(LOOK_S)


def _filled(workspace: Workspace) -> None:
    from brachium.app.demo.demo_shop import fill_demo_shop  # late: a shop of one's own needs none of it

    fill_demo_shop(workspace)


def run(
    place: Place, demo: bool, files: tuple[Path, ...] = (), bench: str = "", methods: KeptMethods | None = None
) -> int:
    """Open the window, take files in, and stay until it is closed; returns the exit code."""
    if not has_display():
        print("There is no display here. Use `brachium demo --headless --out DIR`, or start from a desktop session.",
              file=sys.stderr)  # fmt: skip
        return 1
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    settings = settings_for(place.path if isinstance(place, ServerPlace) else place)
    theme.apply(app, chosen_look(settings))
    opening = Opening(settings)
    opening.show()
    if methods is not None:
        QTimer.singleShot(SETTLE_MS, app, lambda: settle(methods))
    _load(app)
    from brachium.ui import bug_dialog
    from brachium.ui.cannot_open import CannotOpen

    bug_dialog.install()
    while True:
        try:
            window, poster = make_window(place, demo, bench)
            break
        except Problem as problem:
            opening.hide()
            print(problem.text, file=sys.stderr)
            if app.platformName() in UNSEEN or not CannotOpen(place, problem).ask():
                return 1
    if opening.closed:  # given up meanwhile
        window.session.workspace.close()
        return 0
    window.show()
    opening.hide()
    threading.Thread(target=load_numpy, daemon=True).start()  # before a figure asks for it
    if window.session.job_id:
        window.session.when_viewed(window.session.job_id, lambda: QTimer.singleShot(IDLE_MS, window, window.pages.warm))
    if files:
        QTimer.singleShot(0, window, lambda: window.files.open_files(files))
    code = app.exec()
    window.session.workspace.close()
    poster.deleteLater()
    return run(place, False, (), bench) if window.reopens else code
