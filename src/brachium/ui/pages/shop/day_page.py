"""Day sheet: the best order of all planned work, worked out beside the window; dragged, fixed, exported, printed."""

from __future__ import annotations

import threading
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QSize, QTimer, Signal
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout

from brachium.app.day.agenda import agenda_of, order_of, week_of
from brachium.app.day.paper import late_rows, write_day
from brachium.app.day.sheet import Day, fix_block, plan_day, shop_day
from brachium.app.shop.kept import keep_settings, settings_of
from brachium.core.base.days import weekday_words
from brachium.core.base.problems import Problem, from_os_error
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase
from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.day.blocks import Placed
from brachium.core.day.exact import SECONDS
from brachium.core.day.opening import DAY_MIN, moment_of, parse_hours
from brachium.core.figures.lists.day_lists import WEEK_H, order_list, pairs_list, week_strip
from brachium.core.figures.plots.day_sheet import LEFT, RIGHT, day_sheet, span
from brachium.core.record.shop_settings import USUAL_HOURS
from brachium.formats.atomic import write_atomically
from brachium.formats.calendar import sheet_to_ics
from brachium.ui.pages.base.page import Page
from brachium.ui.pages.shop.day_machine import DayMachine
from brachium.ui.widgets.drawing_view import DrawingView
from brachium.ui.widgets.fields import LineField
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.save_figure import save_figure

STEP_MIN = 5


class SheetView(DrawingView):
    """A figure whose blocks can be dragged along the time axis."""

    moved = Signal(str, int)  # block id, minutes by which it was dragged

    def __init__(self) -> None:
        super().__init__()
        self.minutes_a_pixel = 1.0
        self._held: tuple[str, float] | None = None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        found = self._at(event.position())
        self._held = (found.id, event.position().x()) if found is not None else None

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        held, self._held = self._held, None
        if held is None:
            return
        minutes = round((event.position().x() - held[1]) * self.minutes_a_pixel / STEP_MIN) * STEP_MIN
        if minutes:
            self.moved.emit(held[0], minutes)


