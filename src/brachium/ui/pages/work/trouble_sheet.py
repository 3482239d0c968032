"""Trouble at a step: what it is, what to do now, what it costs, which promise moves; it goes into the record."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal, InvalidOperation

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QShortcut
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.record.job import WAITS_PARTS, Hold
from brachium.core.record.work.trouble import Trouble
from brachium.core.work.doing.trouble import BY_ID, KINDS, Promises, TroubleKind, consequences, finding_of
from brachium.core.work.step import Step
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.tool_tips import tip_text

MOST_MIN = 24 * 60.0


class TroubleSheet(QDialog):
    """A kind by its number or a click; Return records it, Escape leaves it."""

    def __init__(self, parent: QWidget, session: Session, step: Step) -> None:
        super().__init__(parent)
        self._session, self._step = session, step
        self.kind: TroubleKind = KINDS[0]
        self.setWindowTitle(say("Trouble"))
        self.resize(720, 560)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label(phrase("Trouble: {step}", step=step.title), "title", True))
        grid = QGridLayout()
        grid.setSpacing(8)
        self.kinds: dict[str, QPushButton] = {}
        for k, kind in enumerate(KINDS):
            one = button(phrase("{k}  {kind}", k=k + 1, kind=kind.title), lambda i=kind.id: self.choose(i), "switch")  # type: ignore[misc]
            one.setCheckable(True)
            one.setMinimumHeight(44)
            self.kinds[kind.id] = one
            grid.addWidget(one, k // 3, k % 3)
            shortcut = QShortcut(QKeySequence(str(k + 1)), self)
            shortcut.activated.connect(lambda i=kind.id: self._by_number(i))
        layout.addLayout(grid)
        layout.addWidget(label("Now", "section"))
        self.now = paragraph("", "large")
        layout.addWidget(self.now)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.minutes = _field("Minutes it costs", "min", 90)
        self.price = _field("Price of what is bought [EUR], empty = not known", "EUR, not known", 130)
        self.words = _field("What happened, in a few words", "what happened", 0)
        for name, field in (("Minutes", self.minutes), ("Price", self.price), ("What", self.words)):
            row.addWidget(label(name, "field"))
            row.addWidget(field, 1 if field is self.words else 0)
            field.textChanged.connect(self._show_costs)
        layout.addLayout(row)
        layout.addWidget(label("What it moves", "section"))
        self.costs = paragraph("", "")
        layout.addWidget(self.costs)
        layout.addStretch(1)
        foot = QHBoxLayout()
        self.said = label("", "alarm", True)
        foot.addWidget(self.said, 1)
        self.wait = button("Record it, wait for the part", lambda: self.record(True), "quiet")
        self.keep = button("Record it", lambda: self.record(False), "primary")
        self.keep.setDefault(True)
        for w in (button("Leave it", self.reject, "quiet"), self.wait, self.keep):
            foot.addWidget(w)
        layout.addLayout(foot)
        self.choose(KINDS[0].id)
        self.kinds[KINDS[0].id].setFocus()

    def _by_number(self, kind_id: str) -> None:
        focused = self.focusWidget()
        if not isinstance(focused, QLineEdit):
            self.choose(kind_id)

    def choose(self, kind_id: str) -> None:
        """Another kind brings its own advice and usual minutes."""
        self.kind = BY_ID[kind_id]
        for key, one in self.kinds.items():
            one.setChecked(key == kind_id)
        self.now.setText(say(self.kind.now))
        self.minutes.setText(say(phrase("{minutes:g}", minutes=self.kind.minutes)))
        self.price.setVisible(True)
        self.wait.setVisible(bool(self.kind.buys))
        self._show_costs()

    def trouble(self) -> Trouble:
        """As typed. Raises ValueError with a sentence for people."""
        try:
            minutes = typed_float(self.minutes.text())
        except ValueError:
            raise ValueError("Minutes as a figure, such as 12.") from None
        if not 0 <= minutes <= MOST_MIN:
            raise ValueError("Minutes from 0 to 1440.")
        text = self.price.text().strip().replace(",", ".").removesuffix("EUR").strip()
        try:
            price = Decimal(text) if text else None
        except InvalidOperation:
            raise ValueError("An amount such as 4.50; empty where not known.") from None
        if price is not None and not (price.is_finite() and 0 <= price <= 100_000):
            raise ValueError("From 0 to 100000 EUR; empty where not known.")
        return Trouble(self._step.id, self.kind.id, now_text(), minutes, price, self.words.text().strip())

    def _show_costs(self) -> None:
        view, job = self._session.view(), self._session.job()
        self.said.setText("")
        if view is None or job is None:
            return
        try:
            trouble = self.trouble()
        except ValueError as problem:
            self.costs.setText(say(str(problem)))
            return
        done = {d.step_id for d in job.steps_done}
        left = sum(s.attended_min for s in view.work.steps if s.id not in done)
        promises = Promises(job.needed_by, job.budget, view.choice.cost.total, left)
        self.costs.setText(say(joined("\n", consequences(job, trouble, promises, date.today().isoformat()))))

    def record(self, wait: bool) -> None:
        """Keep it with the machine; with `wait` the machine waits for the part."""
        job = self._session.job()
        try:
            trouble = self.trouble()
        except ValueError as problem:
            self.said.setText(say(str(problem)))
            return
        if job is None:
            return
        found = finding_of(trouble, self._step, job.machine.kind)
        after = replace(job, troubles=(*job.troubles, trouble))
        if found is not None:
            after = replace(after, findings=(*after.findings, found))
        if wait:
            after = replace(after, hold=Hold(WAITS_PARTS, trouble.words or self.kind.buys, now_text()))
        self._session.edit(phrase("trouble: {kind}", kind=lower_first(self.kind.title)), after)
        self._session.say(phrase("{kind}: recorded.", kind=self.kind.title))
        self.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.record(False)
        else:
            super().keyPressEvent(event)


def _field(name: str, placeholder: str, width: int) -> QLineEdit:
    edit = QLineEdit()
    edit.setAccessibleName(say(name))
    edit.setToolTip(tip_text(name))
    edit.setPlaceholderText(say(placeholder))
    if width:
        edit.setFixedWidth(width)
    return edit
