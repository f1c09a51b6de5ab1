"""What the horn does, checked by arithmetic and against the chart every player learns."""

import pytest

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS, Instrument
from orexis.core.horn.notation import Clef, Notation, NoteView, Reading, note_name
from orexis.core.horn.pitch import hz_from_midi, midi_from_hz
from orexis.core.horn.tube import slide_lengths, slots, standard_way, valve_lengths

VALVES = {length.name: length for length in valve_lengths(4)}
COMPENSATING = {length.name: length for length in valve_lengths(4, compensating=True)}
SLIDE = {length.name: length for length in slide_lengths()}


def test_hertz_and_midi_are_each_others_inverse() -> None:
    assert hz_from_midi(69) == 440
    assert hz_from_midi(57, 442) == 221
    assert midi_from_hz(hz_from_midi(43.21)) == pytest.approx(43.21)


@pytest.mark.parametrize(
    ("partial", "cents"), [(3, 2.0), (5, -13.7), (6, 2.0), (7, -31.2), (9, 3.9), (11, -48.7)]
)
def test_open_partials_lie_off_equal_temperament_as_the_series_does(
    partial: int, cents: float
) -> None:
    semitones = slots(VALVES["0"])[partial - 1].semitones
    assert 100 * (semitones - round(semitones)) == pytest.approx(cents, abs=0.06)


@pytest.mark.parametrize(
    ("name", "semitones", "cents"),
    [("12", 3, 10.6), ("23", 4, 15.5), ("13", 5, 30.3), ("123", 6, 53.6), ("24", 6, 24.5)],
)
def test_valves_together_are_sharp(name: str, semitones: int, cents: float) -> None:
    fundamental = slots(VALVES[name])[0].semitones
    assert 100 * (fundamental + semitones) == pytest.approx(cents, abs=0.06)


def test_compensating_loops_put_the_low_combinations_right() -> None:
    # 2-4: (2^(1/12) − 1)·2^(5/12) + 2^(5/12) = 2^(6/12), exactly in tune.
    assert slots(COMPENSATING["24"])[0].semitones == pytest.approx(-6)
    assert slots(VALVES["24"])[0].semitones > -5.8


def test_triggers_leave_six_positions_and_both_together_five() -> None:
    assert [name for name in SLIDE if name.startswith("F+") and "G" not in name] == [
        f"F+{position}" for position in range(1, 7)
    ]
    assert len([name for name in SLIDE if name.startswith("F+G♭+")]) == 5
    assert len([name for name in SLIDE if "+" not in name]) == 7


CORNET_CHART = {
    "F♯3": "123", "G3": "13", "A♭3": "23", "A3": "12", "B♭3": "1", "B3": "2", "C4": "0",
    "C♯4": "123", "D4": "13", "E♭4": "23", "E4": "12", "F4": "1", "F♯4": "2", "G4": "0",
    "A♭4": "23", "A4": "12", "B♭4": "1", "B4": "2", "C5": "0", "C♯5": "12", "D5": "1",
    "E♭5": "2", "E5": "0", "F5": "1", "F♯5": "2", "G5": "0", "A♭5": "23", "A5": "12",
    "B♭5": "1", "B5": "2", "C6": "0",
}  # fmt: skip


@pytest.mark.parametrize("key", ["cornet-bb", "tenor-horn-eb"])
def test_the_standard_fingerings_are_those_of_the_chart(key: str) -> None:
    instrument = INSTRUMENTS[key]
    notation = instrument.notation(NoteView.WRITTEN, Clef.TREBLE)
    for midi in range(instrument.lowest_midi, instrument.highest_midi + 1):
        name = notation.name(midi)
        way = standard_way(instrument.lengths, midi - instrument.fundamental_midi)
        if name in CORNET_CHART:
            assert way is not None
            assert way.length.name == CORNET_CHART[name], name


@pytest.mark.parametrize(
    ("name", "midi", "length"),
    [
        *[("B♭3", 58, "1"), ("A3", 57, "2"), ("A♭3", 56, "3"), ("F3", 53, "1"), ("E3", 52, "2")],
        *[("D3", 50, "4"), ("B♭2", 46, "1"), ("G2", 43, "4"), ("F2", 41, "F+1"), ("E2", 40, "F+2")],
        *[("C3", 48, "F+1"), ("B2", 47, "F+2"), ("B♭1", 34, "1"), ("D4", 62, "1"), ("F4", 65, "1")],
    ],
)
def test_trombone_positions_are_those_players_use(name: str, midi: int, length: str) -> None:
    instrument = INSTRUMENTS["trombone-bass"]
    assert note_name(midi) == name
    way = standard_way(instrument.lengths, midi - instrument.fundamental_midi)
    assert way is not None
    assert way.length.name == length


@pytest.mark.parametrize("instrument", INSTRUMENTS.values(), ids=lambda one: one.key)
def test_every_note_on_offer_can_be_played(instrument: Instrument) -> None:
    for midi in range(instrument.lowest_midi, instrument.highest_midi + 1):
        way = standard_way(instrument.lengths, midi - instrument.fundamental_midi)
        assert way is not None, note_name(midi)
        # The physics of the tube: n·f1/ratio is what the way promises.
        hz = way.partial * hz_from_midi(instrument.fundamental_midi) / way.length.ratio
        assert 100 * (midi_from_hz(hz) - midi) == pytest.approx(way.cents, abs=1e-6)


def test_notes_are_named_as_the_player_reads_them() -> None:
    horn = INSTRUMENTS["tenor-horn-eb"]
    # Concert E♭4 is read a major sixth higher, as C5.
    assert horn.notation(NoteView.WRITTEN, Clef.TREBLE).name(63) == "C5"
    assert horn.notation(NoteView.SOUNDING, Clef.TREBLE).name(63) == "E♭4"
    assert INSTRUMENTS["trombone-bass"].notation(NoteView.WRITTEN, Clef.BASS).name(46) == "B♭2"
    assert Notation(Reading(Clef.TREBLE, 26), NoteView.WRITTEN).name(34) == "C4"


def test_a_clef_nobody_writes_for_is_refused() -> None:
    with pytest.raises(ValueError, match="not written in bass clef"):
        INSTRUMENTS["cornet-bb"].reading(Clef.BASS)


def test_a_long_tone_knows_its_hand_cue_and_neighbours() -> None:
    tone = LongTone(INSTRUMENTS["tenor-horn-eb"], 63, 4, 440)
    assert tone.hand == "open, fourth slot"
    assert tone.target_hz == pytest.approx(311.127, abs=0.001)
    assert [slot.partial for slot in tone.nearby_slots] == [6, 5, 4, 3, 2]
    # The fifth partial lies 400 − 13.7 cents above the fourth.
    assert tone.nearby_slots[1].cents == pytest.approx(386.3, abs=0.06)


def test_a_long_tone_out_of_range_is_refused() -> None:
    horn = INSTRUMENTS["tenor-horn-eb"]
    with pytest.raises(ValueError, match="no such note"):
        LongTone(horn, 20, 4, 440)
    with pytest.raises(ValueError, match="Hold for 1 to 60 seconds"):
        LongTone(horn, 63, 0.2, 440)
