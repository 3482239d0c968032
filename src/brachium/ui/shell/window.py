"""The main window: header, rail, stage track, page, Because, Next; commands tie them together."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QSettings, QTimer
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeySequence,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from brachium.core.base.problems import ExpectedProblem, Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import lower_first, many, phrase
from brachium.core.figures.base.theme import SPACE
from brachium.core.record.job import Stage
from brachium.ui.commands import Registry
from brachium.ui.desktop.desktop import this_desktop
from brachium.ui.pages.base.skeleton_page import REASONS, SkeletonPage
from brachium.ui.recent_files import recent_files
from brachium.ui.session import Session
from brachium.ui.shell.because_panel import BecausePanel
from brachium.ui.shell.benches import BenchDisplay
from brachium.ui.shell.entry_pages import EntryPages
from brachium.ui.shell.file_actions import FileActions
from brachium.ui.shell.header import Header
from brachium.ui.shell.next_bar import NextBar
from brachium.ui.shell.rail import Rail
from brachium.ui.shell.rail_entries import rail_entries, shop_entries
from brachium.ui.shell.record_actions import RecordActions
from brachium.ui.shell.rights_line import RightsLine
from brachium.ui.shell.run_display import RunDisplay
from brachium.ui.shell.shop_pages import BY_ID, ShopPages
from brachium.ui.shell.stage_pages import StagePages
from brachium.ui.shell.track import StageTrack
from brachium.ui.shell.window_commands import register_commands
from brachium.ui.theme import theme
from brachium.ui.widgets.labels import RuleLine
from brachium.ui.widgets.tool_tips import tip_text

if TYPE_CHECKING:
    from brachium.ui.pages.base.closed_page import ClosedLatchPage
    from brachium.ui.pages.base.page import Page
    from brachium.ui.pages.prove.prove_page import ProvePage
    from brachium.ui.pages.shop.empty_page import Ways

NARROW = 1180
RAIL_MS = 100
FEW_JOBS = 6


class MainWindow(QMainWindow):
    """Opens on the first job. `settings` keeps window, theme and folds."""

    def __init__(self, session: Session, settings: QSettings) -> None:
        super().__init__()
        self.session, self.settings = session, settings
        self.reopens = False  # whether it closes to open anew in another language
        self.registry = Registry()
        self.records, self.files = RecordActions(session, self), FileActions(session, self, settings)
        self.setWindowTitle(say("Brachium"))
        self.setMinimumSize(860, 560)
        self.setAcceptDrops(True)
        self._build()
        self.desktop = this_desktop()
        self.runs = RunDisplay(session, self.next, self.desktop)
        self.benches = BenchDisplay(session, self.header, self.next)
        register_commands(self)
        self._bind_shortcuts()
        self._connect()
        self._restore()
        unclean = (str(settings.value("open_stage", "")), str(settings.value("open_page", "")))
        jobs = session.workspace.job_ids()
        if jobs:
            wanted = str(settings.value("job", jobs[0]))
            session.select_job(wanted if wanted in jobs else jobs[0])
            self._reopen(unclean)
            session.workspace.compute_stages()
        else:
            self.show_page()
        self.show_rail()
        if jobs:
            self.track.setFocus()
        for text in session.workspace.recovered:
            self.next.show_message(text)

    # -- layout

    def _build(self) -> None:
        self.header, self.rail, self.track = Header(), Rail("Machines"), StageTrack()
        self.shop_rail = Rail("Pages of the shop")
        self.because, self.next = BecausePanel(), NextBar()
        self.stack = QStackedWidget()
        self.pages = StagePages(self.session, self.stack)
        self.shop_pages = ShopPages(self.session, self.stack)
        self.entry_pages = EntryPages(self.session, self.stack)
        self.skeleton = SkeletonPage(self.session)
        self.stack.addWidget(self.skeleton)
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        page_row = QHBoxLayout()
        page_row.setSpacing(0)
        page_row.addWidget(self.stack, 1)
        page_row.addWidget(self.because)
        self.rights = RightsLine(self.session)
        middle.addWidget(self.track)
        middle.addWidget(self.rights)
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

    @cached_property
    def latch_page(self) -> ClosedLatchPage:
        """What stands in place of a stage that is not open, built when one is first shown."""
        from brachium.ui.pages.base.closed_page import ClosedLatchPage

        page = ClosedLatchPage(self.session)
        self.stack.addWidget(page)
        return page

    def _rail_column(self) -> QVBoxLayout:
        """The rail below a line to search it, which shows once there is something to search."""
        self.filter = QLineEdit()
        self.filter.setPlaceholderText(say("Search machines"))
        self.filter.setAccessibleName(say("Search machines"))
        self.filter.setToolTip(tip_text("Name, model, serial or goal  (Ctrl+F)"))
        self.filter.setClearButtonEnabled(True)
        self.filter.setTextMargins(8, 0, 0, 0)
        self.filter.setFixedWidth(SPACE.rail - 1)
        self.filter.textChanged.connect(lambda _: self.show_rail())
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self.filter)
        column.addWidget(self.rail, 1)
        column.addWidget(RuleLine())
        column.addWidget(self.shop_rail)
        return column

    def search_rail(self) -> None:
        """Put the cursor into the search line."""
        self.fold_rail(False)
        self.filter.show()
        self.filter.setFocus()
        self.filter.selectAll()

    def _connect(self) -> None:
        s = self.session
        self._rail_soon = QTimer(self)
        self._rail_soon.setSingleShot(True)
        self._rail_soon.setInterval(RAIL_MS)
        self._rail_soon.timeout.connect(self.show_rail)
        self.rail.job_chosen.connect(self._rail_job)
        self.shop_rail.page_chosen.connect(self.show_shop)
        s.shelf.on_changed.append(self.show_rail)
        self.track.stage_chosen.connect(s.select_stage)
        self.header.find_asked.connect(lambda: self.registry.run("find"))
        self.header.clashes_asked.connect(lambda: self.run_command("clashes"))
        s.benches_changed.connect(self._rail_soon.start)
        self.header.menu_asked.connect(lambda: self.registry.run("menu"))
        self.next.triggered.connect(lambda _: self.run_command("next"))
        s.because_chosen.connect(self.because.show_because)
        s.job_selected.connect(self._job_selected)
        s.stage_selected.connect(self._stage_selected)
        s.job_edited.connect(self._job_edited)
        s.view_arrived.connect(self._view_arrived)
        s.problem_raised.connect(self.next.show_problem)
        s.saving_changed.connect(self._saving_changed)
        s.message_given.connect(self.next.show_message)
        s.practice_asked.connect(self.records.practise)
        s.look_asked.connect(self.set_look)
        s.language_asked.connect(self.set_language)
        QGuiApplication.styleHints().colorSchemeChanged.connect(lambda _: self._follow_system())
        s.watch.found.connect(lambda paths: self.files.take_in(paths, quiet=True))
        s.watch.failed.connect(s.report)
        self.files.logs_given.connect(self.entry_pages.open_logs)
        self.records.line_wanted.connect(self._ask_line)
        self.entry_pages.imported.connect(self._imported)
        self.runs.changed.connect(self.show_rail)
        self.runs.changed.connect(self.show_page)

    # -- what is shown

    def show_page(self, explain: bool = True) -> None:
        """Show the selected stage, or the closed latch in front of it."""
        job, view = self.session.job(), self.session.view()
        if job is None:
            self.track.hide()
            self.next.set_words("Take the first machine in", "by one line, from this PC, or with the probe")
            self.entry_pages.show_empty(self._ways)
            return
        left_shop, self.shop_pages.shown = bool(self.shop_pages.shown), ""
        self.track.show()
        self.next.set_whose("")
        if left_shop:
            self.header.show_job(job)
            self.show_rail()
        stage = self.session.stage
        latch = view.standing.latches.get(stage) if view is not None else None
        if latch is not None and not latch.open:
            self.latch_page.show_stage(stage)
            page: Page | ProvePage = self.latch_page
        elif view is None and stage in REASONS:
            self.skeleton.show_stage(stage)
            page = self.skeleton
        else:
            page = self.pages[stage]
        page.show_job(job, view)
        changed = self.stack.currentWidget() is not page
        self.stack.setCurrentWidget(page)
        if explain or changed:
            self.session.explain(page.default_because())
        self.track.set_state(stage, view.standing.latches if view is not None else {})
        self.rights.show_stage(stage, page)

    def show_shop(self, page_id: str) -> None:
        """Show a page of the shop in place of the stage."""
        self.track.hide()
        self.shop_pages.show(page_id)
        self.rights.show_shop(page_id, self.shop_pages.page(page_id))
        self.header.show_shop(lower_first(BY_ID[page_id].title))
        job = self.session.job()
        self.next.set_whose(job.name if job is not None else "")
        self.show_rail()
        self._remember_place()

    def _ways(self) -> Ways:
        """How the first machine comes in."""
        from brachium.ui.pages.shop.empty_page import Ways

        return Ways(self.records.take_by_line, self.records.take_this_machine, self.files.ask_import,
                    self.files.open_files, lambda: recent_files(self.settings))  # fmt: skip

    def _ask_line(self) -> None:
        """The cursor stands in the quick line of a record that was just made."""
        from brachium.ui.pages.take_in.take_in_page import TakeInPage

        page = self.pages[Stage.TAKE_IN]
        assert isinstance(page, TakeInPage)
        page.show_job(self.session.workspace.job(self.session.job_id), self.session.view())
        page.ask_line()

    def _imported(self, job_id: str) -> None:
        """Dropped logs are taken in, or left."""
        if self.session.job_id:
            self.stack.setCurrentWidget(self.pages[self.session.stage])
        if job_id and job_id == self.session.job_id:
            self.opening = True
        elif job_id:
            self.session.select_job(job_id)
        self.show_page()

    def _saving_changed(self, unsaved: int) -> None:
        """What waits for the disk stands in the header until it is there."""
        self.header.show_unsaved(unsaved, self.session.workspace.writes.why)
        if not unsaved:
            self._asked_to_close = False
            self.next.clear_message()
            self.next.show_message("Everything is saved again.")

    def _job_selected(self, job_id: str) -> None:
        self.settings.setValue("job", job_id)
        self.track.show()
        self.header.show_job(self.session.job())
        view = self.session.view()
        card = self.session.workspace.card(job_id)
        if view is not None:
            self.session.stage = view.standing.stage
        elif card.stage:  # where it stood last; what that needs is on its way
            self.session.stage = Stage(card.stage)
        self.opening = view is None
        self.next.set_action(view.standing.next if view is not None else None)
        self.show_page()
        self.show_rail()

    def _rail_job(self, job_id: str) -> None:
        """A machine chosen in the rail also leaves a page of the shop."""
        if job_id == self.session.job_id:
            self.show_page()
        self.session.select_job(job_id)

    def _stage_selected(self, _: object) -> None:
        """Whoever chose a stage stays there, also when the first view of a job arrives later."""
        self.opening = False
        self.show_page()
        self._remember_place()

    def _job_edited(self, job_id: str) -> None:
        if job_id == self.session.job_id:
            job = self.session.job()
            self.header.show_job(job)
            if job is not None and self.pages.is_current(Stage.TAKE_IN):
                self.pages[Stage.TAKE_IN].show_job(job, self.session.view())
        self.show_rail()

    def _view_arrived(self, job_id: str) -> None:
        if job_id != self.session.job_id:
            self._rail_soon.start()  # many machines may report at once
            return
        self.show_rail()
        view = self.session.view()
        if view is None:
            return
        if self.opening:
            self.opening = False
            self.session.stage = view.standing.stage
        self.next.set_action(view.standing.next)
        if not self.shop_pages.shown and not self.entry_pages.in_view():
            self.show_page(explain=self.because.because() is None)

    opening = True

    def show_rail(self) -> None:
        shop = self.shop_pages.shown
        self.rail.set_entries(rail_entries(self.session, self.filter.text()), "" if shop else self.session.job_id)
        self.shop_rail.set_entries(shop_entries(self.session), "", shop)
        self.shop_rail.setFixedHeight(self.shop_rail.wanted_height() + 2)
        many_jobs = len(self.session.workspace.job_ids()) > FEW_JOBS
        self.filter.setVisible(
            not self.rail_folded and (many_jobs or bool(self.filter.text()) or self.filter.hasFocus())
        )

    def _reopen(self, unclean: tuple[str, str]) -> None:
        """After a crash: the stage or page of the shop that was in view. A window that was closed leaves no trace."""
        stage, page = unclean
        known = {s.name: s for s in Stage}
        if stage in known:
            self.session.select_stage(known[stage])
        if page in BY_ID:
            self.show_shop(page)

    def _remember_place(self) -> None:
        self.settings.setValue("open_stage", self.session.stage.name)
        self.settings.setValue("open_page", self.shop_pages.shown)
        self.settings.sync()

    # -- commands

    def run_command(self, command_id: str) -> None:
        try:
            reason = self.registry.run(command_id)
        except Problem as problem:
            self.session.report(problem)
            return
        if reason:
            self.next.show_message(reason)

    def _bind_shortcuts(self) -> None:
        for command in self.registry.all():
            action = QAction(say(command.title), self)
            if command.shortcut:
                action.setShortcut(QKeySequence(command.shortcut))
            action.triggered.connect(lambda _=False, c=command.id: self.run_command(c))
            self.addAction(action)

    def _follow_system(self) -> None:
        if theme.look() == theme.SYSTEM:
            self.set_look(theme.SYSTEM)

    def set_language(self, code: str) -> None:
        """Open the window anew in a language; not while something is measured, which closing would stop."""
        if self.session.measure.active is not None:
            words = ExpectedProblem("a run is being measured", "", "Change the language when it is done.")
            self.next.show_problem(words)
            return
        self.reopens = self.close()
        if self.reopens:
            self.settings.setValue("language", code)
            self._remember_place()  # the window that opens next stands where this one stood

    def set_look(self, look: str) -> None:
        """Put a look in force and redraw everything."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.apply(app, look)
        self.settings.setValue("look", look)
        self.header.retheme()
        self.because.retheme()
        if self.shop_pages.shown:
            self.show_shop(self.shop_pages.shown)
        else:
            self.show_page(explain=False)
        self.update()

    # -- logs dropped on the window

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls() and all(u.isLocalFile() for u in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.files.open_files(tuple(Path(u.toLocalFile()) for u in event.mimeData().urls()))
        event.acceptProposedAction()

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
        self.shop_rail.set_folded(folded)
        self.show_rail()
        self.header.set_folded(folded)
        self.next.set_folded(folded)

    rail_folded = False
    _asked_to_close = False

    def _restore(self) -> None:
        geometry = self.settings.value("geometry")
        if not isinstance(geometry, QByteArray) or not self.restoreGeometry(geometry):
            self.resize(1280, 800)  # never kept, or something else stands there
        self.because.set_folded(str(self.settings.value("because_folded", "")).lower() == "true")

    def closeEvent(self, event: QCloseEvent) -> None:
        unsaved = self.session.workspace.writes.unsaved
        if unsaved and not self._asked_to_close and not self.session.workspace.outbox.journals:
            self._asked_to_close = True
            self.session.workspace.writes.flush()
            self.next.show_problem(
                ExpectedProblem(
                    phrase("{edits} not saved", edits=many(unsaved, "edit")),
                    "",
                    "Free some space, or close again to give them up.",
                )
            )
            event.ignore()
            return
        self.settings.setValue("geometry", self.saveGeometry())
        for key in ("open_stage", "open_page"):  # what is left there tells the next start of a crash
            self.settings.remove(key)
        self.settings.setValue("because_folded", self.because.folded)
        self.settings.sync()
        self.session.measure.stop()
        if self.session.measure.active is not None:  # what was sampled is kept before the shop closes
            self.session.workspace.lanes.drain("bench")
            QApplication.processEvents()
        super().closeEvent(event)
