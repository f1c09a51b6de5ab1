"""What every player learns first, note by note, written out by hand for each kind of horn."""

import pytest

from orexis.core.horn.instruments import INSTRUMENTS, Instrument
from orexis.core.horn.notation import Clef, NoteView, parse_note
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import Pedal, chart, standard_way


def learned(text: str) -> dict[str, str]:
    return dict(pair.split("=") for pair in text.split())


# Read in the treble clef, whatever the size of the horn.
THREE_VALVES = learned(
    """
    F♯3=123 G3=13 A♭3=23 A3=12 B♭3=1 B3=2 C4=0 C♯4=123 D4=13 E♭4=23 E4=12 F4=1 F♯4=2 G4=0
    A♭4=23 A4=12 B♭4=1 B4=2 C5=0 C♯5=12 D5=1 E♭5=2 E5=0 F5=1 F♯5=2 G5=0 A♭5=23 A5=12 B♭5=1
    B5=2 C6=0
    """
)
ABOVE_C6 = learned("C♯6=12 D6=1 E♭6=2 E6=0 F6=1 F♯6=2 G6=0")
FOUR_VALVES = THREE_VALVES | learned("F♯3=24 G3=4 C♯4=24 D4=4")
COMPENSATING_LOW = learned("C♯3=1234 D3=134 E♭3=234 E3=124 F3=14 F♯3=24 G3=4")
# Without compensation each of the lowest combinations does the half step above its sum.
PLAIN_LOW = learned("D3=1234 E♭3=134 E3=234 F3=14 F♯3=24 G3=4")
PEDALS = learned("C3=0 B2=2 B♭2=1 A2=12 A♭2=23")

DOUBLE_HORN = learned(
    """
    F♯2=123 G2=13 A♭2=23 A2=12 B♭2=1 B2=2 C3=0 C♯3=123 D3=13 E♭3=23 E3=12 F3=1 F♯3=2 G3=0
    A♭3=23 A3=12 B♭3=1 B3=2 C4=0 C♯4=12 D4=1 E♭4=2 E4=0 F4=1 F♯4=2 G4=0
    A♭4=T23 A4=T12 B♭4=T1 B4=T2 C5=T0 C♯5=T23 D5=T12 E♭5=T1 E5=T2 F5=T0 F♯5=T2 G5=T0
    A♭5=T23 A5=T12 B♭5=T1 B5=T2 C6=T0
    """
)
SINGLE_F_HORN = learned(
    "A♭4=23 A4=12 B♭4=1 B4=2 C5=0 C♯5=12 D5=1 E♭5=2 E5=0 F5=1 F♯5=2 G5=0 A♭5=23 A5=12 B♭5=1"
)
SINGLE_B_FLAT_HORN = learned(
    "C4=0 C♯4=23 D4=12 E♭4=1 E4=2 F4=0 F♯4=12 G4=1 A♭4=23 A4=12 B♭4=1 B4=2 C5=0 F5=0"
)

# Sounding.
TENOR_TROMBONE = learned(
    """
    E2=7 F2=6 F♯2=5 G2=4 A♭2=3 A2=2 B♭2=1 B2=7 C3=6 C♯3=5 D3=4 E♭3=3 E3=2 F3=1 F♯3=5 G3=4
    A♭3=3 A3=2 B♭3=1 B3=4 C4=3 C♯4=2 D4=1 E♭4=3 E4=2 F4=1 F♯4=3 G4=2 A♭4=3 A4=2 B♭4=1
    B4=4 C5=3 C♯5=2 D5=1 E♭5=3 E5=2 F5=1
    E1=7 F1=6 F♯1=5 G1=4 A♭1=3 A1=2 B♭1=1
    """
)
WITH_F = TENOR_TROMBONE | learned(
    "C2=F+6 C♯2=F+5 D2=F+4 E♭2=F+3 E2=F+2 F2=F+1 B2=F+2 C3=F+1 E1=F+2 F1=F+1"
)
BASS_TROMBONE = WITH_F | learned("B1=F+G♭+4 C2=F+G♭+3 C♯2=F+G♭+2 D2=F+G♭+1")
WITH_F_AND_G = WITH_F | learned("B1=F+G+5")
ALTO_TROMBONE = learned(
    """
    A2=7 B♭2=6 B2=5 C3=4 C♯3=3 D3=2 E♭3=1 E3=7 F3=6 F♯3=5 G3=4 A♭3=3 A3=2 B♭3=1 B3=5 C4=4
    C♯4=3 D4=2 E♭4=1 E4=4 F4=3 F♯4=2 G4=1 A♭4=3 A4=2 B♭4=1 B4=3 C5=2 C♯5=3 D5=2 E♭5=1
    """
)
TREBLE, SOUNDING = NoteView.WRITTEN, NoteView.SOUNDING

