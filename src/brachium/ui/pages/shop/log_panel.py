"""One dropped log: what was recognised in it, column by column, to be put right; its room and conditions; its role and
configuration."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.files.import_logs import LogPreview, UnreadLog
from brachium.app.shop.workspace import AFTER, BEFORE
from brachium.app.view.figures import run_strand
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase, upper_first
from brachium.core.figures.plots.traces import twin_traces
from brachium.core.measure.run_checks import run_flags
from brachium.core.measure.typed_conditions import stated_text
from brachium.formats.log_columns import ROLE_NAMES, ROLES, Reading, unit_names
from brachium.ui.pages.measure.conditions_sheet import ConditionsSheet, Stated
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text

NONE = "none"
AS_FOUND = "as found"
PER_ROW = 5  # quantities beside each other


class LogPanel(QWidget):
    """`changed` gets another way to read the file, `joined` asks to join it to the one before, `said` gets what a
    person says of a log that was read: its role, configuration, conditions."""

    def __init__(
        self, found: LogPreview | UnreadLog, first: bool, changed: Callable[[Reading], None],
        joined: Callable[[], None], said: Callable[[dict[str, object]], None],
    ) -> None:  # fmt: skip
        super().__init__()
        self._found, self._changed, self._said = found, changed, said
        self.columns: dict[str, QComboBox] = {}
        self.units: dict[str, QComboBox] = {}
        self._shown: dict[str, str] = {}
        self.room: QLineEdit | None = None
        path = found.log.path if isinstance(found, LogPreview) else found.path
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(label(path.name, "title"))
        head.addStretch(1)
        if not first:
            tip = "Logs of the same run: its columns go beside the one before"
            self.join = button("Join to the one before", joined, "quiet", tip)
            head.addWidget(self.join)
        if isinstance(found, LogPreview):
            switch = Switch(((BEFORE, "Before"), (AFTER, "After")), lambda role: said({"role": role}), path.name)
            switch.show_value(found.role)
            head.addWidget(switch)
        layout.addLayout(head)
        if isinstance(found, UnreadLog):
            layout.addWidget(label(phrase("{problem}.", problem=upper_first(found.problem)), "warm", True))
            layout.addWidget(label("Say which column is what; it is remembered.", "soft", True))
        else:
            self._about(layout, found)
        layout.addLayout(self._mapping())
        if isinstance(found, LogPreview):
            layout.addLayout(self._room(found))
            self._words = label("", "soft", True)
            layout.addWidget(self._words)
            self._say_stated()
            self._picture(layout, found)

    def _about(self, layout: QVBoxLayout, found: LogPreview) -> None:
        log = found.log
        span = float(log.trace.time_s[-1] - log.trace.time_s[0])
        words = phrase(
            "{size} samples over {span:.0f} s, load found: {load_s:.0f} s",
            size=log.trace.time_s.size,
            span=span,
            load_s=found.load_s,
        )
        layout.addWidget(label(words, "soft"))
        flags = (f.text for f in run_flags(found.run) if f.kind != "left out")
        for text in (*((phrase("The log {note}", note=found.note),) if found.note else ()), *log.notes, *flags):
            layout.addWidget(label(phrase("{text}.", text=upper_first(text)), "warm", True))
        if log.bad_lines:
            number, text = log.bad_lines[0]
            lines = many(len(log.bad_lines), "line")
            listed = label(
                phrase("{lines} left out, first line {number}: {text}", lines=lines, number=number, text=text),
                "warm",
                True,
            )
            listed.setToolTip(
                tip_text(joined("\n", (phrase("line {n}: {t}", n=n, t=t) for n, t in log.bad_lines[:40])))
            )
            layout.addWidget(listed)

    def _headers(self) -> tuple[str, ...]:
        return self._found.log.headers if isinstance(self._found, LogPreview) else self._found.headers

    def _mapping(self) -> QGridLayout:
        """A column and a unit for every quantity; changing one reads the file again."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(0)
        used = {c.role: c for c in self._found.log.columns} if isinstance(self._found, LogPreview) else {}
        reading = self._found.reading
        for k, role in enumerate(ROLES):
            row, column = 3 * (k // PER_ROW), k % PER_ROW
            grid.addWidget(label(ROLE_NAMES[role], "field"), row, column)
            shown = used[role].header if role in used else reading.columns.get(role, "")
            self._shown[role] = shown
            headers = self._choice((NONE, *self._headers()), shown or NONE)
            headers.setAccessibleName(say(phrase("Column for {role_names}", role_names=ROLE_NAMES[role])))
            units = self._choice((AS_FOUND, *unit_names(role)), reading.units.get(role, AS_FOUND))
            units.setAccessibleName(say(phrase("Unit of {role_names}", role_names=ROLE_NAMES[role])))
            if role in used:
                units.setItemText(
                    0, phrase("{unit} as found", unit=used[role].unit) if role not in reading.units else AS_FOUND
                )
            self.columns[role], self.units[role] = headers, units
            grid.addWidget(headers, row + 1, column)
            grid.addWidget(units, row + 2, column)
            grid.setColumnStretch(column, 1)
        return grid

    def _choice(self, texts: tuple[str, ...], chosen: str) -> QComboBox:
        box = QComboBox()
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        for text in texts:
            box.addItem(say(text), text)
        box.setCurrentIndex(max(box.findData(chosen), 0))
        box.setToolTip(tip_text(box.currentText()))  # long headings do not fit
        box.activated.connect(lambda _: self._changed(self.reading()))
        return box

    def reading(self) -> Reading:
        """How the file is to be read as the fields say now: only what differs from what was found is stated."""
        columns = dict(self._found.reading.columns)
        for role, box in self.columns.items():
            chosen = "" if box.currentIndex() == 0 else str(box.currentData())
            if chosen != self._shown[role]:
                columns[role] = chosen
        units = {role: str(box.currentData()) for role, box in self.units.items() if box.currentIndex() > 0}
        return replace(self._found.reading, units=units, columns=columns)

    def _room(self, found: LogPreview) -> QHBoxLayout:
        log = found.log
        row = QHBoxLayout()
        row.addWidget(label("Room, °C", "field"))
        self.room = QLineEdit("" if log.room_c is None else phrase("{room_c:.1f}", room_c=log.room_c))
        self.room.setFixedWidth(72)
        self.room.setPlaceholderText(say("type it"))
        self.room.setAccessibleName(say(phrase("Room temperature of {path}", path=log.path.name)))
        row.addWidget(self.room)
        known = log.room_c is not None
        words = (
            phrase("from the log ({room_source})", room_source=log.room_source)
            if known
            else "not in the log; without it no heat claim"
        )
        row.addWidget(label(words, "soft" if known else "warm"), 0, Qt.AlignmentFlag.AlignVCenter)
        row.addStretch(1)
        row.addWidget(label("Configuration", "field"))
        self.configuration = QLineEdit(found.configuration)
        self.configuration.setPlaceholderText(say(phrase("log {stem}", stem=log.path.stem)))
        self.configuration.setAccessibleName(say(phrase("Configuration of {path}", path=log.path.name)))
        self.configuration.setToolTip(tip_text("Such as: as found, cleaned, new paste"))
        self.configuration.textEdited.connect(lambda text: self._said({"configuration": text.strip()}))
        self.configuration.setMinimumWidth(210)
        row.addWidget(self.configuration)
        self._stated: Mapping[str, str] = found.stated
        self.conditions = button("Conditions…", self._state, "", "Fan, power, profile, panel, drivers of this log")
        row.addWidget(self.conditions)
        return row

    def _state(self) -> ConditionsSheet:
        """Conditions of this log; they go into its run when it is kept."""

        def write(stated: Mapping[str, str], _words: str) -> None:
            self._stated = stated
            self._said({"stated": stated})
            self._say_stated()

        name = self._found.log.path.name if isinstance(self._found, LogPreview) else ""
        kept = "They go into the run."
        sheet = ConditionsSheet(self.window(), Stated(name, kept, lambda: self._stated, write))
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.setWindowModality(Qt.WindowModality.WindowModal)  # the log may not be kept meanwhile
        sheet.show()
        return sheet

    def _say_stated(self) -> None:
        words = stated_text(self._stated)
        self._words.setText(say(phrase("Conditions stated: {words}.", words=words) if words else ""))
        self._words.setVisible(bool(words))

    def _picture(self, layout: QVBoxLayout, found: LogPreview) -> None:
        """The traces as they were read: a wrong unit or column is seen at once."""
        one = run_strand(found.run, found.role, found.role == AFTER, None)
        view = DrawingView()
        view.setMinimumSize(QSize(400, 190))
        view.set_builder(lambda w, h: twin_traces((one,), w, h))
        layout.addWidget(view)
