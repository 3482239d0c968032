"""A language that marks whatever it says: what a window shows without the mark was never said, or glued from pieces."""

from __future__ import annotations

import re
from collections.abc import Iterator
from gettext import NullTranslations

from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QComboBox, QLabel, QLineEdit, QWidget

from brachium.core.base.spoken import say
from brachium.speech.language import Language, has_words
from brachium.ui.widgets.drawing_view import DrawingView
from scripts.phrases import extracted

OPEN, SHUT = "«", "»"
_SAID = re.compile(f"{OPEN}[^{OPEN}{SHUT}]*{SHUT}")


class _Marked(NullTranslations):
    """Every phrase of the source, in English between marks."""

    def __init__(self) -> None:
        super().__init__()
        ids = [m.id for m in extracted() if m.id]
        self._catalog = {(i if isinstance(i, str) else (i[0], 0)): i for i in ids}

    def gettext(self, message: str) -> str:
        return f"{OPEN}{message}{SHUT}"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return f"{OPEN}{msgid1 if n == 1 else msgid2}{SHUT}"


def marking() -> Language:
    """The language that marks."""
    return Language("mark", "Marked", catalogue=_Marked())


def unsaid(page: QWidget) -> Iterator[tuple[str, str]]:
    """(widget, its words) of everything visible on a page whose words, or a part of them, bear no mark."""
    for widget in [page, *page.findChildren(QWidget)]:
        if widget.isVisible():
            yield from ((type(widget).__name__, text) for text in _texts(widget) if _bare(text))


def _bare(text: str) -> bool:
    """Whether words are left when what is marked is taken out; lines that were broken keep half a mark."""
    while _SAID.search(text):
        text = _SAID.sub("", text)
    return OPEN not in text and SHUT not in text and has_words(text)


def _texts(widget: QWidget) -> Iterator[str]:
    yield from (widget.toolTip(), widget.accessibleName(), widget.accessibleDescription(), widget.windowTitle())
    match widget:
        case QLabel() | QAbstractButton():
            yield widget.text()
        case QLineEdit():
            yield widget.placeholderText()
        case QComboBox():
            yield from (widget.itemText(k) for k in range(widget.count()))
        case QAbstractItemView() if (model := widget.model()) is not None:
            for row in range(min(model.rowCount(), 60)):
                yield str(model.index(row, 0).data() or "")
        case DrawingView() if (drawing := widget.drawing()) is not None:
            yield from (say(region.label) for region in drawing.regions)
