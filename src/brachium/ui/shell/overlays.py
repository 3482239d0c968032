"""Finder and shortcut sheet: both made from the command registry."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.ui.commands import Registry
from brachium.ui.theme import theme
from brachium.ui.widgets.labels import label


class Finder(QDialog):
    """Type a few letters, take the first hit with Return."""

    def __init__(self, parent: QWidget, entries: tuple[tuple[str, str, Callable[[], object]], ...]) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self._entries = entries
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 12, 12)
        self.line = QLineEdit()
        self.line.setPlaceholderText(say("Machine, stage or command"))
        self.list = QListWidget()
        self.list.setAccessibleName(say("Hits"))
        layout.addWidget(self.line)
        layout.addWidget(self.list)
        self.resize(460, 360)
        self.line.textChanged.connect(self._filter)
        self.list.itemActivated.connect(lambda _: self.take())
        self.list.itemClicked.connect(lambda _: self.take())
        self.line.installEventFilter(self)
        self._filter("")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.take()
                return True
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
            if step and self.list.count():
                self.list.setCurrentRow((self.list.currentRow() + step) % self.list.count())
                return True
        return super().eventFilter(watched, event)

    def _filter(self, text: str) -> None:
        self.list.clear()
        words = text.lower().split()
        for title, note, run in self._entries:
            shown = say(phrase("{title}    {note}", title=title, note=note) if note else title)
            if all(w in shown.lower() for w in words):
                item = QListWidgetItem(shown)
                item.setData(Qt.ItemDataRole.UserRole, run)
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def take(self) -> None:
        """Do the chosen hit."""
        item = self.list.currentItem()
        self.close()
        if item is not None:
            item.data(Qt.ItemDataRole.UserRole)()


class ShortcutSheet(QDialog):
    """Every command that has a key, by group."""

    def __init__(self, parent: QWidget, registry: Registry) -> None:
        super().__init__(parent)
        self.setWindowTitle(say("Keys"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 20, 24, 20)
        layout.addWidget(label("Keys", "headline"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(36)
        grid.setVerticalSpacing(3)
        places = [0, 0]
        for name, commands in registry.groups():
            keyed = [c for c in commands if c.shortcut]
            if not keyed:
                continue
            column = 0 if places[0] <= places[1] else 1
            grid.addWidget(label(name, "section"), places[column], 2 * column)
            places[column] += 1
            for command in keyed:
                grid.addWidget(label(command.title), places[column], 2 * column)
                key = label(command.shortcut)
                key.setFont(theme.font(13, 600, True))
                grid.addWidget(key, places[column], 2 * column + 1)
                places[column] += 1
            grid.addWidget(label(" "), places[column], 2 * column)
            places[column] += 1
        layout.addLayout(grid)
        layout.addWidget(label("Arrow keys move inside a figure; Tab leaves it.", "soft"))
