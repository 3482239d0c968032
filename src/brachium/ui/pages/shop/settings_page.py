"""Settings of the shop: look, the folder that is watched, where everything is kept."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout

from brachium.app.shared.bench_name import LONGEST, bench_name, clean_name, keep_bench_name
from brachium.app.shared.bench_rights import ROLE_WORDS, owner_problem
from brachium.core.base.own_words import OwnWords
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase, upper_first
from brachium.core.base.why import Because, Fact, Origin
from brachium.formats.limits import read_text
from brachium.formats.reference_table import parse_table
from brachium.formats.shop_documents import REFERENCE_TABLE
from brachium.speech.languages import SYSTEM, language_names
from brachium.store.backups import backup, copies
from brachium.ui import window_language
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.shop.shop_rules_panel import ShopRulesPanel
from brachium.ui.theme import theme
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, label, row_of
from brachium.ui.widgets.setting_group import SettingGroup
from brachium.ui.widgets.tool_tips import tip_text

LOOKS = (("system", "As the system"), ("light", "Light"), ("dark", "Dark"), ("contrast", "High contrast"))


class SettingsPage(Page):
    """A page of the shop; everything holds from the moment it is set."""

    def build(self) -> None:
        self.search = QLineEdit()
        self.search.setPlaceholderText(say("Find a setting"))
        self.search.setAccessibleName(say("Find a setting"))
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(220)
        self.search.textChanged.connect(lambda _: self._filter())
        self._heading_row.addWidget(self.search)
        self.rules = ShopRulesPanel(self.session)
        self.groups = (
            self._look(), self._language(), self._bench(), self._watched_folder(), self._kept(), self._reference(),
            self.rules.rules, self.rules.money, self.rules.reports, self.rules.tables,
        )  # fmt: skip
        self._of_the_shop = (self.groups[3], *self.groups[5:])
        columns = QHBoxLayout()
        columns.setSpacing(32)
        for some in (self.groups[:6], self.groups[6:]):
            column = QVBoxLayout()
            column.setSpacing(0)
            for group in some:
                column.addWidget(group)
            column.addStretch(1)
            columns.addLayout(column, 1)
        self.body.addSpacing(8)
        self.body.addLayout(columns)
        self._none = label("No setting holds these words.", "soft")
        self._none.hide()
        self.body.addWidget(self._none)
        self.body.addStretch(1)
        self.session.watch.changed.connect(self.show_shop)

    def _filter(self) -> None:
        """Only groups that hold every word that is looked for."""
        words = self.search.text().lower().split()
        shown = [g for g in self.groups if g.holds(words)]
        for group in self.groups:
            group.setVisible(group in shown)
        self._none.setVisible(not shown)

    def _look(self) -> SettingGroup:
        group = SettingGroup("Look", "theme colours dark light contrast")
        self.look = Switch(LOOKS, self.session.look_asked.emit, "Look")
        group.body.addWidget(self.look)
        return group

    def _language(self) -> SettingGroup:
        group = SettingGroup("Language", "language sprache langue english deutsch français")
        choices = [(SYSTEM, "As the system"), *language_names().items()]
        self.language = Switch(choices, self.session.language_asked.emit, "Language")
        group.body.addWidget(self.language)
        return group

    def _bench(self) -> SettingGroup:
        group = SettingGroup("This bench", "name benches several role")
        self.bench = QLineEdit()
        self.bench.setAccessibleName(say("What this bench is called"))
        self.bench.setMaxLength(LONGEST)
        self.bench.setFixedWidth(220)
        self.bench.setToolTip(tip_text("Stands beside every edit made here; from the next start on"))
        self.bench.editingFinished.connect(self._name_bench)
        self._role = label("", "soft", True)
        group.body.addWidget(self.bench)
        group.body.addWidget(self._role)
        return group

    def _name_bench(self) -> None:
        name = clean_name(self.bench.text())
        if name == bench_name():
            return
        try:
            keep_bench_name(name)
        except Problem as problem:
            self.session.report(problem)
            return
        self.session.say(phrase("From the next start on this bench is called {bench}.", bench=OwnWords(bench_name())))

    def _watched_folder(self) -> SettingGroup:
        group = SettingGroup("Watched folder", "stick probe runs")
        self._watched = label("", "", True, selectable=True)
        self._state = label("", "soft", True)
        self.choose = button("Choose a folder…", self._choose, "", "The folder itself, not those below")
        self.stop = button("Stop watching", lambda: self.session.watch.set_folder(None), "quiet")
        group.body.addWidget(self._watched)
        group.body.addWidget(self._state)
        group.body.addLayout(row_of(self.choose, self.stop))
        return group

    def _kept(self) -> SettingGroup:
        group = SettingGroup("Where it is kept", "backup shop file")
        self._file = label("", "", True, selectable=True)
        self._backups = label("", "soft", True)
        self.backup = button("Make a backup now", self._back_up)
        group.body.addWidget(self._file)
        group.body.addWidget(self._backups)
        group.body.addLayout(row_of(self.backup))
        return group

    def _reference(self) -> SettingGroup:
        group = SettingGroup("Reference table", "results of other machines")
        self._table = label("", "soft", True)
        self.table = button("Read a table…", self._ask_table, "", "CSV with the columns hardware, test, value")
        self.no_table = button("Forget it", lambda: self._keep_table(""), "quiet")
        group.body.addWidget(self._table)
        group.body.addLayout(row_of(self.table, self.no_table))
        return group

    def show_shop(self) -> None:
        """Show everything as it is now."""
        shared = self.session.workspace.shared
        self.set_heading(
            "Settings", "What is edited goes to the shop's server." if shared else "Nothing leaves this computer."
        )
        self.look.show_value(theme.look())
        self.language.show_value(window_language.chosen())
        self.rules.show_shop()
        folder = self.session.watch.folder
        self._watched.setText(say(str(folder) if folder is not None else "No folder is watched."))
        self._state.setText(say(_state_words(folder, self.session.watch.there)))
        self.stop.setVisible(folder is not None)
        table = self.session.workspace.kept(REFERENCE_TABLE)
        self.no_table.setVisible(bool(table))
        lines = max(table.count("\n"), 1) - 1 if table else 0
        known = phrase("{lines} kept; machines of the shop count too.", lines=many(lines, "line"))
        none = "Four machines with one processor make a reference."
        self._table.setText(say(known if table else none))
        self._show_bench()
        path = self.session.workspace.database.path
        self._file.setText(self.session.workspace.database.shown)
        kept = list(copies(path))
        self.backup.setVisible(not self.session.workspace.shared)
        self._backups.setText(
            say(
                "On a server, which makes its own backups; `brachium shop copy` makes a file of it."
                if self.session.workspace.shared
                else phrase(
                    "{backups} beside it, the last is {name}.", backups=many(len(kept), "backup"), name=kept[0].name
                )
                if kept
                else "No backup yet; one is made every day."
            )
        )

    def _show_bench(self) -> None:
        workspace = self.session.workspace
        self.bench.setText(bench_name())
        words = phrase("In this shop now: {bench}, {role}.", bench=OwnWords(workspace.bench_name),
                       role=ROLE_WORDS[workspace.database.role])  # fmt: skip
        closed = owner_problem(workspace.database.role)
        why = phrase("{reason}.", reason=upper_first(closed)) if closed else ""
        self._role.setText(say(joined(" ", (s for s in (words, why) if s))))
        for group in self._of_the_shop:
            group.setEnabled(not closed)
            group.setToolTip(tip_text(closed))

    def default_because(self) -> Because:
        path = self.session.workspace.database.path
        size = sum(p.stat().st_size for p in (path, path.with_name(f"{path.name}-wal")) if p.exists())
        if self.session.workspace.shared:
            return Because(
                "A server holds the shop", "storage",
                "Every edit is sent at once and seen at the other benches. While the server is away edits wait here.",
                (Fact("shop", self.session.workspace.database.shown, Origin.COMPUTED),),
            )  # fmt: skip
        return Because(
            "One file holds the shop", "storage",
            "Every edit is written at once. A backup is a whole copy that opens like the file.",
            (Fact("shop file", path.name, Origin.COMPUTED),
             Fact("size", phrase("{size:.1f} MB", size=size / 1000000.0), Origin.COMPUTED)),
        )  # fmt: skip

    def _choose(self) -> None:
        start = str(self.session.watch.folder or Path.home())
        name = QFileDialog.getExistingDirectory(self, say("Folder to watch"), start)
        if name:
            self.session.watch.set_folder(Path(name))
            self.session.watch.look()

    def _ask_table(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, say("Reference table"), str(Path.home()), say("CSV (*.csv);;All (*)")
        )
        if name:
            self.read_table(Path(name))

    def read_table(self, path: Path) -> None:
        """Check the table, then keep it; a bad one leaves the old one."""

        def work() -> str:
            text = read_text(path)
            parse_table(text, path.name)
            return text.rstrip("\n") + "\n"

        self.session.read(lambda _: work(), self._keep_table)

    def _keep_table(self, text: str) -> None:
        self.session.workspace.keep(REFERENCE_TABLE, text)
        self.session.say("The reference table is kept." if text else "The reference table is forgotten.")
        self.show_shop()
        if self.session.job_id:
            self.session.workspace.refresh(self.session.job_id)

    def _back_up(self) -> None:
        path = self.session.workspace.database.path
        self.backup.setEnabled(False)
        self.session.workspace.lanes.submit("store", lambda: backup(path), self._backed_up, self._not_backed_up)

    def _backed_up(self, copy: Path) -> None:
        self.backup.setEnabled(True)
        self.session.say(phrase("Backed up to {copy}.", copy=copy.name))
        self.show_shop()

    def _not_backed_up(self, error: Exception) -> None:
        self.backup.setEnabled(True)
        self.session.report(error)


def _state_words(folder: Path | None, there: bool) -> str:
    if folder is None:
        return "Where a probe's stick appears: its runs come in by themselves."
    if there:
        return "It is there; what comes is taken in once."
    return "Not there now; read when it appears."
