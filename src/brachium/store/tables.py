"""Tables. Portable SQL only: a shop is one file of SQLite, or one database of PostgreSQL for several benches."""

from __future__ import annotations

from sqlalchemy import Column, Float, ForeignKey, Integer, LargeBinary, MetaData, String, Table, Text

METADATA = MetaData()

JOB = Table(
    "job", METADATA,
    Column("id", String(64), primary_key=True),
    Column("position", Integer, nullable=False),
    Column("document", Text, nullable=False),
    Column("changed_at", String(32), nullable=False),
    Column("card", Text, nullable=False, server_default=""),
    Column("revision", Integer, nullable=False, server_default="1"),  # one more with every edit
    Column("changed_by", String(64), nullable=False, server_default=""),  # the bench that made the last one
)  # fmt: skip

RUN = Table(
    "run", METADATA,
    Column("id", String(128), primary_key=True),
    Column("job_id", String(64), ForeignKey("job.id"), nullable=False, index=True),
    Column("role", String(16), nullable=False),
    Column("taken_at", String(32), nullable=False),
    Column("document", Text, nullable=False),
    Column("fingerprint", String(64), nullable=False, server_default="", index=True),
    Column("position", Integer, nullable=False, server_default="0"),  # in the order of arrival, whatever the dates say
)  # fmt: skip

SERIES = Table(
    "series", METADATA,
    Column("run_id", String(128), ForeignKey("run.id"), primary_key=True),
    Column("session", Integer, primary_key=True),
    Column("key", String(64), primary_key=True),
    Column("unit", String(16), nullable=False),
    Column("source", Text, nullable=False),
    Column("samples", Integer, nullable=False),
    Column("data", LargeBinary, nullable=False),
)  # fmt: skip

PHOTO = Table(
    "photo", METADATA,
    Column("id", String(64), primary_key=True),
    Column("data", LargeBinary, nullable=False),
)  # fmt: skip

SETTING = Table(
    "setting", METADATA,
    Column("key", String(64), primary_key=True),
    Column("value", Text, nullable=False),
    Column("revision", Integer, nullable=False, server_default="1"),
    Column("changed_by", String(64), nullable=False, server_default=""),
)  # fmt: skip

EDIT = Table(
    "edit", METADATA,
    Column("id", Integer, primary_key=True, autoincrement=True),
    Column("job_id", String(64), ForeignKey("job.id"), nullable=False, index=True),
    Column("at", String(32), nullable=False),
    Column("label", Text, nullable=False),
    Column("seconds", Float, nullable=False),
    Column("who", String(64), nullable=False, server_default=""),
)  # fmt: skip

SENT = Table(  # edits of a bench's journal that arrived: sent again after a broken line, they change nothing
    "sent", METADATA,
    Column("token", String(40), primary_key=True),
    Column("at", String(32), nullable=False),
)  # fmt: skip

BENCH = Table(  # programs that have the shop open: the machine in hand, what they do with it, when they last said so
    "bench", METADATA,
    Column("id", String(40), primary_key=True),
    Column("name", String(64), nullable=False),
    Column("job_id", String(64), nullable=False),
    Column("doing", Text, nullable=False),
    Column("seen", Float, nullable=False),
)  # fmt: skip
