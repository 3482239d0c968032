"""Which record of a shop is the computer that the program stands on.

In a file it is the one that was taken in so. A shop on a server may hold one for every bench: then this computer
remembers which is its own, and none of the others is measured here.
"""

from __future__ import annotations

from pathlib import Path

from brachium.formats.atomic import write_atomically

NOTE = "this-machine"


def own_record(path: Path) -> str:
    """The id that this computer remembers, by where it keeps what belongs to the shop; empty where it has none."""
    try:
        return _note(path).read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError):
        return ""


def remember_record(path: Path, job_id: str) -> None:
    """Raises EnvironmentProblem."""
    write_atomically(_note(path), job_id.encode())


def _note(path: Path) -> Path:
    return path.with_name(f"{path.stem}-{NOTE}")
