"""Work: one step large for busy hands, the whole order beside it; ticked, noted, photographed by one key each."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from brachium.app.intake.photos import attach_photos, read_all
from brachium.app.shop.workspace import now_text
from brachium.app.view.job_view import JobView
from brachium.core.base.typed_numbers import typed_float
from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.lists.caution_list import caution_list
from brachium.core.figures.lists.step_list import step_list
from brachium.core.record.job import GateLift, Job, StepDone
from brachium.core.work.last_chance import last_chances
from brachium.core.work.step import Step
from brachium.core.work.stopwatch import Stopwatch, clock_words
from brachium.formats.photo import SUFFIXES
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.work.first_start_sheet import FirstStartSheet, shown_reading
from brachium.ui.pages.work.last_chance_panel import LastChancePanel
from brachium.ui.pages.work.paste_sheet import PasteSheet
from brachium.ui.pages.work.screw_panel import ScrewPanel
from brachium.ui.pages.work.work_bar import WorkBar, old_places
from brachium.ui.widgets.labels import button, label, paragraph

KEYS = "Space ticks, N notes, P photo, A runs by itself, S old part to the shelf"


class WorkPage(Page):
    """Steps at the left, the step at hand large at the right; the stopwatch runs from tick to tick."""

    def build(self) -> None:
        self._watch = Stopwatch.started(time.monotonic())
        self._shown: tuple[str, StepDone | None] = ("", None)
        self._of = ""  # the machine whose step is at hand
        columns = QHBoxLayout()
        columns.setSpacing(24)
        self.steps = self.figure()
        self.steps.setMinimumSize(QSize(330, 200))
        self.steps.chosen.connect(lambda region: self._show_step(region.id))
        self.steps.activated.connect(lambda region: self.tick(region.id))
        holder = QVBoxLayout()
        holder.addWidget(self.steps)
        self.bar = WorkBar(self.session)
        holder.addWidget(self.bar)
        holder.addStretch(1)
        columns.addLayout(holder, 5)
        columns.addLayout(self._build_step(), 6)
        self.body.addSpacing(8)
        self.body.addLayout(columns)
        self.body.addStretch(1)
        self._timer = QTimer(self)
        self._timer.setInterval(1000)
        self._timer.timeout.connect(self._show_watch)
        self._timer.start()
        for key, run in ((Qt.Key.Key_Space, self._tick_selected), (Qt.Key.Key_N, self._note_now),
                         (Qt.Key.Key_P, self._ask_photo), (Qt.Key.Key_A, self.switch_away),
                         (Qt.Key.Key_S, self.shelve)):  # fmt: skip
            shortcut = QShortcut(QKeySequence(key), self)
            shortcut.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            shortcut.activated.connect(run)

    def _build_step(self) -> QVBoxLayout:
        right = QVBoxLayout()
        right.setSpacing(6)
        self.chance = LastChancePanel(self.session)
        right.addWidget(self.chance)
        self.title = label("", "headline", True)
        self._problem = paragraph("", "alarm")
        self._detail = paragraph("", "large", True)
        self._tools = paragraph("", "soft")
        self.cautions = self.figure()
        self._undo = paragraph("", "soft")
        self._next = paragraph("", "soft")
        for w in (self.title, self._problem, self._detail, self._tools, self.cautions, self._undo):
            right.addWidget(w)
        line = QHBoxLayout()
        line.setSpacing(12)
        self.clock = label("", "title")
        self.clock.setAccessibleName("Stopwatch of this step")
        self.away = button("Runs by itself", self.switch_away, "switch", "Splits the time  (A)")
        self.away.setCheckable(True)
        self.minutes = QLineEdit()
        self.minutes.setFixedWidth(56)
        self.minutes.setPlaceholderText("min")
        self.minutes.setAccessibleName("Minutes for this step")
        self.minutes.setToolTip("Minutes for this step; empty takes the stopwatch")
        line.addWidget(self.clock)
        line.addWidget(self.away)
        line.addStretch(1)
        line.addWidget(self.minutes)
        line.addWidget(label("min", "field"))
        right.addLayout(line)
        self.done = button("Done", self._tick_selected, "primary", "Tick this step  (Space, Ctrl+Return)")
        self.done.setFixedHeight(48)
        right.addWidget(self.done)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.note = QLineEdit()
        self.note.setPlaceholderText("what went differently  (N)")
        self.note.setAccessibleName("Note for this step")
        self.photo = button("Photo…", self._ask_photo, "", "A photo of this step  (P)")
        self.lift = button(
            "Lift this gate", self.lift_gate, "quiet", "With the note as the reason; it stays in the log"
        )
        row.addWidget(self.note, 1)
        row.addWidget(self.photo)
        self.paste = button("How much paste…", self.ask_paste, "quiet", "By the contact's area, to scale")
        self.old = button("Old part to the shelf", self.shelve, "quiet", "With its origin, untested  (S)")
        right.addLayout(row)
        more = QHBoxLayout()
        self.first = button("Is everything seen?…", self.ask_first_start, "", "Expected against seen, piece by piece")
        for b in (self.first, self.paste, self.old, self.lift):
            more.addWidget(b)
        more.addStretch(1)
        right.addLayout(more)
        right.addWidget(self._next)
        self.screws = ScrewPanel(self.session)
        right.addWidget(self.screws)
        right.addWidget(paragraph(KEYS, "field"))
        right.addStretch(1)
        return right

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            self.set_heading("Work", "Making the steps…")
            return
        steps = view.work.steps
        done = {s.step_id: s for s in job.steps_done}
        left = [s for s in steps if s.id not in done]
        self._show_heading(job, steps, left)
        ids = [s.id for s in steps]
        found = last_chances(job, view.standing.progress.has_before, ids)
        self.chance.setVisible(bool(left) and any(not c.state for c in found))
        self.chance.show_chances(job, found)
        self.steps.set_builder(lambda w, h: step_list(steps, done, w))
        self.steps.fit_height()
        other = job.id != self._of
        self._of = job.id
        if other or self.steps.selected not in ids or self.steps.selected in done:
            self.steps.selected = left[0].id if left else (ids[-1] if ids else "")
        self.bar.show_view(view)
        self._show_step(self.steps.selected)

    def _show_heading(self, job: Job, steps: Sequence[Step], left: Sequence[Step]) -> None:
        head = "All steps are done" if steps and not left else f"{len(left)} of {len(steps)} steps to do"
        attended, away = sum(s.attended_min for s in left), sum(s.unattended_min for s in left)
        logged = sum(s.minutes for s in job.steps_done)
        words = f"{minutes(attended)} of work left, {minutes(logged)} logged, {minutes(away)} run by themselves."
        self.set_heading(head, words)

    def _show_step(self, step_id: str) -> None:
        view, job = self.session.view(), self.session.job()
        step = next((s for s in view.work.steps if s.id == step_id), None) if view is not None else None
        for w in (self.title, self._detail, self.done, self.note, self.photo, self.clock, self.away, self.minutes):
            w.setVisible(step is not None)
        if step is None or job is None or view is None:
            return
        entry = next((d for d in job.steps_done if d.step_id == step_id), None)
        self.title.setText(step.title)
        self._show_gate(job, step, entry)
        self.paste.setVisible(step.layer == "+cooler" or step.id == "pads")
        self.first.setVisible(step.id == "first-start")
        self.old.setVisible(bool(set(old_places(view, step)) - set(job.shelved)))
        self._show_texts(job, step, view)
        rows = tuple(zip(step.signs, step.cautions, strict=True))
        self.cautions.setVisible(bool(rows))
        self.cautions.set_builder(lambda w, h: caution_list(rows, w))
        self.cautions.fit_height()
        self.screws.show_step(job, step, view.work.steps)
        self._show_watch()
        self.session.explain(step_because(step))

    def _show_gate(self, job: Job, step: Step, entry: StepDone | None) -> None:
        """Why it may not be ticked yet; what was noted where it is."""
        problem = "" if entry is not None else self.session.workspace.tick_problem(job.id, step.id)
        _shown_text(self._problem, f"Not yet: {problem}." if problem else "")
        self.lift.setVisible(bool(problem))
        self.done.setText("Undo the tick" if entry else "Done")
        if (step.id, entry) != self._shown:  # what is being typed for this step stays
            self._shown = (step.id, entry)
            self.minutes.setText(f"{entry.minutes:g}" if entry else "")
            self.note.setText(entry.note if entry else "")

    def _show_texts(self, job: Job, step: Step, view: JobView) -> None:
        _shown_text(self._detail, step.detail)
        hint = next((h.words for h in job.plan_edits.hints if h.step_id == step.id), "")
        told = (f"Tools: {step.tools}" if step.tools else "", f"Last time: {hint}." if hint else "")
        _shown_text(self._tools, "  ".join(t for t in told if t))
        back = "Point of no return. " if step.no_return else ""
        _shown_text(self._undo, f"{back}Taking it back costs: {step.undo}." if step.undo else back)
        _shown_text(self._next, _what_next(view, step))

    def _show_watch(self) -> None:
        attended, away = self._watch.at(time.monotonic())
        tail = f"  + {clock_words(away)} by itself" if away >= 1.0 else ""
        self.clock.setText(f"{clock_words(attended)}{tail}")
        self.away.setChecked(self._watch.away)

    def switch_away(self) -> None:
        """Hands on, or it runs by itself, from now on."""
        self._watch = self._watch.switched(time.monotonic())
        self._show_watch()

    def shelve(self) -> None:
        """The old part of the step at hand goes onto the shelf."""
        view = self.session.view()
        step = next((s for s in view.work.steps if s.id == self.steps.selected), None) if view is not None else None
        if view is not None and step is not None:
            self.bar.shelve(view, step)

    def _tick_selected(self) -> None:
        self.tick(self.steps.selected)

    def _note_now(self) -> None:
        self.note.setFocus()
        self.note.selectAll()

    def _ask_photo(self) -> None:
        kinds = " ".join(f"*{s}" for s in SUFFIXES)
        names, _ = QFileDialog.getOpenFileNames(self, "Photos of this step", str(Path.home()), f"Pictures ({kinds})")
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
                session.say("The photo is kept with the machine." if count == 1 else f"{count} photos are kept.")

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
            self.session.say("Write the reason into the note first; it stays in the log.")
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
            self.session.edit(f"tick taken back: {step.title}", replace(job, steps_done=rest))
            return
        problem = self.session.workspace.tick_problem(job.id, step_id)
        if problem:
            self.session.say(f"Not yet: {problem}.")
            return
        attended, away = self._minutes()
        entry = StepDone(step_id, now_text(), attended, self.note.text().strip(), away)
        self._watch = Stopwatch.started(time.monotonic())
        self.session.edit(f"done: {step.title}", replace(job, steps_done=(*job.steps_done, entry)))

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
        return step_because(step) if step is not None else None


def _shown_text(widget: QWidget, text: str) -> None:
    """A line that takes no room while it is empty."""
    widget.setVisible(bool(text))
    widget.setText(text)  # type: ignore[attr-defined]


def _what_next(view: JobView, step: Step) -> str:
    """The step after this one, and what the rest takes."""
    done = {d.step_id for d in view.job.steps_done}
    at = next((k for k, s in enumerate(view.work.steps) if s.id == step.id), 0)
    after = next((s for s in view.work.steps[at + 1 :] if s.id not in done), None)
    left = sum(s.attended_min for s in view.work.steps[at:] if s.id not in done)
    if after is None:
        return "Nothing comes after it."
    return f"Next: {after.title}. {minutes(left)} of yours from here to the end."


def step_because(step: Step) -> Because:
    """Why the step is where it is, and its cautions."""
    facts = [
        Fact("attended", minutes(step.attended_min), Origin.ASSUMED),
        Fact("done", step.mode.value, Origin.COMPUTED),
    ]
    if step.unattended_min:
        facts.append(Fact("runs by itself", minutes(step.unattended_min), Origin.ASSUMED))
    if step.undo:
        facts.append(Fact("undo", step.undo, Origin.ASSUMED))
    local = "Local codes and licensed people come before this list." if step.cautions else ""
    gate = f"gate: only if {step.gate.value}" if step.gate else ""
    notes = (*step.cautions, *((local,) if local else ()))
    return Because(step.title, "work step", step.detail, tuple(facts), gate, "", notes)
