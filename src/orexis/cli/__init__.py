"""The `orexis` command."""

import json
from datetime import datetime
from pathlib import Path
from typing import Annotated

import platformdirs
import typer
import uvicorn

from orexis.cli.horn import HELP, horn
from orexis.cli.play import play
from orexis.cli.stop import stop
from orexis.core.coaching.marks import marks
from orexis.core.coaching.pattern_words import pattern_sentences
from orexis.core.coaching.words import counted
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import note_name, parse_row
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.listening.analysis import Analysis
from orexis.core.listening.analysis import analyse as listen_to
from orexis.core.listening.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.core.listening.patterns import Wanted, match_pattern
from orexis.demo.scenario import fill
from orexis.formats.analysis import analysis_document
from orexis.formats.audio import UnreadableSoundError, open_sound
from orexis.server.app import SITE, Settings, create_app
from orexis.server.security import LARGEST_SOCKET_MESSAGE_BYTES
from orexis.store.database import Database, DatabaseUnusableError

app = typer.Typer(help="Orexis listens to brass practice.", no_args_is_help=True)

app.command(context_settings={"ignore_unknown_options": True}, help=HELP)(horn)

app.command()(play)

_PORT = 8420
_HOST = "127.0.0.1"
_MIDDLE_C = 60.0
_DATA_FOLDER = platformdirs.user_data_path("orexis", appauthor=False)

Data = Annotated[Path, typer.Option(help="The data file.")]
Port = Annotated[int, typer.Option(min=1, max=65535, help="The port on loopback.")]


@app.command()
def serve(
    data: Data = _DATA_FOLDER / "orexis.db",
    port: Port = _PORT,
) -> None:
    """Serves Orexis on this machine."""
    _serve(Settings(data), port)


@app.command()
def demo(data: Data = _DATA_FOLDER / "demo.db", port: Port = _PORT) -> None:
    """Serves Orexis with the demo band's data, in a file of its own."""
    try:
        database = Database(data)
    except DatabaseUnusableError as error:
        raise stop(str(error)) from error
    with database.session() as session:
        if fill(session, datetime.now().astimezone()):
            typer.echo(f"The demo band's takes are in {data}.")
    database.close()
    _serve(Settings(data), port)


@app.command()
def analyse(
    file: Path,
    instrument: Annotated[str | None, typer.Option(help="The instrument's key.")] = None,
    a4: Annotated[
        float, typer.Option(min=A4_LOWEST_HZ, max=A4_HIGHEST_HZ, help="A4 in Hz.")
    ] = A4_HZ,
    drone: Annotated[
        float | None,
        typer.Option(
            min=LOWEST_DRONE_HZ, max=HIGHEST_DRONE_HZ, help="A tone also in the room, Hz."
        ),
    ] = None,
    wanted: Annotated[
        str, typer.Option(help='Sounding notes that were meant, such as "Bb3 D4 F4".')
    ] = "",
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole analysis.")] = False,
) -> None:
    """Listens to a WAV, FLAC or Ogg file and tells what it heard."""
    try:
        if instrument is not None:
            find_instrument(instrument)
        meant = parse_row(wanted)
    except ValueError as error:
        raise stop(str(error)) from error
    try:
        sound = open_sound(file)
        analysis = listen_to(sound.blocks, sound.sample_rate, a4, drone)
    except UnreadableSoundError as error:
        raise stop(str(error)) from error
    except ValueError as error:
        raise stop(f"{file.name} cannot be analysed. {error}") from error
    if as_json:
        typer.echo(json.dumps(analysis_document(analysis), ensure_ascii=False))
    else:
        _tell(analysis, meant)


@app.command(hidden=True)
def openapi() -> None:
    """Prints the API's description, from which the front end's types are made."""
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        description = create_app(Settings(Path(folder) / "none.db")).openapi()
    typer.echo(json.dumps(description, indent=2, ensure_ascii=False))


def _tell(analysis: Analysis, meant: list[int]) -> None:
    typer.echo(f"{analysis.duration_s:.1f} s of sound, {counted(len(analysis.notes), 'note')}.")
    if analysis.clipped:
        typer.echo("It is clipped in places: move back or turn the input down.")
    for note in analysis_document(analysis)["notes"]:
        typer.echo(
            f"{note['start_s']:7.2f} s  {note['name']:<4} {note['centre_cents']:+6.1f} cents"
            f"  ± {note['spread_cents']:.1f} cents  held {note['hold_s']:.1f} s"
        )
    for mark in marks(analysis.events, _MIDDLE_C, note_name):
        typer.echo(f"{mark.at_s:7.2f} s  {mark.words}")
    if meant:
        match = match_pattern([Wanted(midi) for midi in meant], analysis.events)
        played = [note.midi for note in analysis.notes]
        for sentence in pattern_sentences(match, meant, played, note_name):
            typer.echo(sentence)


def _serve(settings: Settings, port: int) -> None:
    if not SITE.is_dir():
        typer.echo("The front end is not built; run make demo once to see more than the API.")
    try:
        application = create_app(settings)
    except DatabaseUnusableError as error:
        raise stop(str(error)) from error
    typer.echo(f"Orexis is at http://{_HOST}:{port} (Ctrl+C stops it).")
    uvicorn.run(
        application,
        host=_HOST,
        port=port,
        log_level="warning",
        ws_max_size=LARGEST_SOCKET_MESSAGE_BYTES,
    )
