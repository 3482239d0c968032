"""The command line: every main job without a window."""

from __future__ import annotations

from brachium.cli import (  # noqa: F401 - each registers its commands
    answers,
    compare,
    jobs,
    label,
    logs,
    measure,
    scan,
    shop,
    take_in,
    watch,
    window,
)  # fmt: skip
from brachium.cli.common import app

__all__ = ["app"]
