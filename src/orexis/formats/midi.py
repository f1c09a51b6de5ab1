"""MIDI: a score as it sounds, written with mido.

Slurred notes meet; others end a little before the next one begins. A glide is pitch bend on the
note it starts from.
"""

import io

import mido

from orexis.core.score.notated import Notated, notated
from orexis.core.score.steps import Dynamic, Score

_TICKS = 480
_VELOCITY = dict(zip(Dynamic, (33, 49, 64, 80, 96, 112), strict=True))
_APART_TICKS = 24
_BEND_STEPS_A_BEAT = 24
_BEND_RANGE_SEMITONES = 24


def midi_of(score: Score, title: str) -> bytes:
    """A standard MIDI file (type 1) of a score; repeats are written out."""
    file = mido.MidiFile(type=1, ticks_per_beat=_TICKS)
    head, track = file.add_track("tempo"), file.add_track(title)
    head.append(mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(score.bpm)))
    if score.tempo_bpm is not None:
        head.append(mido.MetaMessage("time_signature", numerator=score.beats_in_bar))
    for control, value in ((101, 0), (100, 0), (6, _BEND_RANGE_SEMITONES)):
        track.append(mido.Message("control_change", control=control, value=value))
    written = notated(score)
    waited = 0
    for _ in range(score.times):
        for place, note in enumerate(written):
            following = written[place + 1] if place + 1 < len(written) else None
            waited = _write(track, note, following, waited)
    kept = io.BytesIO()
    file.save(file=kept)
    return kept.getvalue()


def _write(track: mido.MidiTrack, note: Notated, following: Notated | None, waited: int) -> int:
    """Writes one note or rest; returns the ticks still to wait before the next."""
    ticks = round(note.beats * _TICKS)
    if note.midi is None:
        return waited + ticks
    velocity = _VELOCITY[note.dynamic]
    track.append(mido.Message("note_on", note=note.midi, velocity=velocity, time=waited))
    joined = following is not None and (following.slurred or note.glides_on)
    apart = 0 if joined else min(_APART_TICKS, ticks // 4)
    sounding = ticks - apart
    if note.glides_on and following is not None and following.midi is not None:
        sounding = _bend(track, following.midi - note.midi, sounding)
    track.append(mido.Message("note_off", note=note.midi, time=sounding))
    if note.glides_on:
        track.append(mido.Message("pitchwheel", pitch=0))
    return apart


def _bend(track: mido.MidiTrack, semitones: int, ticks: int) -> int:
    """Bends over the second half of a note; returns the ticks that are left of it."""
    half = ticks // 2
    steps = max(2, half * _BEND_STEPS_A_BEAT // _TICKS)
    wait = ticks - half
    for step in range(1, steps + 1):
        pitch = round(8191 * semitones / _BEND_RANGE_SEMITONES * step / steps)
        track.append(mido.Message("pitchwheel", pitch=pitch, time=wait))
        wait = half // steps
    return half - (half // steps) * (steps - 1)
