"""A folder that is watched for probe files and job archives, such as a USB stick that comes and goes."""

from __future__ import annotations

import os
from dataclasses import dataclass, field
from pathlib import Path

from brachium.formats.run_file import is_run_file

SUFFIXES = (".json", ".zip")


@dataclass
class FolderWatch:
    """Looks into one folder, not below it. A file counts once two looks in a row find it unchanged: it is whole then.

    Runs in progress (.jsonl) are left alone: they are still being written, or a person decides what they are worth.
    """

    folder: Path
    _before: dict[str, tuple[int, int]] = field(default_factory=dict)
    _told: dict[str, tuple[int, int]] = field(default_factory=dict)
    there: bool = False

    def look(self) -> tuple[Path, ...]:
        """Files that came or changed since they were last told of. Never raises; an absent folder is an empty one."""
        now = self._entries()
        ready = [
            name for name, state in now.items() if self._before.get(name) == state and self._told.get(name) != state
        ]
        self._before = now
        self._told = {name: state for name, state in self._told.items() if name in now}
        self._told.update({name: now[name] for name in ready})
        return tuple(path for name in ready if _ours(path := self.folder / name))

    def _entries(self) -> dict[str, tuple[int, int]]:
        found: dict[str, tuple[int, int]] = {}
        try:
            with os.scandir(self.folder) as entries:
                for entry in entries:
                    if entry.name.lower().endswith(SUFFIXES) and not entry.name.startswith(".") and entry.is_file():
                        state = entry.stat()
                        found[entry.name] = (state.st_size, state.st_mtime_ns)
            self.there = True
        except OSError:
            self.there = False
        return found


def _ours(path: Path) -> bool:
    """Other JSON files on a stick are none of the program's business, and stay untouched."""
    return path.suffix.lower() == ".zip" or is_run_file(path)
