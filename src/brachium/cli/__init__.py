"""The command line: every main job without a window."""

from __future__ import annotations

from brachium.cli import compare, jobs, label, logs, measure, scan, window  # noqa: F401 - each registers its commands
from brachium.cli.common import app


def main() -> None:
    """Entry point."""
    app()


__all__ = ["app", "main"]
