"""Another machine as a reference on the plan front: price, what it does against today's, minutes to set it up."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.choose.kept import Replacement
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, label

START = Replacement(0.0, 1.0)


class OtherMachineSheet(QDialog):
    """Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Another machine")
        self.setMinimumWidth(400)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Another machine instead", "title"))
        layout.addWidget(label("Your own figures, as a mark on the plan front. No price, no mark.", "soft", True))
        self.price = LineField("Price [EUR]", lambda t: self._number(t, "price", 0.0, 100_000.0), "such as 280")
        self.gain = LineField("Work per time, today = 1", lambda t: self._number(t, "gain", 0.1, 100.0), "such as 2.1")
        self.minutes = LineField(
            "To set it up [min]", lambda t: self._number(t, "minutes", 0.0, 10_000.0), "such as 90"
        )
        self.note = LineField("Which one", self._note, "what it is, where it is offered")
        for w in (self.price, self.gain, self.minutes, self.note):
            layout.addWidget(w)
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
            value = float(text.replace(",", "."))
        except ValueError:
            return "A number, please."
        if not low <= value <= high:
            return f"Between {low:g} and {high:g}."
        self._put(replace(self._present() or START, **{key: value}))  # type: ignore[arg-type]
        return None

    def _note(self, text: str) -> str | None:
        self._put(replace(self._present() or START, note=text[:200]))
        return None

    def _show(self) -> None:
        other = self._present()
        self.price.show_value(f"{other.price:g}" if other is not None and other.price else "")
        self.gain.show_value(f"{other.gain:g}" if other is not None else "")
        self.minutes.show_value(f"{other.minutes:g}" if other is not None else "")
        self.note.show_value(other.note if other is not None else "")
