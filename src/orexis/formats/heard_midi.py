"""What was heard as MIDI, written with mido: every note with its pitch from frame to frame as pitch
bend, so that scoops, vibrato and glides sound as they did."""

import io

import mido
import numpy as np

from orexis.core.listening.notes.events import Events
from orexis.core.listening.tracking.frames import HOP_S, Frames

_TICKS_A_SECOND = 1000
_BEND_RANGE_SEMITONES = 2
_BEND_STEPS = 8191
_LEAST_BEND = 20
"""So many of those steps, half a cent, are no change."""

_VELOCITY_AT_0_DB, _VELOCITY_A_DB = 127, 2
_A4_HZ, _A4_MIDI = 440.0, 69


def midi_of_heard(frames: Frames, events: Events, title: str) -> bytes:
    """A standard MIDI file (type 1), a tick a millisecond. It sounds at the pitch that was heard:
    bends are from equal temperament at 440 Hz, whatever the player tunes to, and reach two half
    steps."""
    file = mido.MidiFile(type=1, ticks_per_beat=_TICKS_A_SECOND)
    head, track = file.add_track("tempo"), file.add_track(title)
    head.append(mido.MetaMessage("set_tempo", tempo=1_000_000))
    for control, value in ((101, 0), (100, 0), (6, _BEND_RANGE_SEMITONES), (38, 0)):
        track.append(mido.Message("control_change", control=control, value=value))
    told: list[tuple[int, mido.Message]] = []
    for note in events.notes:
        start, end = (round(_TICKS_A_SECOND * at_s) for at_s in (note.start_s, note.end_s))
        loud = _VELOCITY_AT_0_DB + _VELOCITY_A_DB * note.measures.level_db
        velocity = int(np.clip(round(loud), 1, 127))
        bends = _bends(frames, note.first, note.last, note.midi)
        first = bends[0][1] if bends else 0
        told.append((start, mido.Message("pitchwheel", pitch=first)))
        told.append((start, mido.Message("note_on", note=note.midi, velocity=velocity)))
        told += [
            (round(_TICKS_A_SECOND * HOP_S * frame), mido.Message("pitchwheel", pitch=bend))
            for frame, bend in bends[1:]
        ]
        told.append((end, mido.Message("note_off", note=note.midi)))
    now = 0
    for at, message in told:
        track.append(message.copy(time=max(at - now, 0)))
        now = max(at, now)
    kept = io.BytesIO()
    file.save(file=kept)
    return kept.getvalue()


def _bends(frames: Frames, first: int, last: int, midi: int) -> list[tuple[int, int]]:
    """The frames of a note at which its bend changes, and what it then is."""
    found: list[tuple[int, int]] = []
    part = frames.between(first, last)
    for number, f0_hz in enumerate(part.f0_hz.tolist(), start=part.first):
        if not np.isfinite(f0_hz):
            continue
        semitones = _A4_MIDI + 12 * np.log2(f0_hz / _A4_HZ) - midi
        share = float(np.clip(semitones / _BEND_RANGE_SEMITONES, -1, 1))
        bend = round(_BEND_STEPS * share)
        if not found or abs(bend - found[-1][1]) >= _LEAST_BEND:
            found.append((number, bend))
    return found
