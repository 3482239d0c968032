"""The quick line: a machine in the words of a person, shown at once as it is understood; Enter records it."""

from __future__ import annotations

from dataclasses import replace
from html import escape

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from brachium.app.intake.quick_take_in import Chip, chips_of, kept_line, read_into, with_kind_and_places
from brachium.core.base.spoken import say
from brachium.core.base.text import many, phrase, upper_first
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.theme import theme
from brachium.ui.widgets.fields import PlainChoice
from brachium.ui.widgets.tool_tips import tip_text

EXAMPLE = "In one line: 2x4 ddr3 1600 sodimm; 500gb 2.5 hdd; 35w 2c4t socket PG-9"
WAIT_MS = 120


class QuickLineField(QWidget):
    """Kind of machine and the line; below, what each piece of it became. `recorded` follows when it was taken."""

    recorded = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._asked = 0
        self._shown = ""
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        row = QHBoxLayout()
        row.setSpacing(12)
        kinds = [(k.value, "Kind not known" if k is MachineKind.NOT_KNOWN else upper_first(k.value))
                 for k in sorted(MachineKind, key=lambda k: k is not MachineKind.NOT_KNOWN)]  # fmt: skip
        self.kind = PlainChoice(kinds, lambda key: self.choose_kind(MachineKind(key)), "Kind of machine", True)
        self.kind.setFixedWidth(168)
        row.addWidget(self.kind)
        self.edit = QLineEdit()
        self.edit.setPlaceholderText(say(EXAMPLE))
        self.edit.setAccessibleName(say("Quick line"))
        self.edit.setObjectName("quick_line")
        self.edit.setToolTip(tip_text("In your words, or as labels print it. Enter records."))
        self.edit.setClearButtonEnabled(True)
        row.addWidget(self.edit, 1)
        layout.addLayout(row)
        self.chips = QLabel()
        self.chips.setTextFormat(Qt.TextFormat.RichText)
        self.chips.setWordWrap(True)
        self.chips.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Minimum)
        self.chips.setAccessibleName(say("How the line is understood"))
        layout.addWidget(self.chips)
        self.chips.hide()
        self._wait = QTimer(self, interval=WAIT_MS, singleShot=True)
        self._wait.timeout.connect(self._read)
        self.edit.textEdited.connect(lambda _: self._wait.start())
        self.edit.returnPressed.connect(self._record)

    def show_job(self, job: Job) -> None:
        if job.id != self._shown:  # what was read for another machine is not this one's
            self._shown = job.id
            self._asked += 1
            self.edit.clear()
            self._show(())
        self.kind.setCurrentIndex(max(self.kind.findData(job.machine.kind.value), 0))

    def choose_kind(self, kind: MachineKind) -> None:
        """Record the kind; its usual places come with it."""
        job = self._session.job()
        if job is not None:
            machine = with_kind_and_places(job.machine, kind)
            self._session.edit("kind of machine changed", replace(job, machine=machine))

    def _read(self) -> None:
        """Read what stands there, off the window's thread; an answer to an older text is dropped."""
        job, text = self._session.job(), self.edit.text().strip()
        self._asked += 1
        if job is None or not text:
            self._show(())
            return
        asked = self._asked
        self._session.workspace.lanes.submit(
            "watch", lambda: chips_of(read_into(job, text)), lambda chips: self._arrived(asked, chips),
            self._session.report,
        )  # fmt: skip

    def _arrived(self, asked: int, chips: tuple[Chip, ...]) -> None:
        if asked == self._asked:
            self._show(chips)

    def _show(self, chips: tuple[Chip, ...]) -> None:
        cool, warm = theme.qcolor("cool").name(), theme.qcolor("warm").name()
        words = [
            phrase(
                '<span style="color:{cool}; white-space:nowrap">{text}</span>',
                cool=cool if c.understood else warm,
                text=escape(c.text),
            )
            for c in chips
        ]
        self.chips.setText(say(" &nbsp;·&nbsp; ".join(words)))
        self.chips.setVisible(bool(chips))

    def _record(self) -> None:
        job, text = self._session.job(), self.edit.text().strip()
        if job is None or not text:
            return
        self._wait.stop()
        self._asked += 1
        asked = self._asked
        self._session.workspace.lanes.submit(
            "watch", lambda: (kept_line(job, text), chips_of(read_into(job, text))),
            lambda found: self._take(asked, job, *found), self._session.report,
        )  # fmt: skip

    def _take(self, asked: int, before: Job, made: Job, chips: tuple[Chip, ...]) -> None:
        if asked != self._asked or self._session.job() != before:
            return  # the record went on meanwhile
        self._session.edit("quick line recorded", made)
        self.edit.clear()
        self._show(tuple(c for c in chips if not c.understood))  # the rest stands on the board now
        unread = sum(not c.understood for c in chips)
        noted = phrase("; {pieces} not understood, kept as a note", pieces=many(unread, "piece")) if unread else ""
        self._session.say(phrase("Recorded{noted}.", noted=noted))
        self.recorded.emit()
