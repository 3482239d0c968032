"""Hand over: the page the owner gets, and where it is saved."""

from __future__ import annotations

from dataclasses import replace
from html import escape
from pathlib import Path

from PySide6.QtGui import QTextDocument
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QTextBrowser

from brachium.app.learning import forget, learn_from
from brachium.app.reporting import ReportFiles, report_content, write_report
from brachium.app.view import JobView
from brachium.app.workspace import now_text
from brachium.core.because import Because, Fact, Origin
from brachium.core.job.job import Job
from brachium.report.content import ReportContent, Row
from brachium.ui.pages.page import Page
from brachium.ui.theme import theme
from brachium.ui.widgets.labels import button

_GAP = '<p style="font-size:6px; margin:0">&nbsp;</p>'


class HandOverPage(Page):
    """A preview in the window; the saved files carry the figures too."""

    def build(self) -> None:
        row = QHBoxLayout()
        self.save = button("Save report as PDF and HTML…", self.ask_folder, "primary")
        self.print = button("Print…", self._print)
        self.hand = button("Mark as handed over", self._hand_over)
        for b in (self.save, self.print, self.hand):
            row.addWidget(b)
        row.addStretch(1)
        self.body.addSpacing(6)
        self.body.addLayout(row)
        self.body.addSpacing(6)
        self.preview = QTextBrowser()
        self.preview.setAccessibleName("The owner's page")
        self.body.addWidget(self.preview, 1)

    def show_job(self, job: Job, view: JobView | None) -> None:
        if view is None:
            self.set_heading("Hand over", "Gathering the report…")
            return
        handed = (
            f"Handed over {job.handed_over}."
            if job.handed_over
            else "The owner's page; the files carry the figures too."
        )
        self.set_heading(f"Hand over: {job.name}", handed)
        self.hand.setText("Take hand-over back" if job.handed_over else "Mark as handed over")
        self.preview.setHtml(preview_html(report_content(view)))

    def default_because(self) -> Because | None:
        job = self.session.job()
        if job is None:
            return None
        lifts = tuple(Fact(f"before {x.stage.value}", x.reason, Origin.TYPED) for x in job.lifts)
        lifts += tuple(Fact(f"{a.rule}, {a.sentence}", a.reason, Origin.TYPED) for a in job.acceptances)
        return Because(
            "What the owner is told", "report",
            "Every figure on the page is computed from the runs and the record. What cannot be claimed is listed, with "
            "the reason.", lifts, "", "A new run, or an edit of the record.",
        )  # fmt: skip

    def ask_folder(self) -> None:
        """Ask for a folder, then save there in the background."""
        folder = QFileDialog.getExistingDirectory(self, "Save the report in", str(Path.home()))
        if folder:
            self.save_to(Path(folder))

    def save_to(self, folder: Path) -> None:
        """Save report.pdf and report.html in a folder; the result shows in the Next bar."""
        view = self.session.view()
        if view is None:
            return

        def saved(files: ReportFiles) -> None:
            self.session.say(f"Saved {files.pdf.name} and {files.html.name} in {files.pdf.parent}")

        self.session.say("Writing the report…")
        self.session.workspace.lanes.submit("compute", lambda: write_report(view, folder), saved, self.session.report)

    def _print(self) -> None:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self).exec():
            document = QTextDocument()
            document.setDefaultFont(theme.font(13))
            document.setHtml(self.preview.toHtml())
            document.print_(printer)

    def _hand_over(self) -> None:
        job = self.session.job()
        if job is not None:
            when = "" if job.handed_over else now_text()
            self.session.edit("handed over" if when else "hand-over taken back", replace(job, handed_over=when))
            view = self.session.view()
            if when and view is not None:
                learn_from(self.session.workspace, view, when)
            elif not when:
                forget(self.session.workspace, job.id)


def preview_html(content: ReportContent) -> str:
    """The words of the report in the theme's colours, for the text browser."""
    c = theme.colours()
    parts = [
        f'<p style="color:{c.soft}">{escape(content.machine)} &nbsp; {escape(content.date)}</p>',
        f'<p style="font-size:17px; font-weight:600; color:{c.cool}">{escape(content.headline)}</p>',
        f'<p style="color:{c.soft}">{escape(content.subline)}</p>',
    ]
    for title, rows in (
        ("What was done", content.done), ("What you asked for", content.targets), ("What it cost", content.cost),
        ("Drives that came out", content.drives), ("How it was done", content.work),
        ("Where the heat falls", content.heat), ("Steps taken out of order, with reason", content.lifted),
    ):  # fmt: skip
        if rows:
            parts += [_GAP, f'<p style="font-size:14px; font-weight:600">{title}</p>', _table(rows)]
    for title, lines in (("What to watch", content.watch), ("What these figures do not say", content.limits)):
        if lines:
            items = "".join(f"<li>{escape(line)}</li>" for line in lines)
            parts += [_GAP, f'<p style="font-size:14px; font-weight:600">{title}</p>', f"<ul>{items}</ul>"]
    return "".join(parts)


def _table(rows: tuple[Row, ...]) -> str:
    soft = theme.colours().soft
    cells = "".join(
        f'<tr><td width="34%" style="padding:3px 12px 3px 0">{escape(r.label)}</td>'
        f'<td width="26%" style="padding:3px 12px 3px 0; font-weight:600">{escape(r.value)}</td>'
        f'<td style="padding:3px 0; color:{soft}">{escape(r.note)}</td></tr>'
        for r in rows
    )
    return f'<table width="100%" cellspacing="0">{cells}</table>'
