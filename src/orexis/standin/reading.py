"""The stand-in player reads a score: what is written becomes what it plays, well."""

from dataclasses import replace

from orexis.core.horn.instruments import Instrument
from orexis.core.score.steps import (
    Articulation,
    Bend,
    Breath,
    Dynamic,
    Glide,
    Play,
    PlayedOn,
    Rest,
    Role,
)
from orexis.core.score.steps import Score as Written
from orexis.standin.score import Change, Faults, Score, ScoreNote
from orexis.standin.tone import MOUTHPIECE, Timbre, timbre_of

_LEVEL_DB = dict(zip(Dynamic, (-34.0, -29.0, -25.0, -21.0, -16.0, -12.0), strict=True))
_TONGUE_S, _BREATH_S = 0.05, 0.5
_SLUR_S = 0.035
_SHORTEST_S = 0.03
_HOLDS_ON_S = 0.15
"""How much longer than asked it holds what a breath follows, where nothing is in time."""


def as_played(written: Written, faults: Faults | None = None, *, reference: bool = True) -> Score:
    """A score for the stand-in: every note in its time, with some faults on each (none), and
    what is only there to be heard first, unless another sounds that."""
    beat_s = 60 / written.bpm
    faults = faults or Faults()
    notes: list[ScoreNote] = []
    gap_s = glide_s = 0.0
    turn_midi = 0
    breathes = False
    steps = written.steps * written.times
    for place, (step, after) in enumerate(zip(steps, (*steps[1:], None), strict=True)):
        seconds = float(getattr(step, "beats", 0)) * beat_s
        match step:
            case Play() if step.role is Role.REFERENCE and not reference:
                gap_s += seconds
            case Play():
                reached = _reached(step, gap_s, glide_s, breathes, bool(notes))
                if written.tempo_bpm is None and isinstance(after, Breath | None):
                    seconds += _HOLDS_ON_S
                note = _note(step, seconds, reached, faults)
                notes.append(replace(note, step=place % len(written.steps)))
                gap_s = glide_s = 0.0
                breathes = False
            case Glide():
                if glide_s:
                    notes.append(_turn(notes[-1], turn_midi, glide_s))
                glide_s, turn_midi = seconds, step.to_midi
            case Bend():
                notes += _bent(notes[-1], step, seconds)
            case Rest():
                gap_s += seconds
            case Breath():
                if glide_s:
                    notes.append(_turn(notes[-1], turn_midi, glide_s))
                    glide_s = 0.0
                breathes = True
    if glide_s:
        notes.append(_turn(notes[-1], turn_midi, glide_s))
    return tuple(notes)


def voice_of(written: Written, horn: Instrument) -> Timbre:
    """What it is played with: the horn, or the mouthpiece where all of it is buzzed."""
    buzzed = all(note.on is not PlayedOn.HORN for note in written.notes)
    return MOUTHPIECE if buzzed and written.notes else timbre_of(horn.fundamental_midi)


def _reached(step: Play, gap_s: float, glide_s: float, breathes: bool, after: bool) -> Change:
    if not after:
        return Change("breath")
    if glide_s:
        return Change("glide", seconds=glide_s, dip_db=0.0)
    if gap_s or breathes:
        return Change("breath", gap_s=max(gap_s, _BREATH_S))
    if step.articulation is Articulation.SLURRED:
        return Change("slur", seconds=_SLUR_S)
    return Change("tongued", gap_s=_TONGUE_S)


def _note(step: Play, seconds: float, reached: Change, faults: Faults) -> ScoreNote:
    # What it takes to get there comes out of the note's own time, so that the beats stay.
    taken = {"slur": _SLUR_S, "tongued": _TONGUE_S}.get(reached.kind, 0.0)
    level = _LEVEL_DB[step.dynamic]
    change = 0.0 if step.grows_to is None else _LEVEL_DB[step.grows_to] - level
    return ScoreNote(step.midi, max(seconds - taken, _SHORTEST_S), level, change, reached, faults)


def _turn(before: ScoreNote, midi: int, seconds: float) -> ScoreNote:
    """Where a line turns or ends with no note of its own: just touched."""
    reached = Change("glide", seconds=seconds, dip_db=0.0)
    return ScoreNote(midi, _SHORTEST_S, before.level_db, 0.0, reached)


def _bent(before: ScoreNote, step: Bend, seconds: float) -> list[ScoreNote]:
    """Away from the note and back, each way in half the time."""
    move = Change("glide", seconds=seconds / 2 - _SHORTEST_S, dip_db=0.0)
    away = before.midi + step.cents / 100
    return [
        ScoreNote(midi, _SHORTEST_S, before.level_db, 0.0, move) for midi in (away, before.midi)
    ]
