"""The contour of a run: silence, slips mended, rests and glides. On curves written by hand."""

import numpy as np
import pytest

from orexis.core.listening.notes.contour import Contour, Kind, contour_of, smoothed, stretches_of
from tests.sounds import Samples

LOUD_DB = -20.0
NONE = float("nan")


def curve(*parts: tuple[float, int]) -> Samples:
    """Pitches in cents, each for some frames; NaN is no pitch."""
    return np.concatenate([np.full(count, cents) for cents, count in parts])


def contour(cents: Samples, level_db: Samples | None = None) -> Contour:
    return contour_of(cents, np.full(len(cents), LOUD_DB) if level_db is None else level_db)


def rests(found: Contour) -> list[tuple[int, int]]:
    return [
        (stretch.start, stretch.end) for stretch in stretches_of(found) if stretch.kind is Kind.REST
    ]


def glides(found: Contour) -> list[tuple[int, int]]:
    return [
        (stretch.start, stretch.end)
        for stretch in stretches_of(found)
        if stretch.kind is Kind.GLIDE
    ]


class TestSilence:
    def test_what_lies_15_db_under_what_sounded_is_silent(self) -> None:
        level = curve((LOUD_DB, 30), (LOUD_DB - 16, 10), (LOUD_DB, 30))
        assert contour(curve((5800, 70)), level).silent.nonzero()[0].tolist() == [*range(30, 40)]
        quieter = curve((LOUD_DB, 30), (LOUD_DB - 9, 10), (LOUD_DB, 30))
        assert not contour(curve((5800, 70)), quieter).silent.any()

    def test_a_pitch_that_holds_or_grows_far_under_its_start_is_the_note_still(self) -> None:
        # A bite of 200 ms, 16 dB more in 100, then held, or growing by 10 dB in 2 s.
        for end_db in (LOUD_DB - 16, LOUD_DB - 6):
            soft = np.linspace(LOUD_DB - 16, end_db, 200)
            level = np.concatenate(
                (curve((LOUD_DB, 20)), np.linspace(LOUD_DB, LOUD_DB - 16, 10), soft)
            )
            assert not contour(curve((5800, 230)), level).silent.any()

    def test_it_ends_where_it_falls_again(self) -> None:
        level = curve((LOUD_DB, 30), (LOUD_DB - 17, 100), (LOUD_DB - 26, 30))
        silent = contour(curve((5800, 160)), level).silent
        assert not silent[:130].any()

    @pytest.mark.parametrize("falls_db_a_second", [30, 60, 120])
    def test_the_tail_of_a_room_is_not(self, falls_db_a_second: int) -> None:
        tail = LOUD_DB - falls_db_a_second * np.arange(150) / 100
        uneven = tail + 0.7 * np.sin(np.arange(150) / 3)
        silent = contour(curve((5800, 200)), np.concatenate((curve((LOUD_DB, 50)), uneven))).silent
        # All of it once it lies 15 dB, and a little for its unevenness, under what a player who
        # fades by 8 dB a second would have.
        under = 50 + 100 * 17 // (falls_db_a_second - 8)
        assert silent[under:].all()

    def test_a_hum_on_another_pitch_or_far_below_is_not(self) -> None:
        level = curve((LOUD_DB, 60), (LOUD_DB - 29, 100))
        assert contour(curve((5800, 160)), level).silent[60:].all()

    def test_a_player_may_fade_for_seconds(self) -> None:
        # 7 dB a second over four seconds: 28 dB in all, and not silent before its last part.
        level = np.linspace(LOUD_DB, LOUD_DB - 28, 400)
        assert not contour(curve((5800, 400)), level).silent[:350].any()

    def test_a_room_that_rings_on_is_silent_though_it_has_a_pitch(self) -> None:
        # 60 dB in half a second.
        level = np.concatenate((np.full(50, LOUD_DB), LOUD_DB - 1.2 * np.arange(50)))
        silent = contour(curve((5800, 100)), level).silent
        assert not silent[:50].any()
        assert silent[65:].all()

    def test_without_a_pitch_10_db_are_enough(self) -> None:
        cents = curve((5800, 30), (NONE, 8), (5800, 30))
        level = curve((LOUD_DB, 30), (LOUD_DB - 11, 8), (LOUD_DB, 30))
        assert contour(cents, level).silent[30:38].all()

    def test_what_is_far_under_the_loud_part_is_hum(self) -> None:
        level = curve((LOUD_DB - 29, 40), (LOUD_DB, 80))
        found = contour(curve((4300, 40), (5800, 80)), level)
        assert found.silent[:40].all()
        assert not found.silent[40:].any()


