"""`orexis simulate`: weeks of a player's plans, practised by a body that is a model."""

import json
from datetime import date
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.cli.reading import player_named, reading
from orexis.cli.serve import DATA_FOLDER, Data
from orexis.core.coach.approaches import ApproachRefusedError, checked
from orexis.core.judging.standard import Standard
from orexis.practice.coaching import known_of
from orexis.practice.simulated import simulation_document
from orexis.practice.simulation import SimulatedPlayer, Simulation
from orexis.practice.simulation import simulate as simulated

_MOST_WEEKS = 104


def simulate(
    player: Annotated[str, typer.Option(help="The player's name.")],
    weeks: Annotated[int, typer.Option(min=1, max=_MOST_WEEKS, help="How many weeks.")],
    seed: Annotated[
        int, typer.Option(min=0, help="Seed of the random numbers; another one makes other days.")
    ] = 1,
    approach: Annotated[
        list[str] | None,
        typer.Option(help="An approach as question=answer; may be given several times."),
    ] = None,
    # What `--approach` was called once, for what was written down then.
    school: Annotated[list[str] | None, typer.Option(hidden=True)] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
    data: Data = DATA_FOLDER / "orexis.db",
) -> None:
    """Plays weeks of a player's plans from today with the stand-in player as a body that grows,
    tires and recovers. The body is a model. Nothing is kept."""
    today = date.today()
    try:
        approaches = dict(
            checked(*_parted(words)) for words in [*(approach or ()), *(school or ())]
        )
    except ApproachRefusedError as error:
        raise stop(str(error)) from error
    with reading(data) as session:
        row = player_named(session, player)
        known, level = known_of(session, row, today), Standard(row.standard)
    practiser = SimulatedPlayer(
        known.about,
        known.bare,
        level,
        {**known.approaches, **approaches},
        known.followings,
        known.events,
        known.history,
    )
    result = simulated(practiser, today, weeks, seed)
    if as_json:
        typer.echo(json.dumps(simulation_document(result), ensure_ascii=False))
    else:
        typer.echo("\n".join(_lines(result)))


def _parted(words: str) -> tuple[str, str]:
    key, equals, option = words.partition("=")
    if not equals:
        raise ApproachRefusedError(f"Give an approach as question=answer, not “{words}”.")
    return key.strip(), option.strip()


def _lines(result: Simulation) -> list[str]:
    lines = []
    for day in result.days:
        what = "-" if day.plan is None else day.plan.headline
        lines.append(f"{day.day:%d.%m.}  load {day.load.today:4.0f}  {what}  {day.stopped or ''}")
    name = result.last.bare.name
    lines.append(
        f"Comfortable up to {name(result.first.range.comfortable)} at first, "
        f"{name(result.last.range.comfortable)} at the end. The body is a model."
    )
    return lines
