"""Free playing and a followed part in words."""

from dataclasses import replace
from fractions import Fraction

import pytest

from orexis.core.judging.following import ExtraNote, FollowedNote, FollowedPart, WrittenNote
from orexis.core.judging.free_words import (
    day_words,
    followed_lines,
    sitting_lines,
    sitting_words,
    usual_words,
)
from orexis.core.listening.habits import NoteHabit, SittingTrend
from orexis.core.listening.onsets import AfterSilence, Onsets
from orexis.core.listening.sitting import Sitting

NOTES = (
    NoteHabit(58, 4, 6.4, 3.2, 8.06, 2.5),
    NoteHabit(60, 3, -8.0, 2.1, 4.0, 1.6),
    NoteHabit(65, 2, 0.2, 1.0, 3.0, 1.0),
    # Touched on the way, and no note of theirs.
    NoteHabit(70, 5, 0.0, 0.5, 0.6, 0.2),
)
PLAYED = Sitting(90.0, 42.0, 0.4, {"low": 12.0, "middle": 30.0, "high": 0.0}, NOTES, None, None)


def name(midi: int) -> str:
    return f"n{midi}"


def said(sitting: Sitting) -> list[str]:
    return list(sitting_words(sitting, name))


def test_times_registers_and_what_was_played() -> None:
    assert said(PLAYED) == [
        "1.5 min of sound, 42.0 s of playing.",
        "By register: low 12.0 s, middle 30.0 s.",
        "You played from n58 to n65.",
        "Steadiest note: n60, ± 2 cents.",
    ]
    assert said(replace(PLAYED, unsure_s=1.0))[0].endswith("42.0 s of playing, 1.0 s unsure.")
    assert said(replace(PLAYED, duration_s=60.0))[0].startswith("1.0 min of sound")
    assert said(replace(PLAYED, notes=())) == [
        "1.5 min of sound, 42.0 s of playing.",
        "No notes were heard. Play closer to the microphone, or louder.",
    ]


def test_each_note_has_a_line() -> None:
    lines = [line.split() for line in sitting_lines(PLAYED, name)][2:5]
    assert [" ".join(words) for words in lines] == [
        "n58 6 cents sharp ± 3 cents, 4 times, 8.1 s",
        "n60 8 cents flat ± 2 cents, 3 times, 4.0 s",
        "n65 in tune ± 1 cents, 2 times, 3.0 s",
    ]


@pytest.mark.parametrize(
    ("trend", "says"),
    [
        ((2.9, 1.9, -1.9), "your tuning and your sound were as at the beginning."),
        ((3.0, 0, 0), "your notes were 3 cents sharper than at the beginning."),
        ((-12.0, 0, 0), "your notes were 12 cents flatter than at the beginning."),
        ((0, 2.0, 0), "your notes were 2 dB louder than at the beginning."),
        ((0, -4.0, -3.0), "your notes were 4 dB softer and 3 dB airier than at the beginning."),
        ((0, 0, 2.0), "your notes were 2 dB clearer than at the beginning."),
    ],
)
def test_what_became_of_the_notes(trend: tuple[float, float, float], says: str) -> None:
    assert f"Towards the end {says}" in said(replace(PLAYED, course=SittingTrend(*trend)))


@pytest.mark.parametrize(
    ("cents", "says"),
    [
        (2.9, []),
        (5.0, ["When you play 6 dB louder, your notes lie 5 cents sharper."]),
        (-3.0, ["When you play 6 dB louder, your notes lie 3 cents flatter."]),
    ],
)
def test_what_loudness_does(cents: float, says: list[str]) -> None:
    assert said(replace(PLAYED, louder_cents=cents))[4:] == says


@pytest.mark.parametrize(
    ("onsets", "says"),
    [
        (Onsets(9, 71.6), ["Your tempo: about 72 beats a minute."]),
        (
            Onsets(9, 72.0, 14.0, 20.0),
            ["Against 72 beats a minute: 14 ms late on average, ± 20 ms."],
        ),
        (
            Onsets(9, 72.0, -14.0, 20.0, AfterSilence(3, 0.2)),
            [
                "Against 72 beats a minute: 14 ms early on average, ± 20 ms.",
                "After the silent bars you came back on the beat on average (3 times).",
            ],
        ),
        (
            Onsets(9, 72.0, None, 20.0),
            [
                "Against 72 beats a minute: ± 20 ms. How early or late is not told until you "
                "measure this device on the Stand."
            ],
        ),
    ],
)
def test_time_against_a_metronome_or_ones_own(onsets: Onsets, says: list[str]) -> None:
    assert said(replace(PLAYED, onsets=onsets))[4:] == says


def test_a_sitting_in_a_line_of_its_day() -> None:
    told = day_words(120.0, NOTES[:3], name)
    assert told.startswith("2 min of playing, 9 notes, ")
    assert told.endswith(", longest hold 2.5 s on n58.")


def test_a_note_beside_how_it_is_usually_played() -> None:
    note = NOTES[0]
    assert usual_words(note, None) == ""
    assert usual_words(note, replace(note, times=2, cents=20.0)) == ""
    assert usual_words(note, replace(note, times=3, cents=9.3)) == "as usual"
    assert usual_words(note, replace(note, times=3, cents=9.5)) == "usually 10 cents sharp"


def written(bar: int, beat: float, midi: int) -> WrittenNote:
    return WrittenNote(bar, beat, midi, Fraction(4 * (bar - 1)) + Fraction(beat) - 1, Fraction(1))


def test_a_part_that_was_followed() -> None:
    notes = (
        FollowedNote(written(1, 1, 60), 0.0, 19.9, 59.0),
        FollowedNote(written(1, 2, 62), 1.0, -20.0, -60.0),
        FollowedNote(written(1, 3.5, 64)),
        FollowedNote(written(2, 1, 65), 3.0, None, None, heard_midi=66),
        # Where playing had stopped nothing more is missed.
        FollowedNote(written(2, 2, 67)),
    )
    followed = FollowedPart(notes, (ExtraNote(1, 59, 1.5),), 71.6, 2)
    assert list(followed_lines(followed, name)) == [
        "2 of 5 notes played.",
        "Tempo: 72 quarters a minute.",
        "You stopped in bar 2.",
        "  bar 1, beat 2, n62: 20 cents flat, 60 ms early",
        "  bar 1, beat 3.5, n64: missed",
        "  bar 2, beat 1, n65: you played n66",
        "  bar 1: an extra n59",
    ]
    nothing = FollowedPart(notes[4:], (), None, None)
    assert list(followed_lines(nothing, name)) == ["0 of 1 note played."]
