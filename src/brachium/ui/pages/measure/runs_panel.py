"""All runs of a machine: what each was, compared two or more at a time, voided with a reason, written for others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from brachium.app.files.run_export import export_run
from brachium.app.view.listed_runs import listed_runs
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase, upper_first
from brachium.core.base.units import percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.measure.conditions import in_words
from brachium.core.measure.dates import date_doubts
from brachium.core.measure.run import Run
from brachium.core.measure.typed_runs import is_typed
from brachium.core.record.job import Job
from brachium.formats.ids import file_stem
from brachium.store.edits import StoredRun
from brachium.ui.pages.measure.comparison_sheet import ComparisonSheet
from brachium.ui.pages.measure.trace_sheet import TraceSheet
from brachium.ui.session import Session
from brachium.ui.theme import theme
from brachium.ui.widgets.labels import button, label
from brachium.ui.widgets.tool_tips import tip_text

HEADINGS = ("Kept as", "Configuration", "Taken", "Protocol", "Sessions", "Room", "State")


class RunsPanel(QWidget):
    """Several rows may be chosen; the earliest is what the others are compared with."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._doubts: dict[str, str] = {}
        self._session = session
        self._runs: tuple[StoredRun, ...] = ()
        self._job: Job | None = None
        self._shown: object = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(8)
        self._words = label("", "soft", True)
        layout.addWidget(self._words)
        self.table = QTableWidget(0, len(HEADINGS))
        self.table.setHorizontalHeaderLabels([say(h) for h in HEADINGS])
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setShowGrid(False)
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(32)
        header = self.table.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        header.setHighlightSections(False)
        for column in range(len(HEADINGS)):
            wide = column in (1, 6)
            mode = QHeaderView.ResizeMode.Stretch if wide else QHeaderView.ResizeMode.ResizeToContents
            header.setSectionResizeMode(column, mode)
        self.table.itemSelectionChanged.connect(self._selected)
        self.table.setAccessibleName(say("Runs of this machine"))
        layout.addWidget(self.table, 1)
        layout.addLayout(self._actions())

    def _actions(self) -> QVBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        self.compare = button("Compare", self._compare, "primary", "The earliest against each of the others")
        self.conditions = button("Same conditions again", self._same_conditions, "",
                                 "Protocol, room and folder for the next one")  # fmt: skip
        self.export = button("Write to a file…", self._ask_export, "", "JSON all; CSV traces; SVG a picture")
        self.reason = QLineEdit()
        self.reason.setPlaceholderText(say("why void"))
        self.reason.setAccessibleName(say("Why the run does not count"))
        self.reason.textChanged.connect(lambda _: self._selected())
        self.reason.returnPressed.connect(self._void)
        self.void = button("Void it", self._void, "", "It stays listed with your reason")
        self.closer = button("Look closer", self._look, "", "Everything sampled, to zoom into")
        for widget in (self.compare, self.closer, self.conditions, self.export):
            row.addWidget(widget)
        row.addStretch(1)
        below = QHBoxLayout()
        below.setSpacing(8)
        below.addWidget(self.reason, 1)
        below.addWidget(self.void)
        both = QVBoxLayout()
        both.setSpacing(8)
        both.addLayout(row)
        both.addLayout(below)
        return both

    def show_job(self, job: Job) -> None:
        arrived = self._session.workspace.all_runs(job.id)
        self._doubts = date_doubts([s.run for s in arrived])
        runs = by_configuration(listed_runs(job, arrived))
        state = (job.id, tuple((s.role, s.run.id, s.run.void_reason) for s in runs), job.own_tests, job.own_results)
        if state == self._shown:
            return
        self._shown, self._job, self._runs = state, job, runs
        self.table.setRowCount(len(runs))
        last = None
        for row, stored in enumerate(runs):
            group = (stored.role, stored.run.configuration)
            whole = _cells(stored, self._doubts.get(stored.run.id, ""))
            cells = whole if group != last else ("", "", *whole[2:])
            last = group
            for column, text in enumerate(cells):
                item = QTableWidgetItem(say(text))
                item.setToolTip(tip_text(text))
                if stored.run.void_reason:
                    item.setForeground(theme.qcolor("soft"))
                self.table.setItem(row, column, item)
        counted = sum(not s.run.void_reason and s.run.complete for s in runs)
        self._words.setText(
            say(
                phrase(
                    "{runs}, {counted} count. Choose two or more.",
                    runs=many(len(runs), "run"),
                    counted=counted,
                )
                if runs
                else "No runs yet."
            )
        )
        if runs and not self.table.selectedItems():
            self.table.selectRow(len(runs) - 1)
        self._selected()

    def chosen(self) -> tuple[StoredRun, ...]:
        """The chosen runs by the time they were taken."""
        rows = sorted({i.row() for i in self.table.selectedItems()})
        return tuple(self._runs[r] for r in rows if r < len(self._runs))

    def because(self) -> Because | None:
        """What the one chosen run was taken under."""
        chosen = self.chosen()
        return run_because(chosen[0], self._doubts.get(chosen[0].run.id, "")) if len(chosen) == 1 else None

    def _selected(self) -> None:
        chosen = self.chosen()
        one = chosen[0].run if len(chosen) == 1 else None
        self.compare.setEnabled(len(chosen) >= 2)
        self.compare.setText(say(phrase("Compare {count} runs", count=len(chosen)) if len(chosen) >= 2 else "Compare"))
        sampled = all(s.run.sessions and s.run.sessions[0].trace.time_s.size > 2 for s in chosen)
        self.closer.setEnabled(1 <= len(chosen) <= 2 and sampled)
        self.export.setEnabled(one is not None)
        typed = one is not None and is_typed(one)
        self.conditions.setEnabled(one is not None and not typed)
        self.reason.setEnabled(one is not None and not one.void_reason and not typed)
        self.reason.setPlaceholderText(say("left out under Own tests, one by one" if typed else "why void"))
        self.void.setEnabled(self.reason.isEnabled() and bool(self.reason.text().strip()))
        if one is not None and self.isVisible():
            self._session.explain(run_because(chosen[0], self._doubts.get(chosen[0].run.id, "")))

    def _compare(self) -> ComparisonSheet:
        runs = [s.run for s in self.chosen()]
        limit = self._job.machine.processor.limit_c if self._job is not None else None
        sheet = ComparisonSheet(self.window(), self._session, runs, limit)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _look(self) -> TraceSheet:
        sheet = TraceSheet(self.window(), self._session, [s.run for s in self.chosen()])
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def _same_conditions(self) -> None:
        """What can be set for the next run is set; what only a person can do is said."""
        job, chosen = self._session.job(), self.chosen()
        if job is None or not chosen:
            return
        run = chosen[0].run
        key = run.protocol.name.lower()
        protocol = key if key in ("quick", "standard") else job.setup.protocol
        setup = replace(job.setup, protocol=protocol, room_c=run.conditions.room_c)
        self._session.edit("conditions taken over", replace(job, setup=setup))
        c = run.conditions
        todo = [
            phrase("start from {boot_medium}", boot_medium=c.boot_medium) if c.boot_medium else "",
            phrase("power profile {power_profile}", power_profile=c.power_profile) if c.power_profile else "",
            phrase("room near {room_c:.0f} °C", room_c=c.room_c) if c.room_c is not None else "",
            "case closed" if c.panel_on else "",
        ]
        self._session.say("Taken over. See to it yourself: " + joined(", ", (t for t in todo if t)) + ".")

    def _ask_export(self) -> None:
        run = self.chosen()[0].run
        start = str(Path.home() / f"{file_stem(run.id)}.brachium.json")
        kinds = "Run file (*.json);;Traces (*.csv);;Picture (*.svg)"
        name, _ = QFileDialog.getSaveFileName(self, say("Write the run"), start, say(kinds))
        if name:
            self.export_to(run, Path(name))

    def export_to(self, run: Run, path: Path) -> None:
        """Write off the window's thread."""
        limit = self._job.machine.processor.limit_c if self._job is not None else None
        colours = theme.colours()
        self._session.workspace.lanes.submit(
            "compute", lambda: export_run(run, path, limit, colours), self._written, self._session.report
        )

    def _written(self, paths: Sequence[Path]) -> None:
        self._session.say(phrase("Written: {paths}.", paths=joined(", ", (p.name for p in paths))))

    def _void(self) -> None:
        job, chosen, reason = self._session.job(), self.chosen(), self.reason.text().strip()
        if job is not None and len(chosen) == 1 and reason and not chosen[0].run.void_reason:
            self.reason.clear()
            self._session.workspace.void_run(job.id, chosen[0].run.id, reason)
            self._session.say("Voided: listed, no longer counted.")
            self.show_job(job)


