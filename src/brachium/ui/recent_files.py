"""The files that were taken in last, for the first page of an empty shop; those that are gone are left out."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from PySide6.QtCore import QSettings

KEY, MOST = "recent_files", 5


def recent_files(settings: QSettings) -> tuple[Path, ...]:
    """The last first."""
    kept = settings.value(KEY, [])
    names = kept if isinstance(kept, list) else [kept]
    return tuple(p for p in (Path(str(n)) for n in names) if str(p) and p.is_file())[:MOST]


def remember_files(settings: QSettings, paths: Iterable[Path]) -> None:
    """Put these in front."""
    fresh = [str(p.resolve()) for p in paths]
    rest = [str(p) for p in recent_files(settings) if str(p) not in fresh]
    settings.setValue(KEY, [*fresh, *rest][:MOST])
