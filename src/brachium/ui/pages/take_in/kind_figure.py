"""The first question about a machine taken in by hand: its kind, by one key or click."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QShortcut
from PySide6.QtWidgets import QWidget

from brachium.core.base.text import phrase
from brachium.core.figures.board.kind_outlines import TILES, kind_outlines
from brachium.core.machine.kinds import MachineKind
from brachium.ui.widgets.drawing_view import DrawingView

KINDS = {tile.key: tile.kind for tile in TILES}


class KindFigure(DrawingView):
    """Outlines of the kinds; `kind_chosen` by click, Return, a letter, or Alt and the letter from beside it."""

    kind_chosen = Signal(object)  # the MachineKind

    def __init__(self, beside: QWidget) -> None:
        super().__init__()
        self.show_selection = True
        self.set_builder(kind_outlines)
        self.activated.connect(lambda region: self.kind_chosen.emit(MachineKind(region.id)))
        for key, kind in KINDS.items():
            shortcut = QShortcut(QKeySequence(phrase("Alt+{key}", key=key)), beside)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(lambda k=kind: self._by_key(k))

    def _by_key(self, kind: MachineKind) -> None:
        if self.isVisible():
            self.kind_chosen.emit(kind)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        found = self._at(event.position())
        if found is not None and event.button() == Qt.MouseButton.LeftButton:
            self.kind_chosen.emit(MachineKind(found.id))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        kind = KINDS.get(event.text().upper())
        if kind is None:
            super().keyPressEvent(event)
        else:
            self.kind_chosen.emit(kind)
