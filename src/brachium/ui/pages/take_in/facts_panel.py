"""All facts of the machine in one table: value, unit, where it came from; typed over in place, searched, taken back."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QAbstractItemModel, QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, many, phrase
from brachium.core.base.why import Because, Fact
from brachium.core.fit.recorded_facts import with_job_fact
from brachium.core.machine.facts.open_facts import UNSAID
from brachium.core.machine.facts.record_facts import RecordFact, record_facts
from brachium.core.machine.facts.typed_facts import shown_value, typed_value
from brachium.core.record.job import Job
from brachium.ui.pages.take_in.fact_fields import choices_of, has_choices
from brachium.ui.session import Session
from brachium.ui.theme import theme
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import label

HEADINGS = ("Belongs to", "Fact", "Value", "Unit", "From")
VALUE = 2
SHOWN = (("said", "Recorded"), ("open", "Not known"), ("all", "All"))
Index = QModelIndex | QPersistentModelIndex
ROLE = Qt.ItemDataRole


def is_recorded(fact: RecordFact) -> bool:
    """Whether somebody or something said it."""
    return fact.value not in UNSAID and (fact.value != fact.empty or fact.required)


def from_words(fact: RecordFact) -> str:
    """Where a value came from; nothing where there is none."""
    return fact.origin.value if fact.value not in UNSAID else ""


def fact_because(fact: RecordFact) -> Because:
    """What is known of a fact, and how to change it."""
    unit = fact.unit.value
    span = phrase("{least:g} to {most:g} {unit}", least=unit.least, most=unit.most, unit=unit.sign) if unit.sign else ""
    value = phrase("{shown_value} {unit}", shown_value=shown_value(fact), unit=unit.sign).strip() or "not known"
    text = "Typical is to be confirmed; assumed is what nobody said."
    return Because(phrase("{group}: {fact}", group=fact.group, fact=lower_first(fact.title)), "origin", text,
                   (Fact(fact.title, value, fact.origin),), phrase("origin: {origin}", origin=fact.origin),
                   "Typing it, a label, or a scan.",
                   (phrase("It can be {span}.", span=span),) if span else ())  # fmt: skip


class FactsModel(QAbstractTableModel):
    """The facts as rows; `record` gets a fact and its new value, `refuse` the sentence on what cannot be."""

    def __init__(self, record: Callable[[RecordFact, object], object], refuse: Callable[[str], object]) -> None:
        super().__init__()
        self._record, self._refuse = record, refuse
        self.rows: tuple[RecordFact, ...] = ()

    def show(self, rows: tuple[RecordFact, ...]) -> None:
        """Other rows; where the same facts stay only their values change, so that the selection stays too."""
        if [r.key for r in rows] == [r.key for r in self.rows]:
            self.rows = rows
            if rows:
                self.dataChanged.emit(self.index(0, 0), self.index(len(rows) - 1, len(HEADINGS) - 1))
            return
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(HEADINGS)

    def data(self, index: Index, role: int = ROLE.DisplayRole) -> object:
        fact = self.rows[index.row()]
        if role == ROLE.ForegroundRole and index.column() in (0, 3, 4):
            return theme.qcolor(
                "warm" if from_words(fact) in ("typical", "assumed") and index.column() == 4 else "soft"
            )
        if role == ROLE.TextAlignmentRole and index.column() == VALUE and not has_choices(fact):
            number = fact.type in (int, float) and not fact.many
            side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        if role not in (ROLE.DisplayRole, ROLE.EditRole):
            return None
        again = index.row() > 0 and self.rows[index.row() - 1].group == fact.group
        first = "" if again and role == ROLE.DisplayRole else fact.group
        cell = (first, fact.title, shown_value(fact), fact.unit.value.sign, from_words(fact))[index.column()]
        return cell if role == ROLE.EditRole else say(cell)

    def setData(self, index: Index, value: object, role: int = ROLE.EditRole) -> bool:
        if role != ROLE.EditRole or index.column() != VALUE:
            return False
        fact = self.rows[index.row()]
        if str(value).strip() == shown_value(fact):
            return False
        try:
            meant = typed_value(fact, str(value))
        except ValueError as error:
            self._refuse(
                phrase("{group}, {fact}: {error}", group=fact.group, fact=lower_first(fact.title), error=error)
            )
            return False
        self._record(fact, meant)
        return True

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = ROLE.DisplayRole) -> object:
        shown = role == ROLE.DisplayRole and orientation == Qt.Orientation.Horizontal
        return say(HEADINGS[section]) if shown else None

    def flags(self, index: Index) -> Qt.ItemFlag:
        plain = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return plain | Qt.ItemFlag.ItemIsEditable if index.column() == VALUE else plain


class _ValueDelegate(QStyledItemDelegate):
    """A list for facts that have a few values, a line for the others."""

    def __init__(self, model: FactsModel, parent: QWidget) -> None:
        super().__init__(parent)
        self._model = model

    def createEditor(self, parent: QWidget, option: QStyleOptionViewItem, index: Index) -> QWidget:
        fact = self._model.rows[index.row()]
        if not has_choices(fact):
            return super().createEditor(parent, option, index)
        box = QComboBox(parent)
        for text, title in choices_of(fact):
            box.addItem(say(title), text)
        box.activated.connect(lambda _: self._chosen(box))
        return box

    def _chosen(self, box: QComboBox) -> None:
        self.commitData.emit(box)
        self.closeEditor.emit(box)

    def setEditorData(self, editor: QWidget, index: Index) -> None:
        if isinstance(editor, QComboBox):
            editor.setCurrentIndex(max(editor.findData(index.data(ROLE.EditRole)), 0))
        else:
            super().setEditorData(editor, index)

    def setModelData(self, editor: QWidget, model: QAbstractItemModel, index: Index) -> None:
        if isinstance(editor, QComboBox):
            model.setData(model.index(index.row(), index.column()), editor.currentData())
        else:
            super().setModelData(editor, model, index)


class _Table(QTableView):
    """Return and letters edit the value, wherever the row is marked."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.state() != self.State.EditingState:
            self.edit(self.model().index(self.currentIndex().row(), VALUE))
            return
        super().keyPressEvent(event)


