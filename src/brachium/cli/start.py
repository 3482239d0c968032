"""Opens the window; nothing of the command line is loaded for it."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from brachium.store.location import Place


def default_shop() -> Path:
    """The user's own shop file."""
    from platformdirs import user_data_path

    return user_data_path("brachium") / "shop.db"


def open_window(place: Place, bench: str = "", files: tuple[Path, ...] = (), demo: bool = False) -> int:
    """Open the window on a shop and stay until it is closed; returns the exit code."""
    from brachium.ui.quick_start import begin

    methods = begin()  # before all that makes the window
    from brachium.ui.run import run

    return run(place, demo, files, bench, methods)
