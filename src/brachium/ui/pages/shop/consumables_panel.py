"""Consumables on the parts shelf: what is left since the last count, when to order, what a unit costs."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.consumables import keep_item, keep_price, stocks_of
from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.work.consumables import Stock
from brachium.ui.session import Session
from brachium.ui.widgets.fields import in_a_table
from brachium.ui.widgets.labels import button, clear, label
from brachium.ui.widgets.number_fields import number_field

HEADINGS = ("", "Left", "Order at", "EUR each", "")


ONE = {"pieces": "piece"}


class ConsumablesPanel(QWidget):
    """Ticked steps draw them down; a count sets them right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        head = QHBoxLayout()
        head.addWidget(label("Consumables", "section"))
        head.addStretch(1)
        self.why = button(
            "How it is counted", lambda: session.explain(self.because()), "quiet", "What each tick uses up"
        )
        head.addWidget(self.why)
        layout.addLayout(head)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(16)
        self._grid.setVerticalSpacing(0)
        for column, stretch in enumerate((5, 3, 3, 3, 5)):
            self._grid.setColumnStretch(column, stretch)
        layout.addLayout(self._grid)
        self.fields: dict[str, QWidget] = {}

    def show_shop(self) -> None:
        """All of them as they are now."""
        clear(self._grid)
        for column, title in enumerate(HEADINGS):
            self._grid.addWidget(label(title, "field"), 0, column)
        for row, stock in enumerate(stocks_of(self._session.workspace), 1):
            self._row(row, stock)

    def _row(self, row: int, stock: Stock) -> None:
        item = stock.item
        self._grid.addWidget(
            label(phrase("{item} [{item2}]", item=item.title, item2=item.unit), "strong", True), row, 0
        )
        left = number_field(
            phrase("Left, {item}", item=item.unit), 0, 1e6, lambda v: self._count(item.key, v), "count it"
        )
        left.show_value(
            ""
            if stock.left is None
            else phrase("{left:.3g}", left=stock.left)
            if stock.left < 1000
            else phrase("{left:.0f}", left=stock.left)
        )
        at = number_field(
            phrase("Order at, {item}", item=item.unit), 0, 1e6, lambda v: self._reorder(item.key, v), "not set"
        )
        at.show_value("" if item.reorder_at is None else phrase("{reorder_at:g}", reorder_at=item.reorder_at))
        price = number_field(
            phrase("EUR a {item}", item=ONE.get(item.unit, item.unit)),
            0,
            1e4,
            lambda v: self._price(item.key, v),
            "not set",
        )
        price.show_value(phrase("{price:f}", price=item.price) if item.price else "")
        for column, (key, widget) in enumerate((("left", left), ("at", at), ("price", price)), 1):
            self.fields[f"{item.key}:{key}"] = widget
            self._grid.addWidget(in_a_table(widget, item.title), row, column)
        counted = phrase("counted {when}", when=item.when) if item.when else ""
        words = joined(", ", (w for w in (stock.words, counted) if w))
        self._grid.addWidget(label(words, "warm" if stock.order else "soft"), row, 4)

    def _count(self, key: str, value: Decimal | None) -> None:
        keep_item(self._session.workspace, key, counted=None if value is None else float(value))
        self._again()

    def _reorder(self, key: str, value: Decimal | None) -> None:
        keep_item(self._session.workspace, key, reorder_at=None if value is None else float(value))
        self._again()

    def _price(self, key: str, value: Decimal | None) -> None:
        keep_price(self._session.workspace, key, value)
        self._session.workspace.refresh_viewed()

    def _again(self) -> None:
        again: Callable[[], None] = self.show_shop
        QTimer.singleShot(0, self, again)  # the field that speaks is still at work

    def because(self) -> Because:
        """How they are drawn down."""
        facts = tuple(
            Fact(
                lower_first(s.item.title),
                "not counted" if s.left is None else phrase("{left:.3g} {item}", left=s.left, item=s.item.unit),
                Origin.COMPUTED,
            )
            for s in stocks_of(self._session.workspace)
        )
        text = (
            "Each ticked step takes its share: paste by area (0.4 g where not measured), pads by area, "
            "wipes by the step, four screws a drive."
        )
        return Because("Consumables", "stock = counted - used since", text, facts, "", "A count, a tick.")
