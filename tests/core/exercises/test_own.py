"""A player's own line: its text, its slots, and what cannot be read."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.own import line_text, read_line
from orexis.core.score.steps import Articulation, Breath, Dynamic, Play, Rest, Step
from tests.core.exercises.writing import row, task


def test_a_line_is_read_word_by_word() -> None:
    steps = read_line("Bb3:2 ~Eb4@0.4:1/2 -:1 f =62:1.5 ' *C4:3")
    first, second, rest, third, breath, last = steps
    assert isinstance(first, Play)
    assert isinstance(second, Play)
    assert isinstance(third, Play)
    assert isinstance(last, Play)
    assert (first.midi, float(first.beats), first.dynamic) == (58, 2.0, Dynamic.MF)
    assert (second.midi, second.length_name, second.partial) == (63, "0", 4)
    assert second.articulation is Articulation.SLURRED
    assert (rest, breath) == (Rest(second.beats * 2), Breath())
    assert (third.midi, float(third.beats), third.dynamic) == (62, 1.5, Dynamic.F)
    assert [third.articulation, last.articulation] == [Articulation.TENUTO, Articulation.BREATH]


_BEATS = st.fractions(min_value="1/12", max_value=8, max_denominator=12).filter(bool)
_NOTES = st.builds(
    Play,
    midi=st.integers(20, 100),
    beats=_BEATS,
    articulation=st.sampled_from(Articulation),
    dynamic=st.sampled_from(Dynamic),
)
_SLOTS = st.builds(
    Play,
    midi=st.integers(20, 100),
    beats=_BEATS,
    length_name=st.sampled_from(("0", "13", "T0", "F+3", "G♭+2")),
    partial=st.integers(1, 16),
)


@given(st.lists(st.one_of(_NOTES, _SLOTS, st.builds(Rest, _BEATS), st.just(Breath())), max_size=20))
def test_what_is_written_is_read_again(steps: list[Step]) -> None:
    assert list(read_line(line_text(steps))) == steps


@pytest.mark.parametrize(
    "line",
    ["H3:2", "Bb3", "Bb3:", "Bb3:0", "Bb3:1/0", "Bb3:99", "128:1", "C:1", "~-:x", "C4@0:1", "mff"],
)
def test_what_cannot_be_read_says_which_word_and_what_to_write(line: str) -> None:
    with pytest.raises(ExerciseRefusedError, match=r"cannot be read\. Write sounding notes"):
        read_line(f"C4:1 {line}")


def test_a_line_with_no_note_or_too_many_is_refused() -> None:
    with pytest.raises(ExerciseRefusedError, match="no note yet"):
        task("own-line", "cornet-bb", line="-:1 '")
    with pytest.raises(ExerciseRefusedError, match="over 500 notes"):
        read_line("C4:1 " * 501)


def test_notes_stand_in_the_slots_they_name_until_they_are_moved() -> None:
    # F4 on a cornet: the third slot of the open horn, or the fourth of 13.
    there = task("own-line", "cornet-bb", line="F4@13.4:1")
    (note,) = there.score.notes
    assert (note.midi, note.length_name, note.partial) == (65, "13", 4)
    moved = task("own-line", "cornet-bb", line="F4@13.4:1", semitones=-2)
    (note,) = moved.score.notes
    # E♭4 is learned as 1 and its third slot.
    assert (note.midi, note.length_name, note.partial) == (63, "1", 3)
    # A slot of another horn is forgotten.
    (other,) = task("own-line", "trombone-tenor", line="F3@13.4:1").score.notes
    assert (other.midi, other.length_name, other.partial) == (53, "1", 3)


def test_a_slur_goes_on_from_a_note_and_begins_anew_after_a_breath_or_a_rest() -> None:
    line = "~Bb3:1 ~Eb4:2 ' ~Bb3:1 -:1 ~Eb4:1"
    written = task("own-line", "tenor-horn-eb", line=line)
    assert row(written) == ["Bb3/1", "~Eb4/2", "'", "Bb3/1", "-1", "Eb4/1"]


def test_the_usual_line_is_playable_and_slurred() -> None:
    usual = task("own-line", "trombone-tenor")
    assert row(usual) == ["F3/2", "~G3/2", "~F3/4", "'"]
    assert usual.score.tempo_bpm is None
    assert task("own-line", "trombone-tenor", tempo=72).score.tempo_bpm == 72
