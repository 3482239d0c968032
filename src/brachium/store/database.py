"""Opening the shop's database: one program at a time, never a newer file, a backup before every upgrade.

Schema and version change in one transaction: a program that is killed meanwhile leaves the file as it was.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import sqlite3
from collections.abc import Iterator
from functools import cached_property
from pathlib import Path
from typing import IO, TYPE_CHECKING

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem, from_os_error
from brachium.core.base.text import phrase
from brachium.store.backups import backup, sweep_backups
from brachium.store.database_problems import ShopUnreadable, database_problem
from brachium.store.roles import Role

if TYPE_CHECKING:
    from sqlalchemy import Connection, Engine

KNOWN = ("0001", "0002", "0003", "0004", "0005", "0006")
HEAD = KNOWN[-1]
NEW = ""
TABLES = ("job", "run", "series", "setting", "edit", "photo", "sent", "bench")


class Database:
    """An open, locked, up-to-date database. Close it to release the lock."""

    shared = False
    role = Role.OWNER  # of a file everything may be changed

    def __init__(self, path: Path) -> None:
        """Raises ExpectedProblem, EnvironmentProblem, or ShopUnreadable where a backup may help."""
        self.path = path
        if path.is_dir():
            raise EnvironmentProblem("this is a folder, not a shop file", str(path), "Name a file, such as shop.db.")
        _refuse(_seen_version(path), path)  # before anything is made beside it
        self._lock = _lock(path)
        try:
            version = _version(path)
            _refuse(version, path)
            if version not in (NEW, HEAD):
                backup(path)
            self.cramped = version == HEAD and not _connects(path)
            if version != HEAD:
                from brachium.store.file_engine import upgrade  # late: most starts change no schema

                upgrade(self.engine, path)
            sweep_backups(path)
        except BaseException:
            self.close()
            raise

    @cached_property
    def engine(self) -> Engine:
        """What runs the transactions, made when the first one begins: a start whose shop is at hand needs none.

        A full disk has no room for what connections share: then there is one.
        """
        from brachium.store.file_engine import file_engine

        return file_engine(self.path, alone=self.cramped)

    cramped = False

    @cached_property
    def _writing(self) -> Engine:
        """The same engine, for transactions that will change something."""
        return self.engine.execution_options(immediate=True)

    def close(self) -> None:
        if "engine" in self.__dict__:
            self.engine.dispose()
        self._lock.close()

    @property
    def shown(self) -> str:
        """Where it lies, in words."""
        return str(self.path)

    def tell(self, c: Connection, what: str, key: str, revision: int = 0) -> None:
        """Nobody else has a file open that is to be told of a change."""

    def ask_hidden(self, c: Connection, job_id: str) -> None:
        """Of a file everything may be changed."""

    @contextlib.contextmanager
    def transaction(self, writes: bool = False) -> Iterator[Connection]:
        """One transaction, `writes` = it will change something; nothing is half written.

        Raises EnvironmentProblem where disk or file are at fault, ExpectedProblem where the record is refused.
        """
        from sqlalchemy.exc import DBAPIError, IntegrityError

        try:
            with (self._writing if writes else self.engine).connect() as connection, connection.begin():
                yield connection
        except IntegrityError as error:
            raise ExpectedProblem(
                phrase("the shop file refused it ({orig})", orig=error.orig),
                str(self.path),
                "It is there already; nothing was changed.",
            ) from error
        except (DBAPIError, sqlite3.Error) as error:
            raise database_problem(error, self.path) from error


@contextlib.contextmanager
def unlocked(path: Path) -> Iterator[None]:
    """Hold the lock of a shop that no program has open. Raises EnvironmentProblem where one has."""
    lock = _lock(path)
    try:
        yield
    finally:
        lock.close()


def _lock(path: Path) -> IO[str]:
    """Hold a lock file beside the database for the life of the program. A link in its place is never followed."""
    lock_path = path.with_name(f"{path.name}.lock")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        flags = os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_CLOEXEC
        handle = os.fdopen(os.open(lock_path, flags, 0o644), "r+")
    except OSError as error:
        if lock_path.is_symlink():
            raise EnvironmentProblem("the lock of this shop is a link to somewhere else", str(lock_path),
                                     "Remove the link. Nothing was changed.") from error  # fmt: skip
        raise from_os_error(error, str(path)) from error
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        owner = handle.read(40).strip() or "unknown"
        handle.close()
        raise EnvironmentProblem(
            phrase("another Brachium has this file open (process {owner})", owner=owner), str(path),
            "Use that window, or close it first. Nothing was changed.",
        ) from error  # fmt: skip
    with contextlib.suppress(OSError):  # who holds it is a kindness, not the lock; a full disk must not stop us
        handle.truncate()
        handle.write(str(os.getpid()))
        handle.flush()
    return handle


def _refuse(version: str, path: Path) -> None:
    if version and version not in KNOWN:
        raise ExpectedProblem(
            phrase(
                "this file was written by a newer Brachium (its version is {version}, this program knows {head})",
                version=version,
                head=HEAD,
            ),
            str(path),
            "Update the program. The file was left untouched.",
        )


def _seen_version(path: Path) -> str:
    """Version as the file itself says it, without a companion being made; empty where it says none."""
    try:
        if not path.is_file() or path.stat().st_size == 0:
            return NEW
        with contextlib.closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as c:
            row = c.execute("select version_num from alembic_version").fetchone()
    except (OSError, sqlite3.Error):
        return NEW
    return str(row[0]) if row else NEW


def _version(path: Path) -> str:
    """Schema version; NEW for a file that is to be begun. Raises ExpectedProblem or ShopUnreadable for others."""
    if not path.exists() or path.stat().st_size == 0:
        return NEW
    with contextlib.closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=rw", uri=True)) as connection:
        try:
            connection.execute("pragma locking_mode=exclusive")  # shares nothing, so that a full disk is no hindrance
            tables = {row[0] for row in connection.execute("select name from sqlite_master where type = 'table'")}
            rows = (
                connection.execute("select version_num from alembic_version") if "alembic_version" in tables else None
            )
            row = rows.fetchone() if rows is not None else None
            if row is not None:
                return str(row[0])
            if not tables or _half_made(connection, tables):
                return NEW
        except sqlite3.DatabaseError as error:
            if not _speaks_of_damage(error):
                raise database_problem(error, path) from error
            raise ShopUnreadable("the file is damaged or no database", path) from error
    if "job" in tables:
        raise ShopUnreadable("this file holds machines but not its version", path)
    raise ExpectedProblem("this database is not one of Brachium's", str(path), "Name another file.")


def _speaks_of_damage(error: sqlite3.DatabaseError) -> bool:
    """Whether an error is of the file itself, not of the disk or of another program."""
    return (
        "malformed" in str(error) or "not a database" in str(error) or not isinstance(error, sqlite3.OperationalError)
    )


def _half_made(connection: sqlite3.Connection, tables: set[str]) -> bool:
    """Whether a program was killed while it made the first tables: only ours, and nothing in them."""
    ours = tables - {"alembic_version", "sqlite_sequence"}
    return ours <= set(TABLES) and all(
        connection.execute(f"select count(*) from {t}").fetchone() == (0,) for t in ours
    )  # fmt: skip


def _connects(path: Path) -> bool:
    """Whether the file can be read as usual."""
    try:
        with contextlib.closing(sqlite3.connect(path, timeout=5)) as connection:
            connection.execute("pragma journal_mode=wal")
            connection.execute("select count(*) from job")
    except sqlite3.Error as error:
        return isinstance(error, sqlite3.DatabaseError) and _speaks_of_damage(error)  # that is said elsewhere
    return True
