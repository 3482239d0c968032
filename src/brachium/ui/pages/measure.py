"""Measure: the run in progress or the kept one, as traces with repeats; conditions; start, speed, stop."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QSize, QTimer
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout

from brachium.app.figures import run_strand
from brachium.app.measuring import LiveView
from brachium.app.view import JobView
from brachium.core.because import Because, Fact, Origin
from brachium.core.figures.drawing import Drawing
from brachium.core.figures.repeats import repeat_dots
from brachium.core.figures.traces import strand, twin_traces
from brachium.core.job.job import SIMULATED, Job
from brachium.core.measure.run import Run
from brachium.core.measure.tests import STANDARD, spread_for
from brachium.core.units import many, minutes, percent, seconds_left
from brachium.ui.pages.page import Page
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, label

LIVE_MS = 100
SPEEDS: tuple[tuple[str, str], ...] = (("1", "1×"), ("60", "60×"), ("0", "Fastest"))
PROTOCOL_S = (0.0, sum(p.duration_s for p in STANDARD.phases))


class MeasurePage(Page):
    """`role` is what a run started here is kept as; Prove has its own instance for the after-run."""

    role = "before"

    def build(self) -> None:
        bar = QHBoxLayout()
        self.start = button("Measure the before", self._start, "primary")
        self.stop = button("Stop", self.session.measure.stop)
        self.speed = Switch(SPEEDS, self._set_speed, "Speed of simulated time")
        self.speed.show_value("60")
        self._speed_label = label("Simulated time", "field")
        bar.addWidget(self.start)
        bar.addWidget(self.stop)
        bar.addSpacing(16)
        bar.addWidget(self._speed_label)
        bar.addWidget(self.speed, 1)
        self.body.addSpacing(6)
        self.body.addLayout(bar)
        self.body.addSpacing(8)
        columns = QHBoxLayout()
        columns.setSpacing(20)
        self.traces = self.figure()
        self.traces.setMinimumSize(QSize(420, 400))
        columns.addWidget(self.traces, 3)
        right = QVBoxLayout()
        right.setSpacing(4)
        self._dots_title = label("Repeats as they arrive", "section")
        right.addWidget(self._dots_title)
        self.dots = self.figure()
        self.dots.setMinimumSize(QSize(250, 300))
        right.addWidget(self.dots, 1)
        self._now_title = label("Now", "section")
        self._now = label("", "soft", True)
        right.addWidget(self._now_title)
        right.addWidget(self._now)
        columns.addLayout(right, 2)
        self.body.addLayout(columns, 1)
        self._timer = QTimer(self)
        self._timer.setInterval(LIVE_MS)
        self._timer.timeout.connect(self._tick)
        self.session.run_started.connect(lambda _: self._timer.start())
        self.session.run_finished.connect(lambda _a, _r: self._timer.stop())

    def show_job(self, job: Job, view: JobView | None) -> None:
        running = self.session.measure.active
        mine = running is not None and running.job_id == job.id
        self.start.setVisible(not mine and job.bench == SIMULATED)
        self.stop.setVisible(mine)
        connected = job.bench == SIMULATED
        for w in (self.speed, self._speed_label):
            w.setVisible(connected)
        self.start.setEnabled(connected and running is None)
        run = self._kept(view)
        self.start.setText(self._start_text(run))
        if mine:
            return
        if run is None:
            self._empty(job, view, connected)
        else:
            self._show_run(job, run)

    def _kept(self, view: JobView | None) -> Run | None:
        return view.before if view is not None else None

    def _start_text(self, run: Run | None) -> str:
        return "Measure the before again" if run is not None else "Measure the before"

    def _empty(self, job: Job, view: JobView | None, connected: bool) -> None:
        self.traces.set_builder(None)
        self.dots.set_builder(None)
        if not connected:
            self.set_heading(
                "No run yet", "This machine is not connected. Drop a before and an after log on the window."
            )
            self._now.setText(
                "Logs need a temperature, and power or utilisation, over idle, 10 minutes of load, cool-down."
            )
            return
        length = minutes(view.run_minutes) if view is not None else "about half an hour"
        provable = f"Proves a gain from {percent(view.provable, 1)} on." if view is not None else ""
        self.set_heading(
            f"No {self.role}-run yet",
            f"{STANDARD.sessions} sessions of {STANDARD.repeats} repeats, {length}. {provable}",
        )
        self._now.setText(
            "Panel closed, adapter in, updates paused. Afterwards it can never be measured again: "
            "temperatures under load, start-up from the old drive, the owner's task as it was."
        )

    def _show_run(self, job: Job, run: Run) -> None:
        held = run.conditions
        room = f"room {held.room_c:.1f} °C" if held.room_c is not None else "room not known"
        self.set_heading(
            f"The {self.role}-run",
            f"{run.taken_at}, {run.protocol.name}, {many(len(run.sessions), 'session')}, {room}, {run.origin}.",
        )
        limit = job.machine.processor.limit_c
        kept = run_strand(run, self.role, self.role == "after", limit)
        self.traces.set_builder(lambda w, h: twin_traces((kept,), w, h))
        self.dots.set_builder(lambda w, h: _dots(run, w, h, self.role == "after"))
        self._dots_title.setText("Repeats, by session" if run.tests else "The log holds no tests, only sensors")
        self._now.setText(_conditions(run))
        self._now_title.setText("Conditions")

    def _start(self) -> None:
        self.session.start_run(self.role, self.chosen_speed())
        job = self.session.job()
        if job is not None:
            self.show_job(job, self.session.view())

    def chosen_speed(self) -> float | None:
        """Simulated over real time as chosen; None = as fast as it computes."""
        key = next((k for k, b in self.speed.buttons.items() if b.isChecked()), "60")
        return float(key) or None

    def _set_speed(self, key: str) -> None:
        self.session.measure.set_speed(float(key) or None)

    def _tick(self) -> None:
        live = self.session.measure.live()
        active = self.session.measure.active
        if live is None or active is None or active.job_id != self.session.job_id or not self.isVisible():
            return
        self.show_live(live)

    def show_live(self, live: LiveView) -> None:
        """Draw the run as it stands."""
        p = live.progress
        speed = self.session.measure.speed()
        left = f", {seconds_left(p.left_s / speed)}" if speed else ""
        self.set_heading(f"Measuring the {self.role}", f"Session {p.session} of {p.sessions}, {p.phase}{left}.")
        self._now_title.setText("Now")
        self._dots_title.setText("Repeats as they arrive")
        self._now.setText("Leave the panel closed and the machine alone; the run goes on by itself.")
        trace = live.trace
        if trace is not None and trace.time_s.size > 2:
            now = strand(trace, self.role, self.role == "after")
            end = max(PROTOCOL_S[1], float(trace.time_s[-1]))
            self.traces.set_builder(lambda w, h: twin_traces((now,), w, h, span_s=(-now.onset_s, end - now.onset_s)))
        self.dots.set_builder(lambda w, h: _live_dots(live, w, h, self.role == "after"))

    def default_because(self) -> Because | None:
        view = self.session.view()
        if view is None:
            return None
        spread = spread_for("sustained")
        return Because(
            f"This protocol proves a gain from {percent(view.provable, 1)} on", "power of the comparison",
            "Repeats of one session share its offset, so a second session is worth more than many repeats. The figure "
            "is for the sustained load: that gain is proven 8 times in 10.",
            (Fact("sessions", str(STANDARD.sessions), Origin.ASSUMED),
             Fact("repeats in each", str(STANDARD.repeats), Origin.ASSUMED),
             Fact("between sessions", percent(spread.between, 1), Origin.ASSUMED),
             Fact("within a session", percent(spread.within, 1), Origin.ASSUMED)),
            f"smallest provable gain {percent(view.provable, 1)}", "A third session, on each side.",
        )  # fmt: skip


def _conditions(run: Run) -> str:
    c = run.conditions
    parts = [
        c.boot_medium, "on mains" if c.mains else "", "battery fitted" if c.battery_fitted else "", c.power_profile,
        f"fan {c.fan_mode}" if c.fan_mode else "", c.system,
        f"{percent(c.free_space_frac)} free" if c.free_space_frac is not None else "",
    ]  # fmt: skip
    text = ", ".join(p for p in parts if p)
    return (text[:1].upper() + text[1:] + ".") if text else "No conditions were logged."


def _dots(run: Run, width: float, height: float, after: bool) -> Drawing:
    rows = tuple((t, tuple(s.results(t.key) for s in run.sessions)) for t in run.tests)
    return repeat_dots(rows, width, height, after)


def _live_dots(live: LiveView, width: float, height: float, after: bool) -> Drawing:
    from brachium.core.measure.tests import TESTS

    rows = []
    for test in TESTS:
        sessions = [s.results(test.key) for s in live.finished if s.number != live.session]
        present = np.array([r.value for r in live.repeats if r.test == test.key])
        rows.append((test, (*sessions, present)))
    return repeat_dots(tuple(rows), width, height, after)
