"""Drives of the plan: how the system moves and how long it takes, what becomes of the old drive, its erasure record."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.units import gib, minutes, percent
from brachium.core.machine.parts import Drive
from brachium.core.record.drive_records import EraseMethod, Erasure, Pulled, Transfer, Verified, Way
from brachium.core.record.drive_states import failing_places
from brachium.core.work.erasure import erase_plan, record_problem
from brachium.core.work.transfer import Condition, TransferPlan, replaced_drives, transfer_plan
from brachium.ui.session import Session
from brachium.ui.widgets.fields import ChoiceField, LineField, Switch
from brachium.ui.widgets.labels import button, clear, label, paragraph
from brachium.ui.widgets.number_fields import number_field

WAYS = tuple((w.name, upper_first(w.value)) for w in Way if w is not Way.IMAGE)
HELD = {True: "holds", False: "does not hold", None: "look first"}


class DriveSheet(QDialog):
    """Everything goes into the record at once. Escape closes."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(say("Drives of this plan"))
        self.setMinimumWidth(640)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("The system's move", "title"))
        self.way = Switch(WAYS, lambda key: self._change(way=Way[key]), "How")
        layout.addWidget(self.way)
        self.used = number_field("In use [GiB]", 0.1, 100_000, lambda v: self._change(used_gib=_plain(v)), "measured",
                                 "Empty takes the before-run's figure")  # fmt: skip
        self.bridge = number_field("Bridge [MB/s]", 5, 5000, lambda v: self._change(bridge_mb_s=_plain(v) or 350.0),
                                   "350", "What its cable carries")  # fmt: skip
        self.programs = number_field("Programs [min]", 0, 600, lambda v: self._change(programs_min=_plain(v) or 0.0),
                                     "30", "Programs after a fresh installation")  # fmt: skip
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for k, w in enumerate((self.used, self.bridge, self.programs)):
            grid.addWidget(w, 0, k)
        layout.addLayout(grid)
        self.answer = paragraph("")
        layout.addWidget(self.answer)
        self._conditions = QGridLayout()
        self._conditions.setHorizontalSpacing(12)
        self._conditions.setColumnStretch(1, 1)
        layout.addLayout(self._conditions)
        layout.addSpacing(6)
        self._build_old(layout)
        foot = QHBoxLayout()
        foot.addStretch(1)
        foot.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(foot)
        session.view_arrived.connect(self._arrived)
        self._show()

    def _build_old(self, layout: QVBoxLayout) -> None:
        self._old_title = label("The drive that comes out", "title")
        layout.addWidget(self._old_title)
        pulled = [(p.name, upper_first(p.value)) for p in Pulled]
        self.pulled = ChoiceField("What becomes of it", pulled, lambda key: self._change(pulled=Pulled[key]))
        layout.addWidget(self.pulled)
        self.advice = paragraph("", "soft")
        layout.addWidget(self.advice)
        self.method = ChoiceField("Erased by", [(m.name, m.value) for m in EraseMethod], lambda _: None)
        self.verified = ChoiceField("Verified by", [(v.name, v.value) for v in Verified], lambda _: None)
        self.who = LineField("Who", lambda _: None, "name or initials")
        self.note = LineField("Note", lambda _: None, "number on the label, tool")
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        for k, w in enumerate((self.method, self.verified, self.who, self.note)):
            grid.addWidget(w, k // 2, k % 2)
            grid.setColumnStretch(k % 2, 1)
        layout.addLayout(grid)
        self.write = button("Write the record", self.write_record, "", "It stays with the job and on its report")
        layout.addWidget(self.write)
        self.records = paragraph("")
        layout.addWidget(self.records)

    def _arrived(self, job_id: str) -> None:
        if job_id == self._session.job_id and self.isVisible():
            self._show()

    def _drives(self, view: JobView) -> tuple[tuple[str, Drive], ...]:
        return replaced_drives(view.job.machine, view.choice.chosen())

    def _change(self, **changes: object) -> None:
        job = self._session.job()
        if job is not None:
            moved: Transfer = replace(job.transfer, **changes)  # type: ignore[arg-type]
            self._session.edit("drives of the plan", replace(job, transfer=moved))

    def write_record(self) -> None:
        """Keep an erasure with everything that proves it; what is missing is said."""
        view, job = self._session.view(), self._session.job()
        drives = self._drives(view) if view is not None else ()
        if job is None or not drives:
            return
        done = {e.drive for e in job.erasures}
        place, drive = next(((p, d) for p, d in drives if _name(job.machine.place_label(p), d) not in done), drives[0])
        erasure = Erasure(
            _name(job.machine.place_label(place), drive), EraseMethod[str(self.method.box.currentData())],
            Verified[str(self.verified.box.currentData())], self.who.edit.text().strip(), date.today().isoformat(),
            self.note.edit.text().strip(),
        )  # fmt: skip
        problem = record_problem(erasure, drive)
        if problem:
            self.records.setText(say(phrase("Not yet: {problem}.", problem=problem)))
            return
        kept = (*(e for e in job.erasures if e.drive != erasure.drive), erasure)
        self._session.edit("erasure recorded", replace(job, erasures=kept))

    def _show(self) -> None:
        view, job = self._session.view(), self._session.job()
        if view is None or job is None:
            return
        plan = transfer_plan(
            job.machine, view.choice.chosen(), job.transfer, view.choice.around.used_bytes, failing_places(job)
        )
        self.way.show_value(job.transfer.way.name)
        self.used.show_value(
            phrase("{used_gib:g}", used_gib=job.transfer.used_gib) if job.transfer.used_gib is not None else ""
        )
        self.bridge.show_value(phrase("{bridge_mb_s:g}", bridge_mb_s=job.transfer.bridge_mb_s))
        self.programs.show_value(phrase("{programs_min:g}", programs_min=job.transfer.programs_min))
        self.answer.setText(say(move_words(plan)))
        clear(self._conditions)
        for row, condition in enumerate(plan.conditions if plan is not None else ()):
            kind = "alarm" if condition.holds is False else "soft" if condition.holds else "warm"
            self._conditions.addWidget(label(HELD[condition.holds], kind), row, 0)
            self._conditions.addWidget(paragraph(_condition(condition)), row, 1)
        self._show_old(view)

    def _show_old(self, view: JobView) -> None:
        job, drives = view.job, self._drives(view)
        erases = job.transfer.pulled in (Pulled.SHELF, Pulled.ERASED)
        always: tuple[QWidget, ...] = (self._old_title, self.pulled)
        for w in always:
            w.setVisible(bool(drives))
        of_erasing: tuple[QWidget, ...] = (
            self.advice, self.method, self.verified, self.who, self.note, self.write,
        )  # fmt: skip
        for w in of_erasing:
            w.setVisible(bool(drives) and erases)
        self.pulled.show_value(job.transfer.pulled.name)
        if drives and erases:
            health = view.choice.around.drives.get(drives[0][0])
            advised = erase_plan(drives[0][1], health)
            took = (
                phrase(", about {unattended_min} by itself", unattended_min=minutes(advised.unattended_min))
                if advised.unattended_min
                else ""
            )
            self.advice.setText(
                say(
                    phrase(
                        "{name}: {method}{took}; {why}.",
                        name=drives[0][1].name,
                        method=advised.method.value,
                        took=took,
                        why=advised.why,
                    )
                )
            )
            if not job.erasures:
                self.method.show_value(advised.method.name)
                self.verified.show_value(advised.verified.name)
        lines = [
            phrase(
                "{drive}: {method}, {verified}; {who}, {when}.",
                drive=e.drive,
                method=e.method.value,
                verified=e.verified.value,
                who=e.who,
                when=e.when,
            )
            for e in job.erasures
        ]
        self.records.setText(say(joined("\n", lines)))


def move_words(plan: TransferPlan | None) -> str:
    """Times of the move and where they come from."""
    if plan is None:
        return "This plan moves nothing."
    used = phrase(
        "{used_bytes} {which}",
        used_bytes=gib(plan.used_bytes, 0),
        which="assumed, type what is in use" if plan.assumed else "in use",
    )
    if plan.way is Way.IMAGE:
        times = phrase(
            "the old drive fails: restoring its image {copy_min}, verifying {verify_min}",
            copy_min=minutes(plan.copy_min),
            verify_min=minutes(plan.verify_min),
        )
    elif plan.way is Way.COPY:
        times = phrase(
            "copying {copy_min}, verifying {verify_min}",
            copy_min=minutes(plan.copy_min),
            verify_min=minutes(plan.verify_min),
        )
    else:
        times = phrase("installing, updates, programs and files back {copy_min}", copy_min=minutes(plan.copy_min))
    return phrase(
        "{used}; at {rate_mb_s:.0f} MB/s, limited by {limited_by}: {times} by itself, {attended_min} of "
        "yours. {free_share} of the new drive stay free.",
        used=used,
        rate_mb_s=plan.rate_mb_s,
        limited_by=plan.limited_by,
        times=times,
        attended_min=minutes(plan.attended_min),
        free_share=percent(max(plan.free_share, 0.0)),
    )


def _condition(condition: Condition) -> str:
    words = upper_first(condition.words)
    return (
        words
        if condition.holds or not condition.remedy
        else phrase("{words}: {remedy}", words=words, remedy=condition.remedy)
    )


def _name(place: str, drive: Drive) -> str:
    return phrase("{drive}, {place}", drive=drive.name, place=place.lower())


def _plain(value: Decimal | None) -> float | None:
    return None if value is None else float(value)
