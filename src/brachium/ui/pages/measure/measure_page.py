"""Measure: what a run will do and prove, the run in progress, or the kept one as traces with repeats."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from brachium.app.bench.live_proof import LiveProof
from brachium.app.bench.recorder import LiveView
from brachium.app.view.figures import is_sampled, run_strand
from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase, upper_first
from brachium.core.base.units import minutes, percent, seconds_left
from brachium.core.base.why import Because
from brachium.core.figures.plots.protocol_plan import protocol_plan, provable_because, provable_list
from brachium.core.figures.plots.repeats import rows_height
from brachium.core.figures.plots.traces import strand, twin_traces
from brachium.core.measure.run import Protocol, Run
from brachium.core.measure.run_checks import Flag
from brachium.core.measure.typed_conditions import stated_text
from brachium.core.measure.workloads import PROTOCOLS, TESTS, spec_of
from brachium.core.record.job import CONNECTED, LOCAL, SIMULATED, Job
from brachium.core.stage.before_start import drive_warning, power_warnings
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.measure.everyday_panel import EverydayPanel
from brachium.ui.pages.measure.measure_setup import MeasureSetupRow, MissingList
from brachium.ui.pages.measure.measure_words import dots, live_dots, live_words, phases_s, run_text
from brachium.ui.pages.measure.own_tests_panel import OwnTestsPanel
from brachium.ui.pages.measure.protocol_sheet import ProtocolSheet
from brachium.ui.pages.measure.runs_panel import RunsPanel
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, label, restyle

LIVE_MS = 100
FEW_TESTS = 10  # rows that have room before it is known how many there are
MOST_FLAGS = 4
WIDGET_MAX = 16_777_215  # what Qt takes for no limit
NO_BEFORE_SAYS = (
    ("May be claimed", "what it does after the work, in absolute figures"),
    ("May be claimed", "targets met or not, by the after-run"),
    ("Not", "any gain: nothing to compare with"),
    ("Not", "what paste, cleaning or a part brought"),
)
PARTS = (("run", "Run"), ("everyday", "Everyday"), ("own", "Own tests"), ("runs", "All runs"))
SPEEDS: tuple[tuple[str, str], ...] = (("1", "1×"), ("60", "60×"), ("0", "Fastest"))


class MeasurePage(Page):
    """`role` is what a run started here is kept as; Prove has its own instance for the after-run."""

    role = "before"

    def build(self) -> None:
        self.part = Switch(PARTS, self.show_part, "Part of Measure")
        self.part.show_value("run")
        self._heading_row.addWidget(self.part)
        self._run_part = QWidget()
        body = QVBoxLayout(self._run_part)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(4)
        self.own = OwnTestsPanel(self.session)
        self.runs = RunsPanel(self.session)
        self.everyday = EverydayPanel(self.session)
        for part in (self._run_part, self.everyday, self.own, self.runs):
            self.body.addWidget(part, 1)
        for part in (self.everyday, self.own, self.runs):
            part.hide()
        body.addSpacing(6)
        body.addLayout(self._bar())
        self.setup = MeasureSetupRow(self.session)
        body.addWidget(self.setup)
        body.addSpacing(8)
        columns = QHBoxLayout()
        columns.setSpacing(20)
        left = QVBoxLayout()
        left.setSpacing(4)
        self.traces = self.figure()
        self.traces.setMinimumWidth(420)
        left.addWidget(self.traces, 1)
        self.missing = MissingList("What it will not say")
        left.addWidget(self.missing)
        self._below = QWidget()
        self._below.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        left.addWidget(self._below, 1)
        columns.addLayout(left, 3)
        right = QVBoxLayout()
        right.setSpacing(4)
        self._dots_title = label("", "section")
        right.addWidget(self._dots_title)
        self.dots = self.figure()
        self.dots.setMinimumSize(QSize(250, round(rows_height(FEW_TESTS))))
        right.addWidget(self.dots, 1)
        self._now_title = label("", "section")
        self._now = label("", "soft", True, True)
        right.addWidget(self._now_title)
        right.addWidget(self._now)
        columns.addLayout(right, 2)
        body.addLayout(columns, 1)
        self._drawn = (0, 0)
        self._explained: Protocol | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(LIVE_MS)
        self._timer.timeout.connect(self._tick)
        self._proof = LiveProof()
        self.session.run_started.connect(self._began)
        self.session.run_finished.connect(lambda _a, _r: self._timer.stop())

    def show_part(self, key: str) -> None:
        """The run, what is felt of it, the owner's own tests, or all runs of the machine."""
        self.part.show_value(key)
        parts = (("run", self._run_part), ("everyday", self.everyday), ("own", self.own), ("runs", self.runs))
        for name, part in parts:
            part.setVisible(name == key)
        job = self.session.job()
        if job is None:
            return
        if key == "run":
            self.show_job(job, self.session.view())
        self._show_parts(job)
        self.session.explain(self.default_because())

    def _show_parts(self, job: Job) -> None:
        if self.everyday.isVisibleTo(self):
            self.everyday.show_job(job, self.session.view())
            self.set_heading("What the owner feels", "Everyday tasks and days, before and after.")
        elif self.own.isVisibleTo(self):
            self.own.show_job(job)
            self.set_heading("Tests of the owner's own", "Same settings before and after.")
        elif self.runs.isVisibleTo(self):
            self.runs.show_job(job)
            self.set_heading("All runs of this machine", "A wrong run is voided with a reason.")

    def _bar(self) -> QHBoxLayout:
        bar = QHBoxLayout()
        self.start = button("Measure the before", lambda: self._start(), "primary")
        tip = "Only what is missing is measured"
        self.go_on = button("Finish the cut-off run", lambda: self._start(True), "primary", tip)
        self.stop = button("Stop", self.session.measure.stop)
        tip = "After the present test; load and cool-down are never interrupted"
        self.pause = button("Pause", self._pause, "", tip)
        names = [*((k, p.name) for k, p in PROTOCOLS.items()), ("own", "Own…")]
        self.protocol = Switch(names, self._set_protocol, "Protocol")
        self.speed = Switch(SPEEDS, self._set_speed, "Speed of simulated time")
        self.speed.show_value("60")
        self._protocol_label = label("Protocol", "field")
        self._speed_label = label("Simulated time", "field")
        bar.addWidget(self.go_on)
        bar.addWidget(self.start)
        bar.addWidget(self.stop)
        bar.addWidget(self.pause)
        for caption, w in ((self._protocol_label, self.protocol), (self._speed_label, self.speed)):
            bar.addSpacing(16)
            bar.addWidget(caption)
            bar.addWidget(w)
        bar.addStretch(1)
        tip = "Records that there can be no before-run"
        self.no_start = button("It does not start", lambda: self._set_no_before("does not start"), "quiet", tip)
        self.it_starts = button("It starts after all", lambda: self._set_no_before(""), "quiet")
        bar.addWidget(self.no_start)
        bar.addWidget(self.it_starts)
        return bar

    def show_job(self, job: Job, view: JobView | None) -> None:
        running = self.session.measure.active
        mine = running is not None and running.job_id == job.id
        run = self._kept(view)
        self._show_keys(job, run, mine)
        if not self._run_part.isVisibleTo(self):
            self._show_parts(job)
        elif mine:
            return
        elif run is not None:
            self._show_run(job, run, view)
        elif self.role == "before" and job.no_before:
            self._show_no_before(job)
        elif job.bench in CONNECTED and view is not None:
            self._show_plan(job, view)
        else:
            self._show_unconnected(job.bench in CONNECTED)

    # complex: one line a key of the page
    def _show_keys(self, job: Job, run: Run | None, mine: bool) -> None:
        """Keys and fields as they may be used now; `mine` = the run in progress is this machine's."""
        connected, idle = job.bench in CONNECTED, self.session.measure.active is None
        no_run = self.role == "before" and run is None and not mine
        dead = no_run and bool(job.no_before)
        cut = idle and connected and self.session.measure.cut_off(job.id, self.role) is not None
        self.start.setVisible(not mine and connected and not dead)
        self.start.setEnabled(idle)
        self.go_on.setVisible(cut)
        self.start.setText(say("Begin anew" if cut else self._start_text(job, run)))
        restyle(self.start, "kind", "" if cut or self.start.text().endswith("again") else "primary")
        self.stop.setVisible(mine)
        self.pause.setVisible(mine)
        self.pause.setText(say("Go on" if self.session.measure.paused else "Pause"))
        for w in (self.protocol, self._protocol_label):
            w.setVisible(connected and not mine and not dead)
        for w in (self.speed, self._speed_label):
            w.setVisible(job.bench == SIMULATED and not dead)
        self.protocol.show_value(job.setup.protocol)
        self.setup.setVisible(job.bench == LOCAL and not mine and not dead)
        self.setup.show_job(job)
        self.traces.setVisible(not dead)
        self.no_start.setVisible(no_run and not job.no_before and not cut)  # it did start
        self.it_starts.setVisible(no_run and bool(job.no_before))

    def _show_missing(self, lines: tuple[tuple[str, str], ...], planned: bool) -> None:
        """A plan takes its own height with what will be missing below it; traces take all there is."""
        self.missing.show_lines(lines)
        self._below.setVisible(planned)
        if planned:
            self.traces.fit_height()
        else:
            self.traces.setMinimumHeight(360)
            self.traces.setMaximumHeight(WIDGET_MAX)

    def _kept(self, view: JobView | None) -> Run | None:
        return view.measured.before if view is not None else None

    def _shown(self, view: JobView | None) -> Run | None:
        """The run with the owner's own results beside it."""
        return view.measured.shown_before if view is not None else None

    def _flags(self, view: JobView | None) -> tuple[Flag, ...]:
        return view.measured.flags_before if view is not None else ()

    def _start_text(self, job: Job, run: Run | None) -> str:
        if self.session.measure.waiting_session(job.id, self.role):
            return "Measure session 2, restarted"
        return (
            phrase("Measure the {role} again", role=self.role)
            if run is not None
            else phrase("Measure the {role}", role=self.role)
        )

    def _show_unconnected(self, connected: bool) -> None:
        self._show_missing((), False)
        self.traces.set_builder(None)
        self.dots.set_builder(None)
        self._dots_title.setText("")
        self._now_title.setText(say("What a log needs"))
        text = "" if connected else "Not connected: drop a before and an after log here."
        self.set_heading("No run yet", text)
        self._now.setText(say("Temperature, and power or utilisation: idle, 10 minutes of load, cool-down."))

    def _show_no_before(self, job: Job) -> None:
        """The machine does not start: what may be claimed later, and what not."""
        self.set_heading(
            phrase("No before: {no_before}", no_before=job.no_before),
            "Later stages are open; gains are not.",
        )
        self.traces.set_builder(None)
        self.dots.set_builder(None)
        self.missing.show_lines(NO_BEFORE_SAYS, "What may be claimed later")
        self._below.setVisible(True)
        self._dots_title.setText("")
        self._now_title.setText("")
        self._now.setText("")

    def _set_no_before(self, reason: str) -> None:
        job = self.session.job()
        if job is not None:
            self.session.edit("no before-run" if reason else "it starts after all", replace(job, no_before=reason))

    def _show_plan(self, job: Job, view: JobView) -> None:
        """What will be done, how long it takes, what it can prove and what will be missing."""
        protocol = view.measured.protocol
        gain = phrase(
            "Proves a gain from {provable} on under sustained load.",
            provable=percent(view.measured.provable("sustained"), 1),
        )
        self.set_heading(
            phrase("No {role}-run yet", role=self.role),
            phrase(
                "{sessions} of {repeats}, {run_minutes}. {gain}",
                sessions=many(protocol.sessions, "session"),
                repeats=many(protocol.repeats, "repeat"),
                run_minutes=minutes(view.measured.run_minutes),
                gain=gain,
            ),
        )
        tests = [t for t in TESTS if t.key in protocol.tests and t.key in view.measured.offered]
        short = sum(t.key != "sustained" for t in tests)
        self.traces.set_builder(lambda w, _: protocol_plan(protocol, short, w))
        self._show_missing((*(("Not with this protocol", c) for c in protocol.cannot), *view.measured.missing), True)
        if self._explained is not protocol:
            self._explained = protocol
            self.session.explain(self.default_because())
        self._dots_title.setText(say("Smallest gain it can prove"))
        self.dots.set_builder(
            lambda w, _: provable_list(TESTS, protocol, view.measured.spreads, view.measured.offered, w)
        )
        self._now_title.setText(say("Before you start"))
        stated = stated_text(job.setup.typed)
        warned = (
            phrase("Conditions stated: {stated} (Ctrl+K).\n", stated=stated)
            if stated
            else "Conditions are taken as read (Ctrl+K).\n"
        )
        warned += "".join(phrase("{w}.\n", w=w) for w in (drive_warning(job), *power_warnings(job)) if w)
        self._now.setText(
            say(
                phrase(
                    "{warned}Case closed, adapter in, updates paused. Afterwards: never again.",
                    warned=warned,
                )
            )
        )

    def _show_run(self, job: Job, run: Run, view: JobView | None) -> None:
        held = run.conditions
        room = phrase("room {room_c:.1f} °C", room_c=held.room_c) if held.room_c is not None else "room not known"
        gain = (
            phrase("; gains from {provable} on can be proven", provable=percent(view.measured.provable("sustained"), 1))
            if view is not None
            else ""
        )
        self.set_heading(
            phrase("The {role} is measured{gain}", role=self.role, gain=gain),
            phrase(
                "{taken_at}, {protocol}, {sessions}, {room}, {origin}.",
                taken_at=run.taken_at,
                protocol=run.protocol.name,
                sessions=many(len(run.sessions), "session"),
                room=room,
                origin=run.origin,
            ),
        )
        self._show_missing((), False)
        limit = job.machine.processor.limit_c
        kept = run_strand(run, self.role, self.role == "after", limit) if is_sampled(run) else None
        self.traces.set_builder((lambda w, h: twin_traces((kept,), w, h)) if kept is not None else None)
        shown = self._shown(view) or run
        self.dots.set_builder(lambda w, h: dots(shown, w, h, self.role == "after"))
        self.dots.setMinimumHeight(round(rows_height(len(shown.tests))))
        self._dots_title.setText(say("Repeats, by session" if run.tests else "The log holds no tests, only sensors"))
        self._now_title.setText(say("Conditions and checks" if run.checks else "Conditions"))
        self._now.setText(say(joined("\n", [*self._said_of(view), run_text(run)])))

    def _said_of(self, view: JobView | None) -> list[str]:
        """Sentences about a run beside its own conditions: targets, what lies outside its like, what stands out."""
        if view is None:
            return []
        targets = view.proof.targets if view.measured.before is None else ()
        out = [
            phrase(
                "{words}: {target} ({figures}).", words=upper_first(t.words), target=t.target.words, figures=t.figures
            )
            for t in targets
            if t.figures
        ]
        out += [phrase("{t}.", t=t) for t in view.measured.outside.values()] if self.role == "before" else []
        flags = self._flags(view)
        out += [phrase("{text}.", text=upper_first(f.text)) for f in flags[:MOST_FLAGS]]
        return [*out, phrase("And {count} more.", count=len(flags) - MOST_FLAGS)] if len(flags) > MOST_FLAGS else out

    def _start(self, go_on: bool = False) -> None:
        self.session.start_run(self.role, self.chosen_speed(), go_on)
        job = self.session.job()
        if job is not None:
            self.show_job(job, self.session.view())

    def _pause(self) -> None:
        measure = self.session.measure
        measure.pause(not measure.paused)
        self.pause.setText(say("Go on" if measure.paused else "Pause"))
        self.session.say("The run waits after the present test." if measure.paused else "The run goes on.")

    def chosen_speed(self) -> float | None:
        """Simulated over real time as chosen; None = as fast as it computes."""
        key = next((k for k, b in self.speed.buttons.items() if b.isChecked()), "60")
        return float(key) or None

    def _set_speed(self, key: str) -> None:
        self.session.measure.set_speed(float(key) or None)

    def _set_protocol(self, key: str) -> None:
        job = self.session.job()
        if key == "own":
            if job is not None:
                self.protocol.show_value(job.setup.protocol)  # until it is used
            sheet = ProtocolSheet(self.window(), self.session)
            sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            sheet.show()
            return
        if job is not None:
            self.session.edit("protocol changed", replace(job, setup=replace(job.setup, protocol=key)))

    def _began(self, _active: object) -> None:
        self._proof = LiveProof()
        self._timer.start()

    def _tick(self) -> None:
        """Draw only what is new: a look at the run must not become a load beside it."""
        active, mark = self.session.measure.active, self.session.measure.samples()
        if active is None or active.job_id != self.session.job_id or mark == self._drawn or not self.isVisible():
            return
        live = self.session.measure.live()
        if live is not None and self._run_part.isVisibleTo(self):
            self._drawn = mark
            self.show_live(live)

    def show_live(self, live: LiveView) -> None:
        """Draw the run as it stands."""
        view = self.session.view()
        protocol = view.measured.protocol if view is not None else PROTOCOLS["standard"]
        p = live.progress
        speed = self.session.measure.speed()
        left = phrase(", {seconds_left}", seconds_left=seconds_left(p.left_s / speed)) if speed else ""
        self.set_heading(
            phrase("Measuring the {role}", role=self.role),
            phrase(
                "Session {session} of {sessions}, {phase}{left}.",
                session=p.session,
                sessions=p.sessions,
                phase=p.phase,
                left=left,
            ),
        )
        self._now_title.setText(say("Now"))
        self._dots_title.setText(say("Repeats as they arrive"))
        failed = [c for c in live.checks if c.passed is False]
        now = [
            phrase("{title}: {detail}.", title=failed[-1].title, detail=failed[-1].detail)
            if failed
            else live_words(live)
        ]
        now += [self._proof.look(live, protocol, view.measured.spreads)] if view is not None else []
        self._now.setText(say(joined("\n", (n for n in now if n))))
        trace = live.trace
        self._show_missing((), False)
        if trace is not None and trace.time_s.size > 2:
            present = strand(trace, self.role, self.role == "after")
            end = max(phases_s(protocol), float(trace.time_s[-1]))
            span = (-present.onset_s, end - present.onset_s)
            self.traces.set_builder(lambda w, h: twin_traces((present,), w, h, span_s=span))
        offered = view.measured.offered if view is not None else ()
        self.dots.set_builder(lambda w, h: live_dots(live, protocol, offered, w, h, self.role == "after"))

    def default_because(self) -> Because | None:
        view = self.session.view()
        if self.everyday.isVisibleTo(self):
            return self.everyday.because()
        if self.own.isVisibleTo(self):
            return self.own.because()
        if self.runs.isVisibleTo(self):
            return self.runs.because()
        if view is None:
            return None
        return provable_because(
            spec_of("sustained"),
            view.measured.protocol,
            view.measured.spreads["sustained"],
            view.measured.provable("sustained"),
        )
