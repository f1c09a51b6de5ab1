"""The stand-in player spoils what it plays: one fault, of a size the normal standard does not let
by.

Each fault is named after the aim it misses. It is put where that aim is looked at: on a slur, on a
note from silence, on the last note of a breath.
"""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from orexis.core.exercises.family import Aim
from orexis.core.listening.notes.beginnings import SlotsBeside
from orexis.standin.score import Change, Score, ScoreNote, Siren, Touched

_Notes = list[ScoreNote]
_GAP_S, _TOUCHED_S, _FLIPPED_S = 0.15, 0.08, 0.07
_OFF_CENTS, _SCOOP_CENTS, _SAG_CENTS, _WOBBLE_CENTS = 32.0, -60.0, -45.0, 28.0
_WANES_DB, _SOFTER_DB = 7.0, 10.0
_AIRY_DB = -12.0
_LONG_S = 0.4
_LOW_MIDI = 48
_APART = 1.5
"""A slot nearer than so many semitones is heard as the note itself, begun off its pitch."""
_SMEARED_S, _STOPS_S, _EXTRA_AWAY = 0.32, 2.0, -2
_TONGUED = Change("tongued", gap_s=0.05)


def spoiled(score: Score, aim: Aim, slots_beside: SlotsBeside | None = None) -> Score | None:
    """The score with the fault of an aim in it; `None` where it has no place for one. Where the
    slots beside a note are known, a note cracks from one of them."""
    notes = [part for part in score if not isinstance(part, Siren)]
    spoils: dict[Aim, Callable[[_Notes], bool]] = {
        **_SPOILS,
        Aim.SPEAKS: partial(_speaks, slots_beside=slots_beside),
    }
    return tuple(notes) if spoils[aim](notes) else None


def _with(notes: _Notes, place: int, **faults: float | bool) -> None:
    notes[place] = replace(notes[place], faults=replace(notes[place].faults, **faults))  # type: ignore[arg-type]


def _slurs(notes: _Notes) -> list[int]:
    """Notes that are slurred to, where both are long enough to be heard as notes."""
    return [
        place
        for place in range(1, len(notes))
        if notes[place].reached.kind == "slur"
        and notes[place].midi != notes[place - 1].midi
        and min(notes[place].seconds, notes[place - 1].seconds) >= _LONG_S
    ]


def _ends(notes: _Notes) -> list[int]:
    """Notes that a breath follows, or nothing."""
    return [
        place
        for place in range(len(notes))
        if place == len(notes) - 1 or notes[place + 1].reached.kind == "breath"
    ]


def _starts(notes: _Notes) -> list[int]:
    """Notes that are long enough and come from silence."""
    found = [place for place, note in enumerate(notes) if note.reached.kind == "breath"]
    return [place for place in found if notes[place].seconds >= _LONG_S]


def _centre(notes: _Notes) -> bool:
    for place in range(len(notes)):
        _with(notes, place, centre_cents=_OFF_CENTS)
    return True


def _steady(notes: _Notes) -> bool:
    long = [place for place, note in enumerate(notes) if note.seconds >= 1.5]
    if long:
        _with(notes, long[0], wobble_cents=_WOBBLE_CENTS)
    return bool(long)


def _start(notes: _Notes) -> bool:
    places = _starts(notes)
    if places:
        _with(notes, places[-1], scoop_cents=_SCOOP_CENTS)
    return bool(places)


def _end(notes: _Notes) -> bool:
    _with(notes, _ends(notes)[0], sag_cents=_SAG_CENTS)
    return True


def _held(notes: _Notes) -> bool:
    place = _ends(notes)[0]
    notes[place] = replace(notes[place], seconds=min(notes[place].seconds / 3, 0.7))
    return True


def _speaks(notes: _Notes, slots_beside: SlotsBeside | None) -> bool:
    places = _starts(notes)
    if places:
        midi = notes[places[0]].midi
        _with(notes, places[0], crack_semitones=_cracks_by(midi, slots_beside), crack_s=0.06)
    return bool(places)


def _cracks_by(midi: float, slots_beside: SlotsBeside | None) -> float:
    """How far off a note cracks, in semitones. A low one cracks upward: there is nothing under a
    pedal to crack to."""
    upward = midi < _LOW_MIDI
    if slots_beside is None:
        return 12.0 if upward else -5.0
    apart = [slot - midi for slot in slots_beside(round(midi)) if abs(slot - midi) >= _APART]
    above = min((one for one in apart if one > 0), default=12.0)
    return above if upward else max((one for one in apart if one < 0), default=above)


