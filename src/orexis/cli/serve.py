"""`orexis serve`: the server, on the player's own data."""

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path
from typing import Annotated

import platformdirs
import segno
import typer

from orexis.cli.ending import stop
from orexis.server.app import SITE, Settings, create_app
from orexis.server.home.addresses import AddressRefusedError, checked
from orexis.server.home.home import Home, HomeSettings
from orexis.server.run import HOST, PortUnusableError, listening_on, run
from orexis.store.copies import CopyRefusedError, keep_days_copy
from orexis.store.database import Database, DatabaseUnusableError
from orexis.store.holding import DataHeldError, held

DATA_FOLDER = platformdirs.user_data_path("orexis", appauthor=False)
PORT = 8420

Data = Annotated[Path, typer.Option(help="The data file.")]
Port = Annotated[int, typer.Option(min=1, max=65535, help="The port.")]
ForHome = Annotated[
    bool, typer.Option("--home", help="Serve the phones and tablets of the house as well.")
]
HomeAddress = Annotated[
    list[str] | None,
    typer.Option(help="With --home: only at this address of the machine's own. Can be repeated."),
]


def serve(
    data: Data = DATA_FOLDER / "orexis.db",
    port: Port = PORT,
    home: ForHome = False,
    home_address: HomeAddress = None,
) -> None:
    """Serves Orexis on this machine, and in the house where that is asked for."""
    serve_data(
        data, port, _keep_days_copy, keeps_copies=True, home=home_of(port, home, home_address)
    )


def home_of(port: int, is_open: bool, addresses: Sequence[str] | None) -> HomeSettings:
    """How the house is served. Ends the command where an address is not at home."""
    try:
        return HomeSettings(port, tuple(map(checked, addresses or ())), is_open)
    except AddressRefusedError as error:
        raise stop(str(error)) from error


def _keep_days_copy(database: Database) -> None:
    """Keeps the copy of the day. Practice does not wait for a disk that is full: it is said."""
    try:
        keep_days_copy(database.path, date.today())
    except CopyRefusedError as error:
        typer.echo(f"Today's copy of the data could not be kept: {error}", err=True)


def _tell_home(home: Home) -> None:
    """Says where the phones and tablets of the house find it."""
    if home.trouble:
        typer.echo(f"The devices of the house are not served: {home.trouble}", err=True)
    for url in home.urls:
        typer.echo(f"In the house it is at {url}. Pair a device on this computer: P, then T.")
        segno.make(url, micro=False).terminal(compact=True)


def serve_data(
    data: Path,
    port: int,
    prepare: Callable[[Database], None] = lambda database: None,
    *,
    keeps_copies: bool = False,
    home: HomeSettings,
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
            app = create_app(Settings(data, warms_up=True, keeps_copies=keeps_copies, home=home))

            def answers() -> None:
                typer.echo(f"Orexis is at {address} (Ctrl+C stops it).")
                _tell_home(app.state.home)

            run(app, listener, answers)
    except (DataHeldError, PortUnusableError, DatabaseUnusableError) as error:
        raise stop(str(error)) from error
    except OSError as error:
        raise stop(
            f"{data} cannot be used ({error.strerror}). Choose another with --data."
        ) from error
