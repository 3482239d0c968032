"""Work: one step over the whole page, its picture and its words, three keys; the order as a strip below."""

from __future__ import annotations

import time
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout

from brachium.app.intake.photos import attach_photos, read_all
from brachium.app.shop.workspace import now_text
from brachium.app.view.job_view import JobView
from brachium.app.view.step_scene import view_scene
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.typed_numbers import typed_float
from brachium.core.base.units import minutes
from brachium.core.base.why import Because
from brachium.core.figures.work.step_figure import step_figure
from brachium.core.figures.work.step_strip import step_strip
from brachium.core.record.job import GateLift, Job, Stage, StepDone
from brachium.core.work.doing.stopwatch import Stopwatch, clock_words
from brachium.core.work.last_chance import last_chances
from brachium.core.work.step import Step
from brachium.core.work.step_kinds.proof import AFTER_RUN
from brachium.formats.photo import SUFFIXES
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.work.bench_mode import BenchMode
from brachium.ui.pages.work.first_start_sheet import FirstStartSheet, shown_reading
from brachium.ui.pages.work.last_chance_panel import LastChancePanel
from brachium.ui.pages.work.paste_sheet import PasteSheet
from brachium.ui.pages.work.screw_panel import ScrewPanel
from brachium.ui.pages.work.step_foot import StepFoot
from brachium.ui.pages.work.step_overview import StepOverview
from brachium.ui.pages.work.step_words import StepWords, expected_minutes, step_because
from brachium.ui.pages.work.trouble_sheet import TroubleSheet
from brachium.ui.pages.work.work_bar import WorkBar, old_places
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.labels import button, label, restyle

PICTURE = QSize(340, 270)
BESIDE_H = 190  # px of the picture beside the list


