"""The report as PDF, from the same HTML."""

from __future__ import annotations

from brachium.core.base.problems import EnvironmentProblem
from brachium.report.html import with_font_files


def html_to_pdf(html: str) -> bytes:
    """Raises EnvironmentProblem where the PDF engine's libraries are missing."""
    return html_to_pages(html)[0]


def html_to_pages(html: str) -> tuple[bytes, int]:
    """The PDF with its number of pages. Raises EnvironmentProblem where the PDF engine's libraries are missing."""
    try:
        from weasyprint import HTML
    except OSError as error:
        raise EnvironmentProblem(
            "the PDF engine's libraries (Pango, HarfBuzz) are missing", "report",
            "Install libpango-1.0-0, libpangoft2-1.0-0 and libharfbuzz-subset0; the HTML report works without them.",
        ) from error  # fmt: skip
    document = HTML(string=with_font_files(html)).render()
    return bytes(document.write_pdf()), len(document.pages)
