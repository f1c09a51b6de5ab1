"""`orexis serve`: the server, on the player's own data."""

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Annotated

import platformdirs
import typer

from orexis.cli.ending import stop
from orexis.server.app import SITE, Settings, create_app
from orexis.server.run import HOST, PortUnusableError, listening_on, run
from orexis.store.copies import CopyRefusedError, keep_days_copy
from orexis.store.database import Database, DatabaseUnusableError
from orexis.store.holding import DataHeldError, held

DATA_FOLDER = platformdirs.user_data_path("orexis", appauthor=False)
PORT = 8420

Data = Annotated[Path, typer.Option(help="The data file.")]
Port = Annotated[int, typer.Option(min=1, max=65535, help="The port on loopback.")]


def serve(data: Data = DATA_FOLDER / "orexis.db", port: Port = PORT) -> None:
    """Serves Orexis on this machine."""
    serve_data(data, port, _keep_days_copy, keeps_copies=True)


def _keep_days_copy(database: Database) -> None:
    """Keeps the copy of the day. Practice does not wait for a disk that is full: it is said."""
    try:
        keep_days_copy(database.path, date.today())
    except CopyRefusedError as error:
        typer.echo(f"Today's copy of the data could not be kept: {error}", err=True)


def serve_data(
    data: Path,
    port: int,
    prepare: Callable[[Database], None] = lambda database: None,
    *,
    keeps_copies: bool = False,
) -> None:
    """Serves a data file, after `prepare` has had it, until it is interrupted. What keeps it from
    serving is said in one line, and nothing is altered then."""
    address = f"http://{HOST}:{port}"
    if not SITE.is_dir():
        typer.echo("The front end is not built; run make demo once to see more than the API.")
    try:
        with held(data, f"at {address}"), listening_on(port) as listener:
            database = Database(data)
            prepare(database)
            database.close()
            run(
                create_app(Settings(data, warms_up=True, keeps_copies=keeps_copies)),
                listener,
                lambda: typer.echo(f"Orexis is at {address} (Ctrl+C stops it)."),
            )
    except (DataHeldError, PortUnusableError, DatabaseUnusableError) as error:
        raise stop(str(error)) from error
    except OSError as error:
        raise stop(
            f"{data} cannot be used ({error.strerror}). Choose another with --data."
        ) from error
