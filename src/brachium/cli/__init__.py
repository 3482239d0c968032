"""The command line: every main job without a window."""

from __future__ import annotations

import os
import sys

# the window on one's own shop: it needs none of the commands, which take as long to load as an outline to paint
ALONE: tuple[list[str], ...] = ([], ["window"])
COMPLETION = "_BRACHIUM_COMPLETE"


def main() -> None:
    """Entry point."""
    if sys.argv[1:] in ALONE and COMPLETION not in os.environ:
        from brachium.cli.start import default_shop, open_window

        sys.exit(open_window(default_shop()))
    from brachium.cli.commands import app

    app(prog_name="brachium")