class TestSlips:
    @pytest.mark.parametrize("off", [1200, -1200, 1902, 2400])
    @pytest.mark.parametrize("frames", [1, 2])
    def test_an_octave_or_twelfth_off_for_a_frame_or_two_is_mended(
        self, off: float, frames: int
    ) -> None:
        cents = curve((5800, 30), (5800 + off, frames), (5800, 30))
        assert np.allclose(contour(cents).cents, 5800)

    def test_two_frames_on_another_slot_are_not(self) -> None:
        cents = curve((5800, 30), (6500, 2), (5800, 30))
        assert np.array_equal(contour(cents).cents, cents)

    def test_the_low_pitch_heard_where_two_notes_meet_is_mended(self) -> None:
        # Between a fourth: the fundamental of which they are the third and fourth harmonic.
        low, high = 5802.0, 6300.0
        cents = curve((low, 30), (low - 1902, 2), (high, 30))
        assert np.array_equal(contour(cents).cents, curve((low, 31), (high, 31)))

    def test_a_low_note_that_is_no_fraction_of_its_neighbours_stays(self) -> None:
        cents = curve((5800, 30), (5210, 3), (6300, 30))
        assert np.array_equal(contour(cents).cents, cents)

    # A low note's windows are long; and what goes on as loud as before is no silence.
    @pytest.mark.parametrize(
        ("low", "under_db", "most"), [(5800, 8, 3), (5800, 6, 6), (5800, 0, 6), (4600, 8, 6)]
    )
    def test_a_few_pitchless_frames_that_are_loud_are_a_change(
        self, low: float, under_db: float, most: int
    ) -> None:
        for count, bridged in ((most, True), (most + 1, False)):
            cents = curve((low, 30), (NONE, count), (low + 700, 30))
            level = curve((LOUD_DB, 30), (LOUD_DB - under_db, count), (LOUD_DB, 30))
            assert np.isfinite(contour(cents, level).cents).all() == bridged
        half = most // 2
        cents = curve((low, 30), (NONE, most), (low + 700, 30))
        assert contour(cents).cents[30 + half - 1] == (low if half else low + 700)


class TestStretches:
    def test_a_held_note_is_one_rest(self) -> None:
        found = stretches_of(contour(curve((5800, 60))))
        assert [(stretch.kind, stretch.start, stretch.end, stretch.cents) for stretch in found] == [
            (Kind.REST, 0, 60, 5800)
        ]

    def test_two_notes_are_two_rests(self) -> None:
        assert rests(contour(curve((5800, 40), (6500, 40)))) == [(0, 40), (40, 80)]

    def test_vibrato_and_wobble_are_one_rest(self) -> None:
        time_s = np.arange(300) * 0.01
        for rate_hz, extent in ((5.5, 25), (2.2, 20)):
            swing = 5800 + extent * np.sin(2 * np.pi * rate_hz * time_s)
            found = stretches_of(contour(swing))
            assert [stretch.kind for stretch in found] == [Kind.REST], rate_hz

    @pytest.mark.parametrize("seconds", [0.3, 0.8, 2.0, 4.0])
    def test_a_slow_half_step_between_two_notes_is_a_glide(self, seconds: float) -> None:
        way = np.linspace(5800, 5900, round(100 * seconds))
        found = contour(np.concatenate((curve((5800, 80)), way, curve((5900, 80)))))
        ((start, end),) = glides(found)
        assert start == pytest.approx(80, abs=15)
        assert end == pytest.approx(80 + 100 * seconds, abs=15)
        assert len(rests(found)) == 2

    def test_a_quick_half_step_is_no_glide(self) -> None:
        way = np.linspace(5800, 5900, 8)
        found = contour(np.concatenate((curve((5800, 60)), way, curve((5900, 60)))))
        assert glides(found) == []
        assert len(rests(found)) == 2

    def test_a_sweep_over_two_octaves_is_one_glide_and_no_rest(self) -> None:
        sweep = np.linspace(4600, 7000, 150)
        assert rests(contour(sweep)) == []
        assert glides(contour(sweep)) == [(0, 150)]

    def test_a_sweep_up_and_down_rests_at_most_where_it_turns(self) -> None:
        way = np.linspace(4600, 7000, 150)
        found = contour(np.concatenate((way, way[::-1])))
        assert glides(found)[0][0] == 0
        assert glides(found)[-1][1] == 300
        assert all(145 <= start <= end <= 155 for start, end in rests(found))

    def test_a_drift_of_a_long_note_is_no_glide(self) -> None:
        # 10 cents a second for five seconds.
        assert glides(contour(np.linspace(5800, 5850, 500))) == []


def test_smoothing_keeps_a_straight_line_and_takes_out_vibrato() -> None:
    line = np.linspace(0, 100, 200)
    assert np.allclose(smoothed(line), line)
    # 4 Hz: exactly one swing in 250 ms.
    swing = 20 * np.sin(2 * np.pi * 4 * np.arange(200) * 0.01)
    assert np.abs(smoothed(swing)[20:-20]).max() < 1
