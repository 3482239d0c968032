"""Still open: the owner's data first, then usual slots that nobody saw and the facts that most parts wait for."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.shop.workspace import now_text
from brachium.app.view.job_view import JobView
from brachium.app.view.still_open import StillOpen, still_open
from brachium.core.base.spoken import say
from brachium.core.base.text import counted, lower_first, many, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.machine.places import without_place
from brachium.core.machine.typical_places import confirmed
from brachium.core.record.job import DataState, Job
from brachium.ui.pages.base.gap_field import gap_field, how_to_find
from brachium.ui.pages.take_in.backup_fields import BackupFields
from brachium.ui.session import Session
from brachium.ui.widgets.fields import Switch
from brachium.ui.widgets.labels import RuleLine, button, clear, label, paragraph

DATA_CHOICES = (("OPEN", "Open"), ("BACKED_UP", "Backed up"), ("NOT_NEEDED", "Not needed"), ("RESCUE", "Rescue"))


class OpenPanel(QWidget):
    """What is answered here is written at once; Ctrl+Z takes it back."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addWidget(label("The owner's data", "section"))
        self.data = Switch(DATA_CHOICES, self._set_data, "The owner's data")
        layout.addWidget(self.data)
        self._data_note = label("", "soft", True)
        layout.addWidget(self._data_note)
        self.backup = BackupFields(session)
        layout.addWidget(self.backup)
        layout.addSpacing(8)
        self._title = label("", "section", True)
        layout.addWidget(self._title)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        layout.addLayout(self._rows)
        layout.addStretch(1)

    def show_job(self, job: Job, view: JobView | None) -> None:
        """The record as it is; fields that did not change stay as they are."""
        self.data.show_value(job.data_safe.state.name)
        self.backup.show_job(job)
        self._data_note.setText(say(_data_words(job)))
        self._data_note.setVisible(job.data_safe.state is not DataState.BACKED_UP)
        found = still_open(job, view)
        state = (job.id, found, job.machine.configuration(), view is None)
        if state == self._shown:
            return
        self._shown = state
        clear(self._rows)
        self._title.setText(say(_title(job, view, found)))
        if found.unseen:
            self._unseen(job, found)
        for gap, count in found.facts:
            self._rows.addWidget(RuleLine())
            self._rows.addWidget(gap_field(self._session, gap))
            waits = counted(count, "{count} part waits for it.", "{count} parts wait for it.")
            self._rows.addWidget(
                paragraph(phrase("{waits} {how_to_find}", waits=waits, how_to_find=how_to_find(gap)), "soft")
            )

    def _unseen(self, job: Job, found: StillOpen) -> None:
        first = found.unseen[0]
        name = job.machine.place_label(first)
        self._rows.addWidget(label(phrase("{name}: is it there?", name=name), "title", True))
        rest = len(found.unseen) - 1
        more = phrase(" {rest} more not seen yet.", rest=rest) if rest else ""
        self._rows.addWidget(paragraph(phrase("Usual for its kind; look, or scan it.{more}", more=more), "soft"))
        row = QHBoxLayout()
        row.addWidget(button("It is there", lambda: self._seen((first,)), "", phrase("{name}: you saw it", name=name)))
        row.addWidget(button("It is not", lambda: self._gone(first), "", phrase("Remove {name}", name=name.lower())))
        if rest:
            every = button("All are there", lambda: self._seen(found.unseen), "quiet", "You saw them all")
            row.addWidget(every)
        row.addStretch(1)
        self._rows.addLayout(row)

    def _seen(self, places: tuple[str, ...]) -> None:
        job = self._session.job()
        if job is not None:
            machine = job.machine
            for place in places:
                machine = confirmed(machine, place)
            what = lower_first(machine.place_label(places[0])) if len(places) == 1 else many(len(places), "slot")
            self._session.edit(phrase("{what} seen", what=what), replace(job, machine=machine))

    def _gone(self, place: str) -> None:
        job = self._session.job()
        if job is not None:
            name = lower_first(job.machine.place_label(place))
            self._session.edit(
                phrase("{name} taken away", name=name), replace(job, machine=without_place(job.machine, place))
            )

    def _set_data(self, key: str) -> None:
        job = self._session.job()
        if job is not None:
            when = "" if DataState[key] is DataState.OPEN else now_text()
            safe = replace(job.data_safe, state=DataState[key], who=job.data_safe.who or "the bench", when=when)
            changed = replace(job, data_safe=safe)
            self._session.edit("data state changed", changed)
            self._session.explain(data_because(changed))


def _title(job: Job, view: JobView | None, found: StillOpen) -> str:
    """Nothing is said to be complete before the parts were judged, nor of a machine that nothing is known of."""
    if found.unseen or found.facts:
        return "Still open"
    if not job.machine.fitted:
        return "What is in it is still open"
    return "Looking at what is still open…" if view is None else "No part waits for a fact"


def _data_words(job: Job) -> str:
    safe = job.data_safe
    if safe.state is DataState.OPEN:
        return "Before anything is loaded or opened."
    if safe.state is DataState.RESCUE:
        return phrase("Opened to rescue the data, {when}: no load, no other work before.", when=safe.when)
    return phrase("{state}, recorded {when}.", state=safe.state.value.capitalize(), when=safe.when)


def data_because(job: Job) -> Because:
    """Why the owner's data comes first."""
    safe = job.data_safe
    return Because(
        "The owner's data comes first", "data first",
        "A load test can finish off a failing drive; an opened machine may not come back. "
        "Backed up means copied and read back once.",
        (Fact("state", safe.state.value, Origin.TYPED), Fact("recorded", safe.when or "not yet", Origin.TYPED),
         *(Fact(name, value, Origin.TYPED) for name, value in (("lies on", safe.where), ("size", safe.size),
                                                              ("verified by", safe.verified)) if value)),
        "Measure is possible" if safe.state.settled else "Measure is not possible yet",
        "Choosing one of the two settled states.",
    )  # fmt: skip
