"""Reading a data file from a command, beside a server that may be running on it."""

from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

from sqlalchemy.orm import Session

from orexis.cli.ending import stop
from orexis.store.database import Database, DatabaseUnusableError
from orexis.store.holding import DataHeldError, held
from orexis.store.models import Player
from orexis.store.players import all_players


def check_there(data: Path) -> None:
    """Ends the command where there is no data file."""
    if not data.is_file():
        raise stop(
            f"There is no data file {data}. Name one with --data, or run `orexis demo` once."
        )


@contextmanager
def reading(data: Path) -> Iterator[Session]:
    """A data file to read; a server that holds it has brought it up to date already. What keeps it
    from being read ends the command with the reason."""
    check_there(data)
    with ExitStack() as stack:
        try:
            stack.enter_context(held(data, "for a command"))
        except DataHeldError:
            pass
        except OSError as error:
            raise stop(f"{data} cannot be used ({error.strerror}).") from error
        try:
            database = Database(data)
        except DatabaseUnusableError as error:
            raise stop(str(error)) from error
        stack.callback(database.close)
        yield stack.enter_context(database.session())


def player_named(session: Session, name: str) -> Player:
    """The player of a name, whatever its case. Ends the command where there is none."""
    players = all_players(session)
    for player in players:
        if player.name.casefold() == name.strip().casefold():
            return player
    names = ", ".join(player.name for player in players) or "nobody yet"
    raise stop(f"There is no player {name}; there are: {names}.")
