"""Next: the one best action; running work and messages show here too."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QBoxLayout, QHBoxLayout, QWidget

from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.figures.base.theme import SPACE
from brachium.ui.theme import theme
from brachium.ui.widgets.labels import button, label, restyle
from brachium.ui.widgets.tool_tips import tip_text

if TYPE_CHECKING:
    from brachium.core.stage.next_action import NextAction

MESSAGE_MS = 7000


WORKING_OUT = ("Working out what comes next…", "")


class NextBar(QWidget):
    """Emits `triggered` with the command id, `stop_asked` while work is running."""

    triggered = Signal(str)
    stop_asked = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(SPACE.next)
        self._action: NextAction | None = None
        self._words = WORKING_OUT
        self._whose = ""
        self._share: float | None = None
        self._kind = "next"
        self._left = SPACE.rail
        self._row = layout = QHBoxLayout(self)
        layout.setContentsMargins(SPACE.rail + 16, 0, 16, 0)
        layout.setSpacing(12)
        self._title = label("", "section")
        self._detail = label("", "soft")
        self._keys = label("Ctrl+Return", "field")
        self._stop = button("Stop", self.stop_asked.emit)
        self._close = button("Dismiss", self.clear_message, "quiet")
        self._texts = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._texts.addWidget(self._title)
        self._texts.addWidget(self._detail, 1)
        layout.addLayout(self._texts, 1)
        for w in (self._keys, self._stop, self._close):
            layout.addWidget(w)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.clear_message)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._show_action()

    def set_folded(self, folded: bool) -> None:
        """Keep in line with the page when the rail folds."""
        self._left = SPACE.rail_folded if folded else SPACE.rail
        self._row.setContentsMargins(self._left + 16, 0, 16, 0)
        self.update()

    def action(self) -> NextAction | None:
        return self._action

    def texts(self) -> tuple[str, str]:
        """What stands in the bar now."""
        return self._title.text(), self._detail.text()

    def set_action(self, action: NextAction | None) -> None:
        self._action, self._words = action, WORKING_OUT
        if self._kind == "next":
            self._show_action()

    def set_whose(self, machine: str) -> None:
        """Name the machine that the step is for, on pages that show none; empty where one is in view."""
        if machine != self._whose:
            self._whose = machine
            if self._kind == "next":
                self._show_action()

    def set_reading(self) -> None:
        """Nothing is proposed until what was just measured has been worked out."""
        self.set_words("Reading what was measured…")

    def set_words(self, title: str, detail: str = "") -> None:
        """Say what to do where no command does it, or why nothing is proposed yet."""
        self._action, self._words = None, (title, detail)
        if self._kind == "next":
            self._show_action()

    def set_running(self, title: str, detail: str, share: float) -> None:
        """Show work in progress, `share` 0..1 of it done."""
        if self._kind == "message":
            return
        self._kind, self._share = "running", share
        self._set(title, detail, "section")

    def set_idle(self) -> None:
        if self._kind == "running":
            self._kind, self._share = "next", None
            self._show_action()

    def show_problem(self, problem: Problem) -> None:
        """A problem stays until it is dismissed."""
        self._kind = "message"
        place = problem.place.rstrip("/").rpartition("/")[2]  # the whole path is in the tool tip
        what = phrase("{place}: {problem}", place=place, problem=problem.what) if place else upper_first(problem.what)
        self._set(phrase("{what}.", what=what), problem.remedy, "alarm")
        self.setToolTip(tip_text(problem.text))

    def show_message(self, text: str) -> None:
        """A notice goes away by itself."""
        self._kind = "message"
        self._set(text, "", "section")
        self._timer.start(MESSAGE_MS)

    def clear_message(self) -> None:
        self._timer.stop()
        self._kind = "next"
        self._show_action()

    def _show_action(self) -> None:
        if self._action is None:
            self._set(*self._words, "section")
        else:
            said = (self._whose, self._action.detail)
            self._set(self._action.title, joined(": ", (s for s in said if s)), "section")

    def _set(self, title: str, detail: str, role: str) -> None:
        two_lines = self._kind == "message" and bool(detail)
        way = QBoxLayout.Direction.TopToBottom if two_lines else QBoxLayout.Direction.LeftToRight
        self._texts.setDirection(way)
        self._texts.setSpacing(0 if two_lines else 12)
        self._title.setText(say(title))
        self._detail.setText(say(detail))
        restyle(self._title, "role", role)
        self._keys.setVisible(self._kind == "next" and self._action is not None)
        self._stop.setVisible(self._kind == "running")
        self._close.setVisible(self._kind == "message")
        self.setToolTip(tip_text(phrase("{title}\n{detail}", title=title, detail=detail) if detail else title))
        self.setAccessibleName(say(phrase("Next: {title}, {detail}", title=title, detail=detail)))
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._kind == "next" and self._action is not None:
            self.triggered.emit(self._action.command)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.qcolor("sheet"))
        painter.fillRect(0, 0, self.width(), 1, theme.qcolor("hair"))
        role = "alarm" if self._kind == "message" and self._title.property("role") == "alarm" else "cool"
        if self._title.text():
            painter.fillRect(QRectF(self._left, 8, 8, self.height() - 16), theme.qcolor(role))
        if self._share is not None and self._kind == "running":
            painter.fillRect(QRectF(0, 0, self.width() * min(max(self._share, 0.0), 1.0), 3), theme.qcolor("cool"))
        painter.end()
