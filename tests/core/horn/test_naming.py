"""Notes as players of different countries say and type them."""

from dataclasses import replace

import pytest

from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.naming import Naming, NoteNames, Octaves
from orexis.core.horn.notation import Clef, NoteUnreadableError, NoteView, spell

ENGLISH, GERMAN, SOLFEGE = NoteNames
NUMBERS, STROKES = Octaves


@pytest.mark.parametrize(
    ("letter", "alter", "english", "german", "solfege"),
    [
        ("C", 0, "C", "C", "Do"),
        ("C", 1, "C♯", "Cis", "Do♯"),
        ("D", -1, "D♭", "Des", "Re♭"),
        ("E", -1, "E♭", "Es", "Mi♭"),
        ("E", 1, "E♯", "Eis", "Mi♯"),
        ("F", 1, "F♯", "Fis", "Fa♯"),
        ("G", -1, "G♭", "Ges", "Sol♭"),
        ("A", -1, "A♭", "As", "La♭"),
        ("B", -1, "B♭", "B", "Si♭"),
        ("B", 0, "B", "H", "Si"),
        ("B", 1, "B♯", "His", "Si♯"),
        ("C", -1, "C♭", "Ces", "Do♭"),
        ("F", 2, "F𝄪", "Fisis", "Fa𝄪"),
        ("B", -2, "B𝄫", "Heses", "Si𝄫"),
        ("E", -2, "E𝄫", "Eses", "Mi𝄫"),
    ],
)
def test_pitches_are_called_so(
    letter: str, alter: int, english: str, german: str, solfege: str
) -> None:
    for names, called in ((ENGLISH, english), (GERMAN, german), (SOLFEGE, solfege)):
        naming = Naming(names)
        assert naming.pitch_name(letter, alter) == called
        assert naming.name(letter, alter, 4) == f"{called}4"
        assert naming.read(f"{called}4") == (letter, alter, 4)


@pytest.mark.parametrize(
    ("midi", "english", "german", "solfege"),
    [
        (22, "B♭₂", "B₂", "Si♭₂"),
        (28, "E₁", "E₁", "Mi₁"),
        (36, "C", "C", "Do"),
        (46, "B♭", "B", "Si♭"),
        (48, "c", "c", "do"),
        (58, "b♭", "b", "si♭"),
        (60, "c’", "c’", "do’"),
        (66, "f♯’", "fis’", "fa♯’"),
        (71, "b’", "h’", "si’"),
        (72, "c’’", "c’’", "do’’"),
        (96, "c’’’’", "c’’’’", "do’’’’"),
    ],
)
def test_octaves_are_told_by_capitals_and_strokes(
    midi: int, english: str, german: str, solfege: str
) -> None:
    spelling = spell(midi)
    for names, called in ((ENGLISH, english), (GERMAN, german), (SOLFEGE, solfege)):
        naming = Naming(names, STROKES)
        assert spelling.named(naming) == called
        letter, alter, octave = naming.read(called) or ("", 0, None)
        assert (letter, alter, octave) == (spelling.letter, spelling.alter, spelling.octave)


@pytest.mark.parametrize("names", NoteNames)
@pytest.mark.parametrize("octaves", Octaves)
def test_what_is_said_is_read_as_the_same_note(names: NoteNames, octaves: Octaves) -> None:
    naming = Naming(names, octaves)
    for midi in range(12, 120):
        for key in range(-7, 8):
            spelling = spell(midi, key)
            assert naming.read(spelling.named(naming)) == (
                spelling.letter,
                spelling.alter,
                spelling.octave,
            )


@pytest.mark.parametrize(
    ("naming", "typed", "midi"),
    [
        (Naming(GERMAN), "b3", 58),
        (Naming(GERMAN), "H3", 59),
        (Naming(GERMAN), "fis 4", 66),
        (Naming(GERMAN), "e♭4", 63),
        (Naming(SOLFEGE), "sib3", 58),
        (Naming(SOLFEGE), "ré4", 62),
        (Naming(SOLFEGE), "Sol#4", 68),
        (Naming(ENGLISH, STROKES), "bb", 58),
        (Naming(ENGLISH, STROKES), "f#'", 66),
        (Naming(ENGLISH, STROKES), 'c"', 72),
        (Naming(ENGLISH, STROKES), "B flat", 46),
        (Naming(GERMAN, STROKES), "h′", 71),
        # A number says the octave to everybody.
        (Naming(GERMAN, STROKES), "es4", 63),
    ],
)
def test_what_people_type(naming: Naming, typed: str, midi: int) -> None:
    notation = INSTRUMENTS["trumpet-c"].notation(NoteView.SOUNDING, Clef.TREBLE)

    assert replace(notation, naming=naming).parse(typed) == midi


@pytest.mark.parametrize(
    ("naming", "typed", "asks"),
    [
        (Naming(GERMAN), "Si3", "A to H, then es or is"),
        (Naming(SOLFEGE), "H3", "Do to Si"),
        (Naming(ENGLISH), "H3", "A to G"),
        (Naming(GERMAN, STROKES), "x", "es, fis'."),
        (Naming(SOLFEGE), "", "Sib3, Do#4."),
        (Naming(GERMAN), "fes is", "A to H"),
    ],
)
def test_what_is_none_is_told_in_the_players_own_names(
    naming: Naming, typed: str, asks: str
) -> None:
    notation = INSTRUMENTS["trumpet-c"].notation(NoteView.SOUNDING, Clef.TREBLE)

    with pytest.raises(NoteUnreadableError) as told:
        replace(notation, naming=naming).parse(typed)
    assert asks in str(told.value)


def test_a_note_without_an_octave_is_the_nearest_and_else_asked_for() -> None:

    usual = INSTRUMENTS["trumpet-c"].notation(NoteView.SOUNDING, Clef.TREBLE)
    german = replace(usual, naming=Naming(GERMAN))
    assert german.parse("h", near_midi=60) == 59
    assert german.parse_row("b3 c d es") == [58, 60, 62, 63]
    with pytest.raises(NoteUnreadableError, match="Say which octave of h: H4, for example"):
        german.parse("h")


def test_a_written_note_is_named_in_the_same_way() -> None:

    # Sounding B♭3 is G4 on an E♭ tenor horn.
    written = INSTRUMENTS["tenor-horn-eb"].notation(NoteView.WRITTEN, Clef.TREBLE)
    german = replace(written, naming=Naming(GERMAN, STROKES))
    assert (german.name(58), german.sounding_name(58)) == ("g’", "b")
    assert german.tonic_name(10) == "G"
    assert (german.key_name("B♭"), german.key_name("B")) == ("B", "H")
