"""A part by hand: by its label or attribute by attribute, with a price; for the price list and the shelf."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QComboBox, QDialog, QGridLayout, QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.machine.facts.part_facts import part_facts, part_kinds, typed_part
from brachium.core.machine.facts.record_facts import RecordFact
from brachium.core.machine.facts.typed_facts import shown_value
from brachium.core.machine.machine import Machine
from brachium.core.machine.part_words import part_title
from brachium.core.machine.parts import Part
from brachium.core.plan.asked_part import read_part
from brachium.ui.pages.take_in.fact_fields import NOT_KNOWN, choices_of, has_choices
from brachium.ui.pages.take_in.money_panel import WRONG_AMOUNT, amount
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.tool_tips import tip_text

COLUMNS = 3


@dataclass(frozen=True)
class MadePart:
    """What a sheet gives: the part, how many make a lot, the price of it [EUR], None = open."""

    part: Part
    count: int
    price: Decimal | None


class PartSheet(QDialog):
    """A sheet over the window; `keep` gets what was made once it is whole. `priced`: a price must be said."""

    def __init__(
        self, parent: QWidget, title: str, keep: Callable[[MadePart], object], made: MadePart | None = None,
        priced: bool = True,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._keep, self._priced = keep, priced
        self.setWindowTitle(say(title))
        self.resize(min(parent.width() - 80, 820), min(parent.height() - 80, 620))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label(title, "title"))
        layout.addLayout(self._head())
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.viewport().setAutoFillBackground(False)
        self._inner = QWidget()
        self._grid = QGridLayout(self._inner)
        self._grid.setHorizontalSpacing(16)
        self._grid.setVerticalSpacing(4)
        self._grid.setAlignment(Qt.AlignmentFlag.AlignTop)
        area.setWidget(self._inner)
        self._inner.setAutoFillBackground(False)  # a scroll area fills what it is given
        layout.addWidget(area, 1)
        self.problem = label("", "warm", True)
        layout.addWidget(self.problem)
        row = QHBoxLayout()
        self.save = button("Keep it", self._save, "primary")
        row.addWidget(self.save)
        row.addStretch(1)
        row.addWidget(button("Leave it", self.close, "quiet"))
        layout.addLayout(row)
        self.inputs: dict[str, QLineEdit | QComboBox] = {}
        kind = made.part.kind if made is not None else "memory"
        self.kind.setCurrentIndex(self.kind.findData(kind))
        self._fill(kind, made.part if made is not None else None)
        if made is not None:
            self.count.setText(say(str(made.count)))
            self.price.setText("" if made.price is None else phrase("{price:f}", price=made.price))

    def _head(self) -> QGridLayout:
        """Label line, kind, price, count."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        self.label_line = QLineEdit()
        self.label_line.setPlaceholderText(say("4GB 1Rx8 PC3L-12800S, or 500gb 2.5 ssd; Enter fills in"))
        self.label_line.setAccessibleName(say("Label or quick words"))
        self.label_line.returnPressed.connect(self._read)
        self.kind = QComboBox()
        self.kind.setAccessibleName(say("Kind of part"))
        for name in part_kinds():
            self.kind.addItem(say(name.capitalize()), name)
        self.kind.activated.connect(lambda _: self._fill(str(self.kind.currentData()), None))
        self.price, self.count = QLineEdit(), QLineEdit("1")
        self.price.setPlaceholderText(say("needed" if self._priced else "open"))
        widgets = (("As on its label", self.label_line, 6), ("Kind", self.kind, 2), ("Price, EUR", self.price, 1),
                   ("Pieces", self.count, 1))  # fmt: skip
        for column, (name, widget, stretch) in enumerate(widgets):
            caption = label(name, "field")
            caption.setBuddy(widget)
            if not widget.accessibleName():
                widget.setAccessibleName(say(name))
            grid.addWidget(caption, 0, column)
            grid.addWidget(widget, 1, column)
            grid.setColumnStretch(column, stretch)
        return grid

    def _fill(self, kind: str, part: Part | None) -> None:
        """The attributes of a kind, with the values of a part."""
        clear(self._grid)
        self.inputs = {}
        for index, fact in enumerate(part_facts(kind, part)):
            row, column = 2 * (index // COLUMNS), index % COLUMNS
            sign = fact.unit.value.sign
            needed = "" if not fact.required or fact.key == "name" else " *"
            caption = label(
                phrase("{fact}, {sign}{needed}", fact=fact.title, sign=sign, needed=needed)
                if sign
                else phrase("{fact}{needed}", fact=fact.title, needed=needed),
                "field",
            )
            widget = _input(fact, part is not None)
            caption.setBuddy(widget)
            widget.setAccessibleName(say(caption.text()))
            self.inputs[fact.key] = widget
            self._grid.addWidget(caption, row, column)
            self._grid.addWidget(widget, row + 1, column)
        self.problem.setText("")

    def _read(self) -> None:
        """What the label says into the fields; what it leaves open stays open."""
        asked = read_part(Machine(), self.label_line.text())
        if asked.part is None:
            self.problem.setText(say(phrase("{lacks}.", lacks=upper_first(asked.lacks))))
            return
        self.kind.setCurrentIndex(self.kind.findData(asked.part.kind))
        self._fill(asked.part.kind, asked.part)
        self.count.setText(say(str(asked.count)))
        unread = asked.piece.not_understood if asked.piece is not None else ()
        self.problem.setText(
            say(joined("; ", [*(phrase("Not understood: {w}", w=w) for w in unread), *asked.as_place]))
        )

    def _save(self) -> None:
        try:
            part = typed_part(str(self.kind.currentData()), {k: _text(w) for k, w in self.inputs.items()})
            price = amount(self.price.text().strip()) if self.price.text().strip() else None
        except ValueError as error:
            self.problem.setText(say(str(error)))
            return
        except InvalidOperation:
            self.problem.setText(say(WRONG_AMOUNT))
            return
        if price is None and self._priced:
            self.problem.setText(say("Price: what it costs you, in EUR; empty is not 0."))
            return
        count = self.count.text().strip() or "1"
        if not count.isdigit() or not 1 <= int(count) <= 16:
            self.problem.setText(say("Pieces: 1 to 16, such as 2 for a kit."))
            return
        self._keep(MadePart(part, int(count), price))
        self.accept()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.label_line.setFocus()


def made_title(made: MadePart) -> str:
    """The title of an entry: `2 × 8 GiB DDR3-1600 SO-DIMM`, or the part's own name."""
    title = made.part.name or part_title(made.part)
    return phrase("{count} × {title}", count=made.count, title=title) if made.count > 1 else title


def _input(fact: RecordFact, of_part: bool) -> QLineEdit | QComboBox:
    """A list where there are few values, else a line; what nobody said is empty."""
    if has_choices(fact):
        box = QComboBox()
        if fact.required:
            box.addItem(say("choose"), "")
        for text, title in choices_of(fact):
            box.addItem(say(title), text)
        box.setCurrentIndex(max(box.findData(shown_value(fact) if of_part or not fact.required else ""), 0))
        return box
    line = QLineEdit(shown_value(fact))
    line.setPlaceholderText(say("from what it is" if fact.key == "name" else NOT_KNOWN))
    unit = fact.unit.value
    line.setToolTip(
        tip_text(
            phrase("{least:g} to {most:g} {unit}", least=unit.least, most=unit.most, unit=unit.sign)
            if unit.sign
            else ""
        )
    )
    return line


def _text(widget: QLineEdit | QComboBox) -> str:
    return widget.text() if isinstance(widget, QLineEdit) else str(widget.currentData() or "")
