"""Runs in the order in which they arrived: a clock that was set back moves none of them."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    connection = op.get_bind()
    if "position" in {c["name"] for c in sa.inspect(connection).get_columns("run")}:
        return
    op.add_column("run", sa.Column("position", sa.Integer, nullable=False, server_default="0"))
    run = sa.table("run", sa.column("id"), sa.column("taken_at"), sa.column("position"))
    arrived = sa.text("rowid") if connection.dialect.name == "sqlite" else run.c.taken_at
    for number, row in enumerate(connection.execute(sa.select(run.c.id).order_by(arrived)).all(), 1):
        connection.execute(sa.update(run).where(run.c.id == row.id).values(position=number))


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
