"""The record: players and takes in one SQLite file, migrated by Alembic."""
