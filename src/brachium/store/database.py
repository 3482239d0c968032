"""Opening the shop's database: one program at a time, never a newer file, a backup before every upgrade."""

from __future__ import annotations

import contextlib
import fcntl
import os
import sqlite3
from collections.abc import Iterator
from datetime import datetime
from importlib.resources import as_file, files
from pathlib import Path
from typing import IO

from sqlalchemy import Connection, Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError, OperationalError

from brachium.core.problems import EnvironmentProblem, ExpectedProblem, from_os_error

HEAD = "0003"
KNOWN = ("0001", "0002", "0003")


class Database:
    """An open, locked, up-to-date database. Close it to release the lock."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lock = _lock(path)
        try:
            version = _version(path)
            if version is not None and version not in KNOWN:
                raise ExpectedProblem(
                    f"this file was written by a newer Brachium (its version is {version}, this program knows {HEAD})",
                    str(path), "Update the program. The file was left untouched.",
                )  # fmt: skip
            if version is not None and version != HEAD:
                backup(path)
            self.engine = _engine(path)
            if version != HEAD:
                _upgrade(self.engine)
        except BaseException:
            self._lock.close()
            raise

    def close(self) -> None:
        self.engine.dispose()
        self._lock.close()

    @contextlib.contextmanager
    def transaction(self) -> Iterator[Connection]:
        """One transaction; database errors become EnvironmentProblem, nothing is half written."""
        try:
            with self.engine.begin() as connection:
                yield connection
        except (OperationalError, DatabaseError) as error:
            raise said(error, self.path) from error


def said(error: DatabaseError, path: Path) -> EnvironmentProblem:
    """A database error in words."""
    message = str(error.orig)
    kept = "Everything saved before is kept."
    if "full" in message:
        return EnvironmentProblem("the disk is full, the last edit is not saved", str(path),
                                  f"Free some space, then edit again. {kept}")  # fmt: skip
    if "readonly" in message or "read-only" in message:
        return EnvironmentProblem("the file is read-only", str(path), f"Make it writable. {kept}")
    if "malformed" in message or "not a database" in message:
        return EnvironmentProblem("the file is damaged", str(path),
                                  "Restore a backup from the folder 'backups' beside it.")  # fmt: skip
    return EnvironmentProblem(f"the database answered: {message}", str(path), kept)


def _lock(path: Path) -> IO[str]:
    """Hold a lock file beside the database for the life of the program."""
    lock_path = path.with_name(f"{path.name}.lock")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle = lock_path.open("a+")
    except OSError as error:
        raise from_os_error(error, str(path)) from error
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        handle.seek(0)
        owner = handle.read().strip() or "unknown"
        handle.close()
        raise EnvironmentProblem(
            f"another Brachium has this file open (process {owner})", str(path),
            "Use that window, or close it first. Nothing was changed.",
        ) from error  # fmt: skip
    handle.seek(0)
    handle.truncate()
    handle.write(str(os.getpid()))
    handle.flush()
    return handle


def _version(path: Path) -> str | None:
    """Schema version of an existing file; None for a new one. Raises EnvironmentProblem if it is no database."""
    if not path.exists() or path.stat().st_size == 0:
        return None
    with contextlib.closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as connection:
        try:
            row = connection.execute("select version_num from alembic_version").fetchone()
        except sqlite3.OperationalError as error:
            raise ExpectedProblem("this database is not one of Brachium's", str(path), "Name another file.") from error
        except sqlite3.DatabaseError as error:
            raise EnvironmentProblem("the file is damaged or no database", str(path),
                                     "Restore a backup from the folder 'backups' beside it.") from error  # fmt: skip
    return str(row[0]) if row else None


def backup(path: Path) -> Path:
    """Copy the database through SQLite's own backup call; returns the copy's path."""
    stamp = datetime.now().strftime("%Y%m%d-%H%M%S")
    target = path.parent / "backups" / f"{path.stem}-{stamp}.db"
    try:
        target.parent.mkdir(exist_ok=True)
        with contextlib.closing(sqlite3.connect(path)) as source, contextlib.closing(sqlite3.connect(target)) as copy:
            source.backup(copy)
    except (OSError, sqlite3.Error) as error:
        raise EnvironmentProblem(f"no backup could be made ({error})", str(target),
                                 "Free some space; the file was left untouched.") from error  # fmt: skip
    return target


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"check_same_thread": False, "timeout": 5})

    @event.listens_for(engine, "connect")
    def _on_connect(connection: sqlite3.Connection, _: object) -> None:
        connection.execute("pragma journal_mode=wal")
        connection.execute("pragma synchronous=full")
        connection.execute("pragma foreign_keys=on")

    return engine


def _upgrade(engine: Engine) -> None:
    from alembic import command
    from alembic.config import Config

    with as_file(files("brachium.store").joinpath("migrations")) as folder:
        config = Config()
        config.set_main_option("script_location", str(folder))
        try:
            with engine.begin() as connection:
                config.attributes["connection"] = connection
                command.upgrade(config, "head")
                connection.execute(text("select 1"))
        except (OperationalError, DatabaseError) as error:
            raise said(error, Path(engine.url.database or "")) from error
