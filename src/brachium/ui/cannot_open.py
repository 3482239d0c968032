"""What stands where a shop cannot be opened: what is wrong, what is kept, and the newest good backup."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout

from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase, upper_first
from brachium.store.backups import restore
from brachium.store.database_problems import ShopUnreadable
from brachium.store.location import Place
from brachium.ui.widgets.labels import button, label, paragraph


class CannotOpen(QDialog):
    """Accepted where opening is to be tried again."""

    def __init__(self, place: Place, problem: Problem) -> None:
        super().__init__()
        self._path = place if isinstance(place, Path) else place.path
        self._copy = problem.backup if isinstance(problem, ShopUnreadable) else None
        self.setWindowTitle(say("The shop cannot be opened"))
        self.setMinimumWidth(560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 20, 24, 16)
        layout.setSpacing(10)
        layout.addWidget(label("The shop cannot be opened", "headline"))
        layout.addWidget(paragraph(phrase("{problem}.", problem=upper_first(problem.what)), "alarm"))
        layout.addWidget(paragraph(str(place) if isinstance(place, Path) else place.shown, "soft"))
        self.words = paragraph("", "")
        layout.addWidget(self.words)
        row = QHBoxLayout()
        self.take = button("Open a copy of that backup", self._restore, "primary")
        self.again = button("Try again", self.accept)
        row.addWidget(self.take)
        row.addWidget(self.again)
        row.addStretch(1)
        row.addWidget(button("Close", self.reject, "quiet"))
        layout.addLayout(row)
        self.take.setVisible(self._copy is not None)
        if self._copy is not None:
            self.words.setText(
                say(
                    phrase(
                        "The newest whole backup is {copy}. The unreadable file is kept beside it.",
                        copy=self._copy.name,
                    )
                )
            )
        else:
            self.words.setText(say(problem.remedy))

    def ask(self) -> bool:
        """Whether to try again."""
        return self.exec() == QDialog.DialogCode.Accepted

    def _restore(self) -> None:
        if self._copy is None:
            return
        try:
            restore(self._path, self._copy)
        except Problem as problem:
            self.words.setText(say(problem.text))
            return
        self.accept()
