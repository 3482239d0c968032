"""What sits in one place: the part by its label, what is asked most of it; what a lead feeds; facts of the place."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.spoken import say
from brachium.core.base.text import joined, lower_first, phrase, upper_first
from brachium.core.base.typed_numbers import typed_int
from brachium.core.fit.fill import fact_of
from brachium.core.fit.gap_words import value_words
from brachium.core.fit.recorded_facts import with_job_fact
from brachium.core.machine.facts.fact_units import figure, figure_words, unit_of
from brachium.core.machine.facts.place_facts import COOLING, FactSpec, facts_of
from brachium.core.machine.facts.record_facts import RecordFact, record_facts
from brachium.core.machine.machine import DriveBay, Lead, Machine, ModuleSlot
from brachium.core.machine.part_words import part_title
from brachium.core.machine.parts import Part
from brachium.core.machine.places import with_feed, without_place
from brachium.core.machine.typical_places import confirmed, is_typical
from brachium.core.plan.part_at_place import read_part_at, with_read_part
from brachium.core.record.job import Job
from brachium.ui.pages.take_in.fact_fields import fact_field
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, clear, label

HEAD_H = 32  # px of the title, and of the keys at its end
OF_MODULES = ("speed_mts", "volts", "ranks")
OF_DRIVES = ("height_mm", "role", "used_bytes")


class PlaceEditor(QWidget):
    """Edits the chosen place; says which one when none is chosen. `emptied` follows when a place or part went."""

    emptied = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._place = ""
        self._shown: object = None
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        self.fields: dict[str, ChoiceField | LineField] = {}
        self.setFixedHeight(HEAD_H + 58)
        self.remove = button("×", self._remove, "quiet", "Remove this slot")
        self.remove.setAccessibleName(say("Remove this slot"))
        self.remove.setParent(self)
        self.remove.hide()
        self.pull = button("To the shelf", self._pull, "quiet", "Out of the machine, onto the shelf")
        self.pull.setParent(self)
        self.pull.hide()
        self.confirm = button("It is there", self._confirm, "quiet", "Usual; say that you saw it")
        self.confirm.setParent(self)
        self.confirm.hide()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.remove.setGeometry(self.width() - 32, 0, 32, HEAD_H)
        self.pull.setGeometry(self.width() - 136, 0, 104, HEAD_H)
        self.confirm.setGeometry(self.width() - 136, 0, 104, HEAD_H)

    def _pull(self) -> None:
        moved = self._session.shelf.pull(self._session.job_id, self._place)
        if moved:
            self._session.say(phrase("On the shelf now: from {moved}.", moved=moved))
            self.emptied.emit()

    def _confirm(self) -> None:
        job = self._session.job()
        if job is not None:
            label_ = lower_first(job.machine.place_label(self._place))
            self._session.edit(
                phrase("{label} seen", label=label_), replace(job, machine=confirmed(job.machine, self._place))
            )

    def _remove(self) -> None:
        job = self._session.job()
        if job is not None:
            label_ = lower_first(job.machine.place_label(self._place))
            machine = without_place(job.machine, self._place)
            self._session.edit(phrase("{label} taken away", label=label_), replace(job, machine=machine))
            self.emptied.emit()

    def show_place(self, place_id: str) -> None:
        self._place = place_id
        job = self._session.job()
        if job is not None:
            self.show_job(job)

    # complex: one branch a kind of place
    def show_job(self, job: Job) -> None:
        machine = job.machine
        slot = next((s for s in machine.slots if s.id == self._place), None)
        bay = next((b for b in machine.bays if b.id == self._place), None)
        lead = next((x for x in machine.leads if x.id == self._place), None)
        part = machine.configuration().parts.get(self._place)
        specs = facts_of(machine, self._place)
        places = len(machine.slots) + len(machine.bays) + len(machine.leads)
        now = (job.id, self._place, slot, bay, part, lead, places, is_typical(machine, self._place),
               tuple(_known(machine, s.key) for s in specs))  # fmt: skip
        if self._shown == now:
            return
        self._shown = now
        clear(self._layout)
        self.fields = {}
        platform = machine.platform
        on_board = self._place in [
            *(c.id for c in platform.cards), *(h.id for h in platform.headers), *(c.id for c in platform.chips)
        ]  # fmt: skip
        self.remove.setVisible(any(p is not None for p in (slot, bay, lead)) or on_board)
        self.pull.setVisible(part is not None)
        self.confirm.setVisible(part is None and is_typical(machine, self._place))
        if slot is not None:
            self._part(machine, slot, part)
        elif bay is not None:
            self._part(machine, bay, part)
        elif lead is not None:
            self._lead(machine, lead)
        elif specs:
            self._facts(machine, specs)
        else:
            self._hint(bool(places))

    def _lead(self, machine: Machine, lead: Lead) -> None:
        feeds = ChoiceField("Feeds", [("", "nothing: free"), *((b.id, b.label) for b in machine.bays)], self._feed)
        feeds.show_value(lead.feeds)
        self._row(phrase("{lead}, from the power supply", lead=lead.label), {"feeds": feeds})

    def _facts(self, machine: Machine, specs: Sequence[FactSpec]) -> None:
        title = machine.place_label(self._place) if self._place != COOLING else "Paste, fins and cooler"
        self._row(title, {s.key: self._fact_field(s, _known(machine, s.key)) for s in specs})

    def _hint(self, some: bool) -> None:
        words = "Click a slot, bay or socket." if some else "Add a slot or bay first."
        self._layout.addWidget(label(words, "soft"))
        self._layout.addStretch(1)

    def _fact_field(self, spec: FactSpec, value: object) -> ChoiceField | LineField:
        name = phrase("{spec} [{spec2}]", spec=spec.title, spec2=spec.unit) if spec.unit else spec.title
        if spec.values:
            choices = [("", "not known"), *((str(k), value_words(v)) for k, v in enumerate(spec.values))]
            choice = ChoiceField(name, choices, lambda key: self._fact(spec, spec.values[int(key)] if key else None))
            choice.show_value(str(spec.values.index(value)) if value in spec.values else "")
            return choice
        line = LineField(name, lambda text: self._typed_fact(spec, text), "not known")
        line.show_value("" if value is None else _shown(spec, value))
        return line

    def _typed_fact(self, spec: FactSpec, text: str) -> str | None:
        value: object = None
        if text:
            try:
                value = text if spec.text else _figure(spec, text)
            except ValueError as error:
                return str(error)
        self._fact(spec, value)
        return None

    def _fact(self, spec: FactSpec, value: object) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(
                phrase("{spec} recorded", spec=lower_first(spec.title)), with_job_fact(job, spec.key, value)
            )

    def _row(self, title: str, fields: Mapping[str, ChoiceField | LineField]) -> None:
        row = QHBoxLayout()
        row.setSpacing(12)
        head = label(title, "field")
        head.setFixedHeight(HEAD_H)
        self._layout.addWidget(head)
        for key, field in fields.items():
            self.fields[key] = field
            row.addWidget(field, 3 if key == "label" else 1)
        self._layout.addLayout(row)

    def _part(self, machine: Machine, place: ModuleSlot | DriveBay, part: Part | None) -> None:
        """The label line, and beside it what is asked most of what sits there."""
        memory = isinstance(place, ModuleSlot)
        kind = place.generation if isinstance(place, ModuleSlot) else place.interface
        hint = "as on its label: 4GB 1Rx8 PC3L-12800S" if memory else "as on its label: 500GB SATA SSD 7 mm"
        line = LineField("Module" if memory else "Drive", self._typed_label, hint)
        line.show_value(part_title(part) if part is not None else "")
        fields: dict[str, ChoiceField | LineField] = {"label": line}
        asked = OF_MODULES if memory else OF_DRIVES
        facts = {f.key: f for f in record_facts(machine)} if part is not None else {}
        for name in asked:
            fact = facts.get(f"parts.{place.id}.{name}")
            if fact is not None:
                fields[name] = fact_field(fact, self._record)
        self._row(phrase("{place}, {kind} {form}", place=place.label, kind=kind, form=place.form), fields)

    def _record(self, fact: RecordFact, value: object) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(
                phrase("{fact} recorded", fact=lower_first(fact.title)), with_job_fact(job, fact.key, value)
            )

    def _typed_label(self, text: str) -> str | None:
        """A label or quick words put into this place; nothing empties it."""
        job = self._session.job()
        if job is None:
            return None
        asked = read_part_at(job.machine, self._place, text) if text else None
        if asked is not None and asked.part is None:
            return phrase("{lacks}.", lacks=upper_first(asked.lacks))
        machine = with_read_part(job.machine, self._place, asked)
        name = lower_first(job.machine.place_label(self._place))
        self._session.edit(phrase("{name} changed", name=name), replace(job, machine=machine))
        unread = asked.piece.not_understood if asked is not None and asked.piece is not None else ()
        return phrase("Not understood: {unread}.", unread=joined(" ", unread)) if unread else None

    def _feed(self, place_id: str) -> None:
        job = self._session.job()
        if job is not None:
            name = job.machine.place_label(self._place)
            self._session.edit(
                phrase("{name} changed", name=name), replace(job, machine=with_feed(job.machine, self._place, place_id))
            )


def _known(machine: Machine, key: str) -> object:
    try:
        if key.startswith("parts."):
            _, place, name = key.split(".", 2)
            return getattr(machine.configuration().parts.get(place), name, None)
        return fact_of(machine, key)
    except KeyError:
        return None


def _shown(spec: FactSpec, value: object) -> str:
    """A value in the fact's unit, as it can be typed again."""
    unit = unit_of(spec.key.rpartition(".")[2], False)
    number = isinstance(value, int | float) and not isinstance(value, bool)
    return figure_words(value, unit) if number else value_words(value)  # type: ignore[arg-type]


def _figure(spec: FactSpec, text: str) -> float | int:
    """A figure in the fact's unit. Raises ValueError where it is none or cannot be."""
    if spec.whole:
        try:
            return typed_int(text)
        except ValueError:
            raise ValueError("A whole number.") from None
    return figure(text, unit_of(spec.key.rpartition(".")[2], False))
