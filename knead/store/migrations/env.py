"""Alembic's entry: runs the migrations on the connection that `migrate` gives."""

from alembic import context

from knead.store.tables import Base

context.configure(connection=context.config.attributes["connection"], target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
