"""Parts and prices: the shop's list, searched and priced; another list is read with a preview, line by line."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal, InvalidOperation
from pathlib import Path

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt, QTimer
from PySide6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QTableView,
    QVBoxLayout,
)

from brachium.app.shop.price_list import (
    Preview,
    export_list,
    matching_items,
    merge_lists,
    preview_list,
    with_added,
    with_item,
    with_price,
)
from brachium.app.shop.waiting_fits import WaitingFits, waiting_fits
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.plan.candidates import PART_GROUPS, CatalogueItem, Group
from brachium.core.plan.price_offer import offer_words
from brachium.formats.part_fields import write_part
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.shop.part_sheet import MadePart, PartSheet, made_title
from brachium.ui.pages.shop.price_columns import Column, columns_of
from brachium.ui.pages.take_in.money_panel import WRONG_AMOUNT, amount
from brachium.ui.widgets.fields import PlainChoice
from brachium.ui.widgets.labels import button, label, paragraph

CHANGE = "change of the price list"
TICK_MS, MOST_BAD, AT_ONCE = 100, 6, 2000
Index = QModelIndex | QPersistentModelIndex


def item_because(item: CatalogueItem) -> Because:
    """An entry with every attribute that it states, and its offers."""
    attributes = write_part(item.part) if item.part is not None else {}
    facts = tuple(Fact(k.replace("_", " "), v, Origin.CATALOGUE) for k, v in attributes.items())
    offers = tuple(phrase("{line}.", line=line) for line in offer_words(item.offers).split("; ") if line)
    text = "What is not stated is not known." if facts else "Work, not a part."
    return Because(item.title, item.group.value, text, facts, phrase("{price:f} EUR", price=item.price),
                   "Another list, or another price.",
                   offers)  # fmt: skip


class PriceModel(QAbstractTableModel):
    """The list as rows; prices can be typed."""

    def __init__(self, page: PricesPage) -> None:
        super().__init__()
        self._page = page
        self.rows: tuple[CatalogueItem, ...] = ()
        self.columns: tuple[Column, ...] = columns_of((), "", WaitingFits())

    def show(self, rows: tuple[CatalogueItem, ...], columns: tuple[Column, ...]) -> None:
        self.beginResetModel()
        self.rows, self.columns = rows, columns
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.columns)

    def price_column(self) -> int:
        """The one that can be typed into."""
        return next(k for k, c in enumerate(self.columns) if c.title == "Price, EUR")

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(self.columns[index.column()])
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        cell = self.columns[index.column()].value(self.rows[index.row()])
        return say(cell) if isinstance(cell, str) and role == Qt.ItemDataRole.DisplayRole else cell

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(self.columns[section])
        return say(self.columns[section].title) if role == Qt.ItemDataRole.DisplayRole else None

    def flags(self, index: Index) -> Qt.ItemFlag:
        plain = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return plain | Qt.ItemFlag.ItemIsEditable if index.column() == self.price_column() else plain

    def setData(self, index: Index, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        return self._page.set_price(self.rows[index.row()].id, str(value))


def _alignment(column: Column) -> int:
    """Headings stand in line with their cells."""
    side = Qt.AlignmentFlag.AlignRight if column.number else Qt.AlignmentFlag.AlignLeft
    return int(side | Qt.AlignmentFlag.AlignVCenter)


class PricesPage(Page):
    """A page of the shop. Reading a file runs beside, can be stopped, and changes nothing before it is taken over."""

    def build(self) -> None:
        self._found: Preview | None = None
        self._fits = WaitingFits()
        self._stop = threading.Event()
        self._share = 0.0
        self._searches = 0
        self._done: list[tuple[CatalogueItem, ...]] = []
        self._undone: list[tuple[CatalogueItem, ...]] = []
        bar = QHBoxLayout()
        self.search = QLineEdit()
        self.search.setPlaceholderText(say("Search parts, kinds, ids"))
        self.search.setAccessibleName(say("Search the price list"))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _: self._show_rows())
        self.read_button = button("Read a list…", self._ask_file, "", "CSV; merged by id after a preview")
        self.export_button = button("Export…", self._ask_export, "quiet", "The whole list as CSV")
        self.add_button = button("Add a part…", self._add, "", "By its label, or attribute by attribute")
        self.edit_button = button("Edit…", self._edit, "quiet", "Every attribute of it")
        self.copy_button = button("Duplicate…", self._duplicate, "quiet", "A new entry like the marked one")
        self.remove_button = button("Remove", self._remove, "quiet", "Off the list")
        self.kind = PlainChoice((("", "All kinds"), *((g.value, g.value.capitalize()) for g in Group)), self._of_kind,
                                "Kind of part")  # fmt: skip
        self.kind.setFixedWidth(118)
        bar.addWidget(self.kind)
        bar.addWidget(self.search, 1)
        for widget in (self.add_button, self.edit_button, self.copy_button, self.remove_button):
            bar.addWidget(widget)
        bar.addWidget(self.read_button)
        bar.addWidget(self.export_button)
        self.body.addSpacing(6)
        self.body.addLayout(bar)
        self.body.addLayout(self._preview_box())
        self.model = PriceModel(self)
        self.table = QTableView()
        self.table.setModel(self.model)
        self.table.setAccessibleName(say("Price list"))
        self.table.setShowGrid(False)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(30)
        header = self.table.horizontalHeader()
        header.setHighlightSections(False)
        self.body.addWidget(self.table, 1)
        self.table.selectionModel().currentRowChanged.connect(lambda row, _: self._explain(row))
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)

    def _explain(self, row: Index) -> None:
        if row.isValid() and row.row() < len(self.model.rows):
            self.session.explain(item_because(self.model.rows[row.row()]))

    def _marked(self) -> CatalogueItem | None:
        row = self.table.currentIndex().row()
        return self.model.rows[row] if 0 <= row < len(self.model.rows) else None

    def _sheet(self, title: str, keep: Callable[[MadePart], object], made: MadePart | None = None) -> None:
        self.sheet = PartSheet(self.window(), title, keep, made)
        self.sheet.open()

    def _add(self) -> None:
        self._sheet("Add a part", lambda made: self._put(with_added(self.session.workspace.catalogue, made_item(made))))

    def _edit(self) -> None:
        item = self._marked()
        if item is None or item.part is None:
            self.session.say("Mark a part first; work has only a price.")
            return
        was = item
        self._sheet(phrase("Edit {item}", item=item.title),
                    lambda made: self._put(with_item(self.session.workspace.catalogue, made_item(made, was))),
                    MadePart(item.part, item.count, item.price))  # fmt: skip

    def _duplicate(self) -> None:
        item = self._marked()
        if item is None or item.part is None:
            self.session.say("Mark a part first.")
            return
        self._sheet(phrase("A part like {item}", item=item.title),
                    lambda made: self._put(with_added(self.session.workspace.catalogue, made_item(made))),
                    MadePart(replace(item.part, name=""), item.count, item.price))  # fmt: skip

    def _remove(self) -> None:
        item = self._marked()
        if item is not None:
            self._put(tuple(i for i in self.session.workspace.catalogue if i.id != item.id))
            self.session.say(phrase("{item} is off the list; Ctrl+Z brings it back.", item=item.title))

    def _preview_box(self) -> QVBoxLayout:
        box = QVBoxLayout()
        row = QHBoxLayout()
        self.words = label("", "title", True)
        self.stop = button("Stop", self._stop.set, "quiet")
        self.take = button("Take it over", self._take, "primary")
        self.drop = button("Leave it", self._drop, "quiet")
        row.addWidget(self.words, 1)
        for w in (self.stop, self.take, self.drop):
            row.addWidget(w)
        box.addLayout(row)
        self.bad = paragraph("", "warm", True)
        box.addWidget(self.bad)
        return box

    def show_shop(self) -> None:
        """The list as it is now; what fits where is counted beside."""
        self._show_rows()
        self._show_preview()
        reading = self.session.workspace.reading()
        self.session.workspace.lanes.submit(
            "compute", lambda: waiting_fits(reading), self._counted, self.session.report
        )

    def _counted(self, fits: WaitingFits) -> None:
        if fits != self._fits:
            self._fits = fits
            self._show_rows()

    def _show_rows(self) -> None:
        items = self.session.workspace.catalogue
        words = self.search.text().lower().split()
        self._searches += 1
        asked, kind = self._searches, str(self.kind.currentData() or "")
        if kind:
            items = tuple(i for i in items if i.group.value == kind)
        if not words:
            self._found_rows(items, phrase(", {count} of this kind", count=len(items)) if kind else "")
        elif len(items) <= AT_ONCE:
            self._found_rows(rows := matching_items(items, words), phrase(", {count} found", count=len(rows)))
        else:

            def arrived(rows: tuple[CatalogueItem, ...]) -> None:
                if asked == self._searches:  # a later search overtakes an earlier one
                    self._found_rows(rows, phrase(", {count} found", count=len(rows)))

            self.session.workspace.lanes.submit(
                "compute", lambda: matching_items(items, words), arrived, self.session.report
            )

    def _found_rows(self, rows: tuple[CatalogueItem, ...], found: str) -> None:
        kind = str(self.kind.currentData() or "")
        of_kind = tuple(i for i in self.session.workspace.catalogue if i.group.value == kind) if kind else ()
        self.model.show(rows, columns_of(of_kind, kind, self._fits))
        self._set_widths()
        count = len(self.session.workspace.catalogue)
        entries = phrase("{count} {which}", count=count, which="entry" if count == 1 else "entries")
        self.set_heading(
            "Parts and prices",
            phrase("{entries}{found}. Type over a price.", entries=entries, found=found),
        )

    def _of_kind(self, _: str) -> None:
        self._show_rows()

    def _set_widths(self) -> None:
        header = self.table.horizontalHeader()
        for number, column in enumerate(self.model.columns):
            mode = QHeaderView.ResizeMode.Interactive if column.width else QHeaderView.ResizeMode.Stretch
            header.setSectionResizeMode(number, mode)
            if column.width:
                self.table.setColumnWidth(number, column.width)

    def _show_preview(self) -> None:
        found = self._found
        reading = self._timer.isActive()
        self.stop.setVisible(reading)
        for w in (self.take, self.drop):
            w.setVisible(found is not None and not reading)
        self.words.setVisible(found is not None or reading)
        self.bad.setVisible(found is not None and bool(found.bad or found.not_understood))
        if found is None:
            return
        self.take.setEnabled(bool(found.items))
        counts = phrase(
            "{count} new, {count2} changed, {same} as they are",
            count=len(found.new),
            count2=len(found.changed),
            same=found.same,
        )
        self.words.setText(
            say(
                phrase(
                    "{path}: {counts}, {count} bad lines.", path=found.path.name, counts=counts, count=len(found.bad)
                )
            )
        )
        lines = [phrase("line {n}: {why}", n=n, why=why) for n, why in found.bad[:MOST_BAD]]
        more = phrase("; and {count} more", count=len(found.bad) - MOST_BAD) if len(found.bad) > MOST_BAD else ""
        left_out = [phrase("Left out: {lines}{more}.", lines=joined("; ", lines), more=more)] if lines else []
        unread = joined(", ", found.not_understood)
        columns = [phrase("Columns not understood and not read: {unread}.", unread=unread)] if unread else []
        self.bad.setText(say(joined(" ", [*columns, *left_out])))

    def set_price(self, item_id: str, text: str) -> bool:
        """Keep a typed price; a wrong one is said and changes nothing."""
        try:
            price = amount(text)
        except InvalidOperation:
            self.session.say(WRONG_AMOUNT)
            return False
        if price is None or price < 0:
            self.session.say(WRONG_AMOUNT)
            return False
        self._put(with_price(self.session.workspace.catalogue, item_id, price))
        return True

    def _put(self, items: tuple[CatalogueItem, ...]) -> None:
        self._done.append(self.session.workspace.catalogue)
        self._undone.clear()
        self._set(items)

    def _set(self, items: tuple[CatalogueItem, ...]) -> None:
        self.session.workspace.set_catalogue(items)
        self._show_rows()

    def undo(self) -> str:
        """Take the last change of the list back; returns its label, empty where there is none."""
        if not self._done:
            return ""
        self._undone.append(self.session.workspace.catalogue)
        self._set(self._done.pop())
        return CHANGE

    def redo(self) -> str:
        if not self._undone:
            return ""
        self._done.append(self.session.workspace.catalogue)
        self._set(self._undone.pop())
        return CHANGE

    def _ask_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, say("Price list"), str(Path.home()), say("CSV (*.csv);;All files (*)")
        )
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Read a list beside the window and show what it would change."""
        self._stop.clear()
        self._found, self._share = None, 0.0
        self._timer.start()
        self._show_preview()
        self.words.setText(say(phrase("Reading {path}…", path=path.name)))
        workspace = self.session.workspace
        reading = workspace.reading()

        def said(share: float) -> None:
            self._share = share

        workspace.lanes.submit(
            "compute", lambda: preview_list(reading, path, said, self._stop.is_set), self._arrived, self._failed
        )

    def _tick(self) -> None:
        self.words.setText(say(phrase("Reading, {share}…", share=percent(self._share))))

    def _arrived(self, found: Preview | None) -> None:
        self._timer.stop()
        self._found = found
        self._show_preview()
        if found is None:
            self.session.say("Stopped; the price list is as it was.")

    def _failed(self, error: Exception) -> None:
        self._timer.stop()
        self._show_preview()
        self.session.report(error)

    def _take(self) -> None:
        found, workspace = self._found, self.session.workspace
        if found is not None:
            present = workspace.catalogue
            workspace.lanes.submit("compute", lambda: merge_lists(present, found), self._taken, self.session.report)

    def _taken(self, items: tuple[CatalogueItem, ...]) -> None:
        self._put(items)
        self.session.say("The list is taken over.")
        self._drop()

    def _drop(self) -> None:
        self._found = None
        self._show_preview()

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, say("Price list"), str(Path.home() / "price-list.csv"), say("CSV (*.csv)")
        )
        if name:
            try:
                export_list(self.session.workspace, Path(name))
                self.session.say(phrase("The price list is in {name}.", name=name))
            except Problem as problem:
                self.session.report(problem)

    def default_because(self) -> Because | None:
        items = self.session.workspace.catalogue
        facts = (
            Fact("entries", str(len(items)), Origin.TYPED),
            Fact("with a price", str(sum(i.price > 0 for i in items)), Origin.TYPED),
        )
        text = (
            "Part classes without makers, prices of your own. Of parts alike in all but the price the "
            "cheapest is judged."
        )
        return Because("Parts and prices", "price list", text, facts, "", "A list read or a price typed.")


def made_item(made: MadePart, was: CatalogueItem | None = None) -> CatalogueItem:
    """The entry of a part by hand; an edited one keeps its id, note and offers."""
    group, price = PART_GROUPS[made.part.kind], made.price or Decimal(0)
    if was is None:
        return CatalogueItem("", group, made_title(made), price, made.count, made.part)
    return replace(was, group=group, title=made_title(made), price=price, count=made.count, part=made.part)
