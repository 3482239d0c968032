"""Kept plans side by side, up to four, with the recommended one: cost, minutes, gain, odds, what is in them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from PySide6.QtWidgets import QDialog, QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.reports.offer import write_offer
from brachium.app.reports.report_speech import speech_of
from brachium.app.view.weighed_plans import PlanColumn, plan_columns
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import minutes, money, percent, ratio_band
from brachium.core.choose.plans import MOST_KEPT, free_name
from brachium.core.choose.target_odds import HELD_BACK, TOGETHER, Odds, worth_words
from brachium.core.record.kept_plans import NamedPlan
from brachium.ui.session import Session
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, clear, label, paragraph

NAMES_W, COLUMN_W, MOST_W, LEAST_H = 200, 232, 1240, 380
ROWS = ("cost", "of yours", "by itself", "gain, 8 of 10 draws", "verdict")


@dataclass(frozen=True)
class _Cell:
    text: str
    role: str = ""


class PlansSheet(QDialog):
    """`take` puts a plan into the record. Escape closes."""

    def __init__(self, parent: QWidget, session: Session, take: Callable[[tuple[str, ...]], object]) -> None:
        super().__init__(parent)
        self._session, self._take = session, take
        self.setWindowTitle(say("Plans side by side"))
        self.setMinimumSize(760, LEAST_H)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 14)
        layout.setSpacing(8)
        layout.addWidget(label("Plans side by side", "title"))
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(20)
        self.grid.setVerticalSpacing(6)
        layout.addLayout(self.grid)
        layout.addStretch(1)
        row = QHBoxLayout()
        tip = "Up to three plans, as PDF and HTML"
        self.offer = button("Save as an offer to the owner…", self._ask_folder, "", tip)
        row.addWidget(self.offer)
        row.addStretch(1)
        row.addWidget(button("Done", self.close, "primary"))
        layout.addLayout(row)
        self._show()

    def _show(self) -> None:
        clear(self.grid)
        view = self._session.view()
        shop = self._session.workspace.reading().shop_rules()
        columns = (
            plan_columns(
                view.job,
                view.measured.before,
                view.causes.figures,
                view.causes.profile,
                view.causes.assessment.limits,
                view.choice.offers,
                view.choice.around,
                shop.prices,
                shop.correction,
            )
            if view
            else ()
        )
        odds = columns[0].odds if columns else ()
        names = [
            *ROWS,
            *(phrase("odds: {target}", target=o.target.words) for o in odds),
            *(phrase("for 100 EUR: {target}", target=o.target.words) for o in _own_figures(odds)),
            "parts and work",
        ]
        for row, name in enumerate(names, 1):
            self.grid.addWidget(paragraph(name, "field"), row, 0)
        self.grid.setColumnMinimumWidth(0, NAMES_W)
        for at, column in enumerate(columns, 1):
            self.grid.addWidget(self._name(column), 0, at)
            for row, cell in enumerate(_cells(column), 1):
                self.grid.addWidget(paragraph(cell.text, cell.role), row, at)
            self.grid.addLayout(self._buttons(column), len(names) + 1, at)
            self.grid.setColumnStretch(at, 1)
        width = min(NAMES_W + COLUMN_W * max(len(columns), 2) + 40, MOST_W)
        layout = self.layout()
        self.resize(width, max(layout.totalHeightForWidth(width) if layout is not None else 0, LEAST_H))

    def _name(self, column: PlanColumn) -> QWidget:
        """A kept plan's name can be typed over."""
        if not column.kept:
            return label(column.name, "section")
        field = LineField("", lambda text: self._rename(column.name, text), tip="Type over the name")
        field.caption.hide()
        field.edit.setAccessibleName(say(phrase("Name of {column}", column=column.name)))
        field.show_value(column.name)
        return field

    def _rename(self, old: str, new: str) -> str | None:
        job = self._session.job()
        if job is None:
            return None
        if not new or any(k.name == new for k in job.kept_plans):
            return "A name that no other plan has."
        kept = tuple(replace(k, name=new[:40]) if k.name == old else k for k in job.kept_plans)
        self._session.edit(phrase("{old} renamed", old=old), replace(job, kept_plans=kept))
        return None

    def _duplicate(self, column: PlanColumn) -> None:
        job = self._session.job()
        if job is not None and len(job.kept_plans) < MOST_KEPT:
            copy = NamedPlan(free_name(job.kept_plans), column.ids)
            self._session.edit(
                phrase("{column} duplicated", column=column.name), replace(job, kept_plans=(*job.kept_plans, copy))
            )
            self.close()

    def _buttons(self, column: PlanColumn) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(button("Take it", lambda: self._use(column)))
        if column.kept:
            row.addWidget(button("Duplicate", lambda: self._duplicate(column), "quiet", "To change the copy"))
            row.addWidget(button("Forget", lambda: self._forget(column.name), "quiet"))
        row.addStretch(1)
        return row

    def _ask_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, say("Folder for the offer"), str(Path.home()))
        view = self._session.view()
        if not name or view is None:
            return
        session, reading = self._session, self._session.workspace.reading()
        session.workspace.lanes.submit(
            "compute", lambda: write_offer(view, Path(name), tax=reading.shop_rules().tax,
                                 speech=speech_of(reading, view.job)),
            lambda files: session.say(phrase("The offer is in {pdf}.", pdf=files.pdf)), session.report,
        )  # fmt: skip

    def _use(self, column: PlanColumn) -> None:
        self._take(column.ids)
        self.close()

    def _forget(self, name: str) -> None:
        job = self._session.job()
        if job is not None:
            rest = tuple(k for k in job.kept_plans if k.name != name)
            self._session.edit(phrase("{name} forgotten", name=name), replace(job, kept_plans=rest))
            self.close()


def _own_figures(odds: Sequence[Odds]) -> list[Odds]:
    """Targets that have a figure of their own: what the money brings to it can be said."""
    return [o for o in odds if o.target.key not in (TOGETHER, HELD_BACK)]


def _cells(column: PlanColumn) -> list[_Cell]:
    gain = column.band
    cells = [
        _Cell(
            phrase("{total}{which}", total=money(column.cost.total), which=", over budget" if column.over else ""),
            "warm" if column.over else "",
        ),
        _Cell(minutes(column.cost.attended_min)),
        _Cell(minutes(column.cost.unattended_min)),
        _Cell(ratio_band(gain.low, gain.mid, gain.high) if gain is not None else "no before-run", "title"),
        _Cell(column.verdict),
    ]
    cells += [_Cell(percent(o.chance) if o.chance is not None else "not known") for o in column.odds]
    cells += [_Cell(worth_words(o, float(column.cost.total))) for o in _own_figures(column.odds)]
    cells.append(_Cell(joined(", ", column.titles) or "nothing", "soft"))
    return cells
