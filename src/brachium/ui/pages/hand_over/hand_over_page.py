"""Hand over: the page the owner gets, and where it is saved."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal
from pathlib import Path

from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from brachium.app.bench.run_roles import LATER
from brachium.app.intake.scanning import scan_of
from brachium.app.reports.buyer_report import buyer_content
from brachium.app.reports.full_report import ReportFiles, paper_of, report_content, write_report
from brachium.app.reports.owner_report import owner_content
from brachium.app.reports.report_speech import not_as_asked, speech_of
from brachium.app.shop.kept import settings_of
from brachium.app.shop.workspace import now_text
from brachium.app.view.finished_machine import as_finished
from brachium.app.view.job_view import JobView
from brachium.core.base.spoken import say
from brachium.core.base.text import joined, many, phrase, upper_first
from brachium.core.base.units import OWN_CURRENCY
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.learn.drift import first_look
from brachium.core.machine.scanned.scan import Scan
from brachium.core.record.comeback import comeback_of
from brachium.core.record.job import LOCAL, SIMULATED, Job
from brachium.report.content import BuyerContent, OwnerContent, ReportContent
from brachium.report.pdf_pages import PdfPage, pages_as_pictures
from brachium.report.speech import Speech
from brachium.speech.languages import language_names
from brachium.ui.pages.base.page import Page
from brachium.ui.widgets.fields import ChoiceField, LineField, Switch
from brachium.ui.widgets.labels import button, label, paragraph
from brachium.ui.widgets.number_fields import number_field
from brachium.ui.widgets.paper_view import PaperView

READERS = (("owner", "Owner"), ("report", "Technician"), ("buyer", "Buyer"))
CONTENTS: dict[str, Callable[[JobView], OwnerContent | BuyerContent | ReportContent]] = {
    "owner": owner_content, "report": report_content, "buyer": buyer_content,
}  # fmt: skip
SIDE_W = 264
MOST_PX = 2480  # an A4 page at 300 dots an inch: more is memory without more to see


class HandOverPage(Page):
    """The pages as they are saved and printed, next to what is said on them and what the record keeps."""

    def build(self) -> None:
        self._for = "owner"
        self._codes: tuple[str, ...] = ()
        self._shown: object = None
        row = QHBoxLayout()
        self.save = button("Save report as PDF and HTML…", self.ask_folder, "primary")
        self.print = button("Print…", self._print)
        self.hand = button("Mark as handed over", self._hand_over)
        self.back = button("Came back…", self.look_again, "", "A fresh scan against the hand-over record")
        self.again = button("Measure again…", self.measure_again, "", "A later run: how it aged")
        for b in (self.save, self.print, self.hand, self.back, self.again):
            row.addWidget(b)
        row.addStretch(1)
        self.body.addSpacing(6)
        self.body.addLayout(row)
        self.untold = paragraph("", "warm")
        self.body.addWidget(self.untold)
        aged = QHBoxLayout()
        self.drift = paragraph("", "warm")
        aged.addWidget(self.drift, 1)
        self.take_date = button("", self._take_date)
        aged.addWidget(self.take_date)
        self.body.addLayout(aged)
        self.body.addSpacing(6)
        columns = QHBoxLayout()
        columns.setSpacing(24)
        self.preview = PaperView(self.session)
        columns.addWidget(self.preview, 1)
        side = QWidget()
        side.setFixedWidth(SIDE_W)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self._paper_group(column)
        column.addSpacing(14)
        self._record_group(column)
        column.addStretch(1)
        columns.addWidget(side)
        self.body.addLayout(columns, 1)

    def _paper_group(self, column: QVBoxLayout) -> None:
        """What is printed: for whom, in which words."""
        column.addWidget(label("This paper", "section"))
        self.reader = Switch(READERS, self._read_as, "For")
        column.addWidget(self.reader)
        known = language_names().items()
        self.language = ChoiceField("Language", (("", "shop default"), *known),
                                    lambda key: self._speak(report_language=key))  # fmt: skip
        self.currency = ChoiceField("Currency", (("", "shop default"),), lambda key: self._speak(report_currency=key))
        pair = QHBoxLayout()
        pair.setSpacing(12)
        pair.addWidget(self.language)
        pair.addWidget(self.currency)
        column.addLayout(pair)
        self.own = LineField("Words of your own", self._set_own, "a remark at its end", "On owner's and buyer's page")
        column.addWidget(self.own)
        self.word = button("Edit wording…", self._reword, "", "This paper in your own words")
        column.addWidget(self.word)

    def _record_group(self, column: QVBoxLayout) -> None:
        """What the record keeps of the hand-over."""
        column.addWidget(label("The hand-over", "section"))
        self.warranty = LineField(
            "Warranty until", self._set_warranty, "2027-05-25", "Year, month, day; empty for none"
        )
        self.look = LineField("Look again on", self._set_look, "a year after", "A day; empty for never")
        self.sold = number_field("Sold for [EUR]", 0, 1e6, self._set_sold, "if it was sold", "What it really fetched")
        for field in (self.warranty, self.look, self.sold):
            column.addWidget(field)

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            return
        self.set_heading(*answer_of(job, view))
        self.hand.setText(say("Take hand-over back" if job.handed_over else "Mark as handed over"))
        self.reader.show_value(self._for)
        self.warranty.show_value(job.warranty_until)
        self.sold.show_value("" if job.sold_for is None else phrase("{sold_for:f}", sold_for=job.sold_for))
        self.drift.setText(say(drift_words(view)))
        self.drift.setVisible(bool(self.drift.text()))
        proposed = view.proof.drift.look_again if view.proof.drift is not None else ""
        self.take_date.setText(say(phrase("Look again on {proposed}", proposed=proposed)))
        self.take_date.setVisible(bool(proposed) and proposed != job.look_again)
        self.look.show_value(job.look_again)
        self.again.setVisible(bool(job.handed_over) and job.bench in (LOCAL, SIMULATED))
        self.back.setVisible(bool(job.handed_over) and job.handed_machine is not None and job.can_be_scanned)
        self.own.setVisible(self._for != "report")
        self.own.show_value(job.remarks.get(self._for, ""))
        self._show_speech(job)
        self._show_paper(view, speech_of(self.session.workspace, job))

    def _show_paper(self, view: JobView, speech: Speech) -> None:
        """The pages, where anything that stands on them changed."""
        paper = self._for
        content = CONTENTS[paper](view)
        if (paper, content, speech) != self._shown:
            self._shown = (paper, content, speech)
            self.preview.show_paper(lambda: paper_of(view, paper, speech=speech)[1])
        untold = speech.untold(content)
        named = joined("; ", (phrase("“{t}”", t=t) for t in untold[:2]))
        words = [not_as_asked(self.session.workspace, view.job)]
        words += (
            [phrase("Not in {language} yet, edit the wording: {named}", language=speech.language.name, named=named)]
            if untold
            else []
        )
        self.untold.setText(say(joined(" ", (w for w in words if w))))
        self.untold.setVisible(bool(self.untold.text()))

    def _show_speech(self, job: Job) -> None:
        """Languages that ship, currencies that have a rate."""
        codes = (OWN_CURRENCY, *settings_of(self.session.workspace).rates)
        if codes != self._codes:
            self._codes = codes
            self.currency.set_choices((("", "shop default"), *((c, c) for c in codes)))
        self.language.show_value(job.report_language)
        self.currency.show_value(job.report_currency)

    def _speak(self, **changes: str) -> None:
        job = self.session.job()
        if job is not None:
            self.session.edit("how its reports speak", replace(job, **changes))  # type: ignore[arg-type]

    def _reword(self) -> None:
        from brachium.ui.pages.hand_over.wording_sheet import WordingSheet  # late: most jobs never ask

        if self.session.view() is not None:
            self.sheet = WordingSheet(self, self.session, self._for)
            self.sheet.open()

    def _read_as(self, key: str) -> None:
        self._for = key
        job, view = self.session.job(), self.session.view()
        if job is not None:
            self.show_job(job, view)

    def _set_warranty(self, text: str) -> str | None:
        return self._set_day("warranty", "warranty_until", text)

    def _set_look(self, text: str) -> str | None:
        return self._set_day("look again", "look_again", text)

    def _take_date(self) -> None:
        """The day that the later run proposes."""
        view = self.session.view()
        if view is not None and view.proof.drift is not None:
            self._set_look(view.proof.drift.look_again)

    def _set_day(self, label: str, field: str, text: str) -> str | None:
        """Keep a day of the record; what is wrong with it in words."""
        if text:
            try:
                text = date.fromisoformat(text).isoformat()
            except ValueError:
                return "Year, month, day, such as 2027-05-25."
        job = self.session.job()
        if job is not None:
            self.session.edit(label, replace(job, **{field: text}))  # type: ignore[arg-type]
        return None

    def _set_sold(self, value: Decimal | None) -> None:
        """What it fetched; the track record learns it too."""
        job = self.session.job()
        if job is not None:
            self.session.edit("sold", replace(job, sold_for=value))

    def measure_again(self) -> None:
        """A later run of the machine as it was handed over."""
        self.session.start_run(LATER, None)

    def look_again(self) -> None:
        """Scan the machine again and say what changed since it was handed over."""
        job = self.session.job()
        if job is not None and job.handed_machine is not None:
            self.session.say("Reading the machine again…")
            now = job if job.bench == LOCAL else replace(job, machine=job.handed_machine)
            self.session.workspace.lanes.submit("watch", lambda: scan_of(now), self.compare_again, self.session.report)

    def compare_again(self, scan: Scan) -> None:
        """What a scan says against the hand-over record; explained beside."""
        job, view = self.session.job(), self.session.view()
        titles = tuple(c.title for c in view.choice.chosen()) if view is not None else ()
        found = comeback_of(job, scan, titles, date.today().isoformat()) if job is not None else None
        if found is None:
            return
        facts = tuple(
            Fact(d.label, phrase("{recorded}, now {seen}", recorded=d.recorded, seen=d.seen), Origin.SCANNED)
            for d in found.changed
        )
        touched = phrase("Touched then: {touched}.", touched=joined(", ", found.touched)) if found.touched else ""
        title = (
            phrase("{things} changed since the hand-over", things=many(len(facts), "thing"))
            if facts
            else "Nothing changed that a scan sees"
        )
        warranty = upper_first(found.warranty)
        notes = tuple(n for n in (touched, phrase("{warranty}.", warranty=warranty) if warranty else "") if n)
        text = "A fresh scan against the machine as handed over."
        self.session.explain(Because(title, "comeback", text, facts, "", "Another scan.", notes))
        self.session.say(phrase("{title}.{warranty}", title=title, warranty=" " + warranty + "." if warranty else ""))

    def _set_own(self, text: str) -> str | None:
        job = self.session.job()
        if job is not None:
            self.session.edit("words of one's own", replace(job, remarks={**job.remarks, self._for: text}))
        return None

    def default_because(self) -> Because | None:
        job = self.session.job()
        if job is None:
            return None
        lifts = tuple(Fact(phrase("before {stage}", stage=x.stage.value), x.reason, Origin.TYPED) for x in job.lifts)
        lifts += tuple(
            Fact(phrase("{rule}, {sentence}", rule=a.rule, sentence=a.sentence), a.reason, Origin.TYPED)
            for a in job.acceptances
        )
        return Because(
            "What the owner is told", "report",
            "Computed from runs and record; what cannot be claimed is listed.", lifts, "", "A new run, or "
            "an edit of the record.",
        )  # fmt: skip

    def ask_folder(self) -> None:
        """Ask for a folder, then save there in the background."""
        folder = QFileDialog.getExistingDirectory(self, say("Save the report in"), str(Path.home()))
        if folder:
            self.save_to(Path(folder))

    def save_to(self, folder: Path) -> None:
        """Save report.pdf and report.html in a folder; the result shows in the Next bar."""
        view = self.session.view()
        if view is None:
            return

        def saved(files: ReportFiles) -> None:
            self.session.say(
                phrase(
                    "Saved {pdf} and {html} in {parent}",
                    pdf=files.pdf.name,
                    html=files.html.name,
                    parent=files.pdf.parent,
                )
            )

        self.session.say("Writing the report…")
        speech = speech_of(self.session.workspace, view.job)
        self.session.workspace.lanes.submit(
            "compute", lambda: write_report(view, folder, speech=speech), saved, self.session.report
        )

    def _print(self) -> None:
        """The pages as they are saved, at the printer's own resolution."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if self.preview.pdf() and QPrintDialog(printer, self).exec():
            width = min(round(printer.pageRect(QPrinter.Unit.DevicePixel).width()), MOST_PX)
            pdf = self.preview.pdf()
            self.session.workspace.lanes.submit(
                "watch", lambda: pages_as_pictures(pdf, width), lambda pages: print_pages(printer, pages),
                self.session.report,
            )  # fmt: skip

    def _hand_over(self) -> None:
        job = self.session.job()
        if job is not None:
            when = "" if job.handed_over else now_text()
            view = self.session.view()
            handed = as_finished(view) if when and view is not None else None
            look = (job.look_again or first_look(date.today())) if when else ""
            self.session.edit(
                "handed over" if when else "hand-over taken back",
                replace(job, handed_over=when, handed_machine=handed, look_again=look),
            )