class WorkPage(Page):
    """The step at hand large; the stopwatch runs from tick to tick."""

    def build(self) -> None:
        self._watch = Stopwatch.started(time.monotonic())
        self._shown: tuple[str, StepDone | None] = ("", None)
        self._of_minutes = ""  # what the step at hand is expected to take, beside the stopwatch
        self._of = ""  # the machine whose step is at hand
        self._bench: BenchMode | None = None
        self._headline.setWordWrap(False)
        self.title = label("", "headline", True)
        self.clock = label("", "title")
        self.clock.setAccessibleName(say("Stopwatch of this step"))
        self._heading_row.setStretch(0, 0)
        self._heading_row.setSpacing(14)
        self._heading_row.addWidget(self.title, 1)
        self._heading_row.addWidget(self.clock)
        self.chance = LastChancePanel(self.session)
        self.body.addWidget(self.chance)
        self.body.addLayout(self._build_step(), 1)
        self.body.addLayout(self._build_keys())
        self.steps = DrawingView()
        self.steps.show_selection = False
        self.steps.chosen.connect(lambda region: self._show_step(region.id))
        self.steps.activated.connect(lambda region: self.tick(region.id))
        self.body.addSpacing(4)
        self.body.addWidget(self.steps)
        self.foot = StepFoot({"photo": self._ask_photo, "away": self.switch_away, "first": self.ask_first_start,
                              "paste": self.ask_paste, "old": self.shelve, "lift": self.lift_gate})  # fmt: skip
        self.note, self.photo, self.away, self.minutes = (
            self.foot.note, self.foot.photo, self.foot.away, self.foot.minutes)  # fmt: skip
        self.first, self.paste, self.old, self.lift = self.foot.of_step
        self.body.addWidget(self.foot)
        self.screws = ScrewPanel(self.session)
        self.body.addWidget(self.screws)
        self.bar = WorkBar(self.session, {"list": self.fold_list, "bench": self.bench_mode})
        self.body.addWidget(self.bar)
        self._timer = QTimer(self)
        self._timer.setInterval(1000)
        self._timer.timeout.connect(self._show_watch)
        self._timer.start()
        for key, run in ((Qt.Key.Key_Space, self._tick_selected), (Qt.Key.Key_N, self._note_now),
                         (Qt.Key.Key_T, self.ask_trouble), (Qt.Key.Key_P, self._ask_photo),
                         (Qt.Key.Key_A, self.switch_away), (Qt.Key.Key_S, self.shelve),
                         (Qt.Key.Key_L, self.fold_list)):  # fmt: skip
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(run)

    def _build_step(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(20)
        left = QVBoxLayout()
        self.picture = self.figure()
        self.picture.setMinimumSize(PICTURE)
        self.every = StepOverview(self.session)
        self.every.hide()
        self.every.list.chosen.connect(lambda region: self._show_step(region.id))
        self.every.list.activated.connect(lambda region: self.tick(region.id))
        left.addWidget(self.picture, 1)
        left.addWidget(self.every)
        right = QVBoxLayout()
        self.beside = self.figure()
        self.beside.setFixedHeight(BESIDE_H)
        self.beside.hide()
        right.addWidget(self.beside)
        self.words = StepWords()
        self.words.setMinimumWidth(250)
        right.addWidget(self.words, 1)
        row.addLayout(left, 8)
        row.addLayout(right, 5)
        return row

    def _build_keys(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(12)
        self.done = button("Done", self._tick_selected, "primary", "Tick this step  (Space, Ctrl+Return)")
        self.note_key = button("Note or photo", self._note_now, "", "What went differently  (N); a photo  (P)")
        self.trouble = button("Trouble", self.ask_trouble, "trouble", "What to do now, and what it costs  (T)")
        for key, wide in ((self.done, 4), (self.note_key, 2), (self.trouble, 2)):
            key.setProperty("large", "true")
            row.addWidget(key, wide)
        return row

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            return
        steps = view.work.whole
        left = [s for s in view.work.steps if s.id not in {d.step_id for d in job.steps_done}]
        ids = [s.id for s in steps]
        found = last_chances(job, view.standing.progress.has_before, ids)
        self.chance.setVisible(bool(left) and any(not c.state for c in found))
        self.chance.show_chances(job, found)
        self._choose_step(job, ids, left)
        self.every.show_view(view)
        self.bar.show_view(view)
        self._show_step(self.steps.selected)

    def _choose_step(self, job: Job, ids: list[str], left: list[Step]) -> None:
        """The one at hand of another machine, or where the chosen one is done; all of them where none is left."""
        other = job.id != self._of
        self._of = job.id
        if other:
            self._list(bool(ids) and not left)
        if other or self.steps.selected not in ids or self.steps.selected in {d.step_id for d in job.steps_done}:
            self.steps.selected = left[0].id if left else (ids[-1] if ids else "")

    def _show_heading(self, job: Job, view: JobView, step: Step | None) -> None:
        steps = view.work.whole
        if step is None:
            self.set_heading("Work", "Nothing is planned yet: plan in Choose what fits.")
            return
        done = {d.step_id for d in job.steps_done}
        left = [s for s in view.work.steps if s.id not in done]
        for widget in (self.title, self.clock):
            widget.setVisible(bool(left))
        attended, away = sum(s.attended_min for s in left), sum(s.unattended_min for s in left)
        logged = sum(d.minutes for d in job.steps_done)
        words = phrase(
            "{attended} of work left, {logged} logged, {away} run by themselves.",
            attended=minutes(attended),
            logged=minutes(logged),
            away=minutes(away),
        )
        at = [s.id for s in steps].index(step.id) + 1
        if left:
            self.set_heading(phrase("{at} of {count}", at=at, count=len(steps)), words)
        else:
            self.set_heading(
                phrase("All {count} steps done in {logged}", count=len(view.work.steps), logged=minutes(logged)), ""
            )

    def _show_step(self, step_id: str) -> None:
        view, job = self.session.view(), self.session.job()
        step = self.step_at(step_id)
        for w in (self.title, self.done, self.note_key, self.trouble, self.picture, self.words, self.foot, self.clock,
                  self.steps):  # fmt: skip
            w.setVisible(step is not None)
        if view is not None and job is not None:
            self._show_heading(job, view, step)
        if step is None or job is None or view is None:
            self.screws.hide()
            return
        self.steps.selected = step_id
        entry = next((d for d in job.steps_done if d.step_id == step_id), None)
        problem = "" if entry is not None or step_id == AFTER_RUN else self._problem(job, step_id)
        self.title.setText(say(step.title))
        self._show_gate(step, entry, problem)
        self._show_picture(job, view, step)
        self.words.show_step(job, step, view, problem)
        self.paste.setVisible(step.layer == "+cooler" or step.id == "pads")
        self.first.setVisible(step.id == "first-start")
        self.old.setVisible(bool(set(old_places(view, step)) - set(job.shelved)))
        self.screws.show_step(job, step, view.work.steps)
        took = expected_minutes(step, view.work.usual.get(step.id))
        self._of_minutes = phrase(" of {took}", took=took) if took else ""
        self._show_watch()
        if self._bench is not None:
            self._bench.show_step(job, view, step, problem, entry is not None)
        self.session.explain(step_because(step, view.work.whole, view.work.usual.get(step.id)))

    def _problem(self, job: Job, step_id: str) -> str:
        return self.session.workspace.tick_problem(job.id, step_id)

    def _show_picture(self, job: Job, view: JobView, step: Step) -> None:
        scene, steps = view_scene(view, step), view.work.whole
        done = done_ids(job, view)
        listed = self.every.isVisibleTo(self)
        for view_, shown in ((self.picture, not listed), (self.beside, listed)):
            view_.setVisible(shown)
            view_.set_builder(lambda w, h: step_figure(scene, w, h))
        self.steps.set_builder(lambda w, h: step_strip(steps, done, step.id, w))
        self.steps.fit_height()
        self.every.list.selected = step.id
        self.every.list.update()

    def step_at(self, step_id: str) -> Step | None:
        """A step of the plan in view, the measurement at its end too."""
        view = self.session.view()
        return next((s for s in view.work.whole if s.id == step_id), None) if view is not None else None

    def _show_gate(self, step: Step, entry: StepDone | None, problem: str) -> None:
        """What the keys say; what was noted where it is done."""
        self.lift.setVisible(bool(problem))
        measured = step.id == AFTER_RUN
        self.done.setText(say("To the measurement" if measured else "Undo the tick" if entry else "Done"))
        restyle(self.done, "kind", "" if entry and not measured else "primary")
        for w in (self.note, self.photo, self.minutes, self.away, self.note_key):
            w.setEnabled(not measured)
        if (step.id, entry) != self._shown:  # what is being typed for this step stays
            self._shown = (step.id, entry)
            self.minutes.setText(say(phrase("{minutes:g}", minutes=entry.minutes) if entry else ""))
            self.note.setText(say(entry.note if entry else ""))

    def _show_watch(self) -> None:
        attended, away = self._watch.at(time.monotonic())
        tail = phrase("  + {clock_words} by itself", clock_words=clock_words(away)) if away >= 1.0 else ""
        self.clock.setText(
            say(
                phrase(
                    "{clock_words}{of_minutes}{tail}",
                    clock_words=clock_words(attended),
                    of_minutes=self._of_minutes,
                    tail=tail,
                )
            )
        )
        self.away.setChecked(self._watch.away)
        if self._bench is not None:
            self._bench.show_clock(self.clock.text())

    def switch_away(self) -> None:
        """Hands on, or it runs by itself, from now on."""
        self._watch = self._watch.switched(time.monotonic())
        self._show_watch()

    def fold_list(self) -> None:
        """All steps as a list, the picture smaller beside it, or back."""
        self._list(not self.every.isVisibleTo(self))

    def _list(self, shown: bool) -> None:
        self.every.setVisible(shown)
        self.picture.setVisible(not shown)
        self.beside.setVisible(shown)
        self.bar.every.setChecked(shown)
        if shown:
            view = self.session.view()
            if view is not None:
                self.every.show_view(view)

    def bench_mode(self) -> BenchMode:
        """The step at hand over the whole screen; the one that stands there already comes to the front."""
        if self._bench is not None:
            self._bench.raise_()
            return self._bench
        bench = BenchMode(self.window(), self._tick_selected, self._note_on_bench, self.ask_trouble, self.go)
        bench.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        bench.finished.connect(self._left_bench)
        self._bench = bench
        bench.show()
        self._show_step(self.steps.selected)
        return bench

    def _left_bench(self) -> None:
        self._bench = None

    def _note_on_bench(self) -> None:
        """A note is typed on the page, which comes to the front."""
        if self._bench is not None:
            self._bench.close()
        self._note_now()

    def go(self, further: int) -> None:
        """Look at the step so many further on."""
        view = self.session.view()
        ids = [s.id for s in view.work.whole] if view is not None else []
        if self.steps.selected in ids:
            self._show_step(ids[(ids.index(self.steps.selected) + further) % len(ids)])

    def ask_trouble(self) -> TroubleSheet | None:
        """What to do now, what it costs, what it moves."""
        step = self.step_at(self.steps.selected)
        if step is None:
            return None
        sheet = TroubleSheet(self._bench or self.window(), self.session, step)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def shelve(self) -> None:
        """The old part of the step at hand goes onto the shelf."""
        view, step = self.session.view(), self.step_at(self.steps.selected)
        if view is not None and step is not None:
            self.bar.shelve(view, step)

    def _tick_selected(self) -> None:
        if self.steps.selected == AFTER_RUN:
            self._to_proof()
            return
        self.tick(self.steps.selected)

    def _to_proof(self) -> None:
        """The last step is done where it is measured."""
        view = self.session.view()
        if view is not None and view.work.left:
            self.session.say("The after-run comes when every step is done.")
        else:
            self.session.select_stage(Stage.PROVE)

    def _note_now(self) -> None:
        self.note.setFocus()
        self.note.selectAll()

    def _ask_photo(self) -> None:
        kinds = joined(" ", (phrase("*{s}", s=s) for s in SUFFIXES))
        names, _ = QFileDialog.getOpenFileNames(
            self, say("Photos of this step"), str(Path.home()), say(phrase("Pictures ({kinds})", kinds=kinds))
        )
        if names:
            self.add_photos(tuple(Path(n) for n in names))

    def add_photos(self, paths: tuple[Path, ...]) -> None:
        """Keep pictures with the machine; read off the window's thread."""
        session, job_id = self.session, self.session.job_id

        def arrived(found: tuple) -> None:  # type: ignore[type-arg]
            good, bad = found
            count = attach_photos(session.workspace, job_id, good)
            for problem in bad:
                session.report(problem)
            if count:
                session.say(
                    "The photo is kept with the machine."
                    if count == 1
                    else phrase("{count} photos are kept.", count=count)
                )

        session.read(lambda stopped: read_all(paths, stopped), arrived)

    def ask_paste(self) -> PasteSheet:
        """How much paste the contact takes."""
        sheet = PasteSheet(self.window(), self.session)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.show()
        return sheet

    def ask_first_start(self) -> FirstStartSheet:
        """Expected against seen."""
        return shown_reading(self.window(), self.session)

    def lift_gate(self) -> None:
        """Let the step be done against its gate, with the note as the written reason."""
        job, step_id, reason = self.session.job(), self.steps.selected, self.note.text().strip()
        if job is None or not step_id:
            return
        if not reason:
            self.note.setFocus()
            self.session.say("Write the reason into the note first.")
            return
        lift = GateLift(step_id, reason, now_text())
        self.session.edit("gate lifted with a reason", replace(job, gate_lifts=(*job.gate_lifts, lift)))

    def tick(self, step_id: str = "") -> None:
        """Tick a step (the next open one by default), or take its tick back."""
        job, view = self.session.job(), self.session.view()
        if job is None or view is None:
            return
        upcoming = view.work.upcoming
        step_id = step_id or (upcoming.id if upcoming else "")
        step = next((s for s in view.work.steps if s.id == step_id), None)
        if step is None:
            return
        if any(d.step_id == step_id for d in job.steps_done):
            rest = tuple(d for d in job.steps_done if d.step_id != step_id)
            self.session.edit(phrase("tick taken back: {step}", step=step.title), replace(job, steps_done=rest))
            return
        problem = self.session.workspace.tick_problem(job.id, step_id)
        if problem:
            self.session.say(phrase("Not yet: {problem}.", problem=problem))
            return
        attended, away = self._minutes()
        entry = StepDone(step_id, now_text(), attended, self.note.text().strip(), away)
        self._watch = Stopwatch.started(time.monotonic())
        self.session.edit(phrase("done: {step}", step=step.title), replace(job, steps_done=(*job.steps_done, entry)))

    def _minutes(self) -> tuple[float, float]:
        """(attended, unattended) minutes: what was typed, else the stopwatch."""
        attended, away = self._watch.at(time.monotonic())
        try:
            return max(typed_float(self.minutes.text()), 0.0), round(away / 60.0, 1)
        except ValueError:
            return round(attended / 60.0, 1), round(away / 60.0, 1)

    def default_because(self) -> Because | None:
        view = self.session.view()
        step = view.work.upcoming if view is not None else None
        return (
            step_because(step, view.work.whole, view.work.usual.get(step.id))
            if step is not None and view is not None
            else None
        )


def done_ids(job: Job, view: JobView) -> set[str]:
    """Steps that are done: ticked, and the last one where its run is there."""
    measured = {AFTER_RUN} if view.standing.progress.has_after else set()
    return {d.step_id for d in job.steps_done} | measured
