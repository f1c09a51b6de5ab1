"""`orexis check`: whether a data file is whole."""

import typer

from orexis.cli.ending import stop
from orexis.cli.reading import check_there
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.practice.wholeness import counted, findings, opened_to_look
from orexis.store.copies import CopyRefusedError
from orexis.store.database import DatabaseUnusableError


def check(data: Data = DATA_FOLDER / "orexis.db") -> None:
    """Looks through the data file and alters nothing: all of it there, readable and as written."""
    check_there(data)
    try:
        with opened_to_look(data) as session:
            found = 0
            for line in findings(session):
                found += 1
                typer.echo(line)
            seen = counted(session)
    except (DatabaseUnusableError, CopyRefusedError) as error:
        raise stop(f"{error} `orexis restore` puts a copy back.") from error
    except Exception as error:
        raise stop(
            f"{data} is damaged and cannot be read any further ({error}). "
            "`orexis restore` puts a copy back; what it replaces is kept."
        ) from error
    if found:
        typer.echo(
            f"{found} {'thing is' if found == 1 else 'things are'} wrong in {data} ({seen})."
        )
        typer.echo("`orexis restore` puts a copy back; what it replaces is kept.")
        raise typer.Exit(1)
    typer.echo(f"{data} is whole: {seen}.")