CHARTS = [
    *[
        (key, TREBLE, THREE_VALVES | ABOVE_C6)
        for key in ("trumpet-bb", "trumpet-c", "cornet-bb", "soprano-cornet-eb", "flugelhorn-bb")
    ],
    *[
        (key, TREBLE, THREE_VALVES | PEDALS)
        for key in (
            "tenor-horn-eb",
            "mellophone-f",
            "baritone-bb",
            "euphonium-bb",
            "tuba-eb",
            "tuba-bb",
            "baritone-bb-comp",
            "euphonium-bb-comp",
            "tuba-eb-comp",
            "tuba-bb-comp",
        )
    ],
    *[
        (key, TREBLE, FOUR_VALVES | COMPENSATING_LOW | PEDALS)
        for key in ("euphonium-bb-4v-comp", "tuba-eb-4v-comp", "tuba-bb-4v-comp")
    ],
    *[
        (key, TREBLE, FOUR_VALVES | PLAIN_LOW | PEDALS)
        for key in ("euphonium-bb-4v", "tuba-eb-4v", "tuba-bb-4v")
    ],
    ("horn-f", TREBLE, DOUBLE_HORN),
    ("horn-f-single", TREBLE, DOUBLE_HORN | SINGLE_F_HORN | learned("B5=2 C6=0 F♯2=123")),
    ("horn-bb-single", TREBLE, SINGLE_B_FLAT_HORN),
    ("trombone-tenor", SOUNDING, TENOR_TROMBONE),
    ("trombone-tenor-f", SOUNDING, WITH_F),
    ("trombone-bass", SOUNDING, BASS_TROMBONE),
    ("trombone-bass-g", SOUNDING, WITH_F_AND_G),
    ("trombone-alto", SOUNDING, ALTO_TROMBONE),
]


@pytest.mark.parametrize(("key", "view", "wanted"), CHARTS, ids=[chart[0] for chart in CHARTS])
def test_the_standard_way_is_the_one_on_the_chart(
    key: str, view: NoteView, wanted: dict[str, str]
) -> None:
    horn = Horn(INSTRUMENTS[key])
    clef = Clef.TREBLE if view is TREBLE else horn.instrument.readings[0].clef
    notation = horn.instrument.notation(view, clef)
    found = {}
    for name in wanted:
        way = standard_way(horn, notation.parse(name))
        found[name] = way and way.length.name
    assert found == wanted


@pytest.mark.parametrize("key", ["tuba-f", "tuba-c", "tuba-f-5v", "tuba-c-5v"])
def test_concert_tubas_are_fingered_like_the_others_an_octave_apart(key: str) -> None:
    horn = Horn(INSTRUMENTS[key])
    open_c4 = horn.instrument.fundamental_midi + 12
    for name, fingers in FOUR_VALVES.items():
        note = open_c4 + parse_note(name).midi - 60
        way = standard_way(horn, note)
        assert way is not None
        assert way.length.name == fingers, name


def test_five_valves_fill_the_octave_down_to_the_pedal() -> None:
    horn = Horn(INSTRUMENTS["tuba-f-5v"])
    for note in range(horn.instrument.fundamental_midi, horn.instrument.normal_high + 1):
        way = standard_way(horn, note)
        assert way is not None
        assert -20 <= way.cents <= 40


@pytest.mark.parametrize("instrument", INSTRUMENTS.values(), ids=INSTRUMENTS)
def test_every_note_that_parts_are_written_in_can_be_played(instrument: Instrument) -> None:
    horn = Horn(instrument)
    by_midi = {line.midi: line for line in chart(horn)}
    for note in range(horn.instrument.normal_low, horn.instrument.normal_high + 1):
        assert by_midi[note].standard


@pytest.mark.parametrize(
    ("key", "true_pedals"),
    [
        ("trumpet-bb", False),
        ("cornet-bb", False),
        ("flugelhorn-bb", False),
        ("tenor-horn-eb", True),
        ("horn-f", True),
        ("trombone-bass", True),
        ("tuba-bb", True),
    ],
)
def test_pedals_are_true_or_led_by_the_lips(key: str, true_pedals: bool) -> None:
    horn = Horn(INSTRUMENTS[key])
    pedal = next(line for line in chart(horn) if line.midi == horn.instrument.fundamental_midi)
    assert pedal.pedal is (Pedal.TRUE if true_pedals else Pedal.LIP_LED)
    assert pedal.ways[0].partial == 1
    assert pedal.ways[0].lip_led is not true_pedals


def test_between_the_pedal_and_the_lowest_slot_the_lips_are_alone() -> None:
    lines = {line.midi: line for line in chart(Horn(INSTRUMENTS["trumpet-bb"]))}
    # Written F3 to C♯3: no length of three valves gives them.
    for note in range(parse_note("B2").midi, parse_note("E♭3").midi + 1):
        assert not lines[note].standard
        assert lines[note].pedal is Pedal.LIP_LED
    assert lines[parse_note("E3").midi].pedal is None
