"""The main window: header, rail, stage track, page, Because, Next; commands tie them together."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QMenu,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from brachium.core.figures.theme import SPACE
from brachium.core.job.job import Stage
from brachium.core.units import seconds_left
from brachium.ui.commands import Registry
from brachium.ui.pages.closed_latch import ClosedLatchPage
from brachium.ui.session import Session
from brachium.ui.shell.because_panel import BecausePanel
from brachium.ui.shell.file_actions import FileActions
from brachium.ui.shell.header import Header
from brachium.ui.shell.next_bar import NextBar
from brachium.ui.shell.overlays import Finder, ShortcutSheet
from brachium.ui.shell.page_shelf import PageShelf
from brachium.ui.shell.rail import Rail
from brachium.ui.shell.rail_entries import rail_entries
from brachium.ui.shell.record_actions import RecordActions
from brachium.ui.shell.track import StageTrack
from brachium.ui.shell.window_commands import register_commands
from brachium.ui.theme import theme

if TYPE_CHECKING:
    from brachium.ui.pages.empty_shop import EmptyShopPage
    from brachium.ui.pages.import_log import ImportPage
    from brachium.ui.pages.page import Page
    from brachium.ui.pages.prove import ProvePage
    from brachium.ui.pages.shelf import ShelfPage

NARROW = 1180
PROGRESS_MS = 200
RAIL_MS = 100
FEW_JOBS = 6


class MainWindow(QMainWindow):
    """Opens on the first job. `settings` keeps window, theme and folds."""

    def __init__(self, session: Session, settings: QSettings) -> None:
        super().__init__()
        self.session, self.settings = session, settings
        self.registry = Registry()
        self.records, self.files = RecordActions(self), FileActions(self)
        self.setWindowTitle("Brachium")
        self.setMinimumSize(860, 560)
        self.setAcceptDrops(True)
        self._build()
        register_commands(self)
        self._bind_shortcuts()
        self._connect()
        self._restore()
        jobs = session.workspace.job_ids()
        if jobs:
            wanted = str(settings.value("job", jobs[0]))
            session.select_job(wanted if wanted in jobs else jobs[0])
            session.workspace.compute_stages()
        else:
            self.show_page()
        self._show_rail()
        if jobs:
            self.track.setFocus()
        for text in session.workspace.recovered:
            self.next.show_message(text)

    # -- layout

    def _build(self) -> None:
        self.header, self.rail, self.track = Header(), Rail(), StageTrack()
        self.because, self.next = BecausePanel(), NextBar()
        self.stack = QStackedWidget()
        self.pages = PageShelf(self.session, self.stack)
        self.latch_page = ClosedLatchPage(self.session)
        self.stack.addWidget(self.latch_page)
        self._import_page: ImportPage | None = None
        self._empty_page: EmptyShopPage | None = None
        self._shelf_page: ShelfPage | None = None
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        page_row = QHBoxLayout()
        page_row.setSpacing(0)
        page_row.addWidget(self.stack, 1)
        page_row.addWidget(self.because)
        middle.addWidget(self.track)
        middle.addLayout(page_row, 1)
        centre = QHBoxLayout()
        centre.setSpacing(0)
        centre.addLayout(self._rail_column())
        centre.addLayout(middle, 1)
        whole = QWidget()
        outer = QVBoxLayout(whole)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self.header)
        outer.addLayout(centre, 1)
        outer.addWidget(self.next)
        self.setCentralWidget(whole)

    def _rail_column(self) -> QVBoxLayout:
        """The rail below a line to search it, which shows once there is something to search."""
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("Search machines")
        self.filter.setAccessibleName("Search machines")
        self.filter.setToolTip("Words of name, model, serial or goal; archived machines show too  (Ctrl+F)")
        self.filter.setClearButtonEnabled(True)
        self.filter.setTextMargins(8, 0, 0, 0)
        self.filter.setFixedWidth(SPACE.rail - 1)
        self.filter.textChanged.connect(lambda _: self._show_rail())
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self.filter)
        column.addWidget(self.rail, 1)
        return column

    def search_rail(self) -> None:
        """Put the cursor into the search line."""
        self.fold_rail(False)
        self.filter.show()
        self.filter.setFocus()
        self.filter.selectAll()

    def _connect(self) -> None:
        s = self.session
        self._progress = QTimer(self)
        self._progress.setInterval(PROGRESS_MS)
        self._progress.timeout.connect(self._show_progress)
        self._rail_soon = QTimer(self)
        self._rail_soon.setSingleShot(True)
        self._rail_soon.setInterval(RAIL_MS)
        self._rail_soon.timeout.connect(self._show_rail)
        self.rail.job_chosen.connect(self._rail_job)
        self.rail.page_chosen.connect(self.show_shop_page)
        s.shelf.on_changed.append(self._show_rail)
        self.track.stage_chosen.connect(s.select_stage)
        self.header.find_asked.connect(lambda: self.registry.run("find"))
        self.header.menu_asked.connect(self.show_menu)
        self.next.triggered.connect(lambda _: self.run_command("next"))
        self.next.stop_asked.connect(s.measure.stop)
        s.because_chosen.connect(self.because.show_because)
        s.job_selected.connect(self._job_selected)
        s.stage_selected.connect(self._stage_selected)
        s.job_edited.connect(self._job_edited)
        s.view_arrived.connect(self._view_arrived)
        s.run_started.connect(self._run_started)
        s.run_finished.connect(self._run_finished)
        s.problem_raised.connect(self.next.show_problem)
        s.message_given.connect(self.next.show_message)

    # -- what is shown

    def show_page(self, explain: bool = True) -> None:
        """Show the selected stage, or the closed latch in front of it."""
        job, view = self.session.job(), self.session.view()
        if job is None:
            self._show_empty()
            return
        left_shop, self.shop_page = bool(self.shop_page), ""
        self.track.show()
        if left_shop:
            self._show_rail()
        stage = self.session.stage
        latch = view.latches.get(stage) if view is not None else None
        if latch is not None and not latch.open:
            self.latch_page.show_stage(stage)
            page: Page | ProvePage = self.latch_page
        else:
            page = self.pages[stage]
        page.show_job(job, view)
        changed = self.stack.currentWidget() is not page
        self.stack.setCurrentWidget(page)
        if explain or changed:
            self.session.explain(page.default_because())
        self.track.set_state(stage, view.latches if view is not None else {})

    def _show_empty(self) -> None:
        if self._empty_page is None:
            from brachium.ui.pages.empty_shop import EmptyShopPage

            self._empty_page = EmptyShopPage(
                self.session, self.files.ask_logs, self.records.take_this_machine, self.records.take_by_hand
            )
            self.stack.addWidget(self._empty_page)
        self.track.hide()
        self.stack.setCurrentWidget(self._empty_page)
        self._empty_page.logs.setFocus()

    def _job_selected(self, job_id: str) -> None:
        self.settings.setValue("job", job_id)
        self.track.show()
        self.header.show_job(self.session.job())
        view = self.session.view()
        if view is not None:
            self.session.stage = view.stage
        self._opening = view is None
        self.show_page()
        self._show_rail()

    def _rail_job(self, job_id: str) -> None:
        """A machine chosen in the rail also leaves a page of the shop."""
        if job_id == self.session.job_id:
            self.show_page()
        self.session.select_job(job_id)

    def show_shop_page(self, name: str) -> None:
        """Show a page of the shop in place of a job's stage."""
        if self._shelf_page is None:
            from brachium.ui.pages.shelf import ShelfPage

            self._shelf_page = ShelfPage(self.session)
            self.stack.addWidget(self._shelf_page)
        self.shop_page = name
        self._shelf_page.show_shelf()
        self.track.hide()
        self.stack.setCurrentWidget(self._shelf_page)
        self.session.explain(self._shelf_page.default_because())
        self._show_rail()

    shop_page = ""

    def _stage_selected(self, _: object) -> None:
        """Whoever chose a stage stays there, also when the first view of a job arrives later."""
        self._opening = False
        self.show_page()

    def _job_edited(self, job_id: str) -> None:
        if job_id == self.session.job_id:
            job = self.session.job()
            self.header.show_job(job)
            if job is not None and self.pages.is_current(Stage.TAKE_IN):
                self.pages[Stage.TAKE_IN].show_job(job, self.session.view())
        self._show_rail()

    def _view_arrived(self, job_id: str) -> None:
        if job_id != self.session.job_id:
            self._rail_soon.start()  # many machines may report at once
            return
        self._show_rail()
        view = self.session.view()
        if view is None:
            return
        if self._opening:
            self._opening = False
            self.session.stage = view.stage
        self.next.set_action(view.next)
        elsewhere = self.shop_page or self.stack.currentWidget() is self._import_page
        if not elsewhere or self.stack.currentWidget() is None:
            self.show_page(explain=self.because.because() is None)

    _opening = True

    def _show_rail(self) -> None:
        self.rail.set_entries(rail_entries(self.session, self.filter.text()), self.session.job_id, self.shop_page)
        many_jobs = len(self.session.workspace.job_ids()) > FEW_JOBS
        self.filter.setVisible(
            not self.rail_folded and (many_jobs or bool(self.filter.text()) or self.filter.hasFocus())
        )

    def _show_progress(self) -> None:
        live, active = self.session.measure.live(), self.session.measure.active
        if live is None or active is None:
            return
        p = live.progress
        total = max(p.done_s + p.left_s, 1.0)
        speed = self.session.measure.speed()
        left = seconds_left(p.left_s / speed) if speed else "as fast as it computes"
        name = self.session.workspace.card(active.job_id).name
        self.next.set_running(f"Measuring the {active.role}: {name}",
                              f"session {p.session} of {p.sessions}, {p.phase}, {left}", p.done_s / total)  # fmt: skip

    def _run_started(self, _: object) -> None:
        self._progress.start()
        self._show_rail()
        self.show_page()

    def _run_finished(self, active: object, run: object) -> None:
        self._progress.stop()
        self.next.set_idle()
        complete = getattr(run, "complete", False)
        self.next.show_message(
            "The run is kept." if complete else "The run was stopped; what was sampled is kept as incomplete."
        )
        self._show_rail()
        self.show_page()

    # -- commands

    def run_command(self, command_id: str) -> None:
        reason = self.registry.run(command_id)
        if reason:
            self.next.show_message(reason)

    def _bind_shortcuts(self) -> None:
        for command in self.registry.all():
            action = QAction(command.title, self)
            if command.shortcut:
                action.setShortcut(QKeySequence(command.shortcut))
            action.triggered.connect(lambda _=False, c=command.id: self.run_command(c))
            self.addAction(action)

    def show_menu(self) -> None:
        """The menu folded into the header."""
        menu = QMenu(self)
        for group, commands in self.registry.groups():
            shown = [c for c in commands if c.in_menu]
            if shown:
                menu.addSeparator()
                menu.addSection(group)
            for command in shown:
                action = menu.addAction(f"{command.title}\t{command.shortcut}")
                action.setEnabled(not command.enabled())
                action.triggered.connect(lambda _=False, c=command.id: self.run_command(c))
        button = self.header.menu_button()
        menu.exec(button.mapToGlobal(button.rect().bottomLeft()))

    def show_finder(self) -> Finder:
        """Open the finder over the header; returns it."""
        workspace = self.session.workspace
        jobs = [(c.name, "machine", lambda j=c.id: self.session.select_job(j)) for c in workspace.cards()]
        commands = [
            (c.title, c.shortcut, lambda c=c: self.run_command(c.id)) for c in self.registry.all() if c.id != "find"
        ]
        finder = Finder(self, (*jobs, *commands))
        corner = self.mapToGlobal(self.rect().topRight())
        finder.move(corner.x() - finder.width() - 60, corner.y() + 46)
        finder.show()
        finder.line.setFocus()
        return finder

    def show_keys(self) -> ShortcutSheet:
        sheet = ShortcutSheet(self, self.registry)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def set_dark(self, dark: bool) -> None:
        """Put a theme in force and redraw everything."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply(app, dark)
        self.settings.setValue("dark", dark)
        self.header.retheme()
        self.because.retheme()
        self.show_page(explain=False)
        self.update()

    # -- logs dropped on the window

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls() and all(u.isLocalFile() for u in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.files.open_files(tuple(Path(u.toLocalFile()) for u in event.mimeData().urls()))
        event.acceptProposedAction()

    @property
    def import_page(self) -> ImportPage:
        """The page for dropped logs; built when first needed."""
        if self._import_page is None:
            from brachium.ui.pages.import_log import ImportPage

            self._import_page = ImportPage(self.session)
            self._import_page.finished.connect(self._imported)
            self.stack.addWidget(self._import_page)
        return self._import_page

    def open_logs(self, paths: tuple[Path, ...]) -> None:
        """Read logs and show what was found in them."""
        self.stack.setCurrentWidget(self.import_page)
        self.session.explain(self.import_page.default_because())
        self.import_page.open_files(paths)

    def _imported(self, job_id: str) -> None:
        if self.session.job_id:
            self.stack.setCurrentWidget(self.pages[self.session.stage])
        if job_id and job_id == self.session.job_id:
            self._opening = True
        elif job_id:
            self.session.select_job(job_id)
        self.show_page()

    # -- window state

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        if narrow != self._narrow:
            self._narrow = narrow
            self.fold_rail(narrow)
            self.because.set_folded(narrow)

    _narrow = False

    def fold_rail(self, folded: bool) -> None:
        self.rail_folded = folded
        self.rail.set_folded(folded)
        self._show_rail()
        self.header.set_folded(folded)
        self.next.set_folded(folded)

    rail_folded = False

    def _restore(self) -> None:
        geometry = self.settings.value("geometry")
        if geometry is None or not self.restoreGeometry(geometry):
            self.resize(1280, 800)
        self.because.set_folded(self.settings.value("because_folded", False, bool) is True)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.settings.setValue("geometry", self.saveGeometry())
        self.settings.setValue("because_folded", self.because.folded)
        self.settings.sync()
        self.session.measure.stop()
        if self.session.measure.active is not None:  # what was sampled is kept before the shop closes
            self.session.workspace.lanes.drain("bench")
            QApplication.processEvents()
        super().closeEvent(event)
