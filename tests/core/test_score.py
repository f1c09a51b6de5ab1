"""Scores: how long they take, where one breathes, and how they are written down."""

from fractions import Fraction

import pytest

from orexis.core.exercises.words import described
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.score.notated import notated
from orexis.core.score.steps import (
    Articulation,
    Bend,
    Breath,
    BreathKind,
    Glide,
    Play,
    Rest,
    Score,
    Step,
    in_one_breath,
)

ONE = Fraction(1)


def play(midi: int, beats: float = 1, slurred: bool = False) -> Play:
    start = Articulation.SLURRED if slurred else Articulation.TONGUED
    return Play(midi, Fraction(beats), start)


def test_a_score_takes_its_beats_and_breaths_take_none() -> None:
    steps = (play(60, 2), Breath(), Glide(62, Fraction(3)), Bend(-100, ONE), Rest(Fraction(1, 2)))
    assert Score(steps).beats == Fraction(13, 2)
    assert Score(steps, tempo_bpm=120).seconds == 3.25
    assert Score(steps).pitches == (60, 62)


def test_breaths_and_rests_part_what_is_on_one_breath() -> None:
    steps: tuple[Step, ...] = (play(60), play(62), Breath(), Breath(), play(64), Rest(ONE))
    assert [len(part) for part in in_one_breath(steps)] == [2, 1]


def test_a_glide_is_a_line_whose_time_its_first_note_takes() -> None:
    first, second = notated(Score((play(60, 2), Glide(64, Fraction(3)), play(64, 1, True))))
    assert (first.midi, first.beats, first.glides_on) == (60, Fraction(5), True)
    # What is glided to is not slurred as well.
    assert (second.midi, second.beats, second.slurred) == (64, ONE, False)


def test_a_line_that_ends_on_no_note_gets_one_out_of_its_own_time() -> None:
    siren = (play(60, 1), Glide(72, Fraction(3)), Glide(60, Fraction(3)), Breath())
    written = notated(Score(siren))
    assert [(note.midi, note.beats) for note in written] == [
        (60, Fraction(4)),
        (72, Fraction(2)),
        (60, ONE),
    ]
    assert written[-1].breath_after is BreathKind.MOUTH


@pytest.mark.parametrize(
    ("cents", "words"),
    [
        (-100, "bend down a half step and back"),
        (200, "bend up 2 half steps and back"),
        (25, "bend up 25 cents and back"),
    ],
)
def test_a_bend_is_a_mark_on_its_note(cents: float, words: str) -> None:
    (note,) = notated(Score((play(60, 2), Bend(cents, Fraction(4)))))
    assert (note.beats, note.words) == (Fraction(6), (words,))


def test_a_score_is_said_by_its_notes_in_the_players_names() -> None:
    cornet = INSTRUMENTS["cornet-bb"].notation(NoteView.WRITTEN, Clef.TREBLE)
    # B♭3 and D4 sound; a cornet reads a whole step higher.
    score = Score((play(58), play(62)), tempo_bpm=72, times=3)
    assert described(score, cornet) == "C4 E4, 72 a minute, 3 times."
    assert described(Score((Rest(ONE),)), cornet) == "By breathing alone, free."
    many = described(Score(tuple(play(58) for _ in range(30))), cornet)
    assert many.endswith("and 6 more notes, free.")
