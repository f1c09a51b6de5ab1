"""A written part beside what was heard of it; truths by arithmetic."""

from dataclasses import replace
from fractions import Fraction

import pytest

from orexis.core.judging.following import FollowedPart, WrittenNote, follow
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.measures import NoteMeasures

CLEAN = NoteMeasures(0, 2, 0, 0, 0.1, 0, 1.0, None, -20, 0)
BEAT_S = 0.6
# Four bars of quarters, with the same pitch twice and three times in a row.
PITCHES = (58, 60, 62, 62, 63, 62, 60, 58, 60, 60, 60, 65, 63, 62, 60, 58)
PART = tuple(
    WrittenNote(1 + place // 4, 1.0 + place % 4, midi, Fraction(place), Fraction(1))
    for place, midi in enumerate(PITCHES)
)


def note(midi: int, start_s: float, seconds: float = 0.5, cents: float = 0.0) -> Note:
    first = round(100 * start_s)
    measures = replace(CLEAN, centre_cents=cents)
    return Note(first, first + round(100 * seconds), 233.0, midi, measures, 25, 2)


def played(**changed: float | None) -> list[Note]:
    """The part in tempo, note `_3` and so on put off by some seconds or left out."""
    found: list[Note] = []
    for place, midi in enumerate(PITCHES):
        by_s = changed.get(f"_{place}", 0.0)
        if by_s is not None:
            found.append(note(midi, 1.0 + BEAT_S * place + by_s))
    return found


def missed(followed: FollowedPart) -> list[int]:
    return [place for place, note in enumerate(followed.notes) if note.start_s is None]


def test_as_written_every_note_is_in_its_place() -> None:
    followed = follow(PART, played())
    assert [note.start_s for note in followed.notes] == pytest.approx(
        [1.0 + BEAT_S * place for place in range(16)]
    )
    assert followed.tempo_bpm == pytest.approx(100)
    assert (followed.extra, followed.stopped_bar) == ((), None)
    assert all(abs(note.late_ms or 0) < 1 for note in followed.notes)


@pytest.mark.parametrize("gone", range(16))
def test_the_note_that_is_missing_is_that_one(gone: int) -> None:
    # Also one of two or three of the same pitch: the time tells which.
    followed = follow(PART, played(**{f"_{gone}": None}))
    assert missed(followed) == [gone]
    assert followed.extra == ()


@pytest.mark.parametrize("place", range(1, 15))
def test_a_wrong_note_is_told_with_what_it_was(place: int) -> None:
    notes = played()
    notes[place] = note(PITCHES[place] + 1, notes[place].start_s)
    followed = follow(PART, notes)
    one = followed.notes[place]
    assert (one.heard_midi, one.cents) == (PITCHES[place] + 1, None)
    assert missed(followed) == []
    assert followed.extra == ()


def test_a_note_too_much_stands_in_its_bar() -> None:
    notes = played()
    notes.insert(6, note(70, 1.0 + 5.5 * BEAT_S, 0.2))
    followed = follow(PART, notes)
    (extra,) = followed.extra
    assert (extra.bar, extra.midi) == (2, 70)
    assert extra.start_s == pytest.approx(1.0 + 5.5 * BEAT_S)
    assert missed(followed) == []


def test_how_late_a_note_is_is_told_against_the_players_own_tempo() -> None:
    followed = follow(PART, played(_7=0.09, _12=-0.06))
    late = [note.late_ms or 0.0 for note in followed.notes]
    assert late[7] == pytest.approx(90, abs=15)
    assert late[12] == pytest.approx(-60, abs=15)
    assert max(abs(one) for place, one in enumerate(late) if place not in (7, 12)) < 35


def test_a_tempo_that_changes_is_the_players_own() -> None:
    # Each beat takes 2 % longer than the one before.
    starts = [1.0]
    for place in range(15):
        starts.append(starts[-1] + BEAT_S * 1.02**place)
    followed = follow(PART, [note(midi, at) for midi, at in zip(PITCHES, starts, strict=True)])
    assert missed(followed) == []
    assert max(abs(note.late_ms or 0.0) for note in followed.notes) < 60


def test_where_one_stops_is_a_bar() -> None:
    followed = follow(PART, played()[:9])
    assert followed.stopped_bar == 3
    assert missed(followed) == list(range(9, 16))
    assert follow(PART, played()[:15]).stopped_bar is None
    assert follow(PART, []).stopped_bar == 1


def test_tuning_is_told_a_note() -> None:
    notes = [replace(note, measures=replace(CLEAN, centre_cents=-12.5)) for note in played()]
    assert {note.cents for note in follow(PART, notes).notes} == {-12.5}
