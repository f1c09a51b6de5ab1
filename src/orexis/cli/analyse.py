"""`orexis analyse`: listens to a file."""

import json
from functools import partial
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.core.counting import counted
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import note_name, parse_row
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.marks import marks
from orexis.core.judging.pattern_words import pattern_sentences
from orexis.core.listening.analysis import Analysis
from orexis.core.listening.analysis import analyse as listen_to
from orexis.core.listening.notes.patterns import Wanted, match_pattern
from orexis.core.listening.tracking.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.formats.analysis import analysis_document
from orexis.formats.audio import UnreadableSoundError, open_sound

_MIDDLE_C = 60.0


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
        beside = None
        if instrument is not None:
            beside = partial(slots_beside, Horn(find_instrument(instrument), Setup(a4_hz=a4)))
        meant = parse_row(wanted)
    except ValueError as error:
        raise stop(str(error)) from error
    try:
        sound = open_sound(file)
        analysis = listen_to(sound.blocks, sound.sample_rate, a4, drone, beside)
    except UnreadableSoundError as error:
        raise stop(str(error)) from error
    except ValueError as error:
        raise stop(f"{file.name} cannot be analysed. {error}") from error
    if as_json:
        typer.echo(json.dumps(analysis_document(analysis), ensure_ascii=False))
    else:
        _tell(analysis, meant)


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
