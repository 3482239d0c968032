"""A run in progress in the Next bar: how far, what, how long still, and what became of it."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from brachium.core.base.text import phrase
from brachium.core.base.units import seconds_left
from brachium.core.record.job import LOCAL
from brachium.ui.desktop.desktop import Desktop
from brachium.ui.session import Session
from brachium.ui.shell.next_bar import NextBar

PROGRESS_MS = 200


class RunDisplay(QObject):
    """Listens to a session and shows its run in the Next bar."""

    changed = Signal()  # a run began or ended

    def __init__(self, session: Session, bar: NextBar, desktop: Desktop) -> None:
        super().__init__(bar)
        self._session, self._bar, self._desktop = session, bar, desktop
        self._timer = QTimer(self)
        self._timer.setInterval(PROGRESS_MS)
        self._timer.timeout.connect(self._show)
        session.run_started.connect(self._started)
        session.run_finished.connect(self._finished)
        session.search_done.connect(self._notice)
        bar.stop_asked.connect(session.measure.stop)

    def _show(self) -> None:
        measure = self._session.measure
        live, active = measure.live(), measure.active
        if live is None or active is None:
            return
        p = live.progress
        total = max(p.done_s + p.left_s, 1.0)
        speed = measure.speed()
        left = seconds_left(p.left_s / speed) if speed else "as fast as it computes"
        name = self._session.workspace.card(active.job_id).name
        words = phrase(
            "session {session} of {sessions}, {phase}, {left}",
            session=p.session,
            sessions=p.sessions,
            phase=p.phase,
            left=left,
        )
        self._bar.set_running(
            phrase("Measuring the {role}: {name}", role=active.role, name=name), words, p.done_s / total
        )

    def _name(self, active: object) -> str:
        job_id = getattr(active, "job_id", "")
        workspace = self._session.workspace
        return workspace.card(job_id).name if job_id in workspace.job_ids() else "A machine"

    def _started(self, _: object) -> None:
        self._timer.start()
        job = self._session.job()
        if job is not None and job.bench == LOCAL:
            self._desktop.hold_screen("Brachium measures this machine")
        self.changed.emit()

    def _finished(self, active: object, run: object) -> None:
        self._timer.stop()
        self._desktop.release_screen()
        self._bar.set_idle()
        if getattr(run, "sessions", ()) and getattr(active, "job_id", "") == self._session.job_id:
            self._bar.set_reading()
        complete = getattr(run, "complete", False)
        words = "The run is kept." if complete else "Stopped; what was sampled is kept as incomplete."
        self._bar.show_message(words)
        self._notice(phrase("{name}: measured", name=self._name(active)), words)
        self.changed.emit()

    def _notice(self, title: str, words: str) -> None:
        """Only whoever looks elsewhere needs one."""
        if not self._bar.window().isActiveWindow():
            self._desktop.notify(title, words)
