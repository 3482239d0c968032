"""A run in progress in the Next bar: how far, what, how long still, and what became of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer

from brachium.core.base.units import seconds_left

if TYPE_CHECKING:
    from brachium.ui.shell.window import MainWindow

PROGRESS_MS = 200


class RunDisplay:
    """Listens to the session of a window."""

    def __init__(self, window: MainWindow) -> None:
        self._w = window
        self._timer = QTimer(window)
        self._timer.setInterval(PROGRESS_MS)
        self._timer.timeout.connect(self._show)
        window.session.run_started.connect(self._started)
        window.session.run_finished.connect(self._finished)
        window.next.stop_asked.connect(window.session.measure.stop)

    def _show(self) -> None:
        measure = self._w.session.measure
        live, active = measure.live(), measure.active
        if live is None or active is None:
            return
        p = live.progress
        total = max(p.done_s + p.left_s, 1.0)
        speed = measure.speed()
        left = seconds_left(p.left_s / speed) if speed else "as fast as it computes"
        name = self._w.session.workspace.card(active.job_id).name
        words = f"session {p.session} of {p.sessions}, {p.phase}, {left}"
        self._w.next.set_running(f"Measuring the {active.role}: {name}", words, p.done_s / total)

    def _started(self, _: object) -> None:
        self._timer.start()
        self._w.show_rail()
        self._w.show_page()

    def _finished(self, active: object, run: object) -> None:
        self._timer.stop()
        self._w.next.set_idle()
        if getattr(run, "sessions", ()) and getattr(active, "job_id", "") == self._w.session.job_id:
            self._w.next.set_reading()
        complete = getattr(run, "complete", False)
        self._w.next.show_message(
            "The run is kept." if complete else "The run was stopped; what was sampled is kept as incomplete."
        )
        self._w.show_rail()
        self._w.show_page()
