"""How a shop file is talked to, and how its schema is brought up to date; loaded with the first transaction."""

from __future__ import annotations

import sqlite3
from importlib.resources import as_file, files
from pathlib import Path

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DBAPIError
from sqlalchemy.pool import QueuePool

from brachium.core.base.problems import Problem
from brachium.store.database_problems import database_problem


def file_engine(path: Path, alone: bool = False) -> Engine:
    """`alone`: one connection that nobody shares, for a disk without room for more."""
    one = {"poolclass": QueuePool, "pool_size": 1, "max_overflow": 0} if alone else {}
    engine = create_engine(f"sqlite:///{path}", connect_args={"check_same_thread": False, "timeout": 5}, **one)

    @event.listens_for(engine, "connect")
    def _on_connect(connection: sqlite3.Connection, _: object) -> None:
        connection.isolation_level = None  # transactions begin below, and hold changes of the schema too
        if alone:
            connection.execute("pragma locking_mode=exclusive")
        connection.execute("pragma journal_mode=wal")
        connection.execute("pragma synchronous=full")
        connection.execute("pragma foreign_keys=on")

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Connection) -> None:
        raw = connection.connection.driver_connection
        assert isinstance(raw, sqlite3.Connection)
        raw.execute("begin immediate" if connection.get_execution_options().get("immediate") else "begin")

    return engine


def upgrade(engine: Engine, path: Path) -> None:
    """Bring the tables to the newest schema, in one transaction. Raises Problem; the file is left as it was then."""
    from alembic import command
    from alembic.config import Config

    with as_file(files("brachium.store").joinpath("migrations")) as folder:
        config = Config()
        config.set_main_option("script_location", str(folder))
        try:
            with engine.connect().execution_options(immediate=True) as connection, connection.begin():
                _clear_half_made(connection)
                config.attributes["connection"] = connection
                command.upgrade(config, "head")
        except Problem:
            raise
        except (DBAPIError, sqlite3.Error) as error:
            raise database_problem(error, path) from error


def _clear_half_made(connection: Connection) -> None:
    """Tables that a killed program left without a version are made anew; they are empty (`_half_made`)."""
    tables = {r[0] for r in connection.exec_driver_sql("select name from sqlite_master where type = 'table'")}
    has_version = (
        "alembic_version" in tables and connection.exec_driver_sql("select count(*) from alembic_version").scalar()
    )
    if not has_version:
        for table in ("series", "run", "edit", "photo", "setting", "sent", "bench", "job"):
            connection.exec_driver_sql(f"drop table if exists {table}")
