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
from orexis.core.counting import counted
from orexis.core.horn.instruments import find_instrument
from orexis.core.horn.notation import note_name, parse_row
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ, hz_from_midi
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.ways import slots_beside
from orexis.core.listening.analysis import passages_of
from orexis.core.listening.notes.events import Note, Passage
from orexis.core.listening.notes.players import room_level_db
from orexis.core.listening.sitting import Sitting, sitting_of
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
    passages: list[Passage] = []
    levels_db: list[FloatArray] = []
    duration_s = 0.0
    try:
        blocks, rate = _sound(file)
        for heard_s, passage, levels in passages_of(blocks, rate, a4, drone_hz, beside):
            duration_s = heard_s
            # A frame in ten is enough to tell the room by.
            levels_db.append(levels[::10])
            if passage is not None:
                passages.append(passage)
                if file is None and passage.notes:
                    _say_now(passage.notes[-1])
    except UnreadableSoundError as error:
        raise stop(str(error)) from error
    except ValueError as error:
        raise stop(f"{file} cannot be listened to. {error}") from error
    room_db = room_level_db(np.concatenate(levels_db)) if levels_db else None
    kind = None if horn is None else horn.instrument
    sitting = sitting_of(passages, duration_s, room_db, kind, metronome)
    if as_json:
        typer.echo(json.dumps(sitting_document(sitting), ensure_ascii=False))
    else:
        for line in _lines(sitting):
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
    sys.stderr.write(f"\r{_tuned(note.midi, note.measures.centre_cents):<40}")
    sys.stderr.flush()


def _tuned(midi: int, cents: float) -> str:
    whole = round(cents)
    if whole == 0:
        return f"{note_name(midi)} in tune"
    return f"{note_name(midi)} {abs(whole)} cents {'sharp' if whole > 0 else 'flat'}"


def _lines(sitting: Sitting) -> list[str]:
    lines = [
        f"{_minutes(sitting.duration_s)} of sound, {_minutes(sitting.playing_s)} of playing"
        + (f", {_minutes(sitting.unsure_s)} unsure." if sitting.unsure_s >= 1 else ".")
    ]
    if not sitting.notes:
        return [*lines, "No notes were heard. Play closer to the microphone, or louder."]
    played = ", ".join(f"{name} {_minutes(s)}" for name, s in sitting.by_register.items() if s)
    lines.append(f"By register: {played}.")
    for note in sitting.notes:
        lines.append(
            f"  {_tuned(note.midi, note.cents):<24} ± {note.spread_cents:.0f} cents, "
            f"{counted(note.times, 'time')}, {note.seconds:.1f} s"
        )
    hold, onsets = sitting.longest_hold, sitting.onsets
    if hold is not None:
        lines.append(f"Longest hold: {note_name(hold.midi)}, {hold.measures.hold_s:.1f} s.")
    if onsets is not None and onsets.mean_ms is not None:
        way = "late" if onsets.mean_ms > 0 else "early"
        lines.append(
            f"Against {onsets.tempo_bpm:g} beats a minute: {abs(onsets.mean_ms):.0f} ms {way} "
            f"on average, ± {onsets.spread_ms:.0f} ms."
        )
    elif onsets is not None:
        lines.append(f"Your tempo: about {onsets.tempo_bpm:.0f} beats a minute.")
    return lines


def _minutes(seconds: float) -> str:
    return f"{seconds:.1f} s" if seconds < 60 else f"{seconds / 60:.1f} min"
