"""Alembic environment: runs on the connection handed over by `database.py`."""

from alembic import context

connection = context.config.attributes["connection"]
context.configure(connection=connection, transaction_per_migration=True, render_as_batch=True)
with context.begin_transaction():
    context.run_migrations()
