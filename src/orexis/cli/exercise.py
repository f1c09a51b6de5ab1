"""`orexis exercise`: what there is to practise, written for an instrument."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.core.exercises.book import FAMILIES, find_family, task_of
from orexis.core.exercises.task import Task
from orexis.core.exercises.typed import values_of
from orexis.core.exercises.words import pace_words
from orexis.core.exercises.writer import Reach, Writer
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import Clef, Notation, NoteView
from orexis.core.horn.setup import Horn
from orexis.core.judging.aim_words import WORDS
from orexis.formats.exercise import exercise_document

HELP = """Writes an exercise for an instrument.

\b
    orexis exercise list
    orexis exercise FAMILY --instrument KEY
    orexis exercise FAMILY --instrument KEY --from Bb3 --param beats=2 --json
    orexis exercise FAMILY --instrument KEY --svg FILE --midi FILE

Notes are sounding (Bb3, C#4) unless --written is given."""
SETTINGS = {"help": HELP}


def exercise(
    family: Annotated[str, typer.Argument(help="A family's key, or list.")],
    instrument: Annotated[str, typer.Option(help="The instrument's key.")] = "",
    start: Annotated[str, typer.Option("--from", help="The note to start from.")] = "",
    written: Annotated[
        bool, typer.Option("--written", help="Notes are given as the player reads them.")
    ] = False,
    clef: Annotated[Clef | None, typer.Option(help="The clef they are read in.")] = None,
    param: Annotated[
        list[str] | None, typer.Option(help="A setting of the exercise, as key=value.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
    musicxml: Annotated[Path | None, typer.Option(help="Write it as MusicXML.")] = None,
    midi: Annotated[Path | None, typer.Option(help="Write it as MIDI.")] = None,
    svg: Annotated[Path | None, typer.Option(help="Write it as a picture.")] = None,
    wav: Annotated[Path | None, typer.Option(help="Let the stand-in player play it.")] = None,
) -> None:
    """Writes an exercise for an instrument."""
    try:
        if family == "list":
            _list(as_json)
            return
        if not instrument:
            raise ValueError("Say for which instrument: --instrument KEY (`orexis horn list`).")
        horn = Horn(find_instrument(instrument))
        reading = horn.instrument.readings[0] if clef is None else horn.instrument.reading(clef)
        read = Notation(reading, NoteView.WRITTEN)
        typed = Notation(reading, NoteView.WRITTEN if written else NoteView.SOUNDING)
        writer = Writer(horn, Reach.usual(horn.instrument), typed)
        asked = find_family(family)
        values = values_of(asked, writer, typed, param or [], start)
        task = task_of(asked, writer, values)
    except ValueError as error:
        raise stop(str(error)) from error
    makers: tuple[tuple[Path | None, Callable[[Task, Horn, Notation], bytes]], ...] = (
        (musicxml, _musicxml),
        (midi, _midi),
        (svg, _svg),
        (wav, _wav),
    )
    for path, make in makers:
        if path is not None:
            try:
                content = make(task, horn, read)
            except ValueError as error:
                raise stop(str(error)) from error
            _write(path, content)
    if as_json:
        typer.echo(json.dumps(exercise_document(task, asked.words), ensure_ascii=False, indent=1))
    elif not any(path for path, _ in makers):
        typer.echo("\n".join(_lines(task, writer)))


def _list(as_json: bool) -> None:
    if as_json:
        rows = [
            {
                "key": key,
                "title": family.title,
                "group": family.group.value,
                "why": family.words.why,
            }
            for key, family in FAMILIES.items()
        ]
        typer.echo(json.dumps(rows, ensure_ascii=False, indent=1))
        return
    group = ""
    for key, family in FAMILIES.items():
        if family.group != group:
            group = family.group.value
            typer.echo(group)
        typer.echo(f"  {key:<22}{family.title}")


def _lines(task: Task, writer: Writer) -> list[str]:
    words, score = FAMILIES[task.family_key].words, task.score
    names = " ".join(writer.name(midi) for midi in score.pitches) or "no notes"
    lines = [
        f"{task.title}: {pace_words(score)}",
        names,
        "",
        words.why,
        f"Listen for: {words.listen}",
        f"Goes wrong: {words.wrong}",
        f"Then: {words.remedy}",
    ]
    if words.caution:
        lines.append(f"Careful: {words.caution}")
    if task.aims:
        lines.append(f"Counts: {', '.join(WORDS[aim].counts for aim in task.aims)}.")
    return lines


# Each is loaded when it is wanted: they take a while.


def _musicxml(task: Task, horn: Horn, read: Notation) -> bytes:
    from orexis.practice.exercises import musicxml_of_task

    return musicxml_of_task(task, horn, read).encode()


def _midi(task: Task, horn: Horn, read: Notation) -> bytes:
    from orexis.formats.midi import midi_of

    return midi_of(task.score, task.title)


def _svg(task: Task, horn: Horn, read: Notation) -> bytes:
    from orexis.practice.exercises import engraved_task

    return engraved_task(task, horn, read).encode()


def _wav(task: Task, horn: Horn, read: Notation) -> bytes:
    from orexis.practice.exercises import played

    return played(task, horn)


def _write(path: Path, content: bytes) -> None:
    try:
        path.write_bytes(content)
    except OSError as error:
        raise stop(f"{path} cannot be written: {error.strerror}.") from error
