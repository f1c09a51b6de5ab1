"""`orexis report`: some weeks of a player's as one zip that opens anywhere."""

from datetime import datetime
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.cli.reading import player_named, reading
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.practice.report import (
    LONGEST_WEEKS,
    USUAL_WEEKS,
    ReportRefusedError,
    begins,
    report_of,
)
from orexis.server.bundles import NotBuiltError, bundle_of


def report(
    file: Annotated[Path, typer.Argument(help="The zip to write; no file is there yet.")],
    player: Annotated[str, typer.Option(help="The player's name.")],
    weeks: Annotated[
        int, typer.Option(min=1, max=LONGEST_WEEKS, help="How many weeks up to today.")
    ] = USUAL_WEEKS,
    words: Annotated[
        str, typer.Option(help="The player's own words, at the top of the report.")
    ] = "",
    data: Data = DATA_FOLDER / "orexis.db",
) -> None:
    """Writes a report for a teacher: it opens in any browser and plays its takes."""
    if file.exists():
        raise stop(f"{file} is there already. Choose another name; nothing was written.")
    now = datetime.now().astimezone()
    with reading(data) as session:
        first = begins(now.date(), weeks)
        try:
            made = report_of(session, player_named(session, player), first, now.date(), words, now)
            content = bundle_of(session, made)
        except (ReportRefusedError, NotBuiltError) as error:
            raise stop(str(error)) from error
    part = file.with_name(f".{file.name}.part")
    try:
        part.write_bytes(content)
        part.replace(file)
    except OSError as error:
        raise stop(f"{file} cannot be written ({error.strerror}).") from error
    finally:
        part.unlink(missing_ok=True)
    typer.echo(f"{file}: {made.player.name}, {first} to {now.date()}. {made.summary}")