class FactsPanel(QWidget):
    """The table with a search, and which facts it shows."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(6)
        head = QHBoxLayout()
        head.setSpacing(12)
        self.search = QLineEdit()
        self.search.setPlaceholderText(say("Find a fact: slot, part, name"))
        self.search.setAccessibleName(say("Find a fact"))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _: self._again())
        head.addWidget(self.search, 1)
        self.which = Switch(SHOWN, self._which, "Which facts")
        self.which.show_value("said")
        self._shown = "said"
        head.addWidget(self.which)
        layout.addLayout(head)
        self.model = FactsModel(self._record, self._refuse)
        self.table = _Table()
        self.table.setModel(self.model)
        self.table.setItemDelegateForColumn(VALUE, _ValueDelegate(self.model, self.table))
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.AnyKeyPressed
            | QAbstractItemView.EditTrigger.EditKeyPressed
        )  # fmt: skip
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(26)
        self.table.setShowGrid(False)
        self.table.setAccessibleName(say("Facts of the machine"))
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setStretchLastSection(True)
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        for column, width in ((0, 190), (1, 190), (2, 210), (3, 72)):
            self.table.setColumnWidth(column, width)
        self.table.selectionModel().currentRowChanged.connect(lambda now, _: self._explain(now.row()))
        layout.addWidget(self.table, 1)
        self.foot = label("", "soft", True)
        layout.addWidget(self.foot)

    def show_job(self, job: Job) -> None:
        if not self.isVisible():
            return
        every = record_facts(job.machine)
        words = self.search.text().casefold().split()
        rows = tuple(f for f in every if self._wanted(f) and _holds(f, words))
        self.model.show(rows)
        said = [f for f in every if is_recorded(f)]
        unsure = sum(from_words(f) == "typical" for f in said)
        tail = phrase(", {unsure} typical and not checked yet", unsure=unsure) if unsure else ""
        self.foot.setText(
            say(
                phrase(
                    "{facts} recorded{tail}; {rows} shown. Return edits.",
                    facts=many(len(said), "fact"),
                    tail=tail,
                    rows=many(len(rows), "row"),
                )
            )
        )

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._again()
        if not self.table.currentIndex().isValid() and self.model.rows:
            self.table.selectRow(0)

    def find_facts(self, words: str) -> None:
        """Show every fact that holds these words."""
        self._which("all")
        self.search.setText(words)

    def _wanted(self, fact: RecordFact) -> bool:
        return self._shown == "all" or (self._shown == "said") is is_recorded(fact)

    def _which(self, key: str) -> None:
        self._shown = key
        self.which.show_value(key)
        self._again()

    def _again(self) -> None:
        job = self._session.job()
        if job is not None:
            self.show_job(job)

    def _explain(self, row: int) -> None:
        if 0 <= row < len(self.model.rows):
            self._session.explain(fact_because(self.model.rows[row]))

    def _record(self, fact: RecordFact, value: object) -> None:
        job = self._session.job()
        if job is None:
            return
        try:
            made = with_job_fact(job, fact.key, value)
        except ValueError as error:
            self._refuse(
                phrase("{group}, {fact}: {error}", group=fact.group, fact=lower_first(fact.title), error=error)
            )
            return
        self._session.edit(phrase("{fact} recorded", fact=lower_first(fact.title)), made)

    def _refuse(self, sentence: str) -> None:
        self._session.say(sentence)


def _holds(fact: RecordFact, words: list[str]) -> bool:
    text = phrase(
        "{group} {fact} {shown_value} {origin}",
        group=fact.group,
        fact=fact.title,
        shown_value=shown_value(fact),
        origin=fact.origin,
    ).casefold()
    return all(w in text for w in words)
