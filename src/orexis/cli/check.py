"""`orexis check`: whether a data file is whole."""

import typer

from orexis.cli.reading import reading
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.practice.safekeeping import counted, findings


def check(data: Data = DATA_FOLDER / "orexis.db") -> None:
    """Looks through the data file: all of it readable, every sound to be played, nothing lost."""
    with reading(data) as session:
        seen = counted(session)
        found = 0
        for line in findings(session):
            found += 1
            typer.echo(line)
    if found:
        typer.echo(
            f"{found} {'thing is' if found == 1 else 'things are'} wrong in {data} ({seen})."
        )
        typer.echo("`orexis restore` puts a copy back; what it replaces is kept.")
        raise typer.Exit(1)
    typer.echo(f"{data} is whole: {seen}.")
