"""The header: program, machine and goal, finder, menu."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.base.units import money
from brachium.core.figures.base.theme import SPACE
from brachium.core.record.job import Job
from brachium.ui.theme import theme
from brachium.ui.theme.icons import icon
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text

LONGEST_NAME = 420


class Header(QWidget):
    """Emits `find_asked`, `menu_asked`, `clashes_asked`."""

    find_asked = Signal()
    menu_asked = Signal()
    clashes_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(SPACE.header)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 0, 8, 0)
        layout.setSpacing(10)
        self._brand = label("Brachium", "title")
        self._brand.setFixedWidth(SPACE.rail - 16)
        self._name = label("", "title")
        self._goal = label("", "soft")
        self._find = button("Find  Ctrl+J", self.find_asked.emit, "quiet", "Find a machine, stage or command")
        self._menu = button("Menu", self.menu_asked.emit, "quiet", "All commands  (F10)")
        layout.addWidget(self._brand)
        layout.addSpacing(6)
        layout.addWidget(self._name)
        layout.addWidget(self._goal, 1)
        self.benches = label("", "soft")
        self.benches.setVisible(False)
        layout.addWidget(self.benches)
        self.clashes = button("", self.clashes_asked.emit, "", "The same field was changed at two benches")
        self.clashes.setVisible(False)
        layout.addWidget(self.clashes)
        self.away = label("Server away", "alarm")
        self.away.setToolTip(tip_text("What is loaded can be read; edits wait here and are sent when it answers."))
        self.away.setVisible(False)
        layout.addWidget(self.away)
        self.unsaved = label("", "alarm")
        self.unsaved.setVisible(False)
        layout.addWidget(self.unsaved)
        layout.addWidget(self._find)
        layout.addWidget(self._menu)
        self.retheme()

    _of_shop = False

    def retheme(self) -> None:
        self._find.setIcon(icon("search", "soft", 15))
        self._menu.setIcon(icon("menu", "soft", 15))
        self.update()

    def menu_button(self) -> QWidget:
        return self._menu

    def show_job(self, job: Job | None) -> None:
        self._of_shop = False
        self.benches.setVisible(bool(self.benches.text()))
        name = job.name if job else ""
        metrics = self._name.fontMetrics()
        self._name.setText(say(metrics.elidedText(say(name), Qt.TextElideMode.ElideRight, LONGEST_NAME)))
        self._name.setToolTip(tip_text(name))
        parts = [] if job is None else [job.goal, money(job.budget) if job.budget is not None else ""]
        if job is not None and job.needed_by:
            parts.append(phrase("by {needed_by}", needed_by=job.needed_by))
        self._goal.setText(say(joined(", ", (p for p in parts if p))))

    def show_unsaved(self, count: int, why: str) -> None:
        """How many edits wait for the disk; nothing while all is saved."""
        self.unsaved.setText(say(phrase("{edits} not saved, tried again", edits=many(count, "edit")) if count else ""))
        self.unsaved.setToolTip(tip_text(why))
        self.unsaved.setVisible(count > 0)

    def show_benches(self, words: tuple[str, ...]) -> None:
        """Who else has the machine in hand; a page of the shop is nobody's."""
        self.benches.setText(say(joined(", ", words)))
        self.benches.setVisible(bool(words) and not self._of_shop)

    def show_away(self, away: bool) -> None:
        """Whether the shop's server answers."""
        self.away.setVisible(away)

    def show_clashes(self, count: int) -> None:
        """How many fields a person has to choose a value for."""
        self.clashes.setText(say(phrase("Choose: {values}", values=many(count, "field"))))
        self.clashes.setVisible(count > 0)

    def show_shop(self, title: str) -> None:
        """A page of the shop instead of a machine."""
        self._of_shop = True
        self.benches.hide()
        self._name.setText(say("The shop"))
        self._goal.setText(say(title))

    def set_folded(self, folded: bool) -> None:
        self._brand.setFixedWidth((SPACE.rail_folded if folded else SPACE.rail) - 16)
        self._brand.setText(say("B" if folded else "Brachium"))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.qcolor("sheet"))
        painter.fillRect(0, self.height() - 1, self.width(), 1, theme.qcolor("hair"))
        painter.end()
