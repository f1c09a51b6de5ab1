"""Which rests are notes, and what the others are: on curves written by hand."""

import numpy as np
import pytest

from orexis.core.listening.notes.contour import contour_of, stretches_of
from orexis.core.listening.notes.places import Place, notes_and_glides
from orexis.core.listening.notes.trills import Trill, trills_of
from tests.sounds import Samples

LOUD_DB = -20.0
NONE = float("nan")


def curve(*parts: tuple[float, int]) -> Samples:
    """Pitches in cents, each for some frames of 10 ms; NaN is no pitch."""
    return np.concatenate([np.full(count, cents) for cents, count in parts])


def heard(
    cents: Samples, level_db: Samples | None = None, slots: tuple[float, ...] | None = None
) -> tuple[list[Place], int, list[Trill]]:
    """The notes, how many glides, and the trills."""
    level = np.full(len(cents), LOUD_DB) if level_db is None else level_db
    contour = contour_of(cents, level)
    trills = trills_of(contour)
    beside = None if slots is None else lambda midi: slots
    places, glides = notes_and_glides(contour, stretches_of(contour), trills, beside)
    return places, len(glides), trills


def pitches(cents: Samples, level_db: Samples | None = None) -> list[float]:
    return [place.cents for place in heard(cents, level_db)[0]]


def alternating(low: float, high: float, frames: int, turns: int) -> Samples:
    return curve(*((high if turn % 2 else low, frames) for turn in range(turns)))


class TestTouched:
    @pytest.mark.parametrize("frames", [4, 8, 12])
    def test_a_short_rest_strictly_between_two_long_notes_is_touched(self, frames: int) -> None:
        places, _, _ = heard(curve((5800, 60), (6500, frames), (7000, 60)))
        assert [place.cents for place in places] == [5800, 7000]
        (touched,) = places[1].touched_before
        assert touched.cents == 6500
        assert len(touched) == pytest.approx(frames, abs=1)

    def test_downward_too_and_several_at_once(self) -> None:
        places, _, _ = heard(curve((7000, 60), (6500, 6), (6200, 6), (5800, 60)))
        assert [stretch.cents for stretch in places[1].touched_before] == [6500, 6200]

    def test_a_short_note_outside_the_two_is_a_note(self) -> None:
        assert pitches(curve((5800, 60), (5400, 12), (7000, 60))) == [5800, 5400, 7000]
        assert pitches(curve((7000, 60), (7400, 12), (5800, 60))) == [7000, 7400, 5800]

    def test_a_rest_of_more_than_150_ms_is_a_note(self) -> None:
        assert pitches(curve((5800, 60), (6500, 20), (7000, 60))) == [5800, 6500, 7000]

    def test_in_a_fast_scale_every_note_is_one(self) -> None:
        scale = [5800, 6000, 6200, 6300, 6500, 6700]
        assert pitches(curve(*((cents, 10) for cents in scale))) == scale

    def test_nothing_is_touched_over_a_silence(self) -> None:
        cents = curve((5800, 60), (NONE, 10), (6500, 6), (NONE, 10), (7000, 60))
        level = curve((LOUD_DB, 60), (-70, 10), (LOUD_DB, 6), (-70, 10), (LOUD_DB, 60))
        places, _, _ = heard(cents, level)
        assert all(place.touched_before == [] for place in places)


class TestFlippedOver:
    @pytest.mark.parametrize("frames", [2, 4, 12])
    def test_going_up_the_slot_above_that_speaks_first_is_flipped(self, frames: int) -> None:
        places, _, _ = heard(curve((5800, 60), (7400, frames), (7000, 60)))
        assert [place.cents for place in places] == [5800, 7000]
        flipped = places[1].flipped_before
        assert flipped is not None
        assert flipped.cents == 7400
        assert len(flipped) == pytest.approx(frames, abs=1)
        assert places[1].touched_before == []

    def test_a_slot_may_be_touched_on_the_way_there(self) -> None:
        places, _, _ = heard(curve((5800, 60), (6500, 5), (7400, 5), (7000, 60)))
        assert [stretch.cents for stretch in places[1].touched_before] == [6500]
        assert places[1].flipped_before is not None

    def test_past_the_note_within_its_slot_is_no_flip(self) -> None:
        places, _, _ = heard(curve((5800, 60), (7090, 3), (7000, 60)))
        assert [place.cents for place in places] == [5800, 7000]
        assert places[1].flipped_before is None

    def test_a_fast_passage_that_turns_back_is_notes(self) -> None:
        turn = [5800, 6200, 6000, 6300, 6100, 6500]
        assert pitches(curve(*((cents, 10) for cents in turn))) == turn


