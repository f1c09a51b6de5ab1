"""The long tone: its pitch, its hand, and the slots around it."""

import pytest

from orexis.core.exercises.longtone import LongTone
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.tuning import Temperament, Tuning

HORN = Horn(INSTRUMENTS["tenor-horn-eb"])


def test_a_long_tone_knows_its_hand_cue_and_neighbours() -> None:
    tone = LongTone(HORN, 63, 4)
    assert tone.hand == "open, fourth slot"
    assert tone.target_hz == pytest.approx(311.127, abs=0.001)
    assert [slot.partial for slot in tone.nearby_slots] == [6, 5, 4, 3, 2]
    # The fifth partial lies 400 − 13.7 cents above the fourth.
    assert tone.nearby_slots[1].cents == pytest.approx(386.3, abs=0.06)
    assert tone.slide_share is None


def test_the_slide_stands_where_the_correction_puts_it() -> None:
    tone = LongTone(Horn(INSTRUMENTS["trombone-tenor"]), 67, 4)
    assert tone.hand == "position 2, seventh slot. On 2, 28 mm in."
    # Second position is 88 mm out, less 28, of 1.09 × 612 mm.
    assert tone.slide_share == pytest.approx((87.9 - 28.0) / (1.09 * 612), abs=0.001)
    assert len(tone.slide_marks) == 7
    assert tone.slide_marks[-1] == pytest.approx(1 / 1.09)


def test_a_players_tuning_moves_the_target_and_the_slots_around_it() -> None:
    just = Horn(HORN.instrument, Setup(tuning=Tuning(Temperament.JUST, 3)))
    third = LongTone(just, 67, 4)
    assert third.target_cents == pytest.approx(-13.7, abs=0.06)
    # E♭4·5/4.
    assert third.target_hz == pytest.approx(311.127 * 5 / 4, abs=0.01)
    own = next(slot for slot in third.nearby_slots if slot.midi == 67)
    # The open fifth slot is that very third.
    assert own.cents == pytest.approx(0, abs=0.01)


def test_a_kept_take_keeps_its_target() -> None:
    assert LongTone(HORN, 67, 4, -13.7).target_cents == -13.7


def test_a_note_with_no_slot_is_played_by_ear() -> None:
    tone = LongTone(Horn(INSTRUMENTS["trumpet-bb"]), 50, 4)
    assert tone.hand == "by ear"
    assert [slot.midi for slot in tone.nearby_slots] == [50]


def test_a_long_tone_out_of_range_is_refused() -> None:
    with pytest.raises(ValueError, match="no such note"):
        LongTone(HORN, 20, 4)
    with pytest.raises(ValueError, match="Hold for 1 to 60 seconds"):
        LongTone(HORN, 63, 0.2)


@pytest.mark.parametrize(
    ("horn", "midi", "hz"),
    [
        # In equal temperament the note itself: B♭3.
        (HORN, 58, 233.082),
        # Over E♭ the tonic under it: E♭3 under B♭3, E♭4 under itself.
        (Horn(HORN.instrument, Setup(tuning=Tuning(Temperament.JUST, 3))), 58, 155.563),
        (Horn(HORN.instrument, Setup(tuning=Tuning(Temperament.JUST, 3))), 63, 311.127),
        # E♭1 is too low for a small loudspeaker: two octaves up.
        (Horn(INSTRUMENTS["tuba-eb"]), 27, 155.563),
    ],
)
def test_the_drone_is_the_tonic_where_it_can_be_heard(horn: Horn, midi: int, hz: float) -> None:
    assert LongTone(horn, midi, 4.0).drone_hz == pytest.approx(hz, abs=0.001)
