"""Runs migrations on the connection `orexis.store.database.upgrade` hands over."""

from alembic import context

from orexis.store.models import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    render_as_batch=True,
)
with context.begin_transaction():
    context.run_migrations()
