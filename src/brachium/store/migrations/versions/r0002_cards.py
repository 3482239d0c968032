"""A card per job for the rail, a fingerprint per run: neither needs the record or the traces to be read."""

import sqlalchemy as sa
from alembic import op

from brachium.store.fingerprint import fingerprint

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("job", sa.Column("card", sa.Text, nullable=False, server_default=""))
    op.add_column("run", sa.Column("fingerprint", sa.String(64), nullable=False, server_default=""))
    op.create_index("ix_run_fingerprint", "run", ["fingerprint"])
    connection = op.get_bind()
    run = sa.table("run", sa.column("id"), sa.column("document"), sa.column("fingerprint"))
    for row in connection.execute(sa.select(run.c.id, run.c.document)).all():
        connection.execute(sa.update(run).where(run.c.id == row.id).values(fingerprint=fingerprint(row.document)))


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
