"""What is the player's and what is the room's."""

from dataclasses import replace

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import Note, Passage
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.notes.players import of_the_player, room_level_db
from orexis.standin.lips import HUMAN_LIPS
from orexis.standin.performance import perform
from orexis.standin.room import ROOMS, Room, heard_in
from orexis.standin.score import Change, ScoreNote
from orexis.standin.tone import MIDDLE

RATE = 22_050
CLEAN = NoteMeasures(0, 2, 0, 0, 0.1, 0, 1.0, None, -20, 0)


def passage(level_db: float, seconds: float, first: int = 0) -> Passage:
    last = first + round(100 * seconds)
    note = Note(first, last, 233.0, 58, replace(CLEAN, level_db=level_db), 20, 2)
    return Passage(first, last, (note,), (), (), ())


@pytest.mark.parametrize(
    ("level_db", "seconds", "kept"),
    [
        # The room is at −55 dB, the loudest note at −20.
        (-44.0, 0.1, False),
        (-42.0, 0.1, True),
        (-44.0, 0.3, True),
        (-49.0, 0.3, False),
        (-47.0, 0.3, True),
    ],
)
def test_what_is_near_the_room_and_far_under_the_player_is_the_rooms(
    level_db: float, seconds: float, kept: bool
) -> None:
    heard = [passage(-20.0, 1.0), passage(level_db, seconds, 200)]
    assert (len(of_the_player(heard, -55.0)) == 2) is kept


def test_who_plays_softly_all_along_is_heard() -> None:
    heard = [passage(-46.0, 0.1), passage(-45.0, 1.0, 200)]
    assert of_the_player(heard, -55.0) == heard
    assert of_the_player(heard, None) == heard


def test_a_hum_far_under_the_loudest_note_is_nobodys_in_whatever_room() -> None:
    heard = [passage(-10.0, 1.0), passage(-56.0, 3.0, 200)]
    assert of_the_player(heard, None) == heard[:1]


def test_a_rooms_level_is_what_hardly_anything_is_softer_than() -> None:
    levels = np.concatenate((np.full(95, -20.0), np.full(5, -60.0)))
    assert room_level_db(levels) == -60
    assert room_level_db(np.empty(0)) is None


@pytest.mark.parametrize("seed", range(3))
def test_hiss_over_rumble_has_no_pitch(seed: int) -> None:
    # Brown noise with white 7 dB under it: a ripple on a slope, for thirty seconds.
    room = Room(rumble_db=-45.0, hiss_db=-52.0)
    heard = analyse([heard_in(room, np.zeros(30 * RATE), RATE, seed)], RATE)
    assert np.mean(heard.frames.voiced) < 0.02
    assert len(heard.notes) <= 2


@pytest.mark.parametrize("room", list(ROOMS))
def test_notes_in_a_room_are_the_notes_that_were_played(room: str) -> None:
    played = [58, 62, 65, 62, 58]
    score = tuple(
        ScoreNote(midi, 0.8, reached=Change("slur" if place else "breath"))
        for place, midi in enumerate(played)
    )
    score = (*score, *(replace(note, reached=Change("breath", gap_s=1.5)) for note in score))
    sound = perform(score, MIDDLE, RATE, lead_s=2.0, seed=4, lips=HUMAN_LIPS).samples
    heard = analyse([heard_in(ROOMS[room], sound, RATE, 9)], RATE)
    assert [note.midi for note in heard.notes] == 2 * played
