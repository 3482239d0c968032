"""The first page: what the program does for a machine, three ways to take one in, the demo shop, recent files."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout

from brachium.app.demo.demo_shop import add_demo_jobs
from brachium.core.base.problems import from_os_error
from brachium.core.base.spoken import say
from brachium.core.base.text import phrase
from brachium.core.figures.work.stages_figure import stages_figure
from brachium.ui.pages.base.page import Page
from brachium.ui.session import Session
from brachium.ui.widgets.labels import RuleLine, button, clear, label, paragraph

EXAMPLE = "laptop; 4gb ddr3l; 500gb hdd; 35w"
ON_STICK = "Start it from a live system, run the probe, drop its run file here."
LOGS = "Logs, run files and archives can be dropped here. Nothing leaves this computer."


@dataclass(frozen=True)
class Ways:
    """What the page asks the window for: a record by one line, this PC, files by dialog or by name."""

    by_line: Callable[[str], object]
    this_pc: Callable[[], object]
    ask_files: Callable[[], object]
    open_files: Callable[[tuple[Path, ...]], object]
    recent: Callable[[], tuple[Path, ...]]


class EmptyShopPage(Page):
    """Shown while the shop has no machine; the first one that comes in replaces it."""

    def __init__(self, session: Session, ways: Ways) -> None:
        self._ways = ways
        super().__init__(session)

    def build(self) -> None:
        self.set_heading("Take the first machine in", "")
        self.stages = self.figure()
        self.stages.fits_height = True
        self.stages.show_selection = False
        self.stages.set_builder(lambda w, h: stages_figure(w))
        self.body.addSpacing(6)
        self.body.addWidget(self.stages)
        self.body.addSpacing(14)
        self.body.addWidget(RuleLine())
        self.body.addSpacing(10)
        columns = QHBoxLayout()
        columns.setSpacing(28)
        for column in (self._by_line(), self._this_pc(), self._on_a_stick()):
            column.addStretch(1)
            columns.addLayout(column, 1)
        self.body.addLayout(columns)
        self.body.addSpacing(10)
        self.body.addWidget(RuleLine())
        self.body.addSpacing(6)
        self.body.addLayout(self._below())
        self._recent = QVBoxLayout()
        self.body.addLayout(self._recent)
        self.body.addStretch(1)

    def _by_line(self) -> QVBoxLayout:
        column = _way("By hand, in one line", "What labels and owner say, in any order.")
        self.line = QLineEdit()
        self.line.setPlaceholderText(say(EXAMPLE))
        self.line.setAccessibleName(say("The machine in one line"))
        self.line.returnPressed.connect(self._record)
        column.addWidget(self.line)
        self.hand = button("Take it in", self._record, "primary", "Makes a record, also of an empty line")
        column.addLayout(_left(self.hand))
        return column

    def _this_pc(self) -> QVBoxLayout:
        column = _way("This PC", "Scans and measures it here, without a stick.")
        self.this = button("Check in this PC", self._ways.this_pc, "", "Scans and measures the machine you sit at")
        column.addLayout(_left(self.this))
        return column

    def _on_a_stick(self) -> QVBoxLayout:
        column = _way("The probe on a stick", ON_STICK)
        self.probe = button("Write the probe…", self._ask_stick, "", "Some 100 kB; Python 3.8 and newer")
        column.addLayout(_left(self.probe))
        return column

    def _below(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(paragraph(LOGS, "soft"), 1)
        self.logs = button("Open files…", self._ways.ask_files)
        self.demo = button("Look at the demo shop", self._add_demo, "", "Eight machines of an invented radio station")
        row.addWidget(self.logs)
        row.addWidget(self.demo)
        return row

    def show_ways(self) -> None:
        """Fresh each time it is shown: recent files may be gone."""
        clear(self._recent)
        found = self._ways.recent()
        if found:
            self._recent.addSpacing(8)
            self._recent.addWidget(label("Files taken in last", "section"))
        for path in found:
            one = button(path.name, partial(self._ways.open_files, (path,)), "quiet", str(path))
            self._recent.addLayout(_left(one))
        self.line.setFocus()

    def _record(self) -> None:
        self._ways.by_line(self.line.text().strip())
        self.line.clear()

    def _ask_stick(self) -> None:
        name = QFileDialog.getExistingDirectory(self, say("The stick, or a folder"), str(Path.home()))
        if name:
            self.write_probe(Path(name))

    def write_probe(self, folder: Path) -> None:
        """Write the probe into a folder and say how it is started."""
        from brachium_probe.pack import NAME, pack

        def failed(error: Exception) -> None:
            self.session.report(from_os_error(error, str(folder)) if isinstance(error, OSError) else error)

        done = phrase("{name} is in {folder}. On the machine: python3 {name} --room 22.5", name=NAME, folder=folder)
        lanes = self.session.workspace.lanes  # a stick may be slow
        lanes.submit("watch", lambda: pack(str(folder)), lambda _: self.session.say(done), failed)

    def _add_demo(self) -> None:
        job_id = add_demo_jobs(self.session.workspace)
        self.session.select_job(job_id)


def _way(title: str, words: str) -> QVBoxLayout:
    column = QVBoxLayout()
    column.setSpacing(8)
    column.addWidget(label(title, "title"))
    column.addWidget(paragraph(words, "soft"))
    return column


def _left(widget: object) -> QHBoxLayout:
    row = QHBoxLayout()
    row.addWidget(widget)  # type: ignore[arg-type]
    row.addStretch(1)
    return row
