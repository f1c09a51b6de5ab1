"""The database file: opening, its settings, and bringing it up to date."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

_MIGRATIONS = Path(__file__).parent / "migrations"


class DatabaseUnusableError(Exception):
    """The data file cannot be used; the message says why and what to do."""


class Database:
    """One SQLite file in WAL mode. Opening creates it and applies missing migrations."""

    def __init__(self, path: Path) -> None:
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self.engine = _engine(path)
            upgrade(self.engine)
        except (DatabaseError, OSError) as error:
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
    """Applies the migrations up to a revision."""
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
