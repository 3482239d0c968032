"""Dropped sensor logs: what was recognised in them, the room temperature, what to keep them as."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.importing import LogPreview, keep_logs, read_log
from brachium.app.workspace import AFTER, BEFORE
from brachium.core.because import Because
from brachium.core.problems import ExpectedProblem, Problem
from brachium.core.units import many
from brachium.formats.log_columns import ROLE_NAMES
from brachium.ui.pages.page import Page
from brachium.ui.widgets.fields import ChoiceField, Switch
from brachium.ui.widgets.labels import button, clear, label


class ImportPage(Page):
    """Shown in place of a stage after a drop; `finished` carries the job's id, empty when given up."""

    finished = Signal(str)

    def build(self) -> None:
        self._previews: list[LogPreview] = []
        self._rooms: dict[int, QLineEdit] = {}
        self.keep_as = ChoiceField("Keep as", (), lambda _: None)
        self._files = QVBoxLayout()
        self._files.setSpacing(18)
        self.body.addSpacing(10)
        self.body.addLayout(self._files)
        self.body.addSpacing(12)
        self.body.addWidget(self.keep_as)
        row = QHBoxLayout()
        self.keep = button("Keep and compare", self._keep, "primary")
        row.addWidget(self.keep)
        row.addWidget(button("Give up", lambda: self.finished.emit(""), "quiet"))
        row.addStretch(1)
        self.body.addSpacing(8)
        self.body.addLayout(row)
        self.body.addStretch(1)

    def open_files(self, paths: tuple[Path, ...]) -> None:
        """Read the files in the background, then show what was found in them."""
        self.set_heading("Reading the logs", ", ".join(p.name for p in paths))
        self._show(())

        def work() -> tuple[LogPreview, ...]:
            if len(paths) > 2:
                raise ExpectedProblem(
                    f"{len(paths)} files were dropped", "import", "Drop one before and one after log."
                )
            found = [read_log(p) for p in paths]
            if len(found) == 2 and found[0].role == found[1].role:
                found = [replace(found[0], role=BEFORE), replace(found[1], role=AFTER)]
            return tuple(sorted(found, key=lambda f: f.role != BEFORE))

        self.session.workspace.lanes.submit("compute", work, self._show, self._failed)

    def default_because(self) -> Because | None:
        return Because(
            "How a log is read", "import",
            "Separator, decimal sign, time format, columns and units are found from the header and the size of the "
            "numbers. Lines that are no data are listed, never guessed. The load is found from utilisation or power.",
            would_change="A header that names its unit, or the command line with --unit.",
        )  # fmt: skip

    def _failed(self, error: Exception) -> None:
        self.finished.emit("")
        self.session.report(error)

    def _show(self, previews: tuple[LogPreview, ...]) -> None:
        self._previews = list(previews)
        self._rooms = {}
        clear(self._files)
        self.keep.setEnabled(bool(previews))
        if not previews:
            return
        count = "Two logs" if len(previews) == 2 else "One log"
        self.set_heading(f"{count} read", "Check columns and room temperature, then keep.")
        for index, preview in enumerate(previews):
            self._files.addWidget(self._file(index, preview))
        self.keep_as.box.clear()
        self.keep_as.box.addItem("a new record", "")
        for card in self.session.workspace.cards():
            self.keep_as.box.addItem(f"runs of {card.name}", card.id)

    def _file(self, index: int, preview: LogPreview) -> QWidget:
        log = preview.log
        out = QWidget()
        layout = QVBoxLayout(out)
        layout.setContentsMargins(0, 0, 0, 0)
        head = QHBoxLayout()
        head.addWidget(label(log.path.name, "title"))
        role = Switch(((BEFORE, "Before"), (AFTER, "After")), lambda key: self._set_role(index, key), log.path.name)
        role.show_value(preview.role)
        head.addStretch(1)
        head.addWidget(role)
        layout.addLayout(head)
        samples = log.trace.time_s.size
        span = float(log.trace.time_s[-1] - log.trace.time_s[0])
        layout.addWidget(label(f"{samples} samples over {span:.0f} s, load found: {preview.load_s:.0f} s", "soft"))
        if preview.note:
            layout.addWidget(label(f"The log {preview.note}.", "warm", True))
        grid = QGridLayout()
        grid.setHorizontalSpacing(20)
        for column, found in enumerate(log.columns):
            grid.addWidget(label(ROLE_NAMES[found.role], "field"), 0, column)
            grid.addWidget(label(f"{found.header}", "section"), 1, column)
            grid.addWidget(label(f"in {found.unit}", "soft"), 2, column)
        grid.setColumnStretch(len(log.columns), 1)
        layout.addLayout(grid)
        row = QHBoxLayout()
        row.addWidget(label("Room, °C", "field"))
        room = QLineEdit("" if log.room_c is None else f"{log.room_c:.1f}")
        room.setFixedWidth(72)
        room.setPlaceholderText("type it")
        room.setAccessibleName(f"Room temperature of {log.path.name}")
        self._rooms[index] = room
        row.addWidget(room)
        source = (
            f"from the log ({log.room_source})"
            if log.room_c is not None
            else "not in the log; without it no heat claim"
        )
        row.addWidget(label(source, "soft" if log.room_c is not None else "warm"))
        row.addStretch(1)
        layout.addLayout(row)
        if log.bad_lines:
            first = log.bad_lines[0]
            layout.addWidget(
                label(f"{many(len(log.bad_lines), 'line')} left out, first line {first[0]}: {first[1]}", "warm")
            )
        return out

    def _set_role(self, index: int, role: str) -> None:
        self._previews[index] = replace(self._previews[index], role=role)

    def _keep(self) -> None:
        rooms: dict[str, float | None] = {}
        try:
            for index, preview in enumerate(self._previews):
                rooms[preview.role] = _room(self._rooms[index].text(), preview)
            if len({p.role for p in self._previews}) < len(self._previews):
                raise ExpectedProblem("both logs are marked the same", "import", "Mark one Before and one After.")
            job_id = keep_logs(
                self.session.workspace, tuple(self._previews), rooms, str(self.keep_as.box.currentData())
            )
        except Problem as problem:
            self.session.report(problem)
            return
        self.finished.emit(job_id)


def _room(text: str, preview: LogPreview) -> float | None:
    """A typed room temperature; None leaves the log's own."""
    text = text.strip().replace(",", ".")
    if not text:
        return None
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not -10.0 <= value <= 50.0:
        raise ExpectedProblem(
            f"{text!r} is no room temperature", preview.log.path.name, "Type degrees Celsius, such as 23.5."
        )
    logged = preview.log.room_c
    return None if logged is not None and abs(value - logged) < 0.06 else value
