"""Dropped sensor logs: what was recognised in them, put right where it is wrong, joined, kept as runs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout

from brachium.app.files.import_logs import LogPreview, UnreadLog, joined_preview, keep_logs, preview_logs
from brachium.app.files.log_presets import LogPresets
from brachium.app.shop.workspace import AFTER, BEFORE
from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.base.why import Because
from brachium.formats.log_columns import Reading
from brachium.formats.sensor_log import read_sensor_log
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.shop.log_panel import LogPanel
from brachium.ui.widgets.fields import ChoiceField
from brachium.ui.widgets.labels import button, clear

MOST_FILES = 6
Found = tuple[LogPreview | UnreadLog, ...]


class ImportPage(Page):
    """Shown in place of a stage after a drop; `finished` carries the job's id, empty when given up."""

    finished = Signal(str)

    def build(self) -> None:
        self._found: list[LogPreview | UnreadLog] = []
        self.panels: list[LogPanel] = []
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
        self.set_heading("Reading the logs", joined(", ", (p.name for p in paths)))
        self._show(())
        if len(paths) > MOST_FILES:
            told = ExpectedProblem(
                phrase("{count} files were dropped", count=len(paths)),
                "import",
                phrase("Drop {most_files} at the most.", most_files=MOST_FILES),
            )
            self._failed(told)
            return
        presets = LogPresets(self.session.workspace)
        self._work(lambda: _with_roles(preview_logs(paths, presets)))

    def _work(self, work: Callable[[], Found]) -> None:
        self.session.read(lambda _: work(), self._show, self._failed)

    def default_because(self) -> Because | None:
        return Because(
            "How a log is read", "import",
            "Separator, time format, columns, units and load are found from the log; lines that are no data "
            "are listed.",
            would_change="Naming a column or unit; it is remembered for this heading.",
        )  # fmt: skip

    def _failed(self, error: Exception) -> None:
        if self._found:  # what was read before stays
            self._show(tuple(self._found))
        else:
            self.finished.emit("")
        self.session.report(error)

    def _show(self, found: Found) -> None:
        self._found = list(found)
        self.panels = []
        clear(self._files)
        self.keep.setEnabled(bool(found) and all(isinstance(f, LogPreview) for f in found))
        if not found:
            return
        unread = sum(isinstance(f, UnreadLog) for f in found)
        told = (
            phrase("{logs} needs your input", logs=many(unread, "log"))
            if unread
            else "Check columns, room and conditions, then keep."
        )
        self.set_heading(phrase("{logs} read", logs=many(len(found), "log")), told)
        for index, one in enumerate(found):
            panel = LogPanel(
                one, index == 0, partial(self._again, index), partial(self._join, index), partial(self._said, index)
            )
            self.panels.append(panel)
            self._files.addWidget(panel)
        self.keep_as.box.clear()
        cards, here = self.session.workspace.cards(), self.session.job_id
        for card in (c for c in cards if c.id == here):  # the machine in view is what they are of, until said otherwise
            self.keep_as.box.addItem(say(phrase("runs of {card}", card=card.name)), card.id)
        self.keep_as.box.addItem(say("a new record"), "")
        for card in (c for c in cards if c.id != here):
            self.keep_as.box.addItem(say(phrase("runs of {card}", card=card.name)), card.id)

    def _again(self, index: int, reading: Reading) -> None:
        """Read one file another way; its role stays."""
        found, presets = list(self._found), LogPresets(self.session.workspace)
        old = found[index]
        path = old.log.path if isinstance(old, LogPreview) else old.path

        def work() -> Found:
            (new,) = preview_logs((path,), presets, {path: reading})
            if isinstance(new, LogPreview) and isinstance(old, LogPreview):
                new = replace(new, role=old.role, configuration=old.configuration, stated=old.stated)
            found[index] = new
            return tuple(found)

        self._work(work)

    def _join(self, index: int) -> None:
        found = list(self._found)
        first, second = found[index - 1], found[index]

        def work() -> Found:
            if not isinstance(first, LogPreview):
                raise ExpectedProblem("the log before has to be read first", first.path.name, "Name its columns.")
            path = second.log.path if isinstance(second, LogPreview) else second.path
            log = read_sensor_log(path, reading=replace(second.reading, required=("time",)))
            found[index - 1 : index + 1] = [joined_preview(first, log)]
            return tuple(found)

        self._work(work)

    def _said(self, index: int, changes: dict[str, object]) -> None:
        """Role, configuration or conditions of a log, as a person says."""
        one = self._found[index]
        if isinstance(one, LogPreview):
            self._found[index] = replace(one, **changes)  # type: ignore[arg-type]

    def _keep(self) -> None:
        rooms: dict[str, float | None] = {}
        previews = [f for f in self._found if isinstance(f, LogPreview)]
        try:
            for panel, preview in zip(self.panels, previews, strict=True):
                rooms[preview.log.path.name] = _room(panel.room.text() if panel.room is not None else "", preview)
            if sum(p.role == BEFORE for p in previews) > 1:
                remedy = "Mark one Before, the others After; join those of one run."
                raise ExpectedProblem("two logs are marked Before", "import", remedy)
            job_id = keep_logs(self.session.workspace, tuple(previews), rooms, str(self.keep_as.box.currentData()))
        except Problem as problem:
            self.session.report(problem)
            return
        presets = LogPresets(self.session.workspace)
        for preview in previews:
            presets.remember(preview.log.headers, preview.reading)
        self._found = []
        self.finished.emit(job_id)


def _with_roles(found: Found) -> Found:
    """Before first. Where the names do not single one out as before, it is the first of them; every further log is a
    configuration of its own."""
    read = [f for f in found if isinstance(f, LogPreview)]
    before = [f for f in read if f.role == BEFORE]
    if len(found) > 1 and len(read) == len(found) and len(before) != 1:
        return replace(read[0], role=BEFORE), *(replace(f, role=AFTER) for f in read[1:])
    return tuple(sorted(found, key=lambda f: not isinstance(f, LogPreview) or f.role != BEFORE))


def _room(text: str, preview: LogPreview) -> float | None:
    """A typed room temperature; None leaves the log's own."""
    text = text.strip().replace(",", ".")
    if not text:
        return None
    try:
        value = typed_float(text)
    except ValueError:
        value = float("nan")
    if not -10.0 <= value <= 50.0:
        raise ExpectedProblem(
            phrase("{text!r} is no room temperature", text=text),
            preview.log.path.name,
            "Type degrees Celsius, such as 23.5.",
        )
    logged = preview.log.room_c
    return None if logged is not None and abs(value - logged) < 0.06 else value
