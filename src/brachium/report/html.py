"""The report as one HTML file: fonts and figures inside, nothing fetched."""

from __future__ import annotations

import base64
from collections.abc import Callable
from functools import cache
from importlib.resources import files
from pathlib import Path

from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.base.theme import LIGHT, SPACE, TYPE
from brachium.report.content import (
    BuyerContent,
    ComparisonContent,
    DayContent,
    OfferContent,
    OwnerContent,
    ReportContent,
    WorkSheetContent,
)
from brachium.report.speech import PLAIN, Speech
from brachium.report.svg import drawing_to_svg

FACES = (
    ("Barlow-Regular.ttf", TYPE.family, 400), ("Barlow-Medium.ttf", TYPE.family, 500),
    ("Barlow-SemiBold.ttf", TYPE.family, 600), ("BarlowSemiCondensed-Regular.ttf", TYPE.condensed, 400),
    ("BarlowSemiCondensed-Medium.ttf", TYPE.condensed, 500),
    ("BarlowSemiCondensed-SemiBold.ttf", TYPE.condensed, 600),
)  # fmt: skip


@cache
def font_faces() -> str:
    """CSS that carries the shipped fonts inside."""

    def inside(name: str) -> str:
        data = files("brachium.resources").joinpath("fonts", name).read_bytes()
        return f"data:font/ttf;base64,{base64.b64encode(data).decode()}"

    return _faces(inside)


def _faces(url: Callable[[str], str]) -> str:
    return "\n".join(
        f"@font-face {{ font-family: \"{family}\"; font-weight: {weight}; src: url({url(name)}) format('truetype'); }}"
        for name, family, weight in FACES
    )


def with_font_files(html: str) -> str:
    """The same page with the fonts beside the program in place of those inside: quicker to parse, for the PDF only."""
    folder = Path(str(files("brachium.resources").joinpath("fonts")))
    return html.replace(font_faces(), _faces(lambda name: f'"{(folder / name).as_uri()}"'))


def render_html(content: ReportContent, speech: Speech = PLAIN) -> str:
    """The whole hand-over report as HTML text."""
    said = speech.content(content)
    return _render("report.html.j2", speech, speech.footnote(content), c=said, figures=_svgs(said.figures))


def render_owner(content: OwnerContent, speech: Speech = PLAIN, tight: bool = False) -> str:
    """The owner's page as HTML text; `tight` sets it smaller, where it would not be one page."""
    said = speech.content(content)
    return _render("owner.html.j2", speech, speech.footnote(content), c=said, figures=_svgs(said.figures), tight=tight)


def render_buyer(content: BuyerContent, speech: Speech = PLAIN) -> str:
    """The buyer's sheet as HTML text."""
    return _render("buyer.html.j2", speech, speech.footnote(content), c=speech.content(content))


def render_comparison(content: ComparisonContent, speech: Speech = PLAIN) -> str:
    """Runs compared, as HTML text."""
    said = speech.content(content)
    return _render("comparison.html.j2", speech, c=said, sections=[(s, _svgs(s.figures)) for s in said.sections])


def render_offer(content: OfferContent, speech: Speech = PLAIN) -> str:
    """An offer to the owner as HTML text."""
    return _render("offer.html.j2", speech, speech.footnote(content), c=speech.content(content))


def render_day(content: DayContent, speech: Speech = PLAIN) -> str:
    """A day sheet for the wall as HTML text."""
    said = speech.content(content)
    return _render("day.html.j2", speech, c=said, days=[(d, _svgs((("day", d.figure),))) for d in said.days])


def render_work_sheet(content: WorkSheetContent, tight: int = 0, speech: Speech = PLAIN) -> str:
    """The steps of the work as HTML text; each level of `tight` (0 to 3) sets words and pictures smaller."""
    said = speech.content(content)
    steps = [(s, _svgs((("step", s.figure),))) for s in said.steps]
    return _render("work_sheet.html.j2", speech, c=said, steps=steps, tight=tight)


def _svgs(figures: tuple[tuple[str, Drawing], ...]) -> list[tuple[str, object]]:
    from markupsafe import Markup

    return [(name, Markup(drawing_to_svg(drawing, LIGHT, standalone=False))) for name, drawing in figures]


def _render(template: str, speech: Speech, footnote: str = "", **values: object) -> str:
    from jinja2 import Environment, PackageLoader, StrictUndefined  # late: not needed to open the window
    from markupsafe import Markup

    loader = PackageLoader("brachium.report", "templates")
    environment = Environment(loader=loader, autoescape=True, undefined=StrictUndefined, trim_blocks=True)
    spoken = {"say": speech.say, "language": speech.language.code, "footnote": footnote}
    shared = {**spoken, "faces": Markup(font_faces()), "t": LIGHT, "type": TYPE, "space": SPACE}
    return environment.get_template(template).render(**values, **shared)
