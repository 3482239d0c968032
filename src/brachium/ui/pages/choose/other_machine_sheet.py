"""Another machine as a reference on the plan front: price, what it does against today's, minutes to set it up."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.choose.keep_or_replace import KeepOrReplace, keep_or_replace
from brachium.core.choose.resale import energy_a_year
from brachium.core.record.kept_plans import Replacement
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, label, paragraph

START = Replacement(0.0, 1.0)


class OtherMachineSheet(QDialog):
    """Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Another machine"))
        self.setMinimumWidth(520)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Another machine instead", "title"))
        layout.addWidget(label("Enter a price to mark it on the front.", "soft", True))
        self.price = LineField("Price [EUR]", lambda t: self._number(t, "price", 0.0, 100_000.0), "such as 280")
        self.gain = LineField("Work per time, today = 1", lambda t: self._number(t, "gain", 0.1, 100.0), "such as 2.1")
        self.minutes = LineField(
            "To set it up [min]", lambda t: self._number(t, "minutes", 0.0, 10_000.0), "such as 90"
        )
        self.note = LineField("Which one", self._note, "what it is, where")
        self.years = LineField("Years it would last", lambda t: self._number(t, "years", 0.0, 30.0), "such as 5")
        self.keep_years = LineField(
            "Years the plan gains", lambda t: self._number(t, "keep_years", 0.0, 30.0), "such as 3"
        )
        self.resale = LineField(
            "This one sold [EUR]", lambda t: self._number(t, "resale", 0.0, 100_000.0), "such as 40"
        )
        self.its_energy = LineField(
            "Its energy a year [EUR]", lambda t: self._number(t, "energy", 0.0, 10_000.0), "this one's: in Money"
        )
        self.answer = paragraph("", "title")
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        fields = (self.price, self.gain, self.minutes, self.years, self.keep_years, self.resale, self.its_energy)
        for k, w in enumerate(fields):
            grid.addWidget(w, k // 2, k % 2)
        layout.addLayout(grid)
        layout.addWidget(self.note)
        layout.addWidget(self.answer)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)
        self._show()

    def _present(self) -> Replacement | None:
        job = self._session.job()
        return job.other_machine if job is not None else None

    def _put(self, other: Replacement | None) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit("another machine", replace(job, other_machine=other))
        self._show()

    def _number(self, text: str, key: str, low: float, high: float) -> str | None:
        if not text and key == "price":
            self._put(None)
            return None
        try:
            value = typed_float(text)
        except ValueError:
            return "A number, please."
        if not low <= value <= high:
            return phrase("Between {low:g} and {high:g}.", low=low, high=high)
        self._put(replace(self._present() or START, **{key: value}))  # type: ignore[arg-type]
        return None

    def _note(self, text: str) -> str | None:
        self._put(replace(self._present() or START, note=text[:200]))
        return None

    def _show(self) -> None:
        other = self._present()
        self.price.show_value(phrase("{price:g}", price=other.price) if other is not None and other.price else "")
        self.gain.show_value(phrase("{gain:g}", gain=other.gain) if other is not None else "")
        self.minutes.show_value(phrase("{minutes:g}", minutes=other.minutes) if other is not None else "")
        self.note.show_value(other.note if other is not None else "")
        shown = other or Replacement(0.0, 0.0)
        rows = ((self.years, shown.years), (self.resale, shown.resale), (self.keep_years, shown.keep_years),
                (self.its_energy, shown.energy))  # fmt: skip
        for field, value in rows:
            field.show_value(phrase("{value:g}", value=value) if value else "")
        found = self._found(other)
        words = (
            phrase("{found}. {work}", found=found.words, work=found.work).strip()
            if found is not None
            else "State both years to compare the cost."
        )
        self.answer.setText(say(words))
        self._session.explain(found.because if found is not None else None)

    def _found(self, other: Replacement | None) -> KeepOrReplace | None:
        """The two machines compared by their cost a year; None while something is not stated."""
        job, view = self._session.job(), self._session.view()
        if job is None or view is None or other is None:
            return None
        energy = energy_a_year(job.energy, True) if job.energy is not None else Decimal(0)
        return keep_or_replace(
            view.choice.cost.total, other, job.rate_per_hour, energy, view.choice.gain, bool(view.choice.chosen())
        )