def by_configuration(runs: Sequence[StoredRun]) -> tuple[StoredRun, ...]:
    """Runs of one configuration together, in the order in which they arrived; a date that lies moves none of them."""
    order = list(dict.fromkeys((stored.role, stored.run.configuration) for stored in runs))
    return tuple(sorted(runs, key=lambda s: order.index((s.role, s.run.configuration))))


def _cells(stored: StoredRun, doubt: str = "") -> tuple[str, ...]:
    run = stored.run
    date = f"{run.taken_at or 'no date'} (?)" if doubt else run.taken_at
    room = phrase("{room_c:.1f} °C", room_c=run.conditions.room_c) if run.conditions.room_c is not None else "not known"
    state = (
        phrase("void: {void_reason}", void_reason=run.void_reason)
        if run.void_reason
        else "counts"
        if run.complete
        else "incomplete, stopped"
    )
    return stored.role, run.configuration, date, run.protocol.name, str(len(run.sessions)), room, state


def run_because(stored: StoredRun, doubt: str = "") -> Because:
    """What a run was taken under."""
    run, c = stored.run, stored.run.conditions
    words = {
        **in_words(c),
        "room": phrase("{room_c:.1f} °C {room_note}", room_c=c.room_c, room_note=c.room_note)
        if c.room_c is not None
        else "",
        "free space": percent(c.free_space_frac) if c.free_space_frac is not None else "",
    }
    facts = tuple(Fact(name, value, Origin.MEASURED) for name, value in words.items() if value)
    checks = tuple(phrase("{title}: {detail}.", title=k.title, detail=k.detail) for k in run.checks)
    lost = sum(not r.valid for s in run.sessions for r in s.repeats)
    notes = (
        *((phrase("{doubt}.", doubt=upper_first(doubt)),) if doubt else ()),
        *checks,
        *((phrase("{repeats} left out, each with its reason.", repeats=many(lost, "repeat")),) if lost else ()),
        *run.notes[:6],
    )
    title = phrase("{role}-run of {taken_at}", role=stored.role.capitalize(), taken_at=run.taken_at)
    return Because(title, run.protocol.name, phrase("Origin: {origin}.", origin=run.origin), facts, "", "", notes)
