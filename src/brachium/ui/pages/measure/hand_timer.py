"""A timer for one hand: one big key starts and stops; results are kept together at the end."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QElapsedTimer, Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.measure.own_tests import OwnTest
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, label

SHOW_MS = 50
LEAST_S = 0.2
MODES = (("single", "One at a time"), ("laps", "Laps without a pause"))
IN_SECONDS = {"s": 1.0, "min": 60.0, "ms": 0.001}


class HandTimer(QDialog):
    """Space or Return (or the big button) starts and stops; with laps every press ends one and begins the next.

    `kept` gets the times in the unit of the test. A press within 0.2 s of the last one is a bounce and counts nothing.
    """

    def __init__(self, parent: QWidget, test: OwnTest, kept: Callable[[tuple[float, ...]], None]) -> None:
        super().__init__(parent)
        self._test, self._kept = test, kept
        self._watch = QElapsedTimer()
        self._running = False
        self._times_s: list[float] = []
        self.setWindowTitle(say("Hand timer"))
        self.setMinimumSize(460, 420)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 18, 24, 16)
        layout.setSpacing(8)
        layout.addWidget(label(test.title, "title"))
        layout.addWidget(label(test.settings or "The same settings before and after.", "soft", True))
        self.mode = Switch(MODES, self._set_mode, "How to time")
        self.mode.show_value("single")
        self._laps = False
        layout.addWidget(self.mode)
        self.clock = label("0.00 s", "clock")
        self.clock.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout.addWidget(self.clock, 1)
        self.big = button("Start", self.press, "big", "Space or Return")
        layout.addWidget(self.big)
        self._list = label("", "soft", True)
        layout.addWidget(self._list)
        row = QHBoxLayout()
        self.keep = button("Keep", self._keep, "primary")
        self.keep.setEnabled(False)
        self.keep.setMinimumWidth(130)
        self.drop = button("Take the last one back", self._drop, "quiet")
        row.addWidget(self.keep)
        row.addWidget(self.drop)
        row.addStretch(1)
        row.addWidget(button("Give up", self.close, "quiet"))
        layout.addLayout(row)
        self._show = QTimer(self)
        self._show.setInterval(SHOW_MS)
        self._show.timeout.connect(self._tick)
        self.drop.setEnabled(False)
        self.big.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.press()
            return
        super().keyPressEvent(event)

    def _set_mode(self, key: str) -> None:
        self._laps = key == "laps"
        self.big.setFocus()

    def press(self) -> None:
        """The big key."""
        if not self._running:
            self._watch.start()
            self._running = True
            self._show.start()
            self._words()
            return
        taken = self._watch.nsecsElapsed() / 1e9
        if taken < LEAST_S:
            return
        self._times_s.append(taken)
        if self._laps:
            self._watch.start()
        else:
            self._running = False
            self._show.stop()
        self.clock.setText(say(phrase("{taken:.2f} s", taken=taken)))
        self._words()

    def _tick(self) -> None:
        self.clock.setText(say(phrase("{nsecselapsed:.2f} s", nsecselapsed=self._watch.nsecsElapsed() / 1000000000.0)))

    def _words(self) -> None:
        self.big.setText(say(("Lap" if self._laps else "Stop") if self._running else "Start"))
        self._list.setText(say(joined(", ", (phrase("{t:.2f}", t=t) for t in self._times_s))))
        self.keep.setEnabled(bool(self._times_s))
        self.keep.setText(
            say(phrase("Keep {times}", times=many(len(self._times_s), "time")) if self._times_s else "Keep")
        )
        self.drop.setEnabled(bool(self._times_s))

    def _drop(self) -> None:
        self._times_s.pop()
        self._words()
        self.big.setFocus()

    def _keep(self) -> None:
        factor = IN_SECONDS.get(self._test.unit, 1.0)
        self._kept(tuple(round(t / factor, 3) for t in self._times_s))
        self.close()


def can_time(test: OwnTest) -> bool:
    """A hand timer gives times only."""
    return test.unit in IN_SECONDS
