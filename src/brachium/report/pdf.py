"""The report as PDF, from the same HTML."""

from __future__ import annotations

from brachium.core.problems import EnvironmentProblem


def html_to_pdf(html: str) -> bytes:
    """Raises EnvironmentProblem where the PDF engine's libraries are missing."""
    try:
        from weasyprint import HTML
    except OSError as error:
        raise EnvironmentProblem(
            "the PDF engine's libraries (Pango, HarfBuzz) are missing", "report",
            "Install libpango-1.0-0, libpangoft2-1.0-0 and libharfbuzz-subset0; the HTML report works without them.",
        ) from error  # fmt: skip
    return bytes(HTML(string=html).write_pdf())
