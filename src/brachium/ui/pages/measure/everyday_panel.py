"""Everyday: what the owner feels of this machine, and days of use to be watched or read in."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.bench.run_roles import DAY_AFTER, DAY_BEFORE
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import Problem
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.base.why import Because
from brachium.core.figures.plots.day_hours import day_because
from brachium.core.measure.run import Run
from brachium.core.record.job import LOCAL, SIMULATED, Job
from brachium.ui.pages.measure.feel_figures import FeelFigures
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import LineField, Switch
from brachium.ui.widgets.labels import button, label

HOW = (
    "No day was watched yet. Start “brachium-probe watch” on the machine, with the owner's consent, "
    "and read its file here."
)
NO_TASKS = "Everyday tasks come with the before-run: name a drive folder, and measure."
LONGEST_H = 336.0


class EverydayPanel(QWidget):
    """Days are kept as runs of their own; the figures are those of the before-run."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._role, self._job_id = session, DAY_BEFORE, ""
        self._hours, self._agreed = 24.0, ""
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.setSpacing(6)
        layout.addLayout(self._bar())
        self.empty = label("", "soft", True)
        layout.addWidget(self.empty)
        self.figures = FeelFigures(self._figure)
        layout.addWidget(self.figures)
        layout.addStretch(1)

    def _bar(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(12)
        self.side = Switch(((DAY_BEFORE, "Before"), (DAY_AFTER, "After")), self._set_side, "Which side days are of")
        row.addWidget(self.side)
        self.simulate = button("Watch a day", self._simulate, "primary", "A day on the simulated machine")
        self.hours = LineField("Hours", self._set_hours, "", "How long to watch, in hours")
        self.hours.setFixedWidth(90)
        self.hours.show_value("24")
        self.agreed = LineField("Agreed by", self._set_agreed, "a desk or a room",
                                "Kept with the file; nothing is recorded without it")  # fmt: skip
        self.agreed.setFixedWidth(200)
        tip = "A row every 15 s, also with this window closed"
        self.watch = button("Watch this PC", self._watch, "primary", tip)
        self.take = button("", self._take, "", "What is recorded until now")
        self.read = button("Read a watch file…", self._ask, "", "A file of brachium-probe watch")
        for w in (self.simulate, self.hours, self.agreed, self.watch, self.take, self.read):
            row.addWidget(w)
        row.addStretch(1)
        return row

    def _figure(self) -> DrawingView:
        view = DrawingView()
        view.chosen.connect(lambda region: self._session.explain(region.because))
        return view

    def show_job(self, job: Job, view: JobView | None) -> None:
        """Keys as the bench allows them, figures as there are some. Days are of before until the work is done."""
        if job.id != self._job_id and view is not None:
            self._job_id = job.id
            done = view.standing.progress
            self._role = DAY_AFTER if done.has_after or (done.steps_total and not done.steps_open) else DAY_BEFORE
        self.side.show_value(self._role)
        self.simulate.setVisible(job.bench == SIMULATED)
        for w in (self.hours, self.agreed, self.watch):
            w.setVisible(job.bench == LOCAL)
        self._show_files(job)
        if view is None:
            return
        run, days = view.measured.before, view.proof.days
        self.figures.setVisible(self.figures.show_runs(run, view.measured.after, days))
        missing = [] if days.before is not None or days.after is not None else [HOW]
        missing += [] if run is not None and any(t.key.startswith("task_") for t in run.tests) else [NO_TASKS]
        self.empty.setText(say(joined("\n", missing)))
        self.empty.setVisible(bool(missing))

    def because(self) -> Because | None:
        """Where the figures of the watched day come from."""
        view = self._session.view()
        days = view.proof.days if view is not None else None
        day = (days.before or days.after) if days is not None else None
        if day is not None:
            return day_because(day)
        regions = self.figures.tasks.regions() if self.figures.tasks.isVisibleTo(self) else ()
        return regions[0].because if regions else None

    def _set_side(self, role: str) -> None:
        self._role = role
        self.side.show_value(role)

    def _show_files(self, job: Job) -> None:
        """What a watch of this PC has recorded, looked up off the window's thread."""
        from brachium.app.measure.days import WatchFile, watch_files

        folder = self._folder(job)
        self.take.hide()
        self._files: tuple[WatchFile, ...] = ()
        if job.bench != LOCAL or not folder.is_dir():
            return

        def told(files: tuple[WatchFile, ...]) -> None:
            hours = sum(f.hours for f in files)
            self._files = files
            self.take.setVisible(hours > 0.0)
            self.take.setText(say(phrase("Take in {hours:.1f} h", hours=hours)))

        self._session.read(lambda _: watch_files(folder), told)

    def _folder(self, job: Job) -> Path:
        from brachium.app.measure.days import watch_folder

        return watch_folder(self._session.workspace.database.path, job.id)

    def _simulate(self) -> None:
        from brachium.app.measure.days import simulated_day

        job, view = self._session.job(), self._session.view()
        if job is None or view is None:
            return
        workspace = self._session.workspace
        run_id = phrase(
            "{job}-{role}-{next_run_number}",
            job=job.id,
            role=self._role.replace(" ", "-"),
            next_run_number=workspace.next_run_number(job.id),
        )
        role = self._role
        self._session.read(lambda _: simulated_day(view, role, run_id), lambda run: self._kept(job.id, run))

    def _kept(self, job_id: str, run: Run) -> None:
        workspace = self._session.workspace
        workspace.add_run(job_id, self._role, run)
        job = workspace.job(job_id)
        if self._role == DAY_BEFORE and not job.measured_shares:
            workspace.edit("use as watched", replace(job, measured_shares=True))
        self._session.say(
            "A day was watched; Choose starts from it." if self._role == DAY_BEFORE else "A day after was watched."
        )

    def _set_hours(self, text: str) -> str | None:
        try:
            value = typed_float(text)
        except ValueError:
            value = 0.0
        if not 0.0 < value <= LONGEST_H:
            return phrase("Up to {longest_h:.0f} hours.", longest_h=LONGEST_H)
        self._hours = value
        return None

    def _set_agreed(self, text: str) -> str | None:
        self._agreed = text.strip()
        return None

    def _watch(self) -> None:
        from brachium.app.measure.days import start_watching

        job = self._session.job()
        if job is None:
            return
        try:
            start_watching(self._folder(job), self._hours, self._agreed)
        except Problem as problem:
            self._session.report(problem)
            return
        self._session.say(phrase("Watching this PC for {hours:g} h.", hours=self._hours))

    def _take(self) -> None:
        for found in self._files:
            self._take_in(found.path)

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, say("Read a watch file"), str(Path.home()), say("Watch files (*.jsonl)")
        )
        if name:
            self._take_in(Path(name))

    def _take_in(self, path: Path) -> None:
        """Read off the window's thread and keep as days of this record."""
        from brachium.app.files.job_transfer import Carried, keep_carried, read_carried

        job, workspace = self._session.job(), self._session.workspace
        if job is None:
            return
        shop, role = workspace.reading(), self._role

        def kept(carried: Carried) -> None:
            try:
                self._session.say(keep_carried(workspace, carried, job.id, role).said)
            except Problem as problem:
                self._session.report(problem)

        self._session.read(lambda stopped: read_carried(path, shop, stopped), kept)
