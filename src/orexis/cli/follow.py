"""`orexis follow`: a written part in a recording of it."""

import json
from functools import partial
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.following import follow as follow_part
from orexis.core.judging.free_words import followed_lines
from orexis.core.listening.analysis import analyse
from orexis.formats.audio import UnreadableSoundError, open_sound
from orexis.formats.melody import MelodyUnreadableError
from orexis.formats.part import written_notes
from orexis.formats.sitting import followed_document


def follow(
    file: Annotated[Path, typer.Argument(help="A WAV, FLAC or Ogg file.")],
    part: Annotated[Path, typer.Argument(help="The part, as MusicXML.")],
    instrument: Annotated[str | None, typer.Option(help="The instrument's key.")] = None,
    number: Annotated[int, typer.Option("--part", min=1, help="Which part of the file.")] = 1,
    a4: Annotated[
        float, typer.Option(min=A4_LOWEST_HZ, max=A4_HIGHEST_HZ, help="A4 in Hz.")
    ] = A4_HZ,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
) -> None:
    """Follows a written part in a recording of it: each note's tuning and time, what was missed,
    wrong or too much, and where playing stopped."""
    beside = None
    try:
        if instrument is not None:
            horn = Horn(find_instrument(instrument), Setup(a4_hz=a4))
            beside = partial(slots_beside, horn)
        written = written_notes(part.read_bytes(), part.name, number)
        sound = open_sound(file)
        heard = analyse(sound.blocks, sound.sample_rate, a4, slots_beside=beside)
    except OSError as error:
        raise stop(f"{part} cannot be read ({error.strerror}).") from error
    except (MelodyUnreadableError, UnreadableSoundError) as error:
        raise stop(str(error)) from error
    except ValueError as error:
        raise stop(f"{file.name} cannot be followed. {error}") from error
    followed = follow_part(written, heard.notes)
    if as_json:
        typer.echo(json.dumps(followed_document(followed), ensure_ascii=False))
    else:
        for line in followed_lines(followed, note_name):
            typer.echo(line)
