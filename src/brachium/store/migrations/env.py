"""Alembic environment: runs on the connection handed over by `database.py`."""

from alembic import context

connection = context.config.attributes["connection"]
# the caller holds the one transaction: schema and version are there together or not at all
context.configure(connection=connection, transaction_per_migration=False, transactional_ddl=True)
context.run_migrations()
