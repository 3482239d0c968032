"""Because: the rule or formula behind what is selected, its numbers and where they came from."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QGuiApplication, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because
from brachium.core.figures.base.theme import SPACE
from brachium.ui.theme import theme
from brachium.ui.theme.icons import icon
from brachium.ui.widgets.labels import RuleLine, button, clear, label, paragraph


class BecausePanel(QWidget):
    """Folds to a strip; emits `folded_changed`."""

    folded_changed = Signal(bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._because: Because | None = None
        self.folded = False
        outer = QVBoxLayout(self)
        outer.setContentsMargins(1, 0, 0, 0)
        outer.setSpacing(0)
        self._bar = bar = QHBoxLayout()
        self._heading = label("Why", "section")
        self._copy = button("", self._copy_text, "quiet", "Copy this explanation as text")
        self._fold = button("", lambda: self.set_folded(not self.folded), "quiet", "Fold or unfold Why  (Ctrl+B)")
        for b, name in ((self._copy, "Copy this explanation"), (self._fold, "Fold or unfold Why")):
            b.setFixedSize(SPACE.target, SPACE.target)
            b.setAccessibleName(say(name))
        bar.addWidget(self._heading, 1)
        bar.addWidget(self._copy)
        bar.addWidget(self._fold)
        outer.addLayout(bar)
        self._area = QScrollArea()
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        inner.setObjectName("page")
        self._body = QVBoxLayout(inner)
        self._body.setContentsMargins(15, 2, 16, 12)
        self._body.setSpacing(8)
        self._area.setWidget(inner)
        outer.addWidget(self._area, 1)
        self._spring = QWidget()
        outer.addWidget(self._spring, 1)
        self.setAccessibleName(say("Why"))
        self.set_folded(False)
        self.retheme()

    def retheme(self) -> None:
        self._fold.setIcon(icon("panel-right", "soft"))
        self._copy.setIcon(icon("copy", "soft", 15))
        self.show_because(self._because)

    def set_folded(self, folded: bool) -> None:
        changed = folded != self.folded
        self.folded = folded
        self.setFixedWidth(SPACE.because_folded if folded else SPACE.because)
        self._bar.setContentsMargins(*((0, 8, 0, 0) if folded else (15, 8, 6, 0)))
        self._spring.setVisible(folded)
        for w in (self._area, self._heading, self._copy):
            w.setVisible(not folded)
        if changed:
            self.folded_changed.emit(folded)

    def because(self) -> Because | None:
        return self._because

    def show_because(self, because: Because | None) -> None:
        self._because = because
        clear(self._body)
        if because is None:
            self._body.addWidget(paragraph("Select a figure, a part or a row.", "soft"))
            self._body.addStretch(1)
            return
        self._body.addWidget(paragraph(because.title, "section", True))
        if because.rule:
            self._body.addWidget(label(because.rule, "field"))
        if because.text:
            self._body.addWidget(paragraph(because.text, "", True))
        if because.facts:
            self._body.addLayout(self._facts(because))
        if because.result:
            self._body.addWidget(_Result(because.result))
        if because.would_change:
            self._body.addSpacing(4)
            self._body.addWidget(label("What would change this", "section"))
            self._body.addWidget(paragraph(because.would_change))
        for note in because.notes:
            self._body.addWidget(paragraph(note, "soft"))
        self._body.addStretch(1)

    def _facts(self, because: Because) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(0, 1)
        for row, fact in enumerate(because.facts):
            name = label(fact.label, "soft", True)
            value = label(fact.value, "", len(fact.value) > 18, True)
            value.setFont(theme.font(13, 600, True))
            value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
            value.setMaximumWidth(132)
            origin = label(fact.origin.value, "field")
            origin.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
            grid.addWidget(name, 2 * row, 0, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(value, 2 * row, 1)
            grid.addWidget(origin, 2 * row, 2)
            grid.addWidget(RuleLine(), 2 * row + 1, 0, 1, 3)
        return grid

    def _copy_text(self) -> None:
        if self._because is not None:
            QGuiApplication.clipboard().setText(say(because_text(self._because)))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.qcolor("film"))
        painter.fillRect(0, 0, 1, self.height(), theme.qcolor("hair"))
        if self.folded:
            painter.translate(20, 48)
            painter.rotate(90)
            painter.setFont(theme.font(13, 600))
            painter.setPen(theme.qcolor("soft"))
            painter.drawText(0, 0, say("Why"))
        painter.end()


class _Result(QWidget):
    """The result of a formula on the wash."""

    def __init__(self, text: str) -> None:
        super().__init__()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 5, 8, 5)
        layout.addWidget(label(text, "cool", True, True))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.qcolor("cool_wash"))
        painter.end()


def because_text(because: Because) -> str:
    """The explanation as plain text."""
    lines = [because.title, because.rule, because.text]
    lines += [
        phrase("{label}: {value} ({origin})", label=f.label, value=f.value, origin=f.origin.value)
        for f in because.facts
    ]
    lines += [because.result, because.would_change, *because.notes]
    return joined("\n", (line for line in lines if line))
