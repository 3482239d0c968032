"""Backups of a shop file: whole or not there, checked before they are called good, and the way back from one."""

from __future__ import annotations

import contextlib
import os
import re
import shutil
import sqlite3
from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path

from brachium.core.base.problems import EnvironmentProblem, from_os_error
from brachium.core.base.text import phrase

FOLDER, PART = "backups", ".part"
KEPT = 12
EVERY = timedelta(days=1)


def backup(path: Path) -> Path:
    """Copy the database through SQLite's own backup call; returns the copy's path.

    It is made under a temporary name and checked; only a whole one gets its name. Raises EnvironmentProblem.
    """
    folder = path.parent / FOLDER
    stamp = datetime.now().strftime("%Y%m%d-%H%M%S-%f")
    target = folder / f"{path.stem}-{stamp}.db"
    part = folder / f".{target.name}{PART}"
    try:
        folder.mkdir(exist_ok=True)
        sweep_backups(path)
        with contextlib.closing(sqlite3.connect(path)) as source, contextlib.closing(sqlite3.connect(part)) as copy:
            source.backup(copy)
            copy.execute("pragma journal_mode=delete")  # one file by itself
        if not is_good(part):
            raise sqlite3.DatabaseError("the copy does not read back")
        put_in_place(part, target)
    except (OSError, sqlite3.Error) as error:
        with contextlib.suppress(OSError):
            part.unlink()
        raise EnvironmentProblem(phrase("no backup could be made ({error})", error=error), str(target),
                                 "Free some space; the file was left untouched.") from error  # fmt: skip
    _prune(path)
    return target


def put_in_place(part: Path, target: Path) -> None:
    """Bring a finished file to the disk, then give it its name. Raises OSError."""
    with part.open("rb+") as file:
        os.fsync(file.fileno())
    part.replace(target)
    folder = os.open(target.parent, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def sweep_backups(path: Path) -> None:
    """Remove what killed programs left half written beside a shop file."""
    for folder in (path.parent / FOLDER, path.parent):
        for left in _named(folder, rf"\.{_stamped(path)}(\.db)?{re.escape(PART)}.*"):
            with contextlib.suppress(OSError):
                left.unlink()


def _stamped(path: Path) -> str:
    """Names of this shop's copies as a pattern; another shop's may begin alike ("shop", "shop-two")."""
    return rf"{re.escape(path.stem)}-\d{{8}}-\d{{6}}(-\d{{6}})?"


def _named(folder: Path, pattern: str) -> list[Path]:
    try:
        return [p for p in folder.iterdir() if re.fullmatch(pattern, p.name)]
    except OSError:
        return []


def backup_if_due(path: Path, now: datetime | None = None) -> Path | None:
    """A backup where none was made within a day of now, a clock that was set back included; None where none is needed.

    Raises EnvironmentProblem.
    """
    moment = now or datetime.now()
    if any(abs(moment - datetime.fromtimestamp(p.stat().st_mtime)) < EVERY for p in copies(path)):
        return None
    return backup(path)


def copies(path: Path) -> Iterator[Path]:
    """The backups of a shop file, the newest first."""
    found = [p for p in _named(path.parent / FOLDER, rf"{_stamped(path)}\.db") if p.is_file() and not p.is_symlink()]
    yield from sorted(found, key=lambda p: p.name, reverse=True)


def _prune(path: Path) -> None:
    """Of older copies only the latest stay."""
    for old in list(copies(path))[KEPT:]:
        with contextlib.suppress(OSError):
            old.unlink()


def newest_good(path: Path) -> Path | None:
    """The newest backup of a shop that reads back whole; None where there is none."""
    return next((p for p in copies(path) if is_good(p)), None)


def is_good(path: Path) -> bool:
    """Whether a file is a whole database with a shop in it; it is opened as one that never changes."""
    try:
        with path.open("rb") as file:
            header = file.read(100)
        page = int.from_bytes(header[16:18], "big")
        pages = int.from_bytes(header[28:32], "big")
        if path.stat().st_size != (65536 if page == 1 else page) * pages:  # sizes by the file format, 1.3.2 and 1.3.7
            return False
        with contextlib.closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as c:
            whole = c.execute("pragma quick_check").fetchone() == ("ok",)
            version = c.execute("select version_num from alembic_version").fetchone()
            return whole and version is not None and c.execute("select count(*) from job").fetchone() is not None
    except (OSError, sqlite3.Error):
        return False


def restore(path: Path, copy: Path) -> Path | None:
    """Put a copy of a backup in the place of a shop file; what was there is kept beside it, and named.

    The old file keeps its place until the new one takes it in one step: killed meanwhile, no empty shop is begun.
    Returns the name that the old file got, None where there was none. Raises EnvironmentProblem.
    """
    stamp = datetime.now().strftime("%Y%m%d-%H%M%S-%f")
    part = path.parent / f".{path.stem}-{stamp}{PART}"
    aside = path.with_name(f"{path.stem}-replaced-{stamp}{path.suffix}")
    try:
        part.write_bytes(copy.read_bytes())
        there = path.exists()
        if there:
            _second_name(path, aside)
        for companion in ("-wal", "-shm"):
            beside = path.with_name(path.name + companion)
            if beside.exists():
                beside.replace(aside.with_name(aside.name + companion))
        put_in_place(part, path)
    except OSError as error:
        raise from_os_error(error, str(path), phrase("The backup {copy} is as it was.", copy=copy.name)) from error
    return aside if there else None


def _second_name(path: Path, other: Path) -> None:
    """The same file under another name too; a copy where the file system knows no second names. Raises OSError."""
    try:
        os.link(path, other)
    except OSError:
        shutil.copy2(path, other)
