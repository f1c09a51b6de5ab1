"""`orexis backup`: a copy of a data file, whole or not at all."""

from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.practice.safekeeping import contents_of
from orexis.store.copies import CopyRefusedError, copy_to
from orexis.store.database import DatabaseUnusableError


def backup(
    file: Annotated[Path, typer.Argument(help="Where the copy is to be; no file is there yet.")],
    data: Data = DATA_FOLDER / "orexis.db",
) -> None:
    """Copies the data file, while Orexis runs or not."""
    if not data.is_file():
        raise stop(f"There is no data file {data}. Name one with --data.")
    try:
        held = contents_of(data)
        copy_to(data, file)
    except (CopyRefusedError, DatabaseUnusableError) as error:
        raise stop(str(error)) from error
    size_mb = file.stat().st_size / 1e6
    typer.echo(f"{file} holds a copy of {data} ({size_mb:.1f} MB): {held.words}.")
