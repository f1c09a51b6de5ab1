"""`orexis demo`: the server, on the demo band's data."""

from datetime import datetime

import typer

from orexis.cli.serve import (
    DATA_FOLDER,
    PORT,
    Data,
    ForHome,
    HomeAddress,
    Port,
    home_of,
    serve_data,
)
from orexis.demo.scenario import fill
from orexis.store.database import Database


def demo(
    data: Data = DATA_FOLDER / "demo.db",
    port: Port = PORT,
    home: ForHome = False,
    home_address: HomeAddress = None,
) -> None:
    """Serves Orexis with the demo band's data, in a file of its own."""

    def filled(database: Database) -> None:
        with database.session() as session:
            if fill(session, datetime.now().astimezone()):
                typer.echo(f"The demo band's takes are in {data}.")

    serve_data(data, port, filled, home=home_of(port, home, home_address))
