"""First tables: jobs, runs, series, settings, edits."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.Column("changed_at", sa.String(32), nullable=False),
    )
    op.create_table(
        "run",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("job_id", sa.String(64), sa.ForeignKey("job.id"), nullable=False),
        sa.Column("role", sa.String(16), nullable=False),
        sa.Column("taken_at", sa.String(32), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )
    op.create_index("ix_run_job_id", "run", ["job_id"])
    op.create_table(
        "series",
        sa.Column("run_id", sa.String(64), sa.ForeignKey("run.id"), primary_key=True),
        sa.Column("session", sa.Integer, primary_key=True),
        sa.Column("key", sa.String(64), primary_key=True),
        sa.Column("unit", sa.String(16), nullable=False),
        sa.Column("source", sa.Text, nullable=False),
        sa.Column("samples", sa.Integer, nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
    )
    op.create_table(
        "setting", sa.Column("key", sa.String(64), primary_key=True), sa.Column("value", sa.Text, nullable=False)
    )
    op.create_table(
        "edit",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("job_id", sa.String(64), sa.ForeignKey("job.id"), nullable=False),
        sa.Column("at", sa.String(32), nullable=False),
        sa.Column("label", sa.Text, nullable=False),
        sa.Column("seconds", sa.Float, nullable=False),
    )
    op.create_index("ix_edit_job_id", "edit", ["job_id"])


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
