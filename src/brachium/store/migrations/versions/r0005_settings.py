"""Settings of the shop in one row: what stood under a key of its own each becomes one document of version 1."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
KEYS = (
    "opening_hours", "technicians", "benches", "evidence_threshold", "age_derating", "worth_per_eur", "tax_rate",
    "tax_apart", "exchange_rates", "correct_predictions", "report_language", "report_currency", "watched_folder",
    "demo_shop",
)  # fmt: skip


def upgrade() -> None:
    connection = op.get_bind()
    setting = sa.table("setting", sa.column("key"), sa.column("value"))
    rows = connection.execute(sa.select(setting).where(setting.c.key.in_(KEYS))).all()
    if not rows:
        return
    text = json.dumps({"document_version": 1, **{row.key: row.value for row in rows}})
    connection.execute(sa.delete(setting).where(setting.c.key.in_((*KEYS, "settings"))))
    connection.execute(sa.insert(setting).values(key="settings", value=text))


def downgrade() -> None:
    """Never used: the backup taken before an upgrade is the way back."""
