"""The stand-in player plays an exercise without doing what it is there for.

Each function takes an exercise's written score and what is played of it, and gives what is played
without one thing that must be done; `None` where the exercise does not ask for it.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace
from types import MappingProxyType

from orexis.core.exercises.family import Aim
from orexis.core.score.steps import Articulation, Bend, Glide, Play
from orexis.core.score.steps import Score as Written
from orexis.standin.score import Change, Score, ScoreNote
from orexis.standin.spoiling import spoiled

_Notes = list[ScoreNote]
Without = Callable[[Written, _Notes], _Notes | None]

_GAP_S, _SHORT_S, _LEAST_HELD_S = 0.2, 1.0, 3.0
_LONG_S, _BETWEEN_S = 0.3, 0.25
_SMEARED_S = 0.35
_SOFTER_DB = 10.0


def played_without(what: str, written: Written, played: Score) -> Score | None:
    """What is played of a score without one thing of `WITHOUT`."""
    notes = [part for part in played if isinstance(part, ScoreNote)]
    without = WITHOUT[what](written, list(notes))
    return None if without is None or without == notes else tuple(without)


def _inner(notes: _Notes, kinds: tuple[str, ...]) -> list[int]:
    return [place for place in range(1, len(notes)) if notes[place].reached.kind in kinds]


def _changing(notes: _Notes) -> list[int]:
    """Notes that are slurred to from another pitch."""
    return [
        place for place in _inner(notes, ("slur",)) if notes[place].midi != notes[place - 1].midi
    ]


def _the_end(written: Written, notes: _Notes) -> _Notes | None:
    """The first third, and no more."""
    return notes[: max(len(notes) // 3, 2)] if len(notes) >= 6 else None


def _the_key(written: Written, notes: _Notes) -> _Notes:
    return [replace(note, midi=note.midi + 1) for note in notes]


def _the_octave(written: Written, notes: _Notes) -> _Notes:
    return [replace(note, midi=note.midi + 12) for note in notes]


def _only_these(written: Written, notes: _Notes) -> _Notes | None:
    """Another note between each two of a breath."""
    found: _Notes = []
    added = False
    for place, note in enumerate(notes):
        inner = place > 0 and note.reached.kind in ("slur", "tongued")
        if inner and notes[place - 1].seconds >= _LONG_S and note.seconds >= _LONG_S:
            tongued = Change("tongued", gap_s=0.04)
            found.append(
                replace(note, midi=note.midi + 2, seconds=_BETWEEN_S, reached=tongued, step=None)
            )
            note = replace(note, reached=tongued)
            added = True
        found.append(note)
    return found if added else None


def _connected(written: Written, notes: _Notes) -> _Notes | None:
    """A gap in each slur."""
    places = _changing(notes)
    for place in places:
        notes[place] = replace(notes[place], reached=Change("slur", gap_s=_GAP_S))
    return notes if places else None


def _slurred(written: Written, notes: _Notes) -> _Notes | None:
    """Tongued where slurs are written."""
    places = _changing(notes)
    for place in places:
        notes[place] = replace(notes[place], reached=Change("tongued", gap_s=0.06))
    return notes if places else None


def _at_once(written: Written, notes: _Notes) -> _Notes | None:
    """A glide in each slur."""
    places = [
        place
        for place in _changing(notes)
        if min(notes[place].seconds, notes[place - 1].seconds) >= 2 * _SMEARED_S
    ]
    for place in places:
        notes[place] = replace(notes[place], reached=Change("glide", _SMEARED_S, dip_db=0.0))
    return notes if places else None


def _the_dynamics(written: Written, notes: _Notes) -> _Notes | None:
    """Plays everything as loud as the middle of the exercise."""
    differ = len({note.level_db for note in notes}) > 1 or any(n.level_change_db for n in notes)
    middle_db = sum(note.level_db + note.level_change_db / 2 for note in notes) / len(notes)
    return [replace(n, level_db=middle_db, level_change_db=0.0) for n in notes] if differ else None


def _going_on(written: Written, notes: _Notes) -> _Notes | None:
    """A stop of two seconds in the middle of a breath."""
    return _with_fault(notes, Aim.FLOW) if len(_inner(notes, ("slur", "tongued"))) >= 3 else None


def _the_tempo(written: Written, notes: _Notes) -> _Notes | None:
    """Plays everything a third slower."""
    return None if written.tempo_bpm is None else _with_fault(notes, Aim.TEMPO)


def _with_fault(notes: _Notes, aim: Aim) -> _Notes | None:
    """With the fault of an aim, which is the whole of it."""
    found = spoiled(tuple(notes), aim)
    return None if found is None else [part for part in found if isinstance(part, ScoreNote)]


def _the_glide(written: Written, notes: _Notes) -> _Notes | None:
    """Its end at once, where a glide is written."""
    if not any(isinstance(step, Glide) for step in written.steps):
        return None
    places = _inner(notes, ("glide",))
    for place in places:
        note = notes[place]
        notes[place] = replace(
            note, seconds=note.seconds + note.reached.seconds, reached=Change("slur")
        )
    return notes if places else None


def _the_bend(written: Written, notes: _Notes) -> _Notes | None:
    """The note just goes on."""
    bends = any(isinstance(step, Bend) for step in written.steps)
    return _with_fault(notes, Aim.BENT) if bends else None


def _long_enough(written: Written, notes: _Notes) -> _Notes | None:
    """Holds for only a second what should be held as long as it is good."""
    long = {
        place
        for place, step in enumerate(written.steps)
        if isinstance(step, Play) and step.as_long_as_good
    }
    places = [
        place
        for place, note in enumerate(notes)
        if note.step in long and note.seconds >= _LEAST_HELD_S
    ]
    for place in places:
        notes[place] = replace(notes[place], seconds=_SHORT_S)
    return notes if places else None


def _every_note(written: Written, notes: _Notes) -> _Notes | None:
    """Leaves out every other note; what is around them lasts as long as before."""
    if len(notes) < 4 or any(note.reached.kind == "glide" for note in notes):
        return None
    return [
        replace(note, faults=replace(note.faults, missed=True)) if place % 2 else note
        for place, note in enumerate(notes)
    ]


def _alike(written: Written, notes: _Notes) -> _Notes | None:
    """The second half far softer."""
    plays = [play for play in written.notes if play.articulation is not Articulation.BREATH]
    if len({play.dynamic for play in plays}) > 1 or len(notes) < 2 or len(plays) < 2:
        return None
    half = len(notes) // 2
    return [
        replace(note, level_db=note.level_db - (_SOFTER_DB if place >= half else 0.0))
        for place, note in enumerate(notes)
    ]


WITHOUT: Mapping[str, Without] = MappingProxyType(
    {
        "the end": _the_end,
        "the key": _the_key,
        "the octave": _the_octave,
        "only these notes": _only_these,
        "every note": _every_note,
        "connected": _connected,
        "slurred": _slurred,
        "at once": _at_once,
        "the dynamics": _the_dynamics,
        "going on": _going_on,
        "the tempo": _the_tempo,
        "the glide": _the_glide,
        "the bend": _the_bend,
        "long enough": _long_enough,
        "alike": _alike,
    }
)
"""What must be done, and how it is played without."""
