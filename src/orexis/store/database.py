"""The database file: opening, its settings, and bringing it up to date."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from functools import cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

from orexis.store.copies import CopyRefusedError, address_of, keep_copy
from orexis.store.holding import DataHeldError, held
from orexis.store.replacing import is_being_replaced

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
            _finish_replacing(path)
            _check(path)
            self.engine = _engine(path)
            upgrade(self.engine)
        except (DatabaseError, sqlite3.Error, OSError) as error:
            raise _cannot_be_opened(path, error) from error
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A unit of work: committed when the block ends well, undone when it does not."""
        with self._sessions.begin() as session:
            yield session

    @contextmanager
    def erasing(self) -> Iterator[Session]:
        """A unit of work that deletes what is to be gone from the file: it is written over wherever
        it lay, in the log too."""
        with self.session() as session:
            session.execute(text("PRAGMA secure_delete = ON"))
            yield session
        self._empty_log()

    def _empty_log(self) -> None:
        """The log holds pages as they were."""
        with self.engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")

    def shrink(self) -> bool:
        """Writes the file anew, as small as it can be; false where there is no room for that, and
        it stays as it is. Nobody else is to be writing."""
        with self.engine.connect() as connection:
            try:
                connection.exec_driver_sql("VACUUM")
            except DatabaseError:
                return False
        self._empty_log()
        return True

    def close(self) -> None:
        """Lets go of the file."""
        self.engine.dispose()


def _finish_replacing(path: Path) -> None:
    """Finishes a restore that was cut short, unless somebody is at it. Raises
    `DatabaseUnusableError`."""
    if is_being_replaced(path):
        try:
            with held(path, "to finish a restore"):
                return
        except DataHeldError as error:
            raise DatabaseUnusableError(
                f"{path} is being restored. Try again when that is done."
            ) from error


def _check(path: Path) -> None:
    """Looks at a file before anything is written to it, and keeps a copy of one that is about to
    be brought up to date. Raises `DatabaseUnusableError`."""
    if not path.exists() or not path.stat().st_size:
        return
    # The superuser may write to what was marked as not to be written.
    if not (os.access(path, os.W_OK) and path.stat().st_mode & 0o222):
        raise DatabaseUnusableError(
            f"The data file {path} is read-only. Make it writable, or choose another with --data."
        )
    revision = revision_of(path)
    if revision is None or revision == newest_revision():
        return
    try:
        keep_copy(path, f"{datetime.now():%Y-%m-%d %H%M%S} before version {newest_revision()}")
    except CopyRefusedError as error:
        raise DatabaseUnusableError(
            f"{path} is from an older Orexis, and a copy is kept before it is brought up to date. "
            f"{error}"
        ) from error


def revision_of(path: Path) -> str | None:
    """The version a data file was written by, `None` for an empty one; nothing is written. Raises
    `DatabaseUnusableError` for what is no data file, or a later version's."""
    with closing(sqlite3.connect(address_of(path), uri=True)) as connection:
        try:
            tables = {
                name
                for (name,) in connection.execute(
                    "SELECT name FROM sqlite_master WHERE type = 'table'"
                )
            }
            versions = "SELECT version_num FROM alembic_version"
            found = connection.execute(versions).fetchall() if "alembic_version" in tables else []
        except sqlite3.DatabaseError as error:
            raise _cannot_be_opened(path, error) from error
    if not tables:
        return None
    if not found or not tables >= _OURS:
        raise DatabaseUnusableError(
            f"{path} is another program's data file. Choose another with --data."
        )
    revision = str(found[0][0])
    if revision not in _revisions():
        raise DatabaseUnusableError(
            f"The data file {path} was written by a later Orexis. Start that one, or choose "
            "another file with --data."
        )
    return revision


def _cannot_be_opened(path: Path, error: Exception) -> DatabaseUnusableError:
    reason = str(getattr(error, "orig", error))
    return DatabaseUnusableError(
        f"The data file {path} cannot be opened ({reason}). "
        "Check that it is an Orexis file and that its folder can be written to."
    )


@cache
def newest_revision() -> str:
    """The version that this Orexis writes."""
    head = ScriptDirectory.from_config(_config()).get_current_head()
    assert head is not None
    return head


@cache
def _revisions() -> frozenset[str]:
    script = ScriptDirectory.from_config(_config())
    return frozenset(revision.revision for revision in script.walk_revisions())


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


def bring_up_to_date(path: Path) -> None:
    """Applies what migrations are missing to a file that nobody else has, which is one file
    afterwards. Raises what the database does."""
    engine = _engine(path)
    try:
        upgrade(engine)
        with engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA journal_mode=DELETE")
    finally:
        engine.dispose()


def upgrade(engine: Engine, revision: str = "head") -> None:
    """Applies the migrations up to a revision: all of them or none."""
    config = _config()
    with engine.begin() as connection:
        # Python's driver begins by itself only with the first row that changes, after the tables.
        connection.exec_driver_sql("BEGIN IMMEDIATE")
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
