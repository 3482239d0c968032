"""What this bench is called in a shop of several: stands beside every edit made here."""

from __future__ import annotations

import os
import socket
from pathlib import Path

from platformdirs import user_config_path

from brachium.formats.atomic import write_atomically

LONGEST = 40
VARIABLE = "BRACHIUM_BENCH"


def bench_name() -> str:
    """As it was given, else as the computer is called."""
    try:
        kept = os.environ.get(VARIABLE, "") or _file().read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError):
        kept = ""
    return clean_name(kept) or clean_name(socket.gethostname()) or "bench"


def keep_bench_name(name: str) -> None:
    """Call this bench so from the next start on; empty = as the computer. Raises EnvironmentProblem."""
    write_atomically(_file(), clean_name(name).encode())


def clean_name(name: str) -> str:
    """One line of a length that fits beside an edit."""
    return " ".join("".join(c if c.isprintable() else " " for c in name).split())[:LONGEST]


def _file() -> Path:
    return user_config_path("brachium") / "bench-name"
