"""What stands below the steps of Work: the template of the model, the plan changed, its drives, old parts to the
shelf."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import TypeVar

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.reports.work_sheet import write_work_sheet
from brachium.app.shop.shop_record import template_for
from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import many, phrase
from brachium.core.machine.parts import Drive
from brachium.core.plan.candidates import planned
from brachium.core.record.drive_records import Pulled
from brachium.core.work.step import Step
from brachium.core.work.template import with_template
from brachium.core.work.transfer import replaced_drives
from brachium.ui.pages.work.drive_sheet import DriveSheet
from brachium.ui.pages.work.plan_edit_sheet import PlanEditSheet
from brachium.ui.session import Session
from brachium.ui.widgets.labels import button, paragraph

Sheet = TypeVar("Sheet", bound=QDialog)


class WorkBar(QWidget):
    """Buttons act on the plan of the job at hand."""

    def __init__(self, session: Session, run: Mapping[str, Callable[[], object]]) -> None:
        """`run` opens the list of all steps ("list") and bench mode ("bench")."""
        super().__init__()
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        self.template = paragraph("", "soft")
        layout.addWidget(self.template)
        row = QHBoxLayout()
        self.take = button("Take it over", self.take_template, "", "Own steps, notes, screw tray")
        self.leave = button("Leave it", self.leave_template, "quiet")
        self.change = button("Change the plan…", self.change_plan, "quiet", "Own steps, minutes, order")
        self.drives = button("Drives…", self.ask_drives, "quiet", "Copy or install, the old drive")
        self.every = button("All steps", run["list"], "quiet", "All steps, ticks from paper  (L)")
        self.every.setCheckable(True)
        self.bench = button("Bench mode", run["bench"], "quiet", "Twice the type  (Ctrl+Shift+B)")
        self.paper = button("Print the sheet…", self.ask_paper, "quiet", "The steps on two pages")
        for w in (self.take, self.leave, self.every, self.change, self.drives, self.paper, self.bench):
            row.addWidget(w)
        row.addStretch(1)
        layout.addLayout(row)

    def show_view(self, view: JobView) -> None:
        """The bar of a view."""
        found = template_for(self._session.workspace, view.job) if view.work.steps and not view.job.steps_done else None
        for w in (self.template, self.take, self.leave):
            w.setVisible(found is not None)
        if found is not None:
            words = "Learned from {learned_from}, the same model: {found}."
            told = phrase(words, learned_from=found.learned_from, found=found.words)
            self.template.setText(say(told))
        count = view.job.plan_edits.count
        self.change.setText(say(phrase("Change the plan… ({count})", count=count) if count else "Change the plan…"))
        for w in (self.change, self.every, self.bench, self.paper):
            w.setVisible(bool(view.work.steps))
        moves = any(c.group.value == "drive" for c in view.choice.chosen())
        self.drives.setVisible(moves or bool(replaced_drives(view.job.machine, view.choice.chosen())))

    def take_template(self) -> None:
        """Begin as the last job of the model ended."""
        job = self._session.job()
        found = template_for(self._session.workspace, job) if job is not None else None
        if job is not None and found is not None:
            self._session.edit("plan of the model taken over", with_template(job, found))

    def leave_template(self) -> None:
        """Keep the generated plan; it is not offered again."""
        job = self._session.job()
        if job is not None:
            edits = replace(job.plan_edits, learned_from="not taken")
            self._session.edit("plan of the model left", replace(job, plan_edits=edits))

    def change_plan(self) -> PlanEditSheet:
        sheet = PlanEditSheet(self.window(), self._session)
        return _shown(sheet)

    def ask_drives(self) -> DriveSheet:
        sheet = DriveSheet(self.window(), self._session)
        return _shown(sheet)

    def ask_paper(self) -> None:
        """Where the sheet is to go."""
        job = self._session.job()
        name = phrase("{job} steps.pdf", job=job.name if job is not None else "work").replace("/", "-")
        chosen, _ = QFileDialog.getSaveFileName(self, say("Work sheet"), str(Path.home() / name), say("PDF (*.pdf)"))
        if chosen:
            self.write_paper(Path(chosen))

    def write_paper(self, path: Path) -> None:
        """Write the sheet off the window's thread."""
        view = self._session.view()
        if view is None:
            return
        self._session.read(
            lambda stopped: write_work_sheet(view, path),
            lambda pages: self._session.say(phrase("{path}: {pages}.", path=path.name, pages=many(pages, "page"))),
        )

    def shelve(self, view: JobView, step: Step) -> None:
        """Put the old parts that a step takes out on the shelf; a drive only when its data is settled."""
        places = old_places(view, step)
        parts = view.job.machine.configuration().parts
        drives = [p for p in places if isinstance(parts.get(p), Drive)]
        settled = view.job.transfer.pulled is Pulled.SHELF and len(view.job.erasures) >= len(drives)
        if drives and not settled:
            self._session.say(
                "Its data first: under Drives… say that it goes onto the shelf, then write the erasure record."
            )
            return
        count = self._session.shelf.put_old(view.job.id, places)
        words = (
            phrase("{parts} on the shelf, untested.", parts=many(count, "part"))
            if count
            else "No part comes out here, or it is there."
        )
        self._session.say(words)


def old_places(view: JobView, step: Step) -> tuple[str, ...]:
    """Places whose old part a step takes out: those of the plan's changes of its kind."""
    today, later = view.job.machine.configuration().parts, planned(view.job.machine, view.choice.chosen()).parts
    kind = step.id.rstrip("0123456789").rstrip("-")
    places = [p for c in view.choice.chosen() if c.group.value == kind for p in c.places]
    if kind == "erase":
        places = [p for p, _ in replaced_drives(view.job.machine, view.choice.chosen())]
    return tuple(p for p in places if p in today and today[p] is not later.get(p))


def _shown(sheet: Sheet) -> Sheet:
    sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    sheet.show()
    return sheet
