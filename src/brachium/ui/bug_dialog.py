"""A bug of ours: said plainly, with details to copy; the record is already saved."""

from __future__ import annotations

import sys
import traceback
from types import TracebackType

from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication, QDialog, QHBoxLayout, QPlainTextEdit, QVBoxLayout

from brachium.core.base.spoken import say
from brachium.ui.widgets.labels import button, label


class BugDialog(QDialog):
    """Shows the details of an unexpected error."""

    def __init__(self, details: str) -> None:
        super().__init__()
        self.setWindowTitle(say("Something went wrong in Brachium"))
        self.resize(640, 380)
        self.details = details
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.addWidget(label("Something went wrong in Brachium", "title"))
        layout.addWidget(label("A mistake of the program, not yours. What was saved is kept.", "soft", True))
        text = QPlainTextEdit(details)
        text.setReadOnly(True)
        text.setAccessibleName(say("Details"))
        layout.addWidget(text, 1)
        row = QHBoxLayout()
        self.copy = button("Copy details", lambda: QGuiApplication.clipboard().setText(say(details)))
        row.addWidget(self.copy)
        row.addStretch(1)
        row.addWidget(button("Go on", self.accept, "primary"))
        layout.addLayout(row)


def install() -> None:
    """Show a dialog for errors nobody expected; a keyboard interrupt still ends the program."""

    def hook(kind: type[BaseException], error: BaseException, where: TracebackType | None) -> None:
        sys.__excepthook__(kind, error, where)
        if not issubclass(kind, KeyboardInterrupt) and QApplication.instance() is not None:
            BugDialog("".join(traceback.format_exception(kind, error, where))).exec()

    sys.excepthook = hook
