"""Exports from the window: figures as SVG."""

from __future__ import annotations

from pathlib import Path

from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.base.theme import Colours
from brachium.formats.atomic import write_atomically
from brachium.report.svg import drawing_to_svg


def save_svg(drawing: Drawing, path: Path, colours: Colours) -> None:
    """Raises EnvironmentProblem; an existing file is only replaced when the new one is whole."""
    write_atomically(path, drawing_to_svg(drawing, colours).encode())
