"""`orexis plan`: what a player is to play on a day, and why."""

import json
from dataclasses import replace
from datetime import datetime
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.cli.reading import player_named, reading
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.core.coach.about import LONGEST_MIN, SHORTEST_MIN, Lips
from orexis.core.coach.day import DayPlan
from orexis.core.coach.planning import plan_day
from orexis.formats.day_plan import plan_document
from orexis.practice.coaching import known_of, usual_asked


def plan(
    player: Annotated[str, typer.Option(help="The player's name.")],
    date: Annotated[str, typer.Option(help="The day, as 2026-11-27; today if left out.")] = "",
    minutes: Annotated[
        int | None,
        typer.Option(min=SHORTEST_MIN, max=LONGEST_MIN, help="Minutes in all, rests included."),
    ] = None,
    lips: Annotated[Lips, typer.Option(help="How the lips feel.")] = Lips.NORMAL,
    quiet: Annotated[
        bool, typer.Option("--quiet", help="A plan for the mouthpiece alone.")
    ] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
    data: Data = DATA_FOLDER / "orexis.db",
) -> None:
    """Plans a player's day. Nothing is kept."""
    now = datetime.now().astimezone()
    try:
        day = datetime.strptime(date, "%Y-%m-%d").date() if date else now.date()
    except ValueError as error:
        raise stop(f"Give the day as year-month-day, such as {now:%Y-%m-%d}.") from error
    with reading(data) as session:
        known = known_of(session, player_named(session, player), day)
    asked = replace(usual_asked(known, now), lips=lips)
    asked = replace(asked, minutes=minutes or asked.minutes, quiet=quiet)
    made = plan_day(known, asked)
    if as_json:
        typer.echo(json.dumps(plan_document(made), ensure_ascii=False))
    else:
        typer.echo("\n".join(_lines(made)))


def _lines(made: DayPlan) -> list[str]:
    lines = [made.headline]
    if made.summary:
        lines.append(made.summary)
    for block in made.blocks:
        rest = f" and {block.rest_minutes:g} of rest" if block.rest_minutes else ""
        lines.append(f"  {block.kind.value:<10} {block.title:<24} {block.minutes:g} min{rest}")
        lines.append(f"  {'':<10} {block.reason}")
    return [*lines, *made.warnings]
