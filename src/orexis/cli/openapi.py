"""`orexis openapi`: the API's description."""

import json
import tempfile
from pathlib import Path

import typer

from orexis.server.app import Settings, create_app

SETTINGS = {"hidden": True}


def openapi() -> None:
    """Prints the API's description, from which the front end's types are made."""
    with tempfile.TemporaryDirectory() as folder:
        description = create_app(Settings(Path(folder) / "none.db")).openapi()
    typer.echo(json.dumps(description, indent=2, ensure_ascii=False))
