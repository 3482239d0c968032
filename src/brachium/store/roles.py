"""What a bench may do in a shop on a server: by the database's own roles and grants, not by accounts of ours.

A program that connects as the tables' owner, or without the three roles there, may do everything.
"""

from __future__ import annotations

from enum import IntEnum
from importlib.resources import files
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from sqlalchemy import Connection


class Role(IntEnum):
    """In order of rights: reads; takes machines in; does all bench work; sets prices and settings."""

    READER = 0
    COUNTER = 1
    TECHNICIAN = 2
    OWNER = 3


GROUPS = {
    "brachium_owner": Role.OWNER, "brachium_technician": Role.TECHNICIAN, "brachium_counter": Role.COUNTER,
}  # fmt: skip


def role_of(c: Connection) -> Role:
    """The rights of this connection's user."""
    from sqlalchemy import text  # late: a shop file has no roles to ask for

    owns = c.execute(text(
        "select pg_has_role(current_user, tableowner, 'usage') from pg_tables "
        "where schemaname = any(current_schemas(false)) and tablename = 'job'"
    )).scalar()  # fmt: skip
    if owns:
        return Role.OWNER
    found = c.execute(text(
        "select rolname from pg_roles where rolname = any(:groups) and pg_has_role(current_user, oid, 'usage')"
    ), {"groups": list(GROUPS)}).scalars()  # fmt: skip
    ranks = [GROUPS[name] for name in found]
    if ranks:
        return max(ranks)
    writes = c.execute(text("select has_table_privilege(current_user, 'job', 'update')")).scalar()
    return Role.OWNER if writes else Role.READER


def grant_roles(c: Connection) -> None:
    """Make the three roles and give them their rights; again and again without harm.

    Its user must own the tables and may make roles.
    """
    cursor = c.connection.cursor()  # several statements, of whose % the library is to know nothing
    cursor.execute(files("brachium.store").joinpath("roles.sql").read_text(encoding="utf-8"))
    cursor.close()
