"""Moves a shop from a file to a server or back: everything in one transaction, with a checksum of every table.

Copied are records, runs with their arrays, photos, documents of the shop's own and the list of edits; not who is at
which bench now.
"""

from __future__ import annotations

import hashlib
import struct
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Connection, Table, func, insert, select, text

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.store.database import Database
from brachium.store.server import ServerDatabase
from brachium.store.tables import EDIT, JOB, PHOTO, RUN, SERIES, SETTING

AnyDatabase = Database | ServerDatabase
TABLES: tuple[Table, ...] = (JOB, RUN, SERIES, PHOTO, SETTING, EDIT)
ROWS = 200


@dataclass(frozen=True)
class CopiedTable:
    """A table that was copied: its name, how many rows, the SHA-256 over all of them in both shops."""

    name: str
    rows: int
    sha256: str


def copy_shop(
    source: AnyDatabase, target: AnyDatabase, told: Callable[[str, int], None] = lambda *_: None
) -> tuple[CopiedTable, ...]:
    """Copy everything into an empty shop; `told` hears the table and how many of its rows are there.

    Raises ExpectedProblem where the target holds machines already, or where what arrived differs from what was sent;
    the target is left as it was then.
    """
    with source.transaction() as c, target.transaction(writes=True) as t:
        if c.dialect.name == "postgresql":
            c.execute(text("set transaction isolation level repeatable read"))
        _refuse_full(t, target)
        for table in TABLES:
            _copy(c, t, table, told)
        if t.dialect.name == "postgresql":  # the next edit gets a number behind those that came
            t.execute(text("select setval('edit_id_seq', coalesce((select max(id) from edit), 0) + 1, false)"))
        return tuple(_compared(c, t, table, target) for table in TABLES)


def _refuse_full(t: Connection, target: AnyDatabase) -> None:
    held = t.execute(select(func.count()).select_from(JOB)).scalar() or 0
    if held:
        raise ExpectedProblem(
            phrase("there are machines in it already ({held})", held=held), target.shown,
            "Name an empty shop. Nothing was changed.",
        )  # fmt: skip
    t.execute(SETTING.delete())


def _copy(c: Connection, t: Connection, table: Table, told: Callable[[str, int], None]) -> None:
    done = 0
    for rows in _chunks(c, table):
        t.execute(insert(table), [dict(r._mapping) for r in rows])
        done += len(rows)
        told(table.name, done)


def _chunks(c: Connection, table: Table) -> Iterator[Sequence[Any]]:
    """All rows by their key, some at a time: the arrays of a shop may be larger than the memory."""
    asked = select(table).order_by(*table.primary_key.columns)
    yield from c.execution_options(yield_per=ROWS).execute(asked).partitions()


def _compared(c: Connection, t: Connection, table: Table, target: AnyDatabase) -> CopiedTable:
    (rows, sent), (there, arrived) = checksum(c, table), checksum(t, table)
    if (rows, sent) != (there, arrived):
        raise ExpectedProblem(
            phrase("{table}: {there} rows arrived of {rows}, or differ", table=table.name, there=there, rows=rows),
            target.shown, "Copy again; the shop that was copied from is as it was.",
        )  # fmt: skip
    return CopiedTable(table.name, rows, sent)


def checksum(c: Connection, table: Table) -> tuple[int, str]:
    """(rows, SHA-256) of a table, whatever database holds it: rows by their sorted keys, cells with their lengths."""
    digests, count = [], 0
    for rows in _chunks(c, table):
        for row in rows:
            digests.append(hashlib.sha256(b"".join(_cell(v) for v in row)).digest())
            count += 1
    return count, hashlib.sha256(b"".join(sorted(digests))).hexdigest()


def _cell(value: object) -> bytes:
    if isinstance(value, bytes | memoryview):
        kind, data = b"b", bytes(value)
    elif isinstance(value, float):
        kind, data = b"f", struct.pack("<d", value)
    else:
        kind, data = b"t", str(value).encode()
    return kind + struct.pack("<Q", len(data)) + data
