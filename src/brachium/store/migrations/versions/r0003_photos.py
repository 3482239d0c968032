"""Photos, by the id made of their content; which job shows them stands in the job's record."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    if sa.inspect(op.get_bind()).has_table("photo"):
        return
    op.create_table(
        "photo",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("data", sa.LargeBinary, nullable=False),
    )


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
