"""The database file: opening, its settings, and bringing it up to date."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from functools import cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

_MIGRATIONS = Path(__file__).parent / "migrations"
_OURS = frozenset({"players", "takes"})


class DatabaseUnusableError(Exception):
    """The data file cannot be used; the message says why and what to do."""


class Database:
    """One SQLite file in WAL mode. Opening creates it and applies missing migrations. Raises
    `DatabaseUnusableError`; a file that is not ours to write is not altered."""

    def __init__(self, path: Path) -> None:
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            _check(path)
            self.engine = _engine(path)
            upgrade(self.engine)
        except (DatabaseError, sqlite3.Error, OSError) as error:
            reason = str(getattr(error, "orig", error))
            raise DatabaseUnusableError(
                f"The data file {path} cannot be opened ({reason}). "
                "Check that it is an Orexis file and that its folder can be written to."
            ) from error
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A unit of work: committed when the block ends well, undone when it does not."""
        with self._sessions.begin() as session:
            yield session

    def close(self) -> None:
        """Lets go of the file."""
        self.engine.dispose()


def _check(path: Path) -> None:
    """Looks at a file before anything is written to it. Raises `DatabaseUnusableError`."""
    if not path.exists() or not path.stat().st_size:
        return
    # The superuser may write to what was marked as not to be written.
    if not (os.access(path, os.W_OK) and path.stat().st_mode & 0o222):
        raise DatabaseUnusableError(
            f"The data file {path} is read-only. Make it writable, or choose another with --data."
        )
    # Even a reader makes files beside one in WAL mode, unless it is told that nobody writes.
    alone = not path.with_name(f"{path.name}-wal").exists()
    address = f"{path.absolute().as_uri()}?mode=ro{'&immutable=1' if alone else ''}"
    with closing(sqlite3.connect(address, uri=True)) as connection:
        tables = {
            name
            for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
        }
        versions = "SELECT version_num FROM alembic_version"
        found = connection.execute(versions).fetchall() if "alembic_version" in tables else []
    if not tables:
        return
    if not found or not tables >= _OURS:
        raise DatabaseUnusableError(
            f"{path} is another program's data file. Choose another with --data."
        )
    if found[0][0] not in _revisions():
        raise DatabaseUnusableError(
            f"The data file {path} was written by a later Orexis. Start that one, or choose "
            "another file with --data."
        )


@cache
def _revisions() -> frozenset[str]:
    script = ScriptDirectory.from_config(_config())
    return frozenset(one.revision for one in script.walk_revisions())


def _config() -> Config:
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    return config


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}")

    @event.listens_for(engine, "connect")
    def _set_up(connection: DBAPIConnection, _record: ConnectionPoolEntry) -> None:
        cursor = connection.cursor()
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "busy_timeout=5000"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    return engine


def upgrade(engine: Engine, revision: str = "head") -> None:
    """Applies the migrations up to a revision: all of them or none."""
    config = _config()
    with engine.begin() as connection:
        # Python's driver begins by itself only with the first row that changes, after the tables.
        connection.exec_driver_sql("BEGIN IMMEDIATE")
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
