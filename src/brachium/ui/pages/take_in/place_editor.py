"""What sits in one place: a module's size, speed and voltage; a drive's kind, size and height; what a lead feeds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from brachium.core.base.typed_numbers import typed_float, typed_int
from brachium.core.base.units import GB, GIB, drive_size, gib
from brachium.core.fit.fill import fact_of
from brachium.core.fit.recorded_facts import value_words, with_job_fact
from brachium.core.machine.from_scan import USUAL_VOLTS
from brachium.core.machine.machine import DriveBay, Lead, Machine, ModuleSlot
from brachium.core.machine.parts import BayForm, Drive, MemoryGeneration, MemoryModule, Part
from brachium.core.machine.place_facts import COOLING, FactSpec, facts_of
from brachium.core.machine.places import with_feed, without_place
from brachium.core.record.job import Job
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField
from brachium.ui.widgets.labels import button, clear, label

SIZES_GIB = (1, 2, 4, 8, 16, 32)
SPEEDS = {"DDR2": (667, 800), "DDR3": (1066, 1333, 1600, 1866), "DDR4": (2133, 2400, 2666, 3200), "DDR5": (4800, 5600)}
VOLTS = {"1.35/1.5": "1.35 and 1.5 V", "1.5": "1.5 V only", "1.35": "1.35 V only"}  # DDR3; the others have one each
DRIVE_SIZES_GB = (120, 240, 250, 320, 480, 500, 1000, 2000)


class PlaceEditor(QWidget):
    """Edits the chosen place; says which one when none is chosen. `emptied` follows when a place or part went."""

    emptied = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._place = ""
        self._shown: object = None
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 2, 0, 0)
        self._layout.setSpacing(2)
        self.fields: dict[str, ChoiceField | LineField] = {}
        self.setFixedHeight(76)
        self.remove = button("×", self._remove, "quiet", "Take this place away")
        self.remove.setAccessibleName("Take this place away")
        self.remove.setParent(self)
        self.remove.hide()
        self.pull = button("To the shelf", self._pull, "quiet", "Takes the part out and puts it on the parts shelf")
        self.pull.setParent(self)
        self.pull.hide()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.remove.setGeometry(self.width() - 28, 0, 28, 24)
        self.pull.setGeometry(self.width() - 130, 0, 100, 24)

    def _pull(self) -> None:
        moved = self._session.shelf.pull(self._session.job_id, self._place)
        if moved:
            self._session.say(f"On the shelf now: from {moved}.")
            self.emptied.emit()

    def _remove(self) -> None:
        job = self._session.job()
        if job is not None:
            label_ = job.machine.place_label(self._place).lower()
            machine = without_place(job.machine, self._place)
            self._session.edit(f"{label_} taken away", replace(job, machine=machine))
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
        now = (job.id, self._place, part, lead, places, tuple(_known(machine, s.key) for s in specs))
        if self._shown == now:
            return
        self._shown = now
        clear(self._layout)
        self.fields = {}
        on_board = self._place in [*(c.id for c in machine.platform.cards), *(h.id for h in machine.platform.headers)]
        self.remove.setVisible(any(p is not None for p in (slot, bay, lead)) or on_board)
        self.pull.setVisible(part is not None)
        if slot is not None:
            neighbour = next(iter(machine.configuration().modules().values()), None)
            self._slot(slot, part if isinstance(part, MemoryModule) else None, neighbour)
        elif bay is not None:
            self._bay(bay, part if isinstance(part, Drive) else None)
        elif lead is not None:
            self._lead(machine, lead)
        elif specs:
            self._facts(machine, specs)
        else:
            self._hint(bool(places))

    def _lead(self, machine: Machine, lead: Lead) -> None:
        feeds = ChoiceField("Feeds", [("", "nothing: free"), *((b.id, b.label) for b in machine.bays)], self._feed)
        feeds.show_value(lead.feeds)
        self._row(f"{lead.label}, from the power supply", {"feeds": feeds})

    def _facts(self, machine: Machine, specs: Sequence[FactSpec]) -> None:
        title = machine.place_label(self._place) if self._place != COOLING else "Paste, fins and cooler"
        self._row(title, {s.key: self._fact_field(s, _known(machine, s.key)) for s in specs})

    def _hint(self, some: bool) -> None:
        words = "Click a place to record what sits in it." if some else "Add a place, then record what sits in it."
        self._layout.addWidget(label(words, "soft"))
        self._layout.addStretch(1)

    def _fact_field(self, spec: FactSpec, value: object) -> ChoiceField | LineField:
        name = f"{spec.title} [{spec.unit}]" if spec.unit else spec.title
        if spec.values:
            choices = [("", "not known"), *((str(k), value_words(v)) for k, v in enumerate(spec.values))]
            choice = ChoiceField(name, choices, lambda key: self._fact(spec, spec.values[int(key)] if key else None))
            choice.show_value(str(spec.values.index(value)) if value in spec.values else "")
            return choice
        line = LineField(name, lambda text: self._typed_fact(spec, text), "not known")
        line.show_value("" if value is None else value_words(value))
        return line

    def _typed_fact(self, spec: FactSpec, text: str) -> str | None:
        value: object = None
        if text:
            try:
                value = text if spec.text else typed_int(text) if spec.whole else typed_float(text)
            except ValueError:
                return "A whole number." if spec.whole else "A number."
            if not spec.text and not 0 < typed_float(text) < 10_000:
                return "Above 0."
        self._fact(spec, value)
        return None

    def _fact(self, spec: FactSpec, value: object) -> None:
        job = self._session.job()
        if job is not None:
            self._session.edit(f"{spec.title.lower()} recorded", with_job_fact(job, spec.key, value))

    def _row(self, title: str, fields: Mapping[str, ChoiceField | LineField]) -> None:
        row = QHBoxLayout()
        row.setSpacing(12)
        self._layout.addWidget(label(title, "field"))
        for key, field in fields.items():
            self.fields[key] = field
            row.addWidget(field, 1)
        self._layout.addLayout(row)

    def _slot(self, slot: ModuleSlot, module: MemoryModule | None, neighbour: MemoryModule | None) -> None:
        like = module or neighbour
        speeds = _with(SPEEDS.get(slot.generation, (1600, 2133, 3200, 4266, 6400)), like.speed_mts if like else None)
        sizes = _with(SIZES_GIB, module.size_bytes // GIB if module else None)
        size = ChoiceField("Module", [("0", "free"), *((str(n), gib(n * GIB)) for n in sizes)], self._changed)
        speed = ChoiceField("Speed, MT/s", [(str(v), str(v)) for v in speeds], self._changed)
        volts = ChoiceField("Rated for", _volt_choices(slot, module), self._changed)
        size.show_value(str(module.size_bytes // GIB) if module else "0")
        speed.show_value(str(like.speed_mts if like else speeds[-1]))
        volts.show_value("/".join(f"{v:g}" for v in module.volts) if module else str(volts.box.itemData(0)))
        self._row(f"{slot.label}, {slot.form} {slot.generation}", {"size": size, "speed": speed, "volts": volts})

    def _bay(self, bay: DriveBay, drive: Drive | None) -> None:
        kinds = [("none", "free"), ("disk", "disk, turning"), ("ssd", "SSD")]
        kind = ChoiceField("Drive", kinds, self._changed)
        sizes = _with(DRIVE_SIZES_GB, drive.size_bytes // GB if drive else None)
        size = ChoiceField("Size", [(str(n), drive_size(n * GB)) for n in sizes], self._changed)
        height = ChoiceField("Height", [("7", "7 mm"), ("9.5", "9.5 mm"), ("", "not known")], self._changed)
        kind.show_value("none" if drive is None else "disk" if drive.rotational else "ssd")
        size.show_value(str(drive.size_bytes // GB) if drive else "500")
        height.show_value(f"{drive.height_mm:g}" if drive and drive.height_mm else "")
        self._row(f"{bay.label}, {bay.interface} {bay.form}", {"kind": kind, "size": size, "height": height})

    def _feed(self, place_id: str) -> None:
        job = self._session.job()
        if job is not None:
            name = job.machine.place_label(self._place)
            self._session.edit(f"{name} changed", replace(job, machine=with_feed(job.machine, self._place, place_id)))

    def _changed(self, _: str) -> None:
        job = self._session.job()
        if job is None:
            return
        values = {k: str(f.box.currentData()) for k, f in self.fields.items() if isinstance(f, ChoiceField)}
        slot = next((s for s in job.machine.slots if s.id == self._place), None)
        bay = next((b for b in job.machine.bays if b.id == self._place), None)
        part: Part | None = None
        if slot is not None and values["size"] != "0":
            part = self._module(slot, values)
        elif bay is not None and values["kind"] != "none":
            part = self._drive(bay, values)
        machine = job.machine.with_part(self._place, part)
        self._session.edit(f"{job.machine.place_label(self._place).lower()} changed", replace(job, machine=machine))

    def _module(self, slot: ModuleSlot, values: dict[str, str]) -> MemoryModule:
        volts = tuple(float(v) for v in values["volts"].split("/") if v)
        size, speed = typed_int(values["size"]), typed_int(values["speed"])
        name = f"{size} GiB {slot.generation}-{speed}"
        return MemoryModule(name, slot.form, slot.generation, size * GIB, speed, volts)

    def _drive(self, bay: DriveBay, values: dict[str, str]) -> Drive:
        size, disk = typed_int(values["size"]), values["kind"] == "disk"
        form = BayForm.IN_2_5 if bay.form is BayForm.OPTICAL else bay.form
        height = typed_float(values["height"]) if values["height"] else None
        name = f"{drive_size(size * GB)} {'disk' if disk else 'SSD'}"
        rates = (108.0, 52.0, 14.0) if disk else (530.0, 530.0, 0.09)
        return Drive(name, bay.interface, form, height, size * GB, disk, *rates)


def _known(machine: Machine, key: str) -> object:
    try:
        if key.startswith("parts."):
            _, place, name = key.split(".", 2)
            return getattr(machine.configuration().parts.get(place), name, None)
        return fact_of(machine, key)
    except KeyError:
        return None


def _with(values: tuple[int, ...], own: int | None) -> tuple[int, ...]:
    """The usual values and the one that is recorded, so that looking never changes it."""
    return values if own is None or own in values else tuple(sorted((*values, own)))


def _volt_choices(slot: ModuleSlot, module: MemoryModule | None) -> list[tuple[str, str]]:
    usual = USUAL_VOLTS.get(slot.generation.value, ())
    choices = dict(VOLTS) if slot.generation is MemoryGeneration.DDR3 else {
        "/".join(f"{v:g}" for v in usual): f"{usual[0]:g} V" if usual else "not known"}  # fmt: skip
    if module is not None:
        own = "/".join(f"{v:g}" for v in module.volts)
        choices.setdefault(own, f"{own} V" if own else "not known")
    return list(choices.items())
