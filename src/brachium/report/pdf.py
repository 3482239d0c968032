"""The report as PDF, from the same HTML."""

from __future__ import annotations

from typing import TYPE_CHECKING

from brachium.core.base.problems import EnvironmentProblem
from brachium.report.html import with_font_files

if TYPE_CHECKING:
    from weasyprint.document import Document


def html_to_pdf(html: str) -> bytes:
    """Raises EnvironmentProblem where the PDF engine's libraries are missing."""
    return bytes(_laid_out(html).write_pdf())


def page_count(html: str) -> int:
    """How many pages the PDF would have. Raises EnvironmentProblem where the PDF engine's libraries are missing."""
    return len(_laid_out(html).pages)


def _laid_out(html: str) -> Document:
    try:
        from weasyprint import HTML
    except OSError as error:
        raise EnvironmentProblem(
            "the PDF engine's libraries (Pango, HarfBuzz) are missing", "report",
            "Install libpango-1.0-0, libpangoft2-1.0-0 and libharfbuzz-subset0; the HTML report works without them.",
        ) from error  # fmt: skip
    return HTML(string=with_font_files(html)).render()
