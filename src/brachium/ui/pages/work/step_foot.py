"""Below the three keys: note, photos, minutes, what runs by itself, and what belongs to the step at hand."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text


class StepFoot(QWidget):
    """`run` names what each button does."""

    def __init__(self, run: Mapping[str, Callable[[], object]]) -> None:
        super().__init__()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        line = QHBoxLayout()
        line.setSpacing(8)
        self.note = QLineEdit()
        self.note.setPlaceholderText(say("what went differently  (N)"))
        self.note.setAccessibleName(say("Note for this step"))
        self.photo = button("Photo…", run["photo"], "", "A photo of this step  (P)")
        self.away = button("Runs by itself", run["away"], "switch", "Splits the time  (A)")
        self.away.setCheckable(True)
        self.minutes = QLineEdit()
        self.minutes.setFixedWidth(56)
        self.minutes.setPlaceholderText(say("min"))
        self.minutes.setAccessibleName(say("Minutes for this step"))
        self.minutes.setToolTip(tip_text("Minutes; empty takes the stopwatch"))
        line.addWidget(self.note, 1)
        for w in (self.photo, self.away, self.minutes, label("min", "field")):
            line.addWidget(w)
        layout.addLayout(line)
        more = QHBoxLayout()
        more.setSpacing(8)
        self.first = button("Is everything seen?…", run["first"], "", "Expected against seen, piece by piece")
        self.paste = button("How much paste…", run["paste"], "quiet", "By the contact's area, to scale")
        self.old = button("Old part to the shelf", run["old"], "quiet", "With its origin, untested  (S)")
        self.lift = button("Lift this gate", run["lift"], "quiet", "With the note as the reason")
        for b in (self.first, self.paste, self.old, self.lift):
            more.addWidget(b)
        more.addStretch(1)
        layout.addLayout(more)
        self.of_step = (self.first, self.paste, self.old, self.lift)
