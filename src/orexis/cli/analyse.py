"""`orexis analyse`: listens to a file."""

import json
import logging
from functools import partial
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.core.counting import counted
from orexis.core.exercises.book import find_family, task_of
from orexis.core.exercises.task import Task
from orexis.core.exercises.typed import values_of
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import Notation, NoteView, note_name, parse_row
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.attempt_words import attempt_lines
from orexis.core.judging.attempts import Verdict, judge
from orexis.core.judging.holds import held_in, set_words
from orexis.core.judging.marks import marks
from orexis.core.judging.matching import Answer, lay_beside
from orexis.core.judging.pattern_words import pattern_sentences
from orexis.core.judging.standard import Standard
from orexis.core.listening.analysis import Analysis
from orexis.core.listening.analysis import analyse as listen_to
from orexis.core.listening.notes.patterns import WantedNote, match_pattern
from orexis.core.listening.tracking.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.formats.analysis import analysis_document
from orexis.formats.attempt import attempt_document
from orexis.formats.audio import UnreadableSoundError, open_sound


def analyse(
    file: Path,
    instrument: Annotated[str | None, typer.Option(help="The instrument's key.")] = None,
    a4: Annotated[
        float, typer.Option(min=A4_LOWEST_HZ, max=A4_HIGHEST_HZ, help="A4 in Hz.")
    ] = A4_HZ,
    drone: Annotated[
        float | None,
        typer.Option(
            min=LOWEST_DRONE_HZ,
            max=HIGHEST_DRONE_HZ,
            help="A tone that also sounds in the room, in Hz.",
        ),
    ] = None,
    wanted: Annotated[
        str, typer.Option(help='The sounding notes you meant to play, such as "Bb3 D4 F4".')
    ] = "",
    exercise: Annotated[
        str, typer.Option(help="The exercise that was played (`orexis exercise list`).")
    ] = "",
    param: Annotated[
        list[str] | None, typer.Option(help="A setting of the exercise, as key=value.")
    ] = None,
    level: Annotated[Standard, typer.Option(help="The standard to judge by.")] = Standard.NORMAL,
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole analysis.")] = False,
) -> None:
    """Listens to a WAV, FLAC or Ogg file and tells what it heard."""
    try:
        horn = beside = task = None
        if instrument is not None:
            horn = Horn(find_instrument(instrument), Setup(a4_hz=a4))
            beside = partial(slots_beside, horn)
        meant = parse_row(wanted)
        if exercise:
            task = _task(exercise, horn, param or [])
    except ValueError as error:
        raise stop(str(error)) from error
    try:
        sound = open_sound(file)
        analysis = listen_to(sound.blocks, sound.sample_rate, a4, drone, beside)
    except UnreadableSoundError as error:
        raise stop(str(error)) from error
    except ValueError as error:
        raise stop(f"{file.name} cannot be analysed. {error}") from error
    judged = None
    if task is not None and horn is not None:
        judged = _judged(task, analysis, horn, level)
    if as_json:
        document = analysis_document(analysis)
        if task is not None and judged is not None:
            verdict, answers = judged
            document["attempt"] = attempt_document(task, verdict, note_name, level, answers, horn)
        typer.echo(json.dumps(document, ensure_ascii=False))
        return
    _tell(analysis, meant)
    if task is not None and judged is not None:
        verdict, answers = judged
        holds = held_in(task, answers)
        said = set_words(holds, note_name) if holds else ()
        for line in (*attempt_lines(task, verdict, note_name, horn), *said):
            typer.echo(line)


def _task(exercise: str, horn: Horn | None, settings: list[str]) -> Task:
    """The exercise a file is held against. Raises `ValueError` with what to say instead."""
    if horn is None:
        raise ValueError("Say on which instrument it was played: --instrument KEY.")
    writer = Writer(horn, Reach.usual(horn.instrument))
    notation = Notation(horn.instrument.readings[0], NoteView.SOUNDING)
    family = find_family(exercise)
    return task_of(family, writer, values_of(family, writer, notation, settings))


def _judged(
    task: Task, analysis: Analysis, horn: Horn, level: Standard
) -> tuple[Verdict, tuple[Answer, ...]] | None:
    """The verdict, and how every note was answered; where judging fails, that is said and what was
    heard is told all the same."""
    try:
        seen = lay_beside(task, analysis.events, horn)
        return judge(seen, level), seen.answers
    except Exception:
        logging.getLogger(__name__).exception("Judging failed.")
        typer.echo("Orexis failed to judge this. You see what it heard.", err=True)
        return None


def _tell(analysis: Analysis, meant: list[int]) -> None:
    typer.echo(f"{analysis.duration_s:.1f} s of sound, {counted(len(analysis.notes), 'note')}.")
    if analysis.unheard:
        typer.echo(analysis.unheard_words)
    if analysis.clipped:
        typer.echo("The sound is clipped in places. Move back, or turn the input down.")
    for note in analysis_document(analysis)["notes"]:
        typer.echo(
            f"{note['start_s']:7.2f} s  {note['name']:<4} {note['centre_cents']:+6.1f} cents"
            f"  ± {note['spread_cents']:.1f} cents  held {note['hold_s']:.1f} s"
        )
    for mark in marks(analysis.events, note_name):
        typer.echo(f"{mark.at_s:7.2f} s  {mark.words}")
    if meant:
        match = match_pattern([WantedNote(midi) for midi in meant], analysis.events)
        played = [note.midi for note in analysis.notes]
        for sentence in pattern_sentences(match, meant, played, note_name):
            typer.echo(sentence)
