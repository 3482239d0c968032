"""A card per job for the rail, a fingerprint per run: neither needs the record or the traces to be read."""

import sqlalchemy as sa
from alembic import op

from brachium.store.fingerprint import fingerprint

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Steps that an upgrade without a transaction of its own once left behind are passed over."""
    connection = op.get_bind()
    there = sa.inspect(connection)
    if "card" not in {c["name"] for c in there.get_columns("job")}:
        op.add_column("job", sa.Column("card", sa.Text, nullable=False, server_default=""))
    if "fingerprint" not in {c["name"] for c in there.get_columns("run")}:
        op.add_column("run", sa.Column("fingerprint", sa.String(64), nullable=False, server_default=""))
    if "ix_run_fingerprint" not in {i["name"] for i in there.get_indexes("run")}:
        op.create_index("ix_run_fingerprint", "run", ["fingerprint"])
    run = sa.table("run", sa.column("id"), sa.column("document"), sa.column("fingerprint"))
    for row in connection.execute(sa.select(run.c.id, run.c.document)).all():
        connection.execute(sa.update(run).where(run.c.id == row.id).values(fingerprint=fingerprint(row.document)))


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