def _tone(notes: _Notes) -> bool:
    """More breath than tone."""
    for place in range(len(notes)):
        _with(notes, place, breath_db=_AIRY_DB)
    return True


def _level(notes: _Notes) -> bool:
    for place in range(len(notes)):
        _softer(notes, place)
    return True


def _changed(notes: _Notes, change: Callable[[int], Change], up: bool = False) -> bool:
    """Spoils the first slur (going up) there is."""
    places = [
        place for place in _slurs(notes) if not up or notes[place].midi > notes[place - 1].midi
    ]
    if places:
        notes[places[0]] = replace(notes[places[0]], reached=change(places[0]))
    return bool(places)


def _gap(notes: _Notes) -> bool:
    return _changed(notes, lambda _: Change("slur", gap_s=_GAP_S))


def _touched(notes: _Notes) -> bool:
    def between(place: int) -> Change:
        middle = round((notes[place].midi + notes[place - 1].midi) / 2)
        return Change("slur", touched=(Touched(middle, _TOUCHED_S),))

    wide = [p for p in _slurs(notes) if abs(notes[p].midi - notes[p - 1].midi) >= 4]
    if wide:
        notes[wide[0]] = replace(notes[wide[0]], reached=between(wide[0]))
    return bool(wide)


def _flipped(notes: _Notes) -> bool:
    return _changed(
        notes,
        lambda place: Change("slur", flipped=Touched(round(notes[place].midi) + 3, _FLIPPED_S)),
        up=True,
    )


def _waning(notes: _Notes) -> bool:
    places = [place - 1 for place in _slurs(notes) if notes[place - 1].seconds >= 0.9]
    if places:
        _with(notes, places[0], waning_db=_WANES_DB)
    return bool(places)


