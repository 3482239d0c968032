"""Parts shelf: what the shop owns already, where it came from, how good it is, what it is worth, who gets it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from decimal import InvalidOperation

from PySide6.QtWidgets import QGridLayout

from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import many, phrase, upper_first
from brachium.core.base.units import money
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.machine.part_words import part_title
from brachium.core.record.parts_shelf import PartState, ShelfPart, put_on, shelf_worth, with_changed_part, without_part
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.shop.best_use_panel import BestUsePanel
from brachium.ui.pages.shop.consumables_panel import ConsumablesPanel
from brachium.ui.pages.shop.part_sheet import MadePart, PartSheet
from brachium.ui.pages.take_in.money_panel import WRONG_AMOUNT, amount
from brachium.ui.widgets.fields import ChoiceField, LineField, PlainChoice, in_a_table
from brachium.ui.widgets.labels import button, clear, label

HEADINGS = ("Part", "From", "State", "Price, EUR", "Kept for")
STATES = tuple((s.name, upper_first(s.value)) for s in PartState)


class ShelfPage(Page):
    """A page of the shop, not of a job."""

    def build(self) -> None:
        self.shelf = self.session.shelf
        kinds = [("", "Put a part on the shelf…")]
        self._items = {i.id: i for i in self.session.workspace.catalogue if i.part is not None}
        kinds += [(i.id, i.title) for i in self._items.values()]
        self.add = PlainChoice(kinds, self._add, "Put a part on the shelf")
        self._heading_row.addWidget(self.add)
        self.by_hand = button("Add by hand…", self._by_hand, "", "By its label, or attribute by attribute")
        self._heading_row.addWidget(self.by_hand)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(12)
        self._grid.setVerticalSpacing(4)
        for column, stretch in enumerate((5, 5, 4, 2, 4, 0, 0)):
            self._grid.setColumnStretch(column, stretch)
        self.best = BestUsePanel(self.session)
        self.body.addSpacing(10)
        self.body.addLayout(self._grid)
        self.body.addSpacing(14)
        self.body.addWidget(self.best)
        self.body.addSpacing(14)
        self.consumables = ConsumablesPanel(self.session)
        self.body.addWidget(self.consumables)
        self.body.addStretch(1)
        self.shelf.on_changed.append(self.show_shop)

    def show_shop(self) -> None:
        """Show all parts as they are now."""
        parts = self.shelf.parts
        known, open_ = shelf_worth(parts)
        words = phrase("{known} at your prices", known=money(known)) + (
            phrase(", {parts} without a price.", parts=many(open_, "part")) if open_ else "."
        )
        empty = "Nothing yet. Add a part, or pull one out in Take in."
        count = phrase("{parts} on the shelf, {words}", parts=many(len(parts), "part"), words=words)
        self.set_heading(count.rstrip(".") if parts else "The shelf is empty", "" if parts else empty)
        self.add.setCurrentIndex(0)
        self.best.show_shop(parts)
        self.consumables.show_shop()
        clear(self._grid)
        for column, title in enumerate(HEADINGS if parts else ()):
            self._grid.addWidget(label(title, "field"), 0, column)
        for row, part in enumerate(parts, 1):
            self._row(row, part)

    def _row(self, row: int, part: ShelfPart) -> None:
        workspace = self.session.workspace
        title = part_title(part.part)
        self._grid.addWidget(label(title, "strong", True), row, 0)
        self._grid.addWidget(label(part.origin, "soft", True), row, 1)
        state = ChoiceField("State", STATES, lambda key: self._change(part, state=PartState[key]))
        state.show_value(part.state.name)
        price = LineField("Price, EUR", lambda text: self._price(part, text), "open")
        price.show_value("" if part.price is None else phrase("{price:f}", price=part.price))
        jobs = [
            ("", "free"),
            *((c.id, c.name) for c in workspace.cards() if not c.archived),
        ]
        kept = ChoiceField("Kept for", jobs, lambda key: self._change(part, reserved_for=key))
        kept.show_value(part.reserved_for)
        fields: tuple[ChoiceField | LineField, ...] = (state, price, kept)
        for column, widget in enumerate(fields, 2):
            self._grid.addWidget(in_a_table(widget, title), row, column)
        remove = button("×", lambda: self._remove(part), "quiet", phrase("Take {title} off the shelf", title=title))
        sheet = button("Edit…", lambda: self._edit(part), "quiet", phrase("Every attribute of {title}", title=title))
        sheet.setAccessibleName(say(phrase("Edit {title}", title=title)))
        self._grid.addWidget(sheet, row, 5)
        self._grid.addWidget(remove, row, 6)

    def default_because(self) -> Because | None:
        known, open_ = shelf_worth(self.shelf.parts)
        text = "Comes before anything is bought. A pulled part is untested until you say otherwise."
        facts = (
            Fact("parts", str(len(self.shelf.parts)), Origin.TYPED),
            Fact("priced", money(known), Origin.TYPED),
            Fact("without a price", str(open_), Origin.TYPED),
        )
        return Because("Parts shelf", "shelf", text, facts, would_change="A part put here, used or thrown away.")

    def _add(self, key: str) -> None:
        item = self._items.get(key)
        if item is not None and item.part is not None:
            parts = put_on(self.shelf.parts, item.part, "bought or donated", self.shelf.mark)
            self.shelf.edit("part put on the shelf", parts)

    def _by_hand(self) -> None:
        self._sheet("Put a part on the shelf", self._made, None)

    def _made(self, made: MadePart) -> None:
        parts = self.shelf.parts
        for _ in range(made.count):
            parts = put_on(parts, made.part, "typed by hand", self.shelf.mark)
            parts = with_changed_part(parts, parts[-1].id, price=made.price)
        self.shelf.edit("part put on the shelf", parts)

    def _edit(self, part: ShelfPart) -> None:
        self._sheet(
            phrase("Edit {part_title}", part_title=part_title(part.part)),
            lambda made: self._edited(part, made),
            MadePart(part.part, 1, part.price),
        )

    def _edited(self, was: ShelfPart, made: MadePart) -> None:
        parts = tuple(replace(p, part=made.part, price=made.price) if p.id == was.id else p for p in self.shelf.parts)
        self.shelf.edit("shelf part changed", parts)

    def _sheet(self, title: str, keep: Callable[[MadePart], object], made: MadePart | None) -> None:
        self.sheet = PartSheet(self.window(), title, keep, made, priced=False)
        self.sheet.open()

    def _change(self, part: ShelfPart, **changes: object) -> None:
        try:
            self.shelf.edit("shelf part changed", with_changed_part(self.shelf.parts, part.id, **changes))
        except Problem as problem:
            self.session.report(problem)

    def _price(self, part: ShelfPart, text: str) -> str | None:
        try:
            self._change(part, price=amount(text) if text else None)
        except InvalidOperation:
            return WRONG_AMOUNT
        return None

    def _remove(self, part: ShelfPart) -> None:
        self.shelf.edit("part taken off the shelf", without_part(self.shelf.parts, part.id))