class DayPage(Page):
    """A page of the shop. A first sheet stands at once; the exact one follows, with what it could still be better."""

    sheet_found = Signal(object)

    def build(self) -> None:
        self._day: Day | None = None
        self._shown_day = 0
        self._stop = threading.Event()
        self._asked = 0
        self.now: Callable[[], datetime] = datetime.now
        self._began = datetime.now()
        self.sheet_found.connect(self._first)
        row = QHBoxLayout()
        self.plan_button = button("Plan from now", self.plan, "primary", "What is not done, in the best order")
        self.stop = button("Stop", self._stop.set, "quiet")
        self.before = button("‹ Day before", lambda: self._turn(-1), "quiet")
        self.after = button("Day after ›", lambda: self._turn(1), "quiet")
        self.free = button("Free it", self.free_selected, "", "The plan places this block again")
        self.export = button("Export as calendar…", self._ask_export, "quiet", "ICS: one event for each time block")
        self.print = button("Print as PDF…", self._ask_print, "quiet", "Every day, and why what is late")
        for w in (self.plan_button, self.stop, self.before, self.after, self.free, self.export, self.print):
            row.addWidget(w)
        row.addStretch(1)
        self.body.addSpacing(6)
        self.body.addLayout(row)
        self._date = label("", "section")
        self.body.addWidget(self._date)
        self.sheet = SheetView()
        self.sheet.setMinimumSize(QSize(600, 120))
        self.sheet.chosen.connect(lambda region: self._chosen(region.because))
        self.sheet.moved.connect(self._moved)
        self.sheet.save_asked.connect(lambda drawing: save_figure(self, drawing, self.session))
        self.body.addWidget(self.sheet)
        self.why = paragraph("", "warm")
        self.body.addWidget(self.why)
        self.machine = DayMachine(self.session, self._planned_anew)
        self.body.addWidget(self.machine)
        self.left_out = paragraph("", "soft")
        self.body.addWidget(self.left_out)
        self.week = self.figure()
        self.week.show_selection = False
        self.week.setMinimumHeight(round(WEEK_H))
        self.week.chosen.connect(lambda region: self._turn_to(int(region.id.removeprefix("day:"))))
        self.body.addSpacing(8)
        self.body.addWidget(self.week)
        self.body.addSpacing(4)
        columns = QHBoxLayout()
        columns.setSpacing(28)
        columns.addLayout(self._order_column(), 5)
        columns.addLayout(self._ready_column(), 4)
        self.body.addLayout(columns)
        self.body.addSpacing(10)
        self.body.addLayout(self._shop_fields())
        self.body.addStretch(1)
        self._timer = QTimer(self)
        self._timer.setInterval(500)
        self._timer.timeout.connect(self._tick)

    def _order_column(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(2)
        column.addWidget(label("The day in order", "section"))
        self.order = self.figure()
        self.order.fits_height = True
        self.order.chosen.connect(lambda region: self.sheet.choose(region.id))
        column.addWidget(self.order)
        column.addStretch(1)
        return column

    def _ready_column(self) -> QVBoxLayout:
        """What to get ready, and who comes when."""
        column = QVBoxLayout()
        column.setSpacing(2)
        self.ready, self.comings = self.figure(), self.figure()
        for title, figure in (("To get ready", self.ready), ("Who comes when", self.comings)):
            column.addWidget(label(title, "section"))
            figure.fits_height = True
            figure.show_selection = False
            column.addWidget(figure)
        column.addStretch(1)
        return column

    def _shop_fields(self) -> QHBoxLayout:
        fields = QHBoxLayout()
        self.technicians = LineField("Technicians", lambda t: self._count("technicians", t), "1")
        self.benches = LineField("Benches", lambda t: self._count("benches", t), "2")
        self.hours = LineField("Opening hours, Monday to Friday", self._hours, USUAL_HOURS)
        fields.addWidget(self.technicians, 1)
        fields.addWidget(self.benches, 1)
        fields.addWidget(self.hours, 3)
        return fields

    def show_shop(self) -> None:
        """The sheet as it was worked out last; the first time it is worked out at once."""
        workspace = self.session.workspace
        shop = shop_day(workspace, self.now())
        self.technicians.show_value(str(shop.technicians))
        self.benches.show_value(str(shop.benches))
        self.hours.show_value(settings_of(workspace).opening_hours)
        if self._day is None:
            self.plan()
        self._show()

    def settled(self) -> bool:
        """Whether the sheet is worked out."""
        return self._day is not None and not self._timer.isActive()

    def plan(self) -> None:
        """Work the sheet out from now on, beside the window."""
        self._stop.set()
        self._stop = threading.Event()
        self._asked += 1
        stop, asked, workspace = self._stop, self._asked, self.session.workspace
        self._began, now = datetime.now(), self.now()
        self._timer.start()

        def arrived(day: Day) -> None:
            if asked == self._asked:
                self._timer.stop()
                self._day = day
                self._show()
                self.session.search_done.emit("Day sheet", _late_words(day))

        def failed(error: Exception) -> None:
            self._timer.stop()
            self.session.report(error)

        reading = workspace.reading()
        workspace.lanes.submit(
            "solve", lambda: plan_day(reading, now, cancelled=lambda: stop.is_set() or workspace.lanes.closing,
                                        first_sheet=self.sheet_found.emit),
            arrived, failed,
        )  # fmt: skip
        self._show()

    def _first(self, day: Day) -> None:
        """A useful sheet while the exact one is looked for."""
        self._day = day
        self._shown_day = _first_day(day)
        self._show()

    def _tick(self) -> None:
        self._show_words()

    def _show(self) -> None:
        day = self._day
        self.stop.setVisible(self._timer.isActive())
        self.free.setVisible(False)
        self._show_words()
        if day is None:
            return
        planned = max((p.end for p in day.sheet.placed), default=0) // DAY_MIN
        last = max(planned, *(d.number for d in week_of(day, 0)), 0)
        self._shown_day = min(max(self._shown_day, 0), max(last, 0))
        self.before.setEnabled(self._shown_day > 0)
        self.after.setEnabled(self._shown_day < last)
        self._date.setText(say(weekday_words(moment_of(self._shown_day * DAY_MIN, day.first))))
        begin, end = span(day.shop, self._shown_day)
        self.sheet.set_builder(lambda w, h: day_sheet(day.sheet, day.jobs, day.shop, day.chances, self._shown_day, w))
        self.sheet.fit_height()
        self.sheet.minutes_a_pixel = (end - begin) / max(self.sheet.width() - LEFT - RIGHT, 1.0)
        self._show_lists(day)
        self.why.setText(
            say(
                joined(
                    " ", (phrase("{label}: {note}.", label=r.label, note=r.note) for r in late_rows(day)[:3] if r.note)
                )
            )
        )
        self.why.setVisible(bool(self.why.text()))
        out = phrase("Not on the sheet: {left_out}.", left_out=joined("; ", day.left_out)) if day.left_out else ""
        freed = phrase("Not held where it was put: {freed}.", freed=joined("; ", day.freed)) if day.freed else ""
        self.left_out.setText(say(phrase("{out} {freed}", out=out, freed=freed).strip()))

    def _show_words(self) -> None:
        """The page's answer: which promises are kept, and how sure that order is."""
        day = self._day
        if self._timer.isActive():
            took = (datetime.now() - self._began).total_seconds()
            first = (
                phrase("{late_words} so far", late_words=_late_words(day)) if day is not None else "Working out the day"
            )
            self.set_heading(
                first, phrase("Looking for the best order, {took:.0f} of {seconds:.0f} s…", took=took, seconds=SECONDS)
            )
        elif day is None:
            self.set_heading("Day sheet", "")
        else:
            self.set_heading(_late_words(day), _proof_words(day))

    def _show_lists(self, day: Day) -> None:
        """The lower half: the day in order, what it needs, the week."""
        shop, number = self.session.workspace.reading(), self._shown_day
        found, rows = agenda_of(shop, day, number), order_of(day, number)
        week = tuple((d.number, phrase("{day:%a %d}", day=d.day), d.attended_min / d.open_min if d.open_min else 2.0)
                     for d in week_of(day, number))  # fmt: skip
        self.week.set_builder(lambda w, h: week_strip(week, number, w))
        self.order.set_builder(lambda w, h: order_list(rows, w))
        self.ready.set_builder(lambda w, h: pairs_list(found.ready, "No part is needed.", "To get ready", w))
        come = tuple((what, name, time) for time, name, what in found.comings)
        self.comings.set_builder(lambda w, h: pairs_list(come, "Nobody is expected.", "Who comes when", w))
        for figure in (self.order, self.ready, self.comings):
            figure.fit_height()

    def _turn_to(self, number: int) -> None:
        self._shown_day = number
        self._show()

    def _turn(self, days: int) -> None:
        self._shown_day += days
        self._show()

    def _chosen(self, because: Because | None) -> None:
        self.session.explain(because)
        placed = self._selected()
        self.free.setVisible(placed is not None and placed.block.fixed is not None)
        if placed is not None:
            self.machine.show_job(placed.block.job_id)

    def _selected(self) -> Placed | None:
        found = self._day.sheet.placed if self._day is not None else ()
        return next((p for p in found if p.block.id == self.sheet.selected), None)

    def _moved(self, block_id: str, minutes: int) -> None:
        """A dragged stretch stays where it was let go, and the rest is planned around it."""
        day = self._day
        placed = next((p for p in day.sheet.placed if p.block.id == block_id), None) if day is not None else None
        if day is None or placed is None:
            return
        start = placed.start + minutes
        if (
            not any(a <= start and start + placed.block.attended <= b for a, b in day.shop.hours)
            or start < day.shop.now
        ):
            self.session.say("Not there: outside the opening hours, or past.")
            return
        fix_block(self.session.workspace, block_id, moment_of(start, day.first))
        self.session.say("Fixed there; the rest goes around it.")
        self.plan()

    def free_selected(self) -> None:
        "The plan places this block again"
        if self.sheet.selected:
            fix_block(self.session.workspace, self.sheet.selected, None)
            self.plan()

    def _planned_anew(self) -> None:
        """A date was typed: the sheet follows."""
        self.plan()

    def _ask_print(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, say("Day sheet"), str(Path.home() / "day-sheet.pdf"), say("PDF (*.pdf)")
        )
        if name:
            self.write_paper(Path(name))

    def write_paper(self, path: Path) -> None:
        """Write the sheet for the wall, beside the window."""
        day = self._day
        if day is None:
            return
        self.session.say("Writing the day sheet…")
        self.session.workspace.lanes.submit(
            "compute",
            lambda: write_day(day, path),
            lambda p: self.session.say(phrase("The day sheet is in {p}.", p=p)),
            self._not_written,
        )

    def _not_written(self, error: Exception) -> None:
        self.session.report(from_os_error(error, "the day sheet") if isinstance(error, OSError) else error)

    def _count(self, key: str, text: str) -> str | None:
        if text and not (text.isdigit() and 1 <= int(text) <= 12):
            return "From 1 to 12."
        keep_settings(self.session.workspace, **{key: int(text) if text else None})
        self.plan()
        return None

    def _hours(self, text: str) -> str | None:
        try:
            parse_hours(text or USUAL_HOURS)
        except ValueError as error:
            return phrase("{error}.", error=error)
        keep_settings(self.session.workspace, opening_hours=text or None)
        self.plan()
        return None

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, say("Calendar"), str(Path.home() / "day-sheet.ics"), say("Calendar (*.ics)")
        )
        if name:
            self.write_calendar(Path(name))

    def write_calendar(self, path: Path) -> None:
        """Write the sheet as a calendar file."""
        if self._day is None:
            return
        try:
            write_atomically(path, sheet_to_ics(self._day.sheet, self._day.jobs, self._day.first))
        except Problem as problem:
            self.session.report(problem)
        else:
            self.session.say(phrase("The day sheet is in {path}.", path=path))

    def default_because(self) -> Because | None:
        day = self._day
        facts = () if day is None else (
            Fact("machines", str(len(day.jobs)), Origin.COMPUTED), Fact("technicians", str(day.shop.technicians),
                                                                        Origin.TYPED),
            Fact("benches", str(day.shop.benches), Origin.TYPED),
        )  # fmt: skip
        text = "Lateness of promises first, then the finish. One attended thing a technician, one open machine a bench."
        return Because("Day sheet", "day sheet", text, facts, "", "A promise, an arrival, a dragged block.")


def _first_day(day: Day) -> int:
    return min((p.start for p in day.sheet.placed), default=0) // DAY_MIN


def _late_words(day: Day) -> str:
    late = [j for j in day.jobs if day.sheet.lateness.get(j.id, 0)]
    if not day.jobs:
        return "No machine has work planned"
    if not late:
        return "Every promise is kept"
    names = joined(
        ", ",
        (phrase("{name} by {lateness}", name=j.name, lateness=minutes(day.sheet.lateness[j.id])) for j in late[:3]),
    )
    return phrase("{promises} late: {names}", promises=many(len(late), "promise"), names=names)


def _proof_words(day: Day) -> str:
    if not day.sheet.keeps_fixed:
        return "A fixed time block had to move: together they leave no order."
    if day.sheet.gap is None:
        return "The first order that works; no better one was sought."
    if day.sheet.gap == 0:
        return "Proven: no order is less late."
    return phrase("No order is less late by more than {gap} min.", gap=day.sheet.gap)
