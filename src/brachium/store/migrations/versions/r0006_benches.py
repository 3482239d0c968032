"""Several benches: a revision for every document, who made an edit, edits that were sent, who is at which bench."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Steps that an upgrade without a transaction of its own once left behind are passed over."""
    there = sa.inspect(op.get_bind())
    for table in ("job", "setting"):
        _add(there, table, sa.Column("revision", sa.Integer, nullable=False, server_default="1"))
        _add(there, table, sa.Column("changed_by", sa.String(64), nullable=False, server_default=""))
    _add(there, "edit", sa.Column("who", sa.String(64), nullable=False, server_default=""))
    if not there.has_table("sent"):
        op.create_table(
            "sent",
            sa.Column("token", sa.String(40), primary_key=True),
            sa.Column("at", sa.String(32), nullable=False),
        )
    if not there.has_table("bench"):
        op.create_table(
            "bench",
            sa.Column("id", sa.String(40), primary_key=True),
            sa.Column("name", sa.String(64), nullable=False),
            sa.Column("job_id", sa.String(64), nullable=False),
            sa.Column("doing", sa.Text, nullable=False),
            sa.Column("seen", sa.Float, nullable=False),
        )

    if op.get_bind().dialect.name == "postgresql":  # which holds ids to their length; a file never did
        op.alter_column("run", "id", type_=sa.String(128))
        op.alter_column("series", "run_id", type_=sa.String(128))


def _add(there: sa.Inspector, table: str, column: sa.Column[Any]) -> None:
    if column.name not in {c["name"] for c in there.get_columns(table)}:
        op.add_column(table, column)


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
