"""Alembic's environment: runs on the engine that the shop gives it."""

from alembic import context

from clothyard.store.models import Base

engine = context.config.attributes["engine"]
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
    with context.begin_transaction():
        context.run_migrations()
