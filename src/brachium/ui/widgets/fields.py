"""Fields that edit one value of a record: a small name above, the value below, written when left."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.ui.widgets.labels import label
from brachium.ui.widgets.tool_tips import tip_text

SHORT_HINT, HINT_EDGE = 20, 18  # letters; px


class _Line(QLineEdit):
    """Leaves undo and redo to the window once what was typed is written; says when it is entered."""

    focused = Signal()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.focused.emit()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and not self.isModified():
            undo, redo = QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo
            if event.matches(undo) or event.matches(redo):
                event.ignore()
                return False
        return super().event(event)


class LineField(QWidget):
    """A line of text. `changed` gets the new text when it differs; a problem text is shown below in warm."""

    def __init__(self, name: str, changed: Callable[[str], str | None], hint: str = "", tip: str = "") -> None:
        super().__init__()
        self._changed = changed
        self._shown = ""
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.caption: QLabel = label(name, "field")
        self.edit = _Line()
        self.edit.setPlaceholderText(say(hint))
        if hint and len(hint) <= SHORT_HINT:  # stands there whole
            said = self.edit.fontMetrics().horizontalAdvance(say(hint))
            self.edit.setMinimumWidth(said + HINT_EDGE)
        self.edit.setAccessibleName(say(name))
        self.edit.setToolTip(tip_text(tip))
        self.caption.setBuddy(self.edit)
        self._problem = label("", "warm", True)
        self._problem.hide()
        layout.addWidget(self.caption)
        layout.addWidget(self.edit)
        layout.addWidget(self._problem)
        self.edit.editingFinished.connect(self._done)

    def show_value(self, text: str) -> None:
        """Show a value from the record; what is being typed is left alone."""
        self._shown = text
        if not (self.edit.hasFocus() and self.edit.isModified()):
            if self.edit.text() != text:  # a selection in an unchanged field stays
                self.edit.setText(text)
                self.edit.setCursorPosition(0)
            self._problem.hide()

    def _done(self) -> None:
        text = self.edit.text().strip().encode("utf-8", "replace").decode()  # half a pair cannot be stored
        self.edit.setModified(False)
        if text == self._shown:
            return
        problem = self._changed(text)
        self._problem.setText(say(problem or ""))
        self._problem.setVisible(bool(problem))


class ChoiceField(QWidget):
    """A choice from a list of (key, title)."""

    def __init__(self, name: str, choices: Sequence[tuple[str, str]], changed: Callable[[str], object]) -> None:
        super().__init__()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.caption = label(name, "field")
        layout.addWidget(self.caption)
        self.box = QComboBox()
        self.box.setAccessibleName(say(name))
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.setMinimumContentsLength(5)
        self.set_choices(choices)
        layout.addWidget(self.box)
        self.box.activated.connect(lambda _: changed(str(self.box.currentData())))

    def set_choices(self, choices: Sequence[tuple[str, str]]) -> None:
        """Others to choose from; nothing is said to have been chosen."""
        self.box.clear()
        for key, title in choices:
            self.box.addItem(say(title), key)

    def show_value(self, key: str) -> None:
        self.box.setCurrentIndex(max(self.box.findData(key), 0))


def in_a_table(field: LineField | ChoiceField, of: str) -> LineField | ChoiceField:
    """A field without its caption, for a table whose column says it; `of` names the row to those who hear it."""
    field.caption.hide()
    inner = field.edit if isinstance(field, LineField) else field.box
    for widget in (field, inner):
        widget.setAccessibleName(say(phrase("{of}: {text}", of=of, text=field.caption.text())))
    return field


class PlainChoice(QComboBox):
    """A choice without a caption, for an action: the first entry says what it does."""

    def __init__(
        self, choices: Sequence[tuple[str, str]], chosen: Callable[[str], object], name: str, narrow: bool = False
    ) -> None:
        """`narrow` = as wide as its first entry; the list opens wider."""
        super().__init__()
        for key, title in choices:
            self.addItem(say(title), key)
        self.setAccessibleName(say(name))
        if narrow:
            widest = max(self.fontMetrics().horizontalAdvance(say(title)) for _, title in choices)
            self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            self.setMinimumContentsLength(len(choices[0][1]))
            self.setMaximumWidth(self.fontMetrics().horizontalAdvance(say(choices[0][1])) + 36)
            self.view().setMinimumWidth(widest + 32)
        self.activated.connect(lambda _: chosen(str(self.currentData())))


class Switch(QWidget):
    """A row of joined buttons of which one is on."""

    def __init__(self, choices: Sequence[tuple[str, str]], changed: Callable[[str], object], name: str = "") -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        self.buttons: dict[str, QPushButton] = {}
        for key, title in choices:
            b = QPushButton(say(title))
            b.setCheckable(True)
            b.setProperty("kind", "switch")
            b.setAccessibleName(say(phrase("{name}: {title}", name=name, title=title) if name else title))
            b.clicked.connect(lambda _=False, k=key: self._clicked(k, changed))
            self.buttons[key] = b
            layout.addWidget(b)
        layout.addStretch(1)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def show_value(self, key: str) -> None:
        for k, b in self.buttons.items():
            b.setChecked(k == key)

    def show_option(self, key: str, shown: bool) -> None:
        """Whether a choice is offered at all."""
        self.buttons[key].setVisible(shown)

    def _clicked(self, key: str, changed: Callable[[str], object]) -> None:
        self.show_value(key)
        changed(key)
