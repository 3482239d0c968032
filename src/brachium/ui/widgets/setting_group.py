"""A titled group of settings that can be found by any word in it."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from brachium.core.base.text import joined, phrase
from brachium.ui.widgets.labels import label


class SettingGroup(QWidget):
    """Widgets and layouts below a title; `holds` says whether every word of a search is in it."""

    def __init__(self, title: str, also: str = "") -> None:
        """`also` are words that people look for and that do not stand there."""
        super().__init__()
        self._also = phrase("{title} {also}", title=title, also=also).lower()
        self.body = QVBoxLayout(self)
        self.body.setContentsMargins(0, 0, 0, 18)
        self.body.setSpacing(6)
        self.body.addWidget(label(title, "section"))

    def holds(self, words: list[str]) -> bool:
        """Looks through captions, keys and tool tips."""
        labels, keys = self.findChildren(QLabel), self.findChildren(QPushButton)
        kinds: list[QLabel | QPushButton] = [*labels, *keys]
        said = joined(
            " ", [self._also, *(phrase("{text} {tooltip}", text=w.text(), tooltip=w.toolTip()) for w in kinds)]
        ).lower()
        return all(word in said for word in words)
