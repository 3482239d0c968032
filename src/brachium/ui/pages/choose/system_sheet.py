"""The system that a machine is to run: chosen from the shop's table, judged with the plan in hand."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import drive_size, gib
from brachium.core.record.systems import SystemSpec
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField
from brachium.ui.widgets.labels import button, label, paragraph

RULES = ("OS-SUPPORT", "OS-BITS", "CPU-ISA", "MEM-OS")


class SystemSheet(QDialog):
    """Writes at once; Ctrl+Z takes it back. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("System to run"))
        self.setMinimumWidth(520)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Which system is it to run?", "title"))
        systems = session.workspace.shop_rules().systems
        choices = [("", "as it is"), *((s.id, s.title) for s in systems)]
        self.choice = ChoiceField("System", choices, self._set)
        layout.addWidget(self.choice)
        self.floor = paragraph("", "soft")
        self.verdict = paragraph("")
        layout.addWidget(self.floor)
        layout.addWidget(self.verdict)
        layout.addWidget(paragraph("The table of systems is in Settings.", "soft"))
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)
        session.view_arrived.connect(self._show)
        self._show()

    def _set(self, system_id: str) -> None:
        job = self._session.job()
        if job is None:
            return
        system = replace(job.machine.platform.system, planned=system_id)
        platform = replace(job.machine.platform, system=system)
        self._session.edit("system to run", replace(job, machine=replace(job.machine, platform=platform)))
        self._show()

    def _show(self, _: str = "") -> None:
        job, view = self._session.job(), self._session.view()
        if job is None or view is None:
            return
        planned = job.machine.platform.system.planned
        self.choice.show_value(planned)
        spec = next((s for s in self._session.workspace.shop_rules().systems if s.id == planned), None)
        self.floor.setText(say(_floor(spec) if spec is not None else "Its own system stays."))
        lines = [
            phrase("{rule}: {level}, {sentence}.", rule=v.rule, level=v.level.words, sentence=v.sentence)
            for v in view.choice.whole
            if v.rule in RULES
        ]
        self.verdict.setText(say(joined("\n", lines) if spec is not None and view.job == job else ""))


def _floor(spec: SystemSpec) -> str:
    asks = [
        f"{spec.bits}-bit",
        phrase("{memory_bytes} of memory", memory_bytes=gib(spec.memory_bytes)),
        phrase("a drive of {drive_bytes}", drive_bytes=drive_size(spec.drive_bytes)),
    ]
    asks += [phrase("{cores} cores", cores=spec.cores)] if spec.cores > 1 else []
    asks += [*spec.features, *spec.functions]
    ends = (
        phrase("supported until {support_ends}", support_ends=spec.support_ends)
        if spec.support_ends
        else "the end of its support is not in the table"
    )
    return phrase("Asks for {fromkeys}; {ends}.", fromkeys=joined(", ", dict.fromkeys(asks)), ends=ends)
