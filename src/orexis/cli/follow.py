"""`orexis follow`: a written part in a recording of it."""

import json
from functools import partial
from pathlib import Path
from typing import Annotated

import typer

from orexis.cli.ending import stop
from orexis.core.counting import counted
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.following import FollowedNote, FollowedPart
from orexis.core.judging.following import follow as follow_part
from orexis.core.listening.analysis import analyse
from orexis.formats.audio import UnreadableSoundError, open_sound
from orexis.formats.melody import MelodyUnreadableError
from orexis.formats.part import written_notes
from orexis.formats.sitting import followed_document

_OFF_CENTS, _LATE_MS = 20.0, 60.0
"""From how far off a note is told of."""


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
        for line in _lines(followed):
            typer.echo(line)


def _lines(followed: FollowedPart) -> list[str]:
    played = sum(one.cents is not None for one in followed.notes)
    lines = [f"{played} of {counted(len(followed.notes), 'note')} played."]
    if followed.tempo_bpm is not None:
        lines.append(f"Tempo: {followed.tempo_bpm:.0f} quarters a minute.")
    if followed.stopped_bar is not None:
        lines.append(f"You stopped in bar {followed.stopped_bar}.")
    last = max((at for at, one in enumerate(followed.notes) if one.start_s is not None), default=-1)
    for one in followed.notes[: last + 1]:
        said = _said(one)
        if said:
            name = note_name(one.written.midi)
            lines.append(f"  bar {one.written.bar}, beat {one.written.beat:g}, {name}: {said}")
    lines += [f"  bar {one.bar}: an extra {note_name(one.midi)}" for one in followed.extra]
    return lines


def _said(one: FollowedNote) -> str:
    """What is worth saying of a note, or ""."""
    if one.heard_midi is not None:
        return f"you played {note_name(one.heard_midi)}"
    if one.start_s is None:
        return "missed"
    said: list[str] = []
    if one.cents is not None and abs(one.cents) >= _OFF_CENTS:
        said.append(f"{abs(one.cents):.0f} cents {'sharp' if one.cents > 0 else 'flat'}")
    if one.late_ms is not None and abs(one.late_ms) >= _LATE_MS:
        said.append(f"{abs(one.late_ms):.0f} ms {'late' if one.late_ms > 0 else 'early'}")
    return ", ".join(said)
