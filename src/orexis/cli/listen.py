"""`orexis listen`: free playing, from the microphone or a file."""

import json
import sys
from collections.abc import Iterator
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from orexis.cli.ending import stop
from orexis.core.arrays import FloatArray
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import note_name, parse_row
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ, hz_from_midi
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.ways import slots_beside
from orexis.core.horn.words import tuned_words
from orexis.core.judging.free_words import sitting_lines
from orexis.core.listening.notes.events import Note
from orexis.core.listening.sitting import listen_to
from orexis.core.listening.tracking.drone import HIGHEST_DRONE_HZ, LOWEST_DRONE_HZ
from orexis.formats.audio import UnreadableSoundError, open_sound
from orexis.formats.sitting import sitting_document

_RATE = 44_100
_BLOCK = _RATE // 4
_SLOWEST_BPM, _FASTEST_BPM = 20.0, 300.0


def listen(
    file: Annotated[
        Path | None, typer.Argument(help="A WAV, FLAC or Ogg file; the microphone without one.")
    ] = None,
    instrument: Annotated[str | None, typer.Option(help="The instrument's key.")] = None,
    metronome: Annotated[
        float | None,
        typer.Option(
            min=_SLOWEST_BPM, max=_FASTEST_BPM, help="Beats a minute, the first at the start."
        ),
    ] = None,
    drone: Annotated[
        str | None, typer.Option(help="A sounding note that also sounds in the room, such as Bb3.")
    ] = None,
    a4: Annotated[
        float, typer.Option(min=A4_LOWEST_HZ, max=A4_HIGHEST_HZ, help="A4 in Hz.")
    ] = A4_HZ,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
) -> None:
    """Listens to free playing and tells how it went: each note's tuning, playing time, onsets.

    Without FILE it listens to the default microphone until Ctrl+C.
    """
    horn = None
    try:
        if instrument is not None:
            horn = Horn(find_instrument(instrument), Setup(a4_hz=a4))
        drone_hz = None if drone is None else _drone_hz(drone, a4)
    except ValueError as error:
        raise stop(str(error)) from error
    beside = None if horn is None else partial(slots_beside, horn)
    kind = None if horn is None else horn.instrument
    told = _say_now if file is None else _say_nothing
    try:
        blocks, rate = _sound(file)
        sitting = listen_to(blocks, rate, a4, drone_hz, beside, kind, metronome, told)
    except UnreadableSoundError as error:
        raise stop(str(error)) from error
    except ValueError as error:
        raise stop(f"{file} cannot be listened to. {error}") from error
    if as_json:
        typer.echo(json.dumps(sitting_document(sitting), ensure_ascii=False))
    else:
        for line in sitting_lines(sitting, note_name):
            typer.echo(line)


def _drone_hz(drone: str, a4_hz: float) -> float:
    """The pitch of a drone by its note. Raises `ValueError` with what to say instead."""
    try:
        (midi,) = parse_row(drone)
    except ValueError as error:
        raise ValueError(f"Name the drone by one note, such as Bb3, not {drone}.") from error
    hz = hz_from_midi(midi, a4_hz)
    if not LOWEST_DRONE_HZ <= hz <= HIGHEST_DRONE_HZ:
        raise ValueError(
            f"A drone lies between {LOWEST_DRONE_HZ:g} and {HIGHEST_DRONE_HZ:g} Hz; choose "
            "another octave."
        )
    return hz


def _sound(file: Path | None) -> tuple[Iterator[FloatArray], int]:
    if file is None:
        return _microphone(), _RATE
    sound = open_sound(file)
    return iter(sound.blocks), sound.sample_rate


def _microphone() -> Iterator[FloatArray]:
    """Sound from the default microphone until it is interrupted."""
    try:
        # It needs PortAudio, which not every machine has.
        sounddevice = import_module("sounddevice")
    except (ImportError, OSError) as error:
        raise stop(
            "The microphone needs the package sounddevice and PortAudio, and they are not here. "
            "Install them, or name a file: orexis listen FILE."
        ) from error
    return _blocks(sounddevice)


def _blocks(sounddevice: Any) -> Iterator[FloatArray]:
    try:
        with sounddevice.InputStream(samplerate=_RATE, channels=1, blocksize=_BLOCK) as stream:
            while True:
                block, _ = stream.read(_BLOCK)
                yield np.asarray(block[:, 0], dtype=np.float64)
    except KeyboardInterrupt:
        return
    except sounddevice.PortAudioError as error:
        raise stop(f"The microphone gives no sound: {error}. Check it, then try again.") from error


def _say_now(note: Note) -> None:
    """The last note, on a line that is written over."""
    tuned = f"{note_name(note.midi)} {tuned_words(note.measures.centre_cents)}"
    sys.stderr.write(f"\r{tuned:<40}")
    sys.stderr.flush()


def _say_nothing(_: Note) -> None:
    """A file is told of when it is over."""
