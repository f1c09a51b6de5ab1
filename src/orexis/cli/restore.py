"""`orexis restore`: a copy put in the place of a data file, which is kept."""

from datetime import datetime
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.practice import safekeeping
from orexis.practice.safekeeping import contents_of
from orexis.store.copies import CopyRefusedError
from orexis.store.database import DatabaseUnusableError
from orexis.store.holding import DataHeldError, held


def restore(
    file: Annotated[
        Path, typer.Argument(help="A copy made by `orexis backup`, or kept by itself.")
    ],
    data: Data = DATA_FOLDER / "orexis.db",
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask first.")] = False,
) -> None:
    """Puts a copy in the place of the data file, and keeps what it replaces."""
    if not file.is_file():
        raise stop(f"There is no file {file}. Name a copy of a data file.")
    try:
        with held(data, "for a restore"):
            typer.echo(f"{file} holds {contents_of(file).words}.")
            if data.exists():
                typer.echo(f"It replaces {data}: {_words_of(data)}. That is kept beside it.")
            if not yes and not typer.confirm("Put it back?"):
                typer.echo("Nothing was changed.")
                return
            replaced = safekeeping.restore(file, data, datetime.now())
    except (CopyRefusedError, DatabaseUnusableError, DataHeldError) as error:
        raise stop(str(error)) from error
    except OSError as error:
        raise stop(f"{data} cannot be used ({error.strerror}).") from error
    kept = f" What was there is kept as {replaced}." if replaced else ""
    typer.echo(f"{data} is now what {file} holds.{kept}")


def _words_of(data: Path) -> str:
    """What the file that is replaced holds; it may be what is broken."""
    try:
        return contents_of(data).words
    except DatabaseUnusableError:
        return "it cannot be read"
