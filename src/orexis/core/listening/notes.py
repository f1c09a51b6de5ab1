"""Notes: where in a stream of frames one pitch is held, and for how long.

A run of voiced frames lasts until 60 ms without a pitch. Within a run the pitch is steady
where it moves less than 35 cents in 70 ms; steady stretches on one pitch (within 60 cents) are
one note, and what lies between two notes is shared at the half-way pitch. A run without a
steady stretch makes no note.
"""

import itertools
from dataclasses import dataclass

import numpy as np

from orexis.core.horn.pitch import FloatArray, midi_from_hz
from orexis.core.listening.frames import HOP_S, Frames
from orexis.core.listening.measures import NoteMeasures, measure_note

RUN_BREAK_FRAMES = 6
_SHORTEST_RUN_FRAMES = 5
_STEADY_REACH_FRAMES = 3
_STEADY_WITHIN_CENTS = 35.0
_SAME_NOTE_CENTS = 60.0
_SHORTEST_STEADY_FRAMES = 5
_RECENT_FRAMES = 15


@dataclass(frozen=True, slots=True)
class Note:
    """One note heard: frames `first` up to, not including, `last`, and what was measured.

    `midi` is the nearest equal-tempered note and the measures' centre is against it.
    `harmonicity_db` and `brightness` are medians over the voiced frames.
    """

    first: int
    last: int
    f0_hz: float
    midi: int
    measures: NoteMeasures
    harmonicity_db: float
    brightness: float

    @property
    def start_s(self) -> float:
        """Start in seconds from the start of the sound."""
        return self.first * HOP_S

    @property
    def end_s(self) -> float:
        """End in seconds from the start of the sound."""
        return self.last * HOP_S


class NoteFollower:
    """Hears notes in frames as they come; each note is given when its run of sound ends."""

    def __init__(self, a4_hz: float) -> None:
        self._a4_hz = a4_hz
        self._held: list[Frames] = []
        self._unvoiced = 0

    def step(self, frames: Frames) -> list[Note]:
        """Takes the next frames; returns the notes that are now over."""
        notes: list[Note] = []
        start = frames.first
        for number, voiced in enumerate(frames.voiced, start=frames.first):
            self._unvoiced = 0 if voiced else self._unvoiced + 1
            if self._unvoiced == RUN_BREAK_FRAMES:
                self._held.append(frames.between(start, number + 1))
                notes += self.finish()
                start = number + 1
            elif self._unvoiced > RUN_BREAK_FRAMES:
                start = number + 1
        rest = frames.between(start, frames.first + len(frames))
        if len(rest):
            self._held.append(rest)
        return notes

    def finish(self) -> list[Note]:
        """The notes of the run that was sounding; the follower is then ready for the next."""
        run = Frames.joined(self._held)
        self._held = []
        heard = np.flatnonzero(run.voiced)
        if len(heard) < _SHORTEST_RUN_FRAMES:
            return []
        return notes_of_run(
            run.between(run.first + int(heard[0]), run.first + int(heard[-1]) + 1), self._a4_hz
        )


def notes_of_run(run: Frames, a4_hz: float) -> list[Note]:
    """The notes of one run of sound that begins and ends voiced."""
    cents = 100 * midi_from_hz(run.f0_hz, a4_hz)
    steady = _steady_stretches(cents)
    if not steady:
        return []
    edges = [0]
    for (_, end, pitch), (start, _, next_pitch) in itertools.pairwise(steady):
        edges.append(_crossing(cents, end, start, (pitch + next_pitch) / 2))
    edges.append(len(run))
    return [
        _note(run.between(run.first + start, run.first + end), a4_hz)
        for start, end in itertools.pairwise(edges)
        if run.voiced[start:end].any()
    ]


def _steady_stretches(cents: FloatArray) -> list[tuple[int, int, float]]:
    """Start, end and median cents of each stretch held on one pitch, in order."""
    reach = 2 * _STEADY_REACH_FRAMES + 1
    padded = np.pad(cents, _STEADY_REACH_FRAMES, mode="edge")
    windows = np.lib.stride_tricks.sliding_window_view(padded, reach)
    range_cents = windows.max(axis=-1) - windows.min(axis=-1)  # NaN near an unvoiced frame
    stretches: list[list[int]] = []
    for frame in np.flatnonzero(range_cents <= _STEADY_WITHIN_CENTS):
        if stretches:
            recent = np.median(cents[stretches[-1][-_RECENT_FRAMES:]])
            if abs(cents[frame] - recent) <= _SAME_NOTE_CENTS:
                stretches[-1].append(int(frame))
                continue
        stretches.append([int(frame)])
    merged: list[list[int]] = []
    for stretch in stretches:
        if len(stretch) < _SHORTEST_STEADY_FRAMES:
            continue
        pitch = np.median(cents[stretch])
        if merged and abs(pitch - np.median(cents[merged[-1]])) <= _SAME_NOTE_CENTS:
            merged[-1] += stretch
        else:
            merged.append(stretch)
    return [(s[0], s[-1] + 1, float(np.median(cents[s]))) for s in merged]


def _crossing(cents: FloatArray, end: int, start: int, halfway: float) -> int:
    """Where between two steady stretches the pitch passes half-way, or the gap's start."""
    rising = cents[start] > halfway
    for frame in range(end, start):
        if np.isfinite(cents[frame]) and (cents[frame] > halfway) == rising:
            return frame
    return start


def _note(frames: Frames, a4_hz: float) -> Note:
    midi = midi_from_hz(frames.f0_hz, a4_hz)
    voiced = frames.voiced
    nearest = round(float(np.median(midi[voiced])))
    measures = measure_note(100 * (midi - nearest), frames.level_db)
    return Note(
        first=frames.first,
        last=frames.first + len(frames),
        f0_hz=a4_hz * 2 ** ((nearest + measures.centre_cents / 100 - 69) / 12),
        midi=nearest,
        measures=measures,
        harmonicity_db=float(np.median(frames.harmonicity_db[voiced])),
        brightness=float(np.median(frames.brightness[voiced])),
    )
