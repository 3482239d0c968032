"""Swap grid: what was tried, what it proves, what to try next; the culprit is marked in the record."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.app.view.cause_record import with_proven_faults, with_try
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.swap_job import DRIVES, MEMORY, SwapJob, grid_words, proposal_words, proven_faults, swap_job
from brachium.core.figures.base.drawing import Region
from brachium.core.figures.plots.swap_figure import swap_figure
from brachium.core.record.checks import SwapTry
from brachium.core.record.drive_states import failing_places
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import button, label, paragraph

KINDS = ((MEMORY, "Memory"), (DRIVES, "Drives"))
FAULTS = (("1", "One fault"), ("2", "Up to two"))
CAUTION = "Power off and unplug before every change; discharge yourself, hold edges only."


class SwapPanel(QWidget):
    """Press cells to make up a try of your own; else the proposed one is meant."""

    def __init__(self, session: Session, figure: Callable[[], DrawingView]) -> None:
        super().__init__()
        self._session = session
        self._kind, self._faults = MEMORY, 1
        self._picked: list[tuple[str, ...]] = []
        self._job: SwapJob | None = None
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 8, 0, 0)
        body.setSpacing(6)
        bar = QHBoxLayout()
        self.kind = Switch(KINDS, self._set_kind, "What is swapped")
        self.kind.show_value(MEMORY)
        self.faults = Switch(FAULTS, self._set_faults, "Faults assumed")
        self.faults.show_value("1")
        bar.addWidget(self.kind)
        bar.addSpacing(16)
        bar.addWidget(self.faults)
        bar.addStretch(1)
        body.addLayout(bar)
        self.words = label("", "title", True)
        self.proposal = label("", "soft", True)
        body.addWidget(self.words)
        body.addWidget(self.proposal)
        self.grid = figure()
        self.grid.setMinimumSize(QSize(420, 150))
        self.grid.chosen.connect(self._pick)
        body.addWidget(self.grid)
        answers = QHBoxLayout()
        self.works = button("It works", lambda: self.tried(True), "primary", "The try that is marked works")
        self.fails = button("It fails", lambda: self.tried(False), "", "The try that is marked fails")
        self.undo = button("Take the last try back", self._take_back, "quiet")
        self.mark = button(
            "Mark it in the record", self._mark, "primary", "Nothing is offered for a dead slot any more"
        )
        for b in (self.works, self.fails, self.mark, self.undo):
            answers.addWidget(b)
        answers.addStretch(1)
        body.addLayout(answers)
        body.addWidget(paragraph(CAUTION, "warm"))
        self.history = paragraph("", "soft", True)
        body.addWidget(self.history)
        body.addStretch(1)

    def show_job(self, job: Job) -> None:
        found = swap_job(job.machine, job.swap_tries, self._kind, self._faults)
        if found is None or (self._job is not None and found.tries != self._job.tries):
            self._picked = []
        self._job = found
        usable = found is not None
        dying = sorted(failing_places(job)) if self._kind == DRIVES else []
        if dying:  # every try of the grid reads a drive at length
            found, usable = None, False
        self.grid.setVisible(usable)
        for b in (self.works, self.fails, self.mark, self.undo):
            b.setVisible(False)
        if dying:
            names = joined(" and ", (job.machine.place_label(p) for p in dying))
            self.words.setText(say("No drive is tried here"))
            self.proposal.setText(say(phrase("The drive in {names} is failing: image it first.", names=names)))
            self.history.setText("")
            return
        if found is None:
            what = "modules and slots" if self._kind == MEMORY else "drives"
            self.words.setText(say("Nothing to swap"))
            self.proposal.setText(say(phrase("Record the {what} of this machine in Take in first.", what=what)))
            self.history.setText("")
            return
        self._show(job, found)

    def because(self) -> Because:
        """What the grid rests on."""
        left = [Fact(joined(' and ', sorted(self._job.names[e] for e in h)), "possible", Origin.COMPUTED)
                for h in self._job.state.left] if self._job is not None else []  # fmt: skip
        return Because(
            "Swap grid", "fewest tries on average",
            "The next try leaves the fewest tries on average; every possibility counts alike.",
            tuple(left), "", "Faults that come and go contradict the tries.",
        )  # fmt: skip

    def _show(self, job: Job, found: SwapJob) -> None:
        self.words.setText(say(phrase("{grid_words}.", grid_words=grid_words(found))))
        picked = tuple(self._picked)
        state = found.state
        open_ = bool(picked or state.proposal)
        self.proposal.setText(say(self._proposal_text(found)))
        self.works.setVisible(open_)
        self.fails.setVisible(open_)
        self.undo.setVisible(bool(found.tries))
        places, parts = proven_faults(found)
        known = set(job.machine.bad_places) >= places and set(job.machine.bad_parts) >= parts
        self.mark.setVisible(bool(places or parts) and not known)
        self.grid.set_builder(lambda w, h: swap_figure(found.axes, found.names, state, found.tries, w, picked))
        self.grid.fit_height()
        lines = [
            phrase(
                "{k}. {row_words}: {which}{more}",
                k=k,
                row_words=_row_words(t, found),
                which="works" if t.worked else "fails",
                more=phrase(" ({when})", when=t.when) if t.when else "",
            )
            for k, t in enumerate(found.tries, 1)
        ]
        self.history.setText(say(joined("\n", lines) or "No try yet: begin with the failing set as it was found."))

    def _proposal_text(self, found: SwapJob) -> str:
        if self._picked:
            return phrase("Your own try: {row_words}.", row_words=_row_words(SwapTry(tuple(self._picked), True), found))
        if found.state.proposal:
            return phrase("Next: {proposal_words}.", proposal_words=proposal_words(found))
        return "" if found.state.cleared else "No try tells these apart."

    def _pick(self, region: Region) -> None:
        """Put a module into a place for the next try, or take it out again."""
        if self._job is None or not region.id.startswith("cell:"):
            return
        row = self._full_row(*region.id.removeprefix("cell:").split("|"))
        if row in self._picked:
            self._picked.remove(row)
        else:
            clash = {row[0], row[1]}
            self._picked = [r for r in self._picked if not clash & set(r)] if self._job.together else []
            self._picked.append(row)
        job = self._session.job()
        if job is not None:
            self._show(job, self._job)

    def _full_row(self, first: str, second: str) -> tuple[str, ...]:
        """A drive on a cable is at the port that the proposal names, else at its own."""
        assert self._job is not None
        if len(self._job.axes) < 3:
            return first, second
        at = next((r[2] for r in self._job.state.proposal), f"port:{first.partition(':')[2]}")
        return first, second, at

    def tried(self, worked: bool) -> None:
        """Enter how the marked try went."""
        job = self._session.job()
        if job is None or self._job is None:
            return
        rows = tuple(self._picked) or self._job.state.proposal
        if rows:
            self._picked = []
            self._session.edit("swap tried", with_try(job, SwapTry(rows, worked, now_text())))

    def _take_back(self) -> None:
        job = self._session.job()
        if job is not None and self._job is not None and self._job.tries:
            last = self._job.tries[-1]
            rest = tuple(t for t in job.swap_tries if t is not last)
            self._session.edit("try taken back", replace(job, swap_tries=rest))

    def _mark(self) -> None:
        job = self._session.job()
        if job is not None and self._job is not None:
            self._session.edit("marked as faulty", with_proven_faults(job, *proven_faults(self._job)))
            self._session.say("Marked; nothing is offered for a dead slot.")

    def _set_kind(self, key: str) -> None:
        self._kind, self._picked, self._job = key, [], None
        self._again()

    def _set_faults(self, key: str) -> None:
        self._faults = int(key)
        self._again()

    def _again(self) -> None:
        job = self._session.job()
        if job is not None:
            self.show_job(job)


def _row_words(tried: SwapTry, found: SwapJob) -> str:
    rows = []
    for row in tried.rows:
        names = [found.names[e] for e in row]
        rows.append(
            phrase("{names} in {names2}", names=names[0], names2=lower_first(names[1]))
            if len(names) == 2
            else joined(", ", names)
        )
    return joined("; ", rows)
