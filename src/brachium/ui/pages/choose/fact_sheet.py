"""Missing facts of a candidate, recorded where they are named: what is asked, how to find it out, in how long."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.fit.gap_words import gap_words, is_typed, typed_value, unit_of_gap
from brachium.core.fit.recorded_facts import can_record, with_answer
from brachium.core.fit.verdict import Gap
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, label, paragraph

MOST = 6


class FactSheet(QDialog):
    """Writes each fact at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session, title: str, gaps: Sequence[Gap]) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Missing facts")
        self.setMinimumWidth(480)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label(title, "title"))
        layout.addWidget(paragraph("Nothing is guessed. The quickest to find out comes first.", "soft"))
        self.fields: dict[str, LineField | ChoiceField] = {}
        job = session.job()
        for gap in gaps[:MOST]:
            if job is not None and can_record(job, gap):
                self.fields[gap.key] = self._field(gap)
                layout.addWidget(self.fields[gap.key])
                layout.addWidget(label(_how(gap), "soft", True))
            else:
                layout.addWidget(label(f"{_sentence(gap.label)}: {_how(gap)} It belongs to the part: put it into its "
                                       "entry in Parts and prices.", "soft", True))  # fmt: skip
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)

    def _field(self, gap: Gap) -> LineField | ChoiceField:
        sign = unit_of_gap(gap).value.sign or gap.unit
        name = _sentence(gap.label) + (f", {sign}" if sign else "")
        if is_typed(gap):
            hints = [gap_words(gap, v) for v in gap.values if v != "another"]
            return LineField(name, lambda text, g=gap: self._typed(text, g), f"such as {hints[-1]}")  # type: ignore[misc]
        choices = [("", "not known"), *((str(k), gap_words(gap, v)) for k, v in enumerate(gap.values))]
        return ChoiceField(name, choices, lambda key, g=gap: self._put(g, g.values[int(key)] if key else None))  # type: ignore[misc]

    def _typed(self, text: str, gap: Gap) -> str | None:
        try:
            self._put(gap, typed_value(text, gap) if text else None)
        except ValueError as error:
            return str(error)
        return None

    def _put(self, gap: Gap, value: object) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(f"{gap.label} recorded", with_answer(job, gap, value))


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]


def _how(gap: Gap) -> str:
    return f"{_sentence(gap.how)}; about {gap.minutes:.0f} min."
