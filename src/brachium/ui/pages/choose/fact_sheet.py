"""Missing facts of a candidate, recorded where they are named: what is asked, how to find it out, in how long."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import phrase, upper_first
from brachium.core.fit.recorded_facts import can_record
from brachium.core.fit.verdict import Gap
from brachium.ui.pages.base.gap_field import gap_field, how_to_find
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, label, paragraph

MOST = 6


class FactSheet(QDialog):
    """Writes each fact at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session, title: str, gaps: Sequence[Gap]) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Missing facts"))
        self.setMinimumWidth(480)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label(title, "title"))
        layout.addWidget(paragraph("The quickest to find out comes first.", "soft"))
        self.fields: dict[str, LineField | ChoiceField] = {}
        job = session.job()
        for gap in gaps[:MOST]:
            if job is not None and can_record(job, gap):
                self.fields[gap.key] = gap_field(session, gap)
                layout.addWidget(self.fields[gap.key])
                layout.addWidget(label(how_to_find(gap), "soft", True))
            else:
                what = phrase("{gap}: {how_to_find}", gap=upper_first(gap.label), how_to_find=how_to_find(gap))
                of_part = "Put it into the part's entry in Parts and prices."
                layout.addWidget(label(phrase("{what} {of_part}", what=what, of_part=of_part), "soft", True))
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)
