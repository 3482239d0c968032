"""A shop on a PostgreSQL server, open at several benches at once.

It answers as `Database` does. What differs: nobody holds a lock, every change is told to the other benches
(NOTIFY, delivered with the commit), and the server may go away and come back.
"""

from __future__ import annotations

import contextlib
import json
import secrets
import threading
from collections.abc import Iterator
from importlib.resources import as_file, files

import psycopg
from sqlalchemy import Connection, create_engine, text
from sqlalchemy.exc import DBAPIError, IntegrityError

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem, Problem
from brachium.core.base.text import phrase
from brachium.store.database import HEAD, KNOWN, NEW
from brachium.store.location import ServerPlace
from brachium.store.roles import role_of

CHANNEL = "brachium"
UPGRADE_LOCK = 0x6272616368  # one program makes or changes the tables, the others wait for it
CONNECT_S, LOCK_MS, STATEMENT_MS = 3, 5_000, 60_000
KEPT = "What was edited is kept on this computer and sent when it answers again."


class ServerAway(EnvironmentProblem):
    """The server does not answer: what is loaded stays readable, edits wait in the journal."""


class ServerDatabase:
    """An open, up-to-date shop on a server. `client` tells this program from the others, `path` is where this computer
    keeps what belongs to it."""

    cramped = False
    shared = True

    def __init__(self, place: ServerPlace) -> None:
        """Raises ExpectedProblem, EnvironmentProblem; ServerAway where nobody answers."""
        self.place, self.path, self.client = place, place.path, secrets.token_hex(8)
        self.conninfo = place.conninfo
        self._away = threading.Event()
        self.engine = create_engine(
            "postgresql+psycopg://", creator=lambda: self.connect(), pool_pre_ping=True, pool_size=4, max_overflow=4,
            isolation_level="READ COMMITTED",
        )  # fmt: skip
        try:
            self._make_ready()
            with self.transaction() as c:
                self.role = role_of(c)
        except BaseException:
            self.engine.dispose()
            raise

    def connect(self, autocommit: bool = False) -> psycopg.Connection:
        """A connection of its own; one that breaks is noticed within seconds. Raises psycopg.OperationalError."""
        return psycopg.connect(
            self.conninfo, autocommit=autocommit, connect_timeout=CONNECT_S, application_name="brachium",
            keepalives_idle=5, keepalives_interval=2, keepalives_count=2, tcp_user_timeout=8_000,
            options=f"-c lock_timeout={LOCK_MS} -c statement_timeout={STATEMENT_MS}",
        )  # fmt: skip

    def close(self) -> None:
        self.engine.dispose()

    @property
    def shown(self) -> str:
        """Where it lies, in words without a password."""
        return self.place.shown

    def went_away(self) -> None:
        """Whoever listens lost the server: until it is back nothing here waits for it."""
        self._away.set()

    def came_back(self) -> None:
        self._away.clear()

    @contextlib.contextmanager
    def transaction(self, writes: bool = False) -> Iterator[Connection]:
        """One transaction; nothing is half written.

        Raises ServerAway where nobody answers, EnvironmentProblem where the server is at fault, ExpectedProblem where
        the record is refused or this bench may not do it.
        """
        if self._away.is_set():
            raise self._not_there("the server of the shop does not answer")
        try:
            with self.engine.connect() as connection, connection.begin():
                yield connection
        except IntegrityError as error:
            raise ExpectedProblem(
                phrase("the shop refused it ({orig})", orig=_first_line(error)), self.shown,
                "It is there already; nothing was changed.",
            ) from error  # fmt: skip
        except (DBAPIError, psycopg.Error) as error:
            raise self.problem(error) from error

    def tell(self, c: Connection, what: str, key: str, revision: int = 0) -> None:
        """Tell the other benches, once this transaction is there."""
        news = json.dumps({"what": what, "key": key, "revision": revision, "from": self.client})
        c.execute(text("select pg_notify(:channel, :news)"), {"channel": CHANNEL, "news": news})

    def ask_hidden(self, c: Connection, job_id: str) -> None:
        """Raises ExpectedProblem where a record is there that this bench's role may read but not change."""
        if c.execute(text("select 1 from job where id = :id"), {"id": job_id}).first() is not None:
            raise ExpectedProblem(
                "bench work on this machine has begun, the counter changes it no more", self.shown,
                "A technician does it. Nothing was changed.",
            )  # fmt: skip

    def problem(self, error: Exception) -> Problem:
        """An error of the server in words."""
        original = getattr(error, "orig", None) or error
        if isinstance(original, psycopg.errors.InsufficientPrivilege):
            return ExpectedProblem(
                "this bench's role may not change that", self.shown,
                "Ask the shop's owner, who gives the roles. Nothing was changed.",
            )  # fmt: skip
        if isinstance(original, psycopg.errors.DiskFull):
            return EnvironmentProblem("the server's disk is full, the last edit is not saved", self.shown, KEPT)
        if isinstance(original, psycopg.DataError | psycopg.ProgrammingError):  # tried again it would fail for ever
            return ExpectedProblem(
                phrase("the shop refused it ({orig})", orig=_first_line(original)), self.shown, "Nothing was changed."
            )
        gone = getattr(error, "connection_invalidated", False) or isinstance(
            original, psycopg.errors.AdminShutdown | psycopg.errors.CannotConnectNow
        )
        if gone or (isinstance(original, psycopg.OperationalError) and original.sqlstate is None):
            return self._not_there(phrase("the server of the shop does not answer ({why})", why=_first_line(original)))
        return EnvironmentProblem(
            phrase("the server answered: {message}", message=_first_line(original)), self.shown, KEPT
        )

    def _not_there(self, what: str) -> ServerAway:
        return ServerAway(what, self.shown, KEPT)

    # -- tables

    def _make_ready(self) -> None:
        """Make or bring up to date the tables; of several programs one does, the others find it done."""
        version = self._version()
        _refuse(version, self.shown)
        if version == HEAD:
            return
        from alembic import command
        from alembic.config import Config

        with as_file(files("brachium.store").joinpath("migrations")) as folder:
            config = Config()
            config.set_main_option("script_location", str(folder))
            with self.transaction(writes=True) as c:
                c.execute(text("select pg_advisory_xact_lock(:key)"), {"key": UPGRADE_LOCK})
                config.attributes["connection"] = c
                command.upgrade(config, "head")

    def _version(self) -> str:
        with self.transaction() as c:
            if c.execute(text("select to_regclass('alembic_version')")).scalar() is None:
                return NEW
            return str(c.execute(text("select version_num from alembic_version")).scalar() or NEW)


def _refuse(version: str, shown: str) -> None:
    if version and version not in KNOWN:
        raise ExpectedProblem(
            phrase("written by a newer Brachium (schema {version}, this program knows {head})", version=version,
                   head=HEAD), shown, "Update the program. Nothing was changed.",
        )  # fmt: skip


def _first_line(error: object) -> str:
    return str(getattr(error, "orig", error)).strip().splitlines()[0] if str(error).strip() else type(error).__name__
