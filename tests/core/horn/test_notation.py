"""Names, spelling, clefs, and what people type."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.horn.instruments import INSTRUMENTS, find_instrument
from orexis.core.horn.notation import (
    MAJOR_KEYS,
    Clef,
    Notation,
    NoteUnreadableError,
    NoteView,
    Reading,
    clef_for,
    enharmonics,
    note_name,
    parse_key,
    parse_note,
    parse_row,
    spell,
)

NOTES = st.integers(12, 119)
READINGS = st.sampled_from(
    [reading for instrument in INSTRUMENTS.values() for reading in instrument.readings]
)


@given(READINGS, NOTES)
def test_written_and_sounding_are_each_others_inverse(reading: Reading, note: int) -> None:
    assert reading.sounding(reading.written(note)) == note
    notation = Notation(reading, NoteView.WRITTEN)
    assert notation.parse(notation.name(note)) == note


@pytest.mark.parametrize(
    ("key", "sounding", "written"),
    [
        ("trumpet-bb", "B♭4", "C5"),
        ("trumpet-c", "C5", "C5"),
        ("soprano-cornet-eb", "E♭5", "C5"),
        ("tenor-horn-eb", "E♭4", "C5"),
        ("mellophone-f", "F4", "C5"),
        ("horn-f", "F4", "C5"),
        ("baritone-bb", "B♭3", "C5"),
        ("euphonium-bb", "B♭3", "C5"),
        ("trombone-tenor", "B♭3", "C5"),
        ("trombone-bass", "B♭3", "C5"),
        ("tuba-eb", "E♭3", "C5"),
        ("tuba-bb", "B♭2", "C5"),
        ("trombone-alto", "C4", "C4"),
        ("tuba-f", "F2", "F2"),
        ("tuba-c", "C2", "C2"),
    ],
)
def test_the_note_read_as_the_open_slot_sounds_at_its_pitch(
    key: str, sounding: str, written: str
) -> None:
    reading = INSTRUMENTS[key].transposed_reading
    assert note_name(reading.written(parse_note(sounding).midi)) == written


@given(NOTES, st.integers(-7, 7))
def test_every_spelling_stands_for_its_note(note: int, fifths: int) -> None:
    spelling = spell(note, fifths)
    assert spelling.midi == note
    assert parse_note(spelling.name) == spelling
    assert abs(spelling.alter) <= 1
    for other in enharmonics(note):
        assert other.midi == note


@pytest.mark.parametrize(
    ("key", "names"),
    [
        ("C", "C D E F G A B"),
        ("E♭", "E♭ F G A♭ B♭ C D"),
        ("D♭", "D♭ E♭ F G♭ A♭ B♭ C"),
        ("C♭", "C♭ D♭ E♭ F♭ G♭ A♭ B♭"),
        ("B", "B C♯ D♯ E F♯ G♯ A♯"),
        ("F♯", "F♯ G♯ A♯ B C♯ D♯ E♯"),
        ("C♯", "C♯ D♯ E♯ F♯ G♯ A♯ B♯"),
    ],
)
def test_a_major_scale_is_spelled_as_its_signature(key: str, names: str) -> None:
    tonic = parse_note(key, 60).midi
    found = [
        spell(tonic + step, parse_key(key)).name.rstrip("0123456789")
        for step in (0, 2, 4, 5, 7, 9, 11)
    ]
    assert found == names.split()


@pytest.mark.parametrize(
    ("typed", "name"),
    [
        *[("Bb3", "B♭3"), ("b♭3", "B♭3"), ("C#4", "C♯4"), ("c♯4", "C♯4"), ("bb3", "B♭3")],
        *[("B3", "B3"), ("E flat 2", "E♭2"), ("F-sharp 5", "F♯5"), (" g4 ", "G4"), ("B#3", "B♯3")],
        *[("Cb4", "C♭4"), ("f##5", "F𝄪5"), ("bbb2", "B𝄫2"), ("a♮3", "A3"), ("C-1", "C-1")],
    ],
)
def test_what_people_type_is_read(typed: str, name: str) -> None:
    assert parse_note(typed).name == name


def test_an_octave_left_out_is_the_nearest_one() -> None:
    assert parse_note("b♭", 58).name == "B♭3"
    assert parse_note("b♭", 66).name == "B♭4"
    assert parse_note("c", 71).name == "C5"
    with pytest.raises(NoteUnreadableError, match="which octave"):
        parse_note("b♭")


@pytest.mark.parametrize("typed", ["", "H3", "3", "Bb33", "B&4", "quack", "C#4; drop"])
def test_what_is_no_note_says_what_to_type(typed: str) -> None:
    with pytest.raises(NoteUnreadableError, match=r"Type a letter A to G"):
        parse_note(typed, 60)
    with pytest.raises(NoteUnreadableError, match="key signature"):
        parse_key("G♯")


@pytest.mark.parametrize(
    ("name", "clef", "steps"),
    [
        *[("E4", Clef.TREBLE, 0), ("F5", Clef.TREBLE, 8), ("C4", Clef.TREBLE, -2)],
        *[("G2", Clef.BASS, 0), ("A3", Clef.BASS, 8), ("C4", Clef.BASS, 10), ("E2", Clef.BASS, -2)],
        *[
            ("C4", Clef.ALTO, 4),
            ("C4", Clef.TENOR, 6),
            ("C♯4", Clef.TENOR, 6),
            ("B♯3", Clef.ALTO, 3),
        ],
    ],
)
def test_notes_stand_on_their_line_in_every_clef(name: str, clef: Clef, steps: int) -> None:
    assert parse_note(name).staff_steps(clef) == steps


def test_octaves_have_names() -> None:
    assert [parse_note(f"C{octave}").octave_words for octave in (1, 2, 3, 4)] == [
        "contra octave",
        "great octave",
        "small octave",
        "one-line octave",
    ]


@pytest.mark.parametrize(
    ("name", "clef"), [("A3", Clef.TREBLE), ("C6", Clef.TREBLE), ("A♭3", Clef.BASS)]
)
def test_a_sounding_note_is_shown_in_the_clef_it_fits(name: str, clef: Clef) -> None:
    assert clef_for(parse_note(name).midi) is clef


def test_a_clef_nobody_writes_for_is_refused() -> None:
    with pytest.raises(ValueError, match="not written in bass clef"):
        INSTRUMENTS["cornet-bb"].reading(Clef.BASS)


@pytest.mark.parametrize(
    ("typed", "key"),
    [
        *[("trumpet-bb", "trumpet-bb"), ("Cornet_Eb", "soprano-cornet-eb"), ("horn", "horn-f")],
        *[
            ("tuba-f-4v", "tuba-f"),
            ("cornet-bb-3v", "cornet-bb"),
            ("tuba-eb-3v-comp", "tuba-eb-comp"),
        ],
    ],
)
def test_other_ways_to_say_an_instrument_are_understood(typed: str, key: str) -> None:
    assert find_instrument(typed).key == key


def test_an_unknown_instrument_names_the_nearest() -> None:
    with pytest.raises(ValueError, match=r"Did you mean .*euphonium-bb"):
        find_instrument("euphoniumbb")
    with pytest.raises(ValueError, match="horn list"):
        find_instrument("zzzz")


def test_a_row_of_names_goes_from_note_to_nearest_note() -> None:
    assert parse_row(" Bb3  D, F Bb ") == [58, 62, 65, 70]
    assert parse_row("D F", near_midi=50) == [50, 53]
    assert parse_row(" ") == []
    with pytest.raises(NoteUnreadableError, match="Say which octave of D"):
        parse_row("D F")
    with pytest.raises(NoteUnreadableError, match="“H” is not a note"):
        parse_row("C4 H")
    # The tenor horn's written C5 and E5 sound E♭4 and G4.
    treble = Notation(Reading(Clef.TREBLE, 9), NoteView.WRITTEN)
    assert treble.parse_row("C5 E") == [63, 67]


def test_the_keys_to_choose_are_those_with_a_signature() -> None:
    assert [parse_key(key) for key in MAJOR_KEYS] == [*range(8), *range(-1, -8, -1)]
    assert MAJOR_KEYS[:4] == ("C", "G", "D", "A")
    assert MAJOR_KEYS[7:11] == ("C♯", "F", "B♭", "E♭")
