"""Other benches in the window: who is at which machine, what changed there, whether the server answers."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer

from brachium.core.base.text import many, phrase
from brachium.core.base.units import seconds_left
from brachium.ui.session import Session
from brachium.ui.shell.header import Header
from brachium.ui.shell.next_bar import NextBar

SAY_MS = 1000


class BenchDisplay(QObject):
    """Does nothing in a shop that is a file."""

    def __init__(self, session: Session, header: Header, bar: NextBar) -> None:
        super().__init__(bar)
        self._session, self._header, self._bar = session, header, bar
        session.workspace.on_clash.append(self._clash)
        shared = session.shared
        if shared is None:
            return
        shared.on_benches.append(self.show_benches)
        shared.on_away.append(self._away)
        session.job_selected.connect(lambda _: self.show_benches())
        session.benches_changed.connect(self.show_benches)
        self._timer = QTimer(self)
        self._timer.setInterval(SAY_MS)
        self._timer.timeout.connect(self._announce)
        self._timer.start()
        self._announce()

    def show_benches(self) -> None:
        """Say in the header who else has the selected machine in hand."""
        shared = self._session.shared
        at = shared.at(self._session.job_id) if shared is not None and self._session.job_id else ()
        self._header.show_benches(tuple(bench_words(b.name, b.doing) for b in at))

    def _announce(self) -> None:
        """The machine in hand here, and how far a run is, for the others."""
        measure, shared = self._session.measure, self._session.shared
        live, active = measure.live(), measure.active
        if shared is None:
            return
        if live is None or active is None:
            shared.announce(self._session.job_id)
            return
        p = live.progress
        share = 100.0 * p.done_s / max(p.done_s + p.left_s, 1.0)
        words = phrase("measuring the {role}, {share:.0f} %", role=active.role, share=share)
        speed = measure.speed()
        if speed:
            words = phrase("{words}, {left}", words=words, left=seconds_left(p.left_s / speed))
        shared.announce(active.job_id, words)

    def _away(self, away: bool) -> None:
        waits = self._session.workspace.writes.unsaved
        self._header.show_away(away)
        if not away and waits:
            words = phrase("The server answers again; {edits} on the way.", edits=many(waits, "edit"))
            self._bar.show_message(words)

    def _clash(self) -> None:
        left = len(self._session.workspace.clashes.open)
        self._header.show_clashes(left)


def bench_words(name: str, doing: str) -> str:
    """A bench, and what it does with a machine."""
    return phrase("{bench}: {doing}", bench=name, doing=doing) if doing else phrase("in hand at {bench}", bench=name)