class TestScoops:
    @pytest.mark.parametrize("off", [-45, -70, -100, 60])
    @pytest.mark.parametrize("slide", [0, 3, 6])
    def test_what_dwells_off_the_note_out_of_silence_is_its_scoop(
        self, off: int, slide: int
    ) -> None:
        sliding = np.linspace(5800 + off, 5800, slide + 2)[1:-1]
        (place,) = heard(np.concatenate((curve((5800 + off, 10)), sliding, curve((5800, 100)))))[0]
        assert (place.start, place.cents, place.cracked_cents) == (0, 5800, None)

    def test_a_slide_from_as_far_as_150_cents_is_one_too_and_a_jump_a_crack(self) -> None:
        sliding = np.linspace(5655, 5800, 8)[1:-1]
        slid = np.concatenate((curve((5655, 9)), sliding, curve((5800, 100))))
        (place,) = heard(slid)[0]
        assert (place.start, place.cracked_cents) == (0, None)
        (place,) = heard(curve((5655, 9), (5800, 100)))[0]
        assert place.cracked_cents == 5655

    def test_a_longer_one_is_a_note_of_its_own(self) -> None:
        assert pitches(curve((5700, 30), (5800, 100))) == [5700, 5800]


class TestCracksOnAKnownHorn:
    # The eleventh, tenth and ninth slot over a pedal of B♭1 (MIDI 34).
    SLOTS = (75.513, 73.863, 72.039)

    @pytest.mark.parametrize(
        ("first", "note", "cracked"),
        [
            # From the slot below, a whole step and more, or less than 130 cents off but on a slot.
            (7204, 7386, True),
            (7386, 7480, True),
            # Near nothing that may be hit with this note.
            (6900, 7386, False),
            (7300, 7386, False),
        ],
    )
    def test_a_crack_lies_on_a_slot_that_may_be_hit(
        self, first: int, note: int, cracked: bool
    ) -> None:
        places = heard(curve((first, 8), (note, 100)), slots=self.SLOTS)[0]
        assert [place.cracked_cents is not None for place in places if place.cents == note] == [
            cracked
        ]

    def test_a_start_on_no_slot_of_the_horn_makes_no_note(self) -> None:
        (place,) = heard(curve((6300, 7), (7386, 100)), slots=self.SLOTS)[0]
        assert (place.start, place.cents, place.cracked_cents) == (7, 7386, None)

    def test_a_slide_from_a_slot_is_a_scoop_all_the_same(self) -> None:
        sliding = np.linspace(7386, 7480, 8)[1:-1]
        slid = np.concatenate((curve((7386, 8)), sliding, curve((7480, 100))))
        (place,) = heard(slid, slots=self.SLOTS)[0]
        assert (place.start, place.cracked_cents) == (0, None)


class TestCracks:
    @pytest.mark.parametrize("frames", [3, 6, 12])
    def test_a_wrong_slot_first_is_a_crack_of_the_note_it_leads_to(self, frames: int) -> None:
        places, _, _ = heard(curve((5300, frames), (5800, 80)))
        (place,) = places
        assert (place.cents, place.cracked_cents) == (5800, 5300)
        assert place.start == 0

    def test_a_long_first_slot_is_a_note_of_its_own(self) -> None:
        assert pitches(curve((5300, 25), (5800, 80))) == [5300, 5800]

    def test_a_slide_into_the_note_from_nearby_is_no_crack(self) -> None:
        scoop = np.concatenate((np.linspace(5750, 5800, 10), curve((5800, 80))))
        (place,) = heard(scoop)[0]
        assert place.cracked_cents is None


class TestTongue:
    def test_a_dip_in_one_pitch_is_the_tongue_and_makes_two_notes(self) -> None:
        level = curve((LOUD_DB, 50), (LOUD_DB - 12, 3), (LOUD_DB, 50))
        assert pitches(curve((5800, 103)), level) == [5800, 5800]

    def test_a_swell_and_a_fade_are_one_note(self) -> None:
        time = np.linspace(0, np.pi, 200)
        level = LOUD_DB - 12 + 12 * np.sin(time)
        assert pitches(curve((5800, 200)), level) == [5800]

    def test_a_short_silence_parts_two_notes(self) -> None:
        cents = curve((5800, 50), (NONE, 8), (5800, 50))
        level = curve((LOUD_DB, 50), (-60, 8), (LOUD_DB, 50))
        first, second = heard(cents, level)[0]
        assert (first.end, second.start) == (50, 58)


