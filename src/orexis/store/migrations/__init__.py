"""Alembic's environment and revisions."""
