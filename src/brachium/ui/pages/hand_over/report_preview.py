"""The words of the three reports in the theme's colours, for the text browser of Hand over."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from html import escape

from brachium.report.content import BuyerContent, OwnerContent, ReportContent, Row
from brachium.ui.theme import theme

Say = Callable[[str], str]  # a heading in the report's language
_GAP = '<p style="font-size:6px; margin:0">&nbsp;</p>'


def owner_html(content: OwnerContent, say: Say = str) -> str:
    """The owner's page; its figures are in the files."""
    c = theme.colours()
    parts = [
        f'<p style="color:{c.soft}">{escape(content.machine)} &nbsp; {escape(content.date)}</p>',
        f'<p style="font-size:17px; font-weight:600; color:{c.cool}">{escape(content.headline)}</p>',
        _list("", content.brought), _list(say("What was done"), content.done),
        f"<p><b>{escape(say(f'It cost {content.cost}, parts and work.'))}</b></p>",
    ]  # fmt: skip
    if content.targets:
        parts += [_title(say("What you asked for")), _table(content.targets)]
    parts += [
        _list(say("What to watch"), content.watch),
        _list(say("What it cannot do, or nobody knows"), content.cannot),
    ]
    return "".join([*parts, f"<p>{escape(content.remark)}</p>" if content.remark else ""])


def buyer_html(content: BuyerContent, say: Say = str) -> str:
    """The buyer's sheet."""
    parts = [
        f'<p style="font-size:17px; font-weight:600">{escape(content.title)}</p>',
        _title(say("What is in it")), _table(content.specification),
    ]  # fmt: skip
    if content.measured:
        parts += [_title(say("Measured")), _table(content.measured)]
    parts += [
        _list(say("Tests passed"), content.passed or (say("None is on record."),)),
        _list(say("Known faults"), content.faults or (say("None that we know of."),)),
        _list(say("What you get"), content.included),
    ]  # fmt: skip
    return "".join([*parts, f"<p>{escape(content.remark)}</p>" if content.remark else ""])


def _title(text: str) -> str:
    return f'{_GAP}<p style="font-size:14px; font-weight:600">{text}</p>'


def _list(title: str, lines: Sequence[str]) -> str:
    if not lines:
        return ""
    items = "".join(f"<li>{escape(line)}</li>" for line in lines)
    return f"{_title(title) if title else ''}<ul>{items}</ul>"


def preview_html(content: ReportContent, say: Say = str) -> str:
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
        ("Temperature drops", content.heat), ("Steps taken out of order, with reason", content.lifted),
    ):  # fmt: skip
        if rows:
            parts += [_GAP, f'<p style="font-size:14px; font-weight:600">{say(title)}</p>', _table(rows)]
    for title, lines in (("What to watch", content.watch), ("What these figures do not say", content.limits)):
        if lines:
            items = "".join(f"<li>{escape(line)}</li>" for line in lines)
            parts += [_GAP, f'<p style="font-size:14px; font-weight:600">{say(title)}</p>', f"<ul>{items}</ul>"]
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