class TestGlides:
    def test_a_glide_between_two_notes_leads_to_the_second(self) -> None:
        cents = np.concatenate((curve((5800, 80)), np.linspace(5800, 6000, 60), curve((6000, 80))))
        places, glides, _ = heard(cents)
        assert [round(place.cents, -1) for place in places] == [5800, 6000]
        assert [place.glided for place in places] == [False, True]
        assert glides == 1

    @pytest.mark.parametrize("passes", [1, 2, 4])
    def test_a_siren_makes_one_glide_and_no_notes(self, passes: int) -> None:
        time_s = np.arange(120 * passes) * 0.01
        siren = 5500 - 900 * np.cos(np.pi * time_s / 1.2)
        places, glides, _ = heard(siren)
        assert (places, glides) == ([], 1)

    def test_a_quick_slide_at_either_end_belongs_to_the_note(self) -> None:
        cents = np.concatenate(
            (np.linspace(5600, 5800, 16), curve((5800, 120)), np.linspace(5800, 5650, 16))
        )
        places, glides, _ = heard(cents)
        assert (len(places), glides) == (1, 0)


class TestTrills:
    @pytest.mark.parametrize("frames", [5, 8, 12])
    @pytest.mark.parametrize("interval", [100, 200, 300, 700])
    def test_a_trill_has_its_two_notes_and_its_rate(self, interval: int, frames: int) -> None:
        trill = alternating(6500, 6500 + interval, frames, 16)
        ((found),) = heard(np.concatenate((curve((6500, 60)), trill)))[2]
        assert (found.low_midi, found.high_midi) == (65, 65 + interval // 100)
        # There and back takes two notes.
        assert found.rate_hz == pytest.approx(100 / (2 * frames), rel=0.06)
        assert found.clear_share == 1
        assert found.evenness_cv < 0.1

    def test_vibrato_is_no_trill_however_wide(self) -> None:
        time_s = np.arange(200) * 0.01
        for extent in (15, 30, 50):
            swing = 6500 + extent * np.sin(2 * np.pi * 5.5 * time_s)
            places, _, trills = heard(swing)
            assert (len(places), trills) == (1, [])

    def test_a_siren_after_a_trill_is_a_glide_of_its_own(self) -> None:
        time_s = np.arange(240) * 0.01
        siren = 5750 - 750 * np.cos(np.pi * time_s / 1.2)
        trill = alternating(6500, 6700, 10, 12)
        places, glides, trills = heard(np.concatenate((curve((5800, 80)), trill, siren)))
        assert (len(trills), glides) == (1, 1)
        assert len(places) == pytest.approx(13, abs=1)

    def test_three_turns_are_no_trill(self) -> None:
        cents = np.concatenate(
            (curve((6500, 60)), alternating(6700, 6500, 10, 3), curve((6700, 60)))
        )
        assert heard(cents)[2] == []

    def test_an_uneven_trill_says_so(self) -> None:
        lengths = [6, 12, 5, 14, 6, 13, 5, 12, 7, 15, 6, 12]
        limping = curve(*((6700 if i % 2 else 6500, n) for i, n in enumerate(lengths)))
        even = alternating(6500, 6700, 9, 12)
        lead = curve((6500, 60))
        (trill,), (other,) = (heard(np.concatenate((lead, part)))[2] for part in (limping, even))
        assert trill.evenness_cv > 0.25 > other.evenness_cv

    def test_notes_that_do_not_reach_their_slot_are_not_clear(self) -> None:
        smeared = curve(*((6560 if i % 4 == 1 else 6700 if i % 2 else 6500, 9) for i in range(16)))
        found = heard(np.concatenate((curve((6500, 60)), smeared)))[2]
        assert all(trill.clear_share < 0.85 for trill in found)


def test_silence_and_a_click_are_nothing() -> None:
    assert heard(curve((NONE, 50)), np.full(50, -80.0)) == ([], 0, [])
    assert pitches(curve((NONE, 30), (5800, 3), (NONE, 30))) == []