def _spoke(notes: _Notes) -> bool:
    _with(notes, len(notes) // 2, missed=True)
    return len(notes) > 1


def _extra(notes: _Notes) -> bool:
    """Adds a note that nobody asked for, tongued between two notes of a breath."""
    places = [
        place
        for place in range(1, len(notes))
        if notes[place].reached.kind in ("slur", "tongued") and notes[place - 1].seconds >= _LONG_S
    ]
    if places:
        place = places[len(places) // 2]
        before, after = notes[place - 1], notes[place]
        # No other than the one that follows: that would be the same note begun twice.
        away = -_EXTRA_AWAY if before.midi + _EXTRA_AWAY == after.midi else _EXTRA_AWAY
        between = replace(after, midi=before.midi + away, seconds=0.3, reached=_TONGUED)
        notes[place : place + 1] = [between, replace(after, reached=_TONGUED)]
    return bool(places)


def _smeared(notes: _Notes) -> bool:
    return _changed(notes, lambda _: Change("slur", seconds=_SMEARED_S, dip_db=0.0))


def _in_time(notes: _Notes) -> list[int]:
    """Notes that go on into the next on the same breath."""
    return [
        place
        for place in range(len(notes) - 1)
        if notes[place + 1].reached.kind in ("slur", "tongued")
    ]


def _tempo(notes: _Notes) -> bool:
    """Plays everything a third slower."""
    for place, note in enumerate(notes):
        notes[place] = replace(note, seconds=1.5 * note.seconds)
    return len(_in_time(notes)) > 1


def _flow(notes: _Notes) -> bool:
    """A long stop in the middle of a breath."""
    places = _in_time(notes)
    if len(places) < 2:
        return False
    place = places[len(places) // 2] + 1
    notes[place] = replace(notes[place], reached=Change("breath", gap_s=_STOPS_S))
    return True


def _one_breath(notes: _Notes) -> bool:
    places = [p for p in range(1, len(notes)) if notes[p].reached.kind != "breath"]
    if places:
        place = places[len(places) // 2]
        notes[place] = replace(notes[place], reached=Change("breath", gap_s=0.8))
    return bool(places)


def _softer(notes: _Notes, place: int) -> None:
    notes[place] = replace(notes[place], level_db=notes[place].level_db - _SOFTER_DB)


def _same_sound(notes: _Notes) -> bool:
    _softer(notes, len(notes) - 1)
    return len(notes) > 1


def _same_tone(notes: _Notes) -> bool:
    """Gives the notes from the middle on more breath than tone."""
    for place in range(len(notes) // 2, len(notes)):
        _with(notes, place, breath_db=_AIRY_DB)
    return len(notes) > 1 and any(note.seconds >= _LONG_S for note in notes[len(notes) // 2 :])


def _even(notes: _Notes) -> bool:
    places = [p for p in range(1, len(notes) - 1) if notes[p].reached.kind == "slur"]
    for place in places[::2]:
        notes[place] = replace(notes[place], seconds=1.8 * notes[place].seconds)
    return len(places) > 2


def _clear(notes: _Notes) -> bool:
    for place in range(0, len(notes), 2):
        _with(notes, place, centre_cents=48.0)
    return len(notes) > 4


def _glides(notes: _Notes) -> list[int]:
    return [place for place, note in enumerate(notes) if note.reached.kind == "glide"]


def _breaks(notes: _Notes) -> bool:
    """Half of a glide is a jump."""
    places = _glides(notes)
    if places:
        place = places[0]
        before, after = notes[place - 1], notes[place]
        half = after.reached.seconds / 2
        gone = before.midi + (after.midi - before.midi) * 0.35
        later = before.midi + (after.midi - before.midi) * 0.75
        notes[place : place + 1] = [
            replace(after, midi=gone, seconds=0.03, reached=replace(after.reached, seconds=half)),
            replace(after, midi=later, seconds=0.03, reached=Change("slur", gap_s=0.06)),
            replace(after, reached=replace(after.reached, seconds=half)),
        ]
    return bool(places)


def _span(notes: _Notes) -> bool:
    top = max(note.midi for note in notes)
    for place, note in enumerate(notes):
        if note.midi == top:
            notes[place] = replace(note, midi=top - 4)
    return bool(_glides(notes))


def _glided(notes: _Notes) -> bool:
    """A jump where a glide is asked for."""
    places = [p for p in _glides(notes) if notes[p].step is not None]
    if places:
        place = places[0]
        after = notes[place]
        seconds = after.seconds + after.reached.seconds
        notes[place] = replace(after, seconds=seconds, reached=Change("slur"))
    return bool(places)


def _no_catch(notes: _Notes) -> bool:
    places = [p for p in _glides(notes) if abs(notes[p].midi - notes[p - 1].midi) >= 2]
    if places:
        place = places[0]
        before, after = notes[place - 1], notes[place]
        reached = replace(after.reached, seconds=after.reached.seconds / 2)
        caught = replace(after, midi=(before.midi + after.midi) / 2, seconds=0.7, reached=reached)
        notes[place : place + 1] = [caught, replace(after, reached=reached)]
    return bool(places)


def _ends_alike(notes: _Notes) -> bool:
    places = _glides(notes)
    if places:
        _softer(notes, places[0])
    return bool(places)


def _bent(notes: _Notes) -> bool:
    """What is to be bent just goes on."""
    for place in _glides(notes):
        notes[place] = replace(notes[place], midi=notes[place - 1].midi)
    return bool(_glides(notes))


def _came_back(notes: _Notes) -> bool:
    """What a bend comes back to is off, and so is what goes on from there."""
    for place in _glides(notes)[1:2]:
        for later in range(place, len(notes)):
            if later > place and notes[later].reached.kind == "breath":
                break
            _with(notes, later, centre_cents=-_OFF_CENTS)
        return True
    return False


def _shape(notes: _Notes) -> bool:
    """Every growth the other way: the loudness of notes upside down."""
    middle = sum(note.level_db for note in notes) / len(notes)
    turned = [
        replace(note, level_db=2 * middle - note.level_db, level_change_db=-note.level_change_db)
        for note in notes
    ]
    differs = len({note.level_db for note in notes}) > 1
    differs |= any(note.level_change_db for note in notes)
    notes[:] = turned
    return differs


_SPOILS: dict[Aim, Callable[[_Notes], bool]] = {
    Aim.CENTRE: _centre,
    Aim.STEADY: _steady,
    Aim.START: _start,
    Aim.END: _end,
    Aim.HELD: _held,
    Aim.TONE: _tone,
    Aim.LEVEL: _level,
    Aim.GAP: _gap,
    Aim.TOUCHED: _touched,
    Aim.FLIPPED: _flipped,
    Aim.WANING: _waning,
    Aim.SPOKE: _spoke,
    Aim.EXTRA: _extra,
    Aim.SMEARED: _smeared,
    Aim.TEMPO: _tempo,
    Aim.FLOW: _flow,
    Aim.ONE_BREATH: _one_breath,
    Aim.SAME_SOUND: _same_sound,
    Aim.SAME_TONE: _same_tone,
    Aim.EVEN: _even,
    Aim.CLEAR: _clear,
    Aim.BREAKS: _breaks,
    Aim.SPAN: _span,
    Aim.GLIDED: _glided,
    Aim.NO_CATCH: _no_catch,
    Aim.ENDS_ALIKE: _ends_alike,
    Aim.BENT: _bent,
    Aim.CAME_BACK: _came_back,
    Aim.SHAPE: _shape,
}