def answer_of(job: Job, view: JobView) -> tuple[str, str]:
    """What the owner is told first, and whether it was handed over."""
    handed = phrase("Handed over {handed_over}.", handed_over=job.handed_over) if job.handed_over else ""
    return owner_content(view).headline.rstrip("."), handed


def print_pages(printer: QPrinter, pages: Sequence[PdfPage]) -> None:
    """Every page on a sheet of its own, as wide as what can be printed on."""
    wide = printer.pageRect(QPrinter.Unit.DevicePixel).width()
    painter = QPainter(printer)
    for number, page in enumerate(pages):
        if number:
            printer.newPage()
        image = QImage(page.pixels, page.width, page.height, QImage.Format.Format_RGBX8888)
        painter.drawImage(QRectF(0, 0, wide, wide * page.height / page.width), image)
    painter.end()


def drift_words(view: JobView) -> str:
    """How a machine aged since its hand-over, and when to look again; empty without a later run."""
    found = view.proof.drift
    if found is None:
        return ""
    rows = joined("; ", (phrase("{what}: {words}", what=what, words=words) for what, words in found.rows))
    return phrase(
        "After {months:.0f} months: {rows}. Look again on {look_again}: {why}.",
        months=found.months,
        rows=rows,
        look_again=found.look_again,
        why=found.why,
    )
